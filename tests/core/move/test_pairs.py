"""How two stills lie against each other: planted movements found again, and nothing found where there is nothing."""

import cv2
import numpy as np
import pytest

from tests.moved import HALF, HEIGHT, WIDTH, grey_of, scene, seen
from yarnkite.core.base.homography import PERSPECTIVE, SHIFT, SIMILARITY, exponential, mapped
from yarnkite.core.move.pairs import Followed, motion_between


def followed(picture):
    return Followed(grey_of(picture))


CORNERS = np.array([[-0.8, -0.5], [0.8, -0.5], [0.8, 0.5], [-0.8, 0.5], [0, 0]])


@pytest.fixture(scope="module")
def place():
    return scene(3)


def noisy(picture, sigma=2.0, seed=1):
    noise = np.random.default_rng(seed).normal(0, sigma, picture.shape)
    return np.clip(picture + noise, 0, 255).astype(np.uint8)


def off_px(motion, numbers):
    """How far the found map is off the planted one, the most, in pixels at 1920 wide."""
    truth = np.linalg.inv(exponential(numbers))
    found = mapped(exponential(np.array(motion.numbers)), CORNERS)
    return np.hypot(*(found - mapped(truth, CORNERS)).T).max() * HALF * 1920 / WIDTH


def planted(**numbers):
    names = ("x", "y", "turn", "size", "stretch", "shear", "right", "down")
    return np.array([numbers.get(name, 0.0) for name in names])


@pytest.mark.parametrize(
    ("numbers", "degrees"),
    [
        (planted(x=5.3 / HALF, y=-2.7 / HALF), SHIFT),
        (planted(x=-3 / HALF, turn=np.radians(0.6), size=0.01), SIMILARITY),
        (planted(y=2 / HALF, turn=-0.004, right=0.012, down=-0.008), PERSPECTIVE),
    ],
)
def test_a_planted_movement_is_found_by_the_simplest_model_that_explains_it(place, numbers, degrees):
    before = followed(noisy(seen(place, np.eye(3))))
    after = followed(noisy(seen(place, exponential(numbers)), seed=2))
    motion = motion_between(before, after)
    assert motion.degrees == degrees
    assert off_px(motion, numbers) < 0.25


def test_what_stands_still_moves_by_nothing_at_all(place):
    before, after = (followed(noisy(seen(place, np.eye(3)), seed=seed)) for seed in (1, 2))
    motion = motion_between(before, after)
    assert motion.degrees == 0
    assert set(motion.numbers) == {0.0}


def test_a_third_that_moves_by_itself_is_voted_out(place):
    numbers = planted(x=4 / HALF, turn=0.005)
    first, second = seen(place, np.eye(3)), seen(place, exponential(numbers))
    other = np.roll(first, 9, axis=1)
    second = second.copy()
    second[:, : WIDTH // 3] = other[:, : WIDTH // 3]
    assert off_px(motion_between(followed(first), followed(second)), numbers) < 0.3


def test_light_that_falls_by_two_stops_is_no_movement(place):
    numbers = planted(x=3 / HALF)
    first, second = seen(place, np.eye(3)), seen(place, exponential(numbers))
    darker = noisy(second.astype(float) / 4)
    assert off_px(motion_between(followed(first), followed(darker)), numbers) < 0.4


def test_a_guess_leads_where_nothing_else_would(place):
    numbers = planted(x=190 / HALF, y=40 / HALF)
    first, second = followed(seen(place, np.eye(3))), followed(seen(place, exponential(numbers)))
    found = motion_between(first, second, np.linalg.inv(exponential(numbers)))
    assert off_px(found, numbers) < 0.3


def test_black_stills_and_strangers_have_nothing_to_do_with_each_other(place):
    black = followed(np.zeros((HEIGHT, WIDTH, 3), np.uint8))
    here = followed(seen(place, np.eye(3)))
    elsewhere = followed(seen(scene(88), np.eye(3)))
    assert not motion_between(black, black).is_found
    assert not motion_between(here, black).is_found
    assert not motion_between(here, elsewhere).is_found


def test_soft_shapes_without_corners_still_tell_a_shift():
    def soft(shift):
        across, down = np.meshgrid((np.arange(WIDTH) - shift) * 0.02, np.arange(HEIGHT) * 0.017)
        return np.repeat((90 + 40 * np.sin(across) * np.cos(1.3 * down + 0.4 * across))[..., None], 3, axis=2)

    motion = motion_between(followed(noisy(soft(0), 1.0)), followed(noisy(soft(12), 1.0, seed=5)))
    assert motion.is_found
    assert motion.numbers[0] * HALF == pytest.approx(12, abs=2.5)


def test_one_size_and_a_reduced_copy_of_it_agree(place):
    numbers = planted(x=4 / HALF, turn=0.006)
    first, second = seen(place, np.eye(3)), seen(place, exponential(numbers))
    whole = motion_between(followed(first), followed(second))
    small = [cv2.resize(one, (480, 320), interpolation=cv2.INTER_AREA) for one in (first, second)]
    for before, after in ((small[0], small[1]), (first, small[1]), (small[0], second)):
        found = motion_between(followed(before), followed(after))
        assert found.numbers == pytest.approx(whole.numbers, abs=0.8 / HALF)
    assert not motion_between(followed(first), followed(second[:, :500])).is_found
