"""Settings that change over a shot: through their keyframes, smoothly, never beyond them, in any order of stills."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as some

from yarnkite.core.base.monotone import monotone
from yarnkite.core.light.course import values_of
from yarnkite.core.light.decisions import Keyframe, Light, Setting
from yarnkite.core.light.split_join import light_of_both, light_of_part

IDS = tuple(range(101, 161))
POSITIONS = {still: place for place, still in enumerate(IDS)}
AT = np.arange(len(IDS), dtype=float)
keyframes = some.lists(
    some.builds(Keyframe, still=some.sampled_from(IDS), value=some.floats(-5, 5)), min_size=1, max_size=8
).map(tuple)


@given(keyframes)
def test_it_goes_through_its_keyframes_and_never_beyond_two_of_them(chosen):
    setting = Setting(keyframes=chosen)
    course = values_of(setting, POSITIONS, AT)
    known = sorted((POSITIONS[one.still], one.value) for one in setting.keyframes)
    for place, value in known:
        assert course[place] == pytest.approx(value, abs=1e-9)
    for (low, one), (high, other) in pairwise(known):
        between = course[low : high + 1]
        assert between.min() >= min(one, other) - 1e-9
        assert between.max() <= max(one, other) + 1e-9
        assert (np.diff(between) * np.sign(other - one) >= -1e-9).all()
    assert (course[: known[0][0]] == known[0][1]).all()
    assert (course[known[-1][0] :] == known[-1][1]).all()


def test_it_has_no_corner_at_a_keyframe():
    fine = np.linspace(0, 20, 2001)
    course = monotone([0, 5, 12, 20], [0, 1, 4, 4.2], fine)
    assert np.abs(np.diff(course, 2)).max() < 5e-4


def test_a_keyframe_whose_still_is_gone_counts_again_when_it_is_back():
    setting = Setting(keyframes=(Keyframe(still=101, value=0), Keyframe(still=160, value=2)))
    without = {still: place for still, place in POSITIONS.items() if still != 160}
    assert values_of(setting, without, AT) == pytest.approx(np.zeros(60))
    assert values_of(setting, POSITIONS, AT)[-1] == 2


def resolved(light, ids):
    positions = {still: place for place, still in enumerate(ids)}
    return {
        name: dict(zip(ids, values_of(one, positions, np.arange(len(ids), dtype=float)), strict=True))
        for name, one in light.settings.items()
    }


@given(keyframes, some.integers(1, 59))
def test_each_part_of_a_split_begins_and_ends_with_the_light_it_had(chosen, cut):
    light = Light(exposure=Setting(keyframes=chosen), warmth=Setting(value=20))
    before = resolved(light, IDS)
    for part in (IDS[:cut], IDS[cut:]):
        after = resolved(light_of_part(light, IDS, set(part)), part)
        for still in (part[0], part[-1], *(one.still for one in light.exposure.keyframes if one.still in part)):
            assert after["exposure"][still] == pytest.approx(before["exposure"][still], abs=1e-3)
        assert set(after["warmth"].values()) == {20}


@given(keyframes)
@example((Keyframe(still=IDS[0], value=-1.0), Keyframe(still=IDS[24], value=0.0)))
def test_joining_what_was_split_keeps_the_light_at_both_ends(chosen):
    one, two = IDS[:25], IDS[25:]
    own = tuple(keyframe for keyframe in chosen if keyframe.still in one)
    first, second = Light(exposure=Setting(keyframes=own)), Light(exposure=Setting(value=1.5), tint=Setting(value=-4))
    both = resolved(light_of_both(first, one, second, two), IDS)
    alone = resolved(first, one)
    for still in one:
        assert both["exposure"][still] == pytest.approx(alone["exposure"][still], abs=1e-3)
    assert [both["exposure"][still] for still in two] == pytest.approx([1.5] * len(two))
    assert [both["tint"][still] for still in (one[0], one[-1], two[0], two[-1])] == [0, 0, -4, -4]
