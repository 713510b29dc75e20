"""Pictures that go beyond white: the light of the scene, as screens of high range are to show it, by an independent
model of the standards."""

import colour
import numpy as np
import pytest

from yarnkite.core.encode.colours import in_range
from yarnkite.core.image.cicp import CodePoints, srgb_of
from yarnkite.core.image.headroom import WHITE, beyond_white, with_headroom
from yarnkite.core.image.high_range import PEAK
from yarnkite.core.image.overlay import colour_over
from yarnkite.core.image.scene import base_curve
from yarnkite.core.image.srgb import faded, to_codes

WHITE_CD, PEAK_CD = 203.0, 1000.0
# Of a grey world, against where the sensor's least sensitive colour clips; it tells up to four times that.
SCENE = np.array([0.001, 0.01, 0.05, 0.18, 0.22, 0.4, 0.7, 1.0, 1.4, 1.8, 2.5, 3.2, 4.0])


def picture_of(scene):
    """What the base curve shows of a grey scene, as samples of 16 bits."""
    codes = np.rint(to_codes(base_curve(scene)) * 65535).astype(np.uint16)
    return np.repeat(codes[None, :, None], 3, axis=2)


def shown_cd(picture, wanted):
    """The light a screen shows of a picture with headroom, in cd/m², by the library's curves."""
    signal = in_range(picture, wanted)[0] / 65535.0
    if wanted == "pq":
        return colour.models.eotf_ST2084(signal, L_p=10_000)
    return colour.models.eotf_BT2100_HLG(signal, L_B=0, L_W=PEAK_CD)


@pytest.mark.parametrize("wanted", ["pq", "hlg"])
def test_the_light_of_a_raw_still_is_shown_as_the_scene_has_it_beyond_white(wanted):
    found = shown_cd(with_headroom(picture_of(SCENE), "scene"), wanted)[:, 1]
    raised = WHITE_CD * 2 ** (2 / 3) * SCENE
    straight = raised < 0.6 * PEAK_CD
    assert found[straight] == pytest.approx(raised[straight], rel=0.015, abs=0.05)
    # Beyond that it bends, never back, and the brightest the sensor can tell meets the peak.
    assert (np.diff(found) > 0).all()
    assert found[-1] == pytest.approx(PEAK_CD, rel=0.005)


def test_steps_in_the_brightest_light_are_finer_than_the_eyes():
    samples = np.arange(60_000, 65_536).astype(np.uint16)
    beyond = shown_cd(with_headroom(np.repeat(samples[None, :, None], 3, axis=2), "scene"), "pq")[:, 0]
    bright = beyond > WHITE_CD
    assert bright.sum() > 1000
    assert (np.diff(beyond[bright]) / beyond[bright][1:]).max() < 0.02


def test_dark_and_middle_parts_are_as_in_a_clip_of_the_standard_range():
    scene = SCENE[SCENE < 0.2]
    found = shown_cd(with_headroom(picture_of(scene), "scene"), "pq")[:, 0]
    assert found == pytest.approx(WHITE_CD * base_curve(scene), rel=0.01, abs=0.02)


def test_titles_and_fades_end_at_white_and_not_at_the_peak():
    bright = with_headroom(picture_of(np.full(64, 4.0)), "scene").repeat(8, axis=0)
    titled = bright.copy()
    colour_over(titled, np.full((8, 64), 255, np.uint8), (255, 255, 255), 0, 0, 1.0, WHITE)
    for one in (titled, faded(bright, (255, 255, 255), 1.0, WHITE)):
        assert shown_cd(one, "pq") == pytest.approx(WHITE_CD, rel=0.01)
    halfway = shown_cd(faded(bright, (255, 255, 255), 0.5, WHITE), "pq")
    assert halfway == pytest.approx((WHITE_CD + PEAK_CD) / 2, rel=0.01)


def test_going_back_on_the_base_curve_is_its_inverse():
    straight = SCENE[SCENE * 2 ** (2 / 3) < 0.6 * PEAK]
    assert beyond_white(base_curve(straight)) == pytest.approx(straight * 2 ** (2 / 3), rel=0.002)


def test_a_still_of_high_range_is_shown_as_bright_as_it_says():
    """Read and written again: greys and colours in PQ, up to the peak of the screens such clips are made for."""
    cd = np.array([[1.0, 1, 1], [50, 50, 50], [203, 203, 203], [400, 400, 400], [700, 700, 700], [980, 980, 980]])
    cd = np.concatenate([cd, [[200.0, 120, 90], [700, 500, 420]]])
    codes = np.rint(colour.models.eotf_inverse_ST2084(cd, L_p=10_000) * 65535).astype(np.uint16)
    picture = srgb_of(codes[None], CodePoints(9, 16))
    assert picture.max() < 65535
    for wanted in ("pq", "hlg"):
        assert shown_cd(with_headroom(picture, "high range"), wanted) == pytest.approx(cd, rel=0.02, abs=0.5)
