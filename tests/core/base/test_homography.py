"""Maps of pictures: their logarithms, and what they do to points, against a library and by differences."""

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some

from yarnkite.core.base.homography import (
    AFFINE,
    SHIFT,
    SIMILARITY,
    exponential,
    homography,
    inverse,
    logarithm,
    mapped,
    matrix,
    slopes,
)

small = some.lists(some.floats(-0.4, 0.4), min_size=8, max_size=8).map(np.array)


@given(small)
def test_a_logarithm_is_undone_by_the_exponential(numbers):
    assert logarithm(exponential(numbers)) == pytest.approx(numbers, abs=1e-8)
    assert np.linalg.det(exponential(numbers)) == pytest.approx(1)


def test_each_number_does_what_it_says():
    shift, turn, size = np.zeros(8), np.zeros(8), np.zeros(8)
    shift[:2], turn[2], size[3] = (0.3, -0.1), np.radians(90), np.log(2)
    point = np.array([0.5, 0.0])
    assert mapped(exponential(shift), point) == pytest.approx([0.8, -0.1])
    assert mapped(exponential(turn), point) == pytest.approx([0.0, 0.5]), "with the clock, as y goes down"
    assert mapped(exponential(size), point) == pytest.approx([1.0, 0.0])


@pytest.mark.parametrize("count", [SHIFT, SIMILARITY, AFFINE])
def test_maps_of_a_model_put_together_are_of_that_model(count):
    random = np.random.default_rng(count)
    one, other = np.zeros(8), np.zeros(8)
    one[:count], other[:count] = random.uniform(-0.3, 0.3, (2, count))
    both = logarithm(exponential(one) @ exponential(other))
    assert both[count:] == pytest.approx(np.zeros(8 - count), abs=1e-9)


@given(small)
def test_points_go_where_a_library_leads_them(numbers):
    points = np.random.default_rng(2).uniform(-0.8, 0.8, (12, 2))
    led = cv2.perspectiveTransform(points[None], exponential(numbers))[0]
    assert mapped(exponential(numbers), points) == pytest.approx(led, abs=1e-9)


def test_slopes_are_the_differences():
    points = np.random.default_rng(3).uniform(-0.8, 0.8, (7, 2))
    for number in range(8):
        step = np.zeros(8)
        step[number] = 1e-6
        moved = (mapped(exponential(step), points) - mapped(exponential(-step), points)) / 2e-6
        assert slopes(points)[..., number] == pytest.approx(moved, abs=1e-6)


@given(small)
def test_eight_numbers_stand_for_the_map(numbers):
    found = matrix(homography(exponential(numbers)))
    points = np.array([[0.3, 0.4], [-0.5, 0.1]])
    assert mapped(found, points) == pytest.approx(mapped(exponential(numbers), points), abs=1e-7)


def test_many_maps_are_as_good_as_one():
    many = np.random.default_rng(4).uniform(-0.5, 0.5, (40, 8))
    alone = np.stack([exponential(one) for one in many])
    assert exponential(many) == pytest.approx(alone, abs=1e-9)
    assert logarithm(alone) == pytest.approx(many, abs=1e-7)


def test_what_has_no_logarithm_says_so_and_spoils_no_other():
    half = exponential(np.array([0, 0, np.pi, 0, 0, 0, 0, 0]))
    fine = exponential(np.array([0.1, 0, 0.3, 0, 0, 0, 0, 0]))
    found = logarithm(np.stack([half, fine, np.zeros((3, 3))]))
    assert not np.isfinite(found[0]).all()
    assert found[1] == pytest.approx([0.1, 0, 0.3, 0, 0, 0, 0, 0])
    assert not np.isfinite(found[2]).all()
    assert inverse(fine) @ fine == pytest.approx(np.eye(3))
    assert not np.isfinite(inverse(np.zeros((3, 3)))).any()
