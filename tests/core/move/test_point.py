"""A point that is followed: exactly where it is seen, sensibly where it is hidden, and never with a crash."""

import numpy as np
import pytest

from tests.moved import HALF, HEIGHT, MARK, WIDTH, grey_of, place_of_mark, scene, seen, walked
from yarnkite.core.base.homography import mapped
from yarnkite.core.move.point import Seen, begun, bridged, followed

HIDDEN = range(12, 17)


def follow(pictures, cameras, at=MARK):
    point = begun(Seen(grey_of(pictures[0])), at)
    rows = [(*at, 1.0, *at)]
    for number in range(1, len(pictures)):
        led = np.linalg.inv(cameras[number]) @ cameras[number - 1]
        expected = mapped(led, point.at)
        point, sight = followed(point, Seen(grey_of(pictures[number])), led)
        rows.append((sight.x, sight.y, sight.sure, *expected))
    return np.array(rows)


@pytest.fixture(scope="module")
def walk():
    cameras = walked(30)
    place = scene(3)
    return cameras, [seen(place, one) for one in cameras]


def test_it_is_found_in_every_still_to_a_fraction_of_a_pixel(walk):
    cameras, pictures = walk
    rows = follow(pictures, cameras)
    assert (rows[:, 2] > 0.8).all()
    assert np.abs(rows[:, :2] - place_of_mark(cameras)).max() * HALF < 0.25


def test_what_hides_it_for_a_few_stills_is_said_and_bridged(walk):
    cameras, pictures = walk
    pictures = [one.copy() for one in pictures]
    for number in HIDDEN:
        x, y = (place_of_mark(cameras)[number] * HALF + [WIDTH / 2, HEIGHT / 2]).astype(int)
        pictures[number][y - 90 : y + 90, x - 70 : x + 70] = (60, 62, 70)
    rows = follow(pictures, cameras)
    assert (rows[list(HIDDEN), 2] == 0).all()
    assert (np.delete(rows[:, 2], list(HIDDEN)) > 0.6).all()
    assert np.abs(bridged(rows) - place_of_mark(cameras)).max() * HALF < 0.3


def test_what_it_was_off_when_found_again_is_laid_over_the_stills_before():
    rows = np.zeros((6, 5))
    rows[:, 2] = (1, 0, 0, 0, 1, 1)
    rows[4, :2], rows[4, 3:] = (0.4, 0.0), (0.0, 0.0)
    rows[5, :2] = rows[5, 3:] = (0.4, 0.0)
    assert bridged(rows)[:, 0] == pytest.approx([0, 0.1, 0.2, 0.3, 0.4, 0.4])


def test_a_change_of_light_does_not_hide_it(walk):
    cameras, pictures = walk
    darker = [np.asarray(one * (1 - 0.02 * number), np.uint8) for number, one in enumerate(pictures)]
    rows = follow(darker, cameras)
    assert (rows[:, 2] > 0.7).all()
    assert np.abs(rows[:, :2] - place_of_mark(cameras)).max() * HALF < 0.3


def test_black_stills_and_points_outside_are_hidden_and_go_with_the_camera(walk):
    cameras, pictures = walk
    black = [np.zeros_like(one) for one in pictures]
    rows = follow(black, cameras)
    assert (rows[1:, 2] == 0).all()
    assert rows[:, :2] == pytest.approx(place_of_mark(cameras), abs=1e-6)
    far = follow(pictures[:4], cameras[:4], np.array([3.0, 2.0]))
    assert (far[1:, 2] == 0).all()
    assert np.isfinite(far).all()


def test_a_smooth_wall_has_nothing_to_follow():
    wall = np.full((HEIGHT, WIDTH, 3), 120, np.uint8)
    rows = follow([wall] * 3, np.tile(np.eye(3), (3, 1, 1)), np.array([0.1, 0.1]))
    assert (rows[1:, 2] == 0).all()
