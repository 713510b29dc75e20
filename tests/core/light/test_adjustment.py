"""Tone and colour: the formulas, oracles of their own, and nothing at all where nothing is decided."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some
from pydantic import ValidationError
from skimage.color import rgb2xyz

from tests.conftest import scene
from yarnkite.core.image.srgb import to_codes, to_light
from yarnkite.core.light.adjustment import UNADJUSTED, Adjustment, adjusted, clipped_shares, shown_codes
from yarnkite.core.light.colour import FROM_XYZ, TO_XYZ, colour_matrix, neutral_for
from yarnkite.core.light.decisions import RANGES, Light, Setting

# CIE 15: chromaticities of black bodies and daylight, by the standard's own tables.
WHITES = {
    "candle, 1900 K": (0.5369, 0.4107),
    "illuminant A": (0.44757, 0.40745),
    "3500 K": (0.4053, 0.3907),
    "D50": (0.34567, 0.35850),
    "D55": (0.33242, 0.34743),
    "D65": (0.31271, 0.32902),
    "D75": (0.29902, 0.31485),
    "12,000 K": (0.2718, 0.2791),
}


def grey(code, deep=False):
    return np.full((4, 6, 3), code * (257 if deep else 1), np.uint16 if deep else np.uint8)


@pytest.mark.parametrize("deep", [False, True])
def test_light_that_is_not_adjusted_is_the_very_picture(deep):
    picture = grey(90, deep)
    assert adjusted(picture, UNADJUSTED) is picture


@given(
    stops=some.floats(-3, 3).filter(lambda stops: abs(stops) > 0.001), code=some.integers(40, 160), deep=some.booleans()
)
def test_a_stop_doubles_light(stops, code, deep):
    shown = adjusted(grey(code, deep), Adjustment(exposure=stops))[0, 0] / 65535
    wanted = to_light(np.array([code / 255])) * 2 ** round(stops, 4)
    if wanted[0] < 0.9:
        assert to_light(shown) == pytest.approx(np.repeat(wanted, 3), rel=0.005)


@given(warmth=some.floats(-150, 150), tint=some.floats(-40, 40), saturation=some.floats(-1, 1))
def test_the_quick_pass_is_the_matrix_on_linear_light(warmth, tint, saturation):
    picture = scene(64, 48)
    shown = adjusted(picture, Adjustment(exposure=-1, warmth=warmth, tint=tint, saturation=saturation))
    light = to_light(picture / 255) @ (0.5 * colour_matrix(round(warmth, 4), round(tint, 4), round(saturation, 4))).T
    exact = to_codes(np.clip(light, 0, 1)) * 65535
    assert np.abs(shown - exact).max() <= 6


def test_saturation_keeps_luminance_and_ends_in_grey():
    picture = scene(64, 48)
    before = rgb2xyz(picture)[..., 1]
    for saturation in (-1.0, -0.5, 0.2):
        shown = adjusted(picture, Adjustment(exposure=-1, saturation=saturation))
        assert rgb2xyz(shown)[..., 1] == pytest.approx(before / 2, abs=0.01)
    assert np.ptp(adjusted(picture, Adjustment(saturation=-1)).astype(int), axis=2).max() <= 4


@pytest.mark.parametrize("white", WHITES)
def test_what_is_clicked_on_under_any_light_becomes_grey(white):
    x, y = WHITES[white]
    light = np.clip(FROM_XYZ @ np.array([x / y, 1, (1 - x - y) / y]) * 0.18, 0.001, 1)
    codes = np.rint(to_codes(light) * 65535).astype(np.uint16)
    warmth, tint = neutral_for(to_light(codes / 65535))
    shown = adjusted(codes[None, None], Adjustment(warmth=warmth, tint=tint))[0, 0] / 257
    if abs(warmth) < 250:
        assert np.ptp(shown) <= 1
    assert (warmth < 5) == (x > 0.31), "a warm light needs cooling"


def test_warmth_is_undone_by_its_negative_and_grey_keeps_its_luminance():
    for warmth, tint in ((60, 10), (-120, 4), (200, -30)):
        both = colour_matrix(warmth, tint, 0) @ colour_matrix(-warmth, -tint, 0)
        assert both / both[0, 0] == pytest.approx(np.eye(3), abs=1e-9)
        assert TO_XYZ[1] @ colour_matrix(warmth, tint, 0) @ np.ones(3) == pytest.approx(1, abs=1e-6)
    warm = colour_matrix(60, 0, 0) @ np.ones(3)
    assert warm[0] > warm[1] > warm[2]
    red = colour_matrix(0, 20, 0) @ np.ones(3)
    assert red[1] < min(red[0], red[2])


PULLS = some.floats(-1, 1)


@given(contrast=PULLS, dark=PULLS, middle=PULLS, bright=PULLS, soften=some.floats(0, 1), exposure=some.floats(-2, 2))
def test_no_curve_turns_back_and_black_stays_black(contrast, dark, middle, bright, soften, exposure):
    pulled = {"contrast": contrast, "dark": dark, "middle": middle, "bright": bright}
    codes = shown_codes(Adjustment(exposure=exposure, soften=soften, **pulled), 400).astype(int)
    assert (np.diff(codes) >= 0).all()
    assert codes[0] == 0


def test_each_pull_lifts_its_own_part_most():
    plain = shown_codes(Adjustment(exposure=0.0001), 101).astype(int)
    for name, place in (("dark", 25), ("middle", 50), ("bright", 75)):
        lifted = shown_codes(Adjustment(**{name: 0.5}), 101) - plain
        assert abs(int(np.argmax(lifted)) - place) <= 8
        assert lifted[place] == pytest.approx(0.1 * 65535, abs=200)


def test_a_curve_keeps_the_darkest_and_brightest_apart():
    codes = shown_codes(Adjustment(dark=0.4, bright=0.3), 256).astype(int)
    assert codes[3] > 3 * 257
    assert codes[-1] - codes[-4] > 257


def test_highlights_that_evening_raises_roll_off_and_keep_apart():
    codes = shown_codes(Adjustment(gain=0.7, evened_white=0.7), 256).astype(int)
    assert codes[-1] == 65535
    assert (np.diff(codes) > 0).all()
    cut = shown_codes(Adjustment(exposure=0.7), 256).astype(int)
    assert (np.diff(cut)[-10:] == 0).all()


def test_a_slow_deep_sky_through_two_stops_and_a_strong_curve_has_no_step():
    slope = np.linspace(3000, 5200, 1920)
    sky = np.repeat(np.rint(slope).astype(np.uint16)[None, :, None], 3, axis=2)
    shown = adjusted(sky, Adjustment(exposure=2, contrast=0.8, dark=0.4))[0, :, 1] / 64
    means = np.convolve(shown, np.ones(15) / 15, mode="valid")
    assert np.abs(np.diff(means)).max() < 1


def test_shares_of_what_is_clipped():
    picture = np.full((10, 10, 3), 128, np.uint8)
    picture[0], picture[1:3] = 0, 255
    assert clipped_shares(picture) == (0.1, 0.2)
    assert clipped_shares(picture.astype(np.uint16) * 257) == (0.1, 0.2)


@pytest.mark.parametrize("name", RANGES)
def test_a_setting_out_of_its_range_is_refused_by_name(name):
    least, most = RANGES[name]
    for value in (least - 0.01, most + 0.01):
        with pytest.raises(ValidationError, match=name):
            Light(**{name: Setting(value=value)})
    assert not Light(**{name: Setting(value=most)}).is_neutral
