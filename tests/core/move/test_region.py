"""The region that all steadied stills cover: nothing empty in it, and hardly a larger view anywhere."""

import dataclasses

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some

from yarnkite.core.base.homography import exponential, mapped
from yarnkite.core.move.covering import fills, inside, least_crop, outline
from yarnkite.core.move.region import MOST_CLOSER, half_sides, region_of

ASPECT = 1.5
HALF = half_sides(ASPECT)
CORNERS = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
VIEW = CORNERS * HALF * [1, ASPECT / (16 / 9)]


def maps_by(seed, size):
    random = np.random.default_rng(seed)
    numbers = random.uniform(-size, size, (12, 8)) * [1, 1, 0.5, 0.5, 0.1, 0.1, 0.2, 0.2]
    return exponential(numbers)


def corners_of(region):
    sides = np.array([[region.left, region.top], [region.right, region.bottom]]) * 2 - 1
    return np.array([[x, y] for x in sides[:, 0] for y in sides[:, 1]]) * HALF


@given(some.integers(0, 10_000), some.floats(0.0, 0.25))
def test_nothing_in_the_region_is_empty_in_any_still(seed, size):
    maps = maps_by(seed, size)
    region = region_of(maps, ASPECT, VIEW)
    back = mapped(np.linalg.inv(maps)[:, None], corners_of(region)[None])
    if region.is_whole:
        assert (np.abs(back) <= HALF + 1e-6).all()
    assert 1 <= region.closer <= MOST_CLOSER


@given(some.integers(0, 10_000))
def test_no_larger_view_would_do(seed):
    maps = maps_by(seed, 0.1)
    region = region_of(maps, ASPECT, VIEW)
    backs = np.linalg.inv(maps)
    larger = VIEW / region.closer * 1.01
    for x in np.linspace(-0.15, 0.15, 13):
        for y in np.linspace(-0.15, 0.15, 13):
            led = mapped(backs[:, None], np.add(larger, [x, y])[None])
            assert region.closer == 1 or not (np.abs(led) <= HALF).all()


@given(some.integers(0, 10_000), some.floats(0.02, 0.15))
def test_the_region_reaches_as_far_as_it_can_on_every_side(seed, size):
    maps = maps_by(seed, size)
    region = region_of(maps, ASPECT, VIEW)
    if not region.is_whole:
        return
    backs = np.linalg.inv(maps)
    for side, further in (("left", -0.004), ("top", -0.004), ("right", 0.004), ("bottom", 0.004)):
        beyond = getattr(region, side) + further
        if not 0 <= beyond <= 1:
            continue
        wider = dataclasses.replace(region, **{side: beyond})
        led = mapped(backs[:, None], corners_of(wider)[None])
        assert (np.abs(led) > HALF).any(), side


def test_stills_that_lie_alike_cost_nothing():
    region = region_of(np.tile(np.eye(3), (4, 1, 1)), ASPECT, VIEW)
    assert (region.left, region.top, region.right, region.bottom, region.closer) == (0, 0, 1, 1, 1)


def test_a_shift_costs_as_much_as_it_shifts():
    maps = exponential(np.array([[0.1 * HALF[0] * 2, 0, 0, 0, 0, 0, 0, 0], np.zeros(8)]))
    region = region_of(maps, ASPECT, VIEW)
    assert (region.left, region.right) == pytest.approx((0.1, 1.0), abs=1e-5)
    assert region.closer == pytest.approx(1 / 0.9, rel=1e-4)


def test_stills_that_have_nothing_in_common_are_said_to_be_so():
    maps = exponential(np.array([[2.5, 0, 0, 0, 0, 0, 0, 0], [-2.5, 0, 0, 0, 0, 0, 0, 0]]))
    region = region_of(maps, ASPECT, VIEW)
    assert (region.is_whole, region.closer) == (False, MOST_CLOSER)


def test_of_stills_that_have_what_is_missing_the_nearest_one_is_taken_and_no_more():
    shifts = np.zeros((9, 8))
    shifts[4, 0] = 0.06
    backs = np.linalg.inv(exponential(shifts))
    points = outline(VIEW) * 0.97
    assert fills(4, backs, points, ASPECT) == [3]
    assert fills(0, backs, points, ASPECT) == []
    # One that lies as far off to the same side has nothing that is missing.
    shifts[3, 0] = shifts[5, 0] = 0.06
    assert fills(4, np.linalg.inv(exponential(shifts)), points, ASPECT) == [2]


def test_neighbours_fill_what_a_still_leaves_empty():
    swing = np.zeros((20, 8))
    swing[:, 0] = 0.06 * np.sin(np.arange(20) * 1.1)
    maps = exponential(swing)
    backs = np.linalg.inv(maps)
    region = region_of(maps, ASPECT, VIEW)
    middle = VIEW.mean(axis=0)
    closer = least_crop(maps, ASPECT, (middle, middle), VIEW, region.closer)
    assert closer < 1 + 0.7 * (region.closer - 1)
    points = outline(VIEW) / closer
    for own in range(20):
        taken = [own, *fills(own, backs, points, ASPECT)]
        assert len(taken) <= 4
        assert inside(backs[taken], points, ASPECT).any(axis=0).all(), own
