"""Tone: what rolls off towards white, curves that are pulled, and when light is left as it is."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.light.decisions import Light
from yarnkite.core.light.grade import RANGES, Grade, HuePull
from yarnkite.core.light.settings import Setting
from yarnkite.core.light.tone import between_ends, curve, softened

LIGHT = np.linspace(0, 8, 4001)
CODES = np.linspace(0, 1, 257)


@pytest.mark.parametrize("soften", [0.1, 0.5, 1.0])
def test_bright_light_rolls_off_without_a_corner_and_never_passes_white(soften):
    found = softened(LIGHT, soften)
    knee = 1 - 0.75 * soften
    assert np.array_equal(found[knee >= LIGHT], LIGHT[knee >= LIGHT])
    steps = np.diff(found) / np.diff(LIGHT)
    assert (steps >= 0).all()
    assert found.max() <= 1
    # One to one where it begins, and less and less of it beyond.
    assert steps[np.searchsorted(LIGHT, knee)] == pytest.approx(1, abs=0.05)
    assert (np.diff(steps) < 1e-9).all()
    assert found[-1] > 0.97


def test_without_it_what_is_brighter_than_white_is_cut():
    assert np.array_equal(softened(LIGHT, 0.0), np.minimum(LIGHT, 1))


def test_ends_that_are_left_alone_change_nothing_and_others_meet_black_and_white():
    assert np.allclose(between_ends(CODES, 0, 0), CODES)
    found = between_ends(CODES, 0.1, 0.2)
    assert CODES[found > 0].min() == pytest.approx(0.1, abs=0.01)
    assert CODES[found < 1].max() == pytest.approx(0.8, abs=0.01)
    assert found[CODES == 0.5] == pytest.approx((0.5 - 0.1) / 0.7)
    # Below 0 the ends are drawn in.
    drawn = between_ends(CODES, -0.1, -0.2)
    assert (drawn[0], drawn[-1]) == pytest.approx((0.1, 0.8))


pulls = st.lists(st.tuples(st.floats(0.02, 0.98), st.floats(-1, 1)), max_size=6).map(tuple)


@given(st.floats(-1, 1), pulls)
def test_a_curve_keeps_black_and_white_and_never_turns_back(contrast, pulls):
    found = curve(CODES, contrast, pulls)
    assert (found[0], found[-1]) == pytest.approx((0, 1))
    assert (np.diff(found) >= -1e-9).all()


@given(st.floats(0.1, 0.9), st.floats(0.05, 1))
def test_a_place_that_is_pulled_up_gets_brighter_and_down_darker(at, by):
    there = np.array([at])
    assert curve(there, 0, ((at, by),))[0] > at > curve(there, 0, ((at, -by),))[0]
    # Two pulls at one place add up.
    half = curve(CODES, 0, ((at, by / 2), (at, by / 2)))
    assert np.allclose(half, curve(CODES, 0, ((at, by),)))


def test_contrast_pulls_dark_and_bright_apart_and_leaves_the_middle():
    more, less = curve(CODES, 0.5, ()), curve(CODES, -0.5, ())
    dark, middle, bright = 64, 128, 192
    assert more[dark] < CODES[dark] < less[dark]
    assert less[bright] < CODES[bright] < more[bright]
    assert more[middle] == pytest.approx(0.5, abs=1e-6)
    assert np.array_equal(curve(CODES, 0, ()), CODES)


@pytest.mark.parametrize("name", sorted(name for name in RANGES if name in Grade.model_fields))
def test_light_is_left_as_it_is_until_one_setting_is_not_neutral(name):
    assert Grade().changes_nothing
    least, most = RANGES[name]
    changed = Grade(**{name: Setting(value=most or least)})
    assert not changed.changes_nothing
    assert Grade(**{name: Setting(value=0)}).changes_nothing


def test_black_and_white_and_a_hue_that_is_pulled_change_it_too():
    assert not Grade(monochrome=True).changes_nothing
    assert not Grade(hues=(HuePull(hue=20, colour=Setting(value=0.2)),)).changes_nothing
    assert Grade(hues=(HuePull(hue=20),)).changes_nothing
    assert Light().changes_nothing
