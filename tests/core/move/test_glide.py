"""Gliding: how smooth a path becomes, that it stays within the edge that may be lost, and that none is smoother
there."""

import numpy as np
import pytest
from scipy.optimize import minimize

from yarnkite.core.move.glide import courses, glided, jerk, maps_of, proposed_length, within

ASPECT = 1.5


def walked(count, seed=1):
    random = np.random.default_rng(seed)
    time = np.arange(count)
    sway = np.sin(time * 0.9)
    return np.stack(
        [
            0.02 * sway + random.normal(0, 0.004, count) + 0.001 * time,
            0.01 * np.abs(sway) + random.normal(0, 0.004, count),
            np.radians(1) * sway + random.normal(0, 0.002, count),
            0.002 * time + random.normal(0, 0.002, count),
        ],
        axis=1,
    )


def farthest(course, smooth):
    """By how much the corners of the view move against the still, right and down, in shares of its sides."""
    maps = np.linalg.inv(maps_of(smooth)) @ maps_of(course)
    half = np.array([ASPECT, 1]) / np.hypot(ASPECT, 1)
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half * 0.9
    led = np.einsum("nij,kj->nki", maps[:, :2, :2], corners) + maps[:, None, :2, 2]
    return np.abs((led - corners) / (2 * half)).max()


def test_courses_are_undone_by_their_maps():
    course = walked(30)
    assert courses(maps_of(course)) == pytest.approx(course)


def test_a_walk_glides():
    course = walked(200)
    smooth = glided(course, (40.0, 40.0, 40.0))
    assert jerk(maps_of(course)) > 30 * jerk(maps_of(smooth))


def test_a_straight_steady_way_stays_as_it_is_and_zero_leaves_one_as_shot():
    straight = np.outer(np.arange(50), [0.01, -0.003, 0.0005, 0.001])
    assert glided(straight, (30.0, 30.0, 30.0)) == pytest.approx(straight, abs=1e-8)
    course = walked(50)
    left = glided(course, (0.0, 20.0, 0.0))
    assert np.array_equal(left[:, [0, 1, 3]], course[:, [0, 1, 3]])
    assert not np.allclose(left[:, 2], course[:, 2])


@pytest.mark.parametrize("most_lost", [0.01, 0.02, 0.04])
def test_no_more_of_the_edge_is_lost_than_may_be(most_lost):
    course = walked(300)
    lengths = (80.0, 80.0, 80.0)
    held = within(course, lengths, most_lost, ASPECT)
    assert farthest(course, held) < most_lost * 1.03
    free = glided(course, lengths)
    assert jerk(maps_of(free)) <= jerk(maps_of(held)) <= jerk(maps_of(course))


def test_where_it_is_not_needed_the_limit_changes_nothing():
    course = walked(80)
    assert np.array_equal(within(course, (30.0, 30.0, 30.0), 0.4, ASPECT), glided(course, (30.0, 30.0, 30.0)))


def test_none_that_stays_within_is_smoother():
    """Against a general solver, for a shift to the right alone: the same course, its cost no higher."""
    course = np.zeros((14, 4))
    course[:, 0] = np.random.default_rng(2).normal(0, 0.05, 14)
    length, most_lost = 12.0, 0.012
    held = within(course, (length, 0.0, 0.0), most_lost, ASPECT)[:, 0]
    room = 2 * most_lost * ASPECT / np.hypot(ASPECT, 1)
    stiff = (2 * np.sin(np.pi / length)) ** -6

    def cost(path):
        return float(((path - course[:, 0]) ** 2).sum() + stiff * (np.diff(path, 3) ** 2).sum()) * 1e4

    bounds = [(one - room, one + room) for one in course[:, 0]]
    best = minimize(cost, course[:, 0], bounds=bounds, method="L-BFGS-B", options={"maxiter": 20000, "ftol": 1e-14})
    assert np.abs(held - course[:, 0]).max() <= room * 1.01
    assert cost(held) <= best.fun * 1.02
    assert held == pytest.approx(best.x, abs=room * 0.1)


def test_the_strength_that_is_proposed_follows_the_swing():
    time = np.arange(240)
    for swing in (6, 12, 24):
        course = np.zeros((240, 4))
        course[:, 0] = 0.02 * np.sin(2 * np.pi * time / swing) + np.random.default_rng(swing).normal(0, 0.0005, 240)
        assert proposed_length(maps_of(course)) == pytest.approx(4 * swing, rel=0.25)
    assert proposed_length(maps_of(np.zeros((3, 4)))) > 0
    assert proposed_length(maps_of(np.zeros((50, 4)))) > 0


@pytest.mark.parametrize("count", [0, 1, 2, 3, 4, 6])
def test_few_stills_are_no_trouble(count):
    course = walked(count)
    assert within(course, (20.0, 20.0, 20.0), 0.01, ASPECT).shape == (count, 4)
