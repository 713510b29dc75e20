"""Monotone courses against SciPy's, which follows the same paper on its own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicHermiteSpline, PchipInterpolator

from yarnkite.core.base.monotone import monotone

courses = st.lists(st.tuples(st.integers(1, 20), st.integers(-30, 30)), min_size=2, max_size=12).map(
    lambda steps: (np.cumsum([wide for wide, _ in steps]).astype(float), np.array([y for _, y in steps], float))
)


@given(courses)
def test_with_free_ends_it_is_the_librarys(course):
    places, values = course
    at = np.linspace(places[0], places[-1], 101)
    found = monotone(places, values, at, level_ends=False)
    assert found == pytest.approx(PchipInterpolator(places, values)(at), abs=1e-9)


@given(courses)
def test_with_level_ends_only_the_ends_slopes_are_others(course):
    places, values = course
    slopes = PchipInterpolator(places, values).derivative()(places)
    slopes[0] = slopes[-1] = 0
    at = np.linspace(places[0], places[-1], 101)
    assert monotone(places, values, at) == pytest.approx(CubicHermiteSpline(places, values, slopes)(at), abs=1e-9)


@given(courses)
def test_it_never_goes_beyond_the_values_beside_it_and_holds_them_outside(course):
    places, values = course
    for first in range(len(places) - 1):
        at = np.linspace(places[first], places[first + 1], 30)
        found = monotone(places, values, at, level_ends=bool(first % 2))
        low, high = sorted(values[first : first + 2])
        assert found.min() >= low - 1e-9
        assert found.max() <= high + 1e-9
    assert monotone(places, values, np.array([places[0] - 9, places[-1] + 9])).tolist() == [values[0], values[-1]]


def test_what_lies_on_either_side_of_a_jump_knows_nothing_of_the_other():
    places, values = [0.0, 10.0, 11.0, 20.0], [0.0, 4.0, 50.0, 60.0]
    before, after = np.linspace(0, 10, 21), np.linspace(11, 20, 21)
    for level in (True, False):
        joined = monotone(places, values, before, level_ends=level, jump=1.0)
        other = monotone(places, [0.0, 4.0, -9.0, 3.0], before, level_ends=level, jump=1.0)
        if level:
            assert joined == pytest.approx(other)
        assert np.diff(joined).min() >= 0
        assert joined[-1] == 4.0
        assert monotone(places, values, after, level_ends=level, jump=1.0)[0] == 50.0
    # Levelly up to the jump, and levelly on from it.
    near = monotone(places, values, np.array([9.99, 11.01]), jump=1.0)
    assert near == pytest.approx([4.0, 50.0], abs=1e-3)
    assert monotone(places, values, np.array([9.99]))[0] < 4.0 - 1e-3


def test_one_value_is_a_level_course():
    assert monotone([3.0], [7.0], np.array([0.0, 3.0, 9.0])).tolist() == [7, 7, 7]
    assert monotone([0.0, 2.0], [1.0, 5.0], np.array([0.5, 1.0, 1.5]), level_ends=False).tolist() == [2, 3, 4]
