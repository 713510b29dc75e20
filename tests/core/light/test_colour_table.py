"""Hues, muted colours, tints and black and white: an independent Oklab, greys that stay, and no colour out of sRGB."""

import colour
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some

from tests.conftest import scene
from yarnkite.core.light.adjustment import Adjustment, adjusted
from yarnkite.core.light.colour_table import apply_table, identity, sampled, table_of
from yarnkite.core.light.grade import GradeNumbers, HueNumbers
from yarnkite.core.light.oklab import from_oklab, hue_distance, hue_of, to_oklab

PICTURE = np.ascontiguousarray(scene(96, 64)).astype(np.uint16) * 257


def through(grade, picture=PICTURE):
    result = picture.copy()
    apply_table(result, table_of(grade))
    return result


def pulled(hue=50.0, **numbers):
    return GradeNumbers(hues=(HueNumbers(hue=hue, width=40, **numbers),))


@given(some.tuples(*[some.floats(0, 1)] * 3))
def test_oklab_is_that_of_another_library(codes):
    ours = to_oklab(np.array(codes))
    theirs = colour.XYZ_to_Oklab(colour.RGB_to_XYZ(np.array(codes), "sRGB", apply_cctf_decoding=True))
    assert ours == pytest.approx(theirs, abs=2e-3)
    assert from_oklab(ours) == pytest.approx(codes, abs=2e-3)


def test_a_table_that_changes_nothing_changes_no_bit():
    assert np.array_equal(through(GradeNumbers()), PICTURE)


@given(some.integers(0, 65535), some.sampled_from(["turn", "colour", "lightness"]), some.floats(-0.9, 0.9))
def test_greys_have_no_hue_to_be_changed(code, name, amount):
    amount = amount * 60 if name == "turn" else amount
    grey = np.full((1, 4, 3), code, np.uint16)
    shown = through(pulled(**{name: amount}), grey)
    assert np.abs(shown.astype(int) - code).max() <= 40


def test_tetrahedra_are_those_of_a_slow_computation():
    table = table_of(pulled(turn=25, colour=0.4))
    slow = sampled(table[..., :3].astype(float) / 65535, PICTURE / 65535) * 65535
    assert np.abs(through(pulled(turn=25, colour=0.4)).astype(float) - slow).max() <= 1.5


def test_a_part_of_the_circle_turns_and_the_rest_stays():
    before, after = to_oklab(PICTURE / 65535), to_oklab(through(pulled(hue=40, turn=20)) / 65535)
    colourful = np.hypot(before[..., 1], before[..., 2]) > 0.08
    near = colourful & (hue_distance(hue_of(before), 40) < 4)
    far = colourful & (hue_distance(hue_of(before), 40) > 60)
    assert near.any()
    assert far.any()
    assert ((hue_of(after) - hue_of(before))[near] % 360).mean() == pytest.approx(18, abs=4)
    assert np.abs(after - before)[far].max() < 0.01


@pytest.mark.parametrize(("amount", "times"), [(-1.0, 0.0), (0.5, 1.5)])
def test_more_and_less_of_a_colour(amount, times):
    colours = from_oklab(np.array([[[0.6, 0.05, 0.04], [0.5, 0.04, 0.03]]]))
    hue = float(hue_of(to_oklab(colours))[0, 0])
    shown = through(pulled(hue=hue, colour=amount), np.rint(colours * 65535).astype(np.uint16)) / 65535
    chroma = [np.hypot(lab[..., 1], lab[..., 2]) for lab in (to_oklab(colours), to_oklab(shown))]
    assert chroma[1] == pytest.approx(chroma[0] * times, abs=0.006)


def test_black_and_white_weighs_each_colour():
    plain, weighed = (
        through(GradeNumbers(monochrome=True)),
        through(GradeNumbers(monochrome=True, hues=(HueNumbers(hue=29, width=60, lightness=0.8),))),
    )
    for shown in (plain, weighed):
        assert np.ptp(shown.astype(int), axis=2).max() <= 40
    red = np.s_[22:30, 14:30]
    assert weighed[red].mean() > plain[red].mean() * 1.15
    # A greenish corner has none of that hue.
    assert weighed[-1, 0].mean() == pytest.approx(plain[-1, 0].mean(), rel=0.02)


def test_muted_colours_gain_and_strong_ones_hardly_do():
    colours = from_oklab(np.array([[[0.6, 0.02, 0.01], [0.6, 0.2, 0.08]]]))
    shown = through(GradeNumbers(muted=0.6), np.rint(colours * 65535).astype(np.uint16)) / 65535
    before, after = (np.hypot(lab[..., 1], lab[..., 2])[0] for lab in (to_oklab(colours), to_oklab(shown)))
    assert after[0] / before[0] > 1.5
    assert after[1] / before[1] < 1.06


def test_tints_reach_their_own_end_and_leave_black_and_white():
    ramp = np.repeat(np.linspace(0, 65535, 64)[None, :, None], 3, axis=2).astype(np.uint16)
    lab = to_oklab(through(GradeNumbers(dark_warmth=-1, bright_warmth=1), ramp)[0] / 65535)
    assert lab[12, 2] < -0.01
    assert lab[50, 2] > 0.01
    assert np.abs(lab[[0, -1], 1:]).max() < 1e-3


@given(some.floats(-60, 60), some.floats(-1, 1), some.floats(-1, 1))
def test_lightness_never_turns_back(turn, amount, lightness):
    grade = GradeNumbers(
        hues=(HueNumbers(hue=250, width=60, turn=turn, colour=amount, lightness=lightness),), muted=0.4
    )
    ramp = np.linspace(0, 1, 200)[:, None] * [0.3, 0.5, 1.0]
    shown = sampled(table_of(grade)[..., :3].astype(float) / 65535, ramp)
    assert np.diff(to_oklab(shown)[:, 0]).min() > -0.004


def test_it_is_part_of_what_a_still_gets():
    shown = adjusted(scene(96, 64), Adjustment(monochrome=True))
    assert np.ptp(shown.astype(int), axis=2).max() <= 40
    assert identity(5)[4, 0, 0] == pytest.approx([1, 0, 0])


def test_what_leans_dark_parts_leans_bright_ones_alike_seen_from_white():
    """A lean of dark parts at a lightness is that of bright parts at the lightness as far from the other end."""
    for lightness in (0.4, 0.5):
        dark, bright = (
            table_lean(at, **{f"{part}_warmth": 1.0}) for at, part in ((lightness, "dark"), (1 - lightness, "bright"))
        )
        assert dark == pytest.approx(bright, abs=3e-3)
    assert table_lean(0.25, dark_warmth=1.0) > 2 * table_lean(0.5, dark_warmth=1.0) > 8 * table_lean(0.8, dark_warmth=1)


def table_lean(lightness, **numbers):
    """By how much a grey leans towards yellow."""
    grey = np.rint(np.clip(from_oklab(np.array([[[lightness, 0.0, 0.0]]])), 0, 1) * 65535).astype(np.uint16)
    return float(to_oklab(through(GradeNumbers(**numbers), grey) / 65535)[0, 0, 2])
