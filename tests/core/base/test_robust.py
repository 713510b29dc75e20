"""Robust statistics against their definitions, written with the standard library's median, one value at a time."""

from itertools import pairwise
from statistics import median

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.robust import (
    change_points,
    middle_of,
    neighbours,
    rolling_mad,
    runs,
    second_difference,
    widened,
)

courses = st.lists(st.integers(-50, 50).map(float), min_size=1, max_size=40)
few = st.integers(1, 7)
flags = st.lists(st.booleans(), max_size=30).map(lambda each: np.array(each, bool))


def mirrored(values, position):
    """The value at a position that may lie before the first or after the last one."""
    last = len(values) - 1
    position = abs(position)
    return values[last - abs(last - position)]


@given(courses, few)
def test_a_neighbourhood_is_the_median_of_both_sides_without_the_value_itself(values, reach):
    found = neighbours(np.array(values), reach)
    if len(values) < 2:
        assert found.tolist() == values
    elif len(values) > reach:
        around = [[mirrored(values, n + off) for off in range(-reach, reach + 1) if off] for n in range(len(values))]
        assert found.tolist() == [median(one) for one in around]
    else:
        last = len(values) - 1
        around = [
            [values[min(max(n + off, 0), last)] for off in range(-reach, reach + 1) if off] for n in range(len(values))
        ]
        assert found.tolist() == [median(one) for one in around]


@pytest.mark.parametrize("count", range(1, 20))
def test_the_middle_of_a_few_arrays_is_their_median(count):
    arrays = list(np.random.default_rng(count).integers(0, 9, (count, 50)).astype(float))
    assert middle_of(arrays).tolist() == np.median(arrays, axis=0).tolist()


@given(courses, few, st.sampled_from([0.0, 3.0]))
def test_straying_is_the_scaled_median_distance_from_the_median_around(values, reach, least):
    width = min(2 * reach + 1, len(values))
    expected = []
    for position in range(len(values)):
        start = min(max(position - width // 2, 0), len(values) - width)
        window = values[start : start + width]
        expected.append(max(least, 1.4826 * median(abs(one - median(window)) for one in window)))
    assert rolling_mad(np.array(values), reach, least) == pytest.approx(expected)


def test_straying_of_a_normal_distribution_is_its_standard_deviation():
    values = np.random.default_rng(1).normal(5, 3, 20_000)
    assert rolling_mad(values, 9_999)[10_000] == pytest.approx(3, rel=0.03)
    assert rolling_mad(np.zeros(0)).tolist() == []


def test_off_the_line_between_two_neighbours():
    assert second_difference(np.array([0.0, 1.0, 2.0, 7.0, 4.0])).tolist() == [0, 0, -2, 4, 0]
    assert second_difference(np.array([3.0, 9.0])).tolist() == [0, 0]
    assert second_difference(np.array([1.0, 5.0, 1.0])).tolist() == [0, 4, 0]


@pytest.mark.parametrize("height", [-2.0, 0.8])
@pytest.mark.parametrize("slope", [-0.05, 0.0, 0.03])
@pytest.mark.parametrize("at", [6, 20, 34])
def test_a_step_on_a_slope_is_found_at_its_place_with_its_height(at, slope, height):
    at_each = np.arange(40.0)
    values = slope * at_each + np.where(at_each >= at, height, 0)
    values += np.random.default_rng(at).normal(0, 0.005, 40)
    ((found, measured),) = change_points(values, least=0.3)
    assert found == at
    assert measured == pytest.approx(height, abs=0.03)


def test_what_is_no_step_is_not_found():
    quiet = np.random.default_rng(2).normal(0, 0.01, 60)
    ramp = np.arange(60) * 0.2
    spike = quiet + np.where(np.arange(60) == 30, 2.0, 0.0)
    low = quiet + np.where(np.arange(60) >= 30, 0.25, 0.0)
    for values in (quiet, ramp, spike, low, np.array([0.0] * 5 + [9.0] * 6)):
        assert change_points(values, least=0.3) == []
    # As high as values change anyhow, it is none either.
    restless = np.random.default_rng(3).normal(0, 0.5, 60) + np.where(np.arange(60) >= 30, 1.5, 0.0)
    assert change_points(restless, least=0.3) == []


def test_of_steps_nearer_than_they_can_be_confirmed_the_highest_counts():
    values = np.concatenate([np.zeros(20), np.full(20, 1.0), np.full(20, 4.0)])
    assert change_points(values, least=0.3) == [(20, 1.0), (40, 3.0)]
    close = np.concatenate([np.zeros(20), np.full(2, 1.0), np.full(20, 4.0)])
    assert [place for place, _ in change_points(close, least=0.3)] == [22]
    assert change_points(np.concatenate([np.zeros(6), np.ones(6)]), least=0.3) == [(6, 1.0)]


@given(flags, st.integers(1, 4))
def test_runs_are_flags_that_follow_on_or_nearly(given_flags, join):
    found = runs(given_flags, join=join)
    inside = {position for first, last in found for position in range(first, last + 1)}
    assert {int(one) for one in np.flatnonzero(given_flags)} <= inside
    assert all(given_flags[first] and given_flags[last] for first, last in found)
    # What separates two runs is at least so much, what is bridged within one less.
    assert all(after - last > join for (_, last), (after, _) in pairwise(found))
    for first, last in found:
        true = [n for n in range(first, last + 1) if given_flags[n]]
        assert all(b - a <= join for a, b in pairwise(true))


def test_runs_by_default_join_only_neighbours():
    assert runs(np.array([1, 1, 0, 1, 0, 0, 1], bool)) == [(0, 1), (3, 3), (6, 6)]


@given(flags)
def test_widening_adds_one_on_each_side(given_flags):
    before = given_flags.copy()
    found = widened(given_flags)
    expected = [bool(given_flags[max(0, n - 1) : n + 2].any()) for n in range(len(given_flags))]
    assert found.tolist() == expected
    assert given_flags.tolist() == before.tolist()
