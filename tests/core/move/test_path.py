"""The camera's path: put together from pairs, long ones among them, whatever single pairs say."""

import hashlib

import numpy as np
import pytest

from tests.moved import HALF, shaken
from yarnkite.core.base.homography import exponential, logarithm
from yarnkite.core.move.pairs import NOT_FOUND, PairMotion
from yarnkite.core.move.path import path_of, wanted_pairs


def prints(count, seed=0):
    return [hashlib.blake2b(f"{seed} {one}".encode(), digest_size=16).hexdigest() for one in range(count)]


def motion(numbers, noise_px=0.1):
    found = tuple(np.asarray(numbers, float).tolist())
    return PairMotion(found[:4], found, 8, noise_px / HALF, 200, 0.9)


def pairs_of(cameras, wanted, noise=0.0, seed=1):
    """What pairs would say: where points of the first lie in the second, each a little off."""
    random = np.random.default_rng(seed)
    for one, two in wanted:
        numbers = logarithm(np.linalg.inv(cameras[two]) @ cameras[one])
        yield one, two, motion(numbers + random.normal(0, noise, 8) * [1, 1, 1, 1, 0, 0, 0, 0])


def off_px(path, cameras):
    wanted = np.linalg.inv(cameras[0]) @ cameras
    return np.abs(path.numbers[:, :2] - logarithm(wanted)[:, :2]).max() * HALF


def test_exact_pairs_give_the_exact_path():
    cameras = shaken(40)
    path = path_of(40, list(pairs_of(cameras, wanted_pairs(prints(40)))))
    assert off_px(path, cameras) < 1e-4
    assert path.joined.all()


def test_errors_do_not_add_up_over_a_long_shot():
    cameras = np.tile(np.eye(3), (600, 1, 1))
    noise = 0.1 / HALF
    wanted = wanted_pairs(prints(600))
    chain = [pair for pair in wanted if pair[1] - pair[0] == 1]
    by_neighbours = path_of(600, list(pairs_of(cameras, chain, noise)))
    by_all = path_of(600, list(pairs_of(cameras, wanted, noise)))
    assert off_px(by_neighbours, cameras) > 1.0, "a random walk of 600 steps"
    assert off_px(by_all, cameras) < 0.4


def test_a_pair_that_is_quite_wrong_is_outvoted():
    cameras = shaken(30)
    found = list(pairs_of(cameras, wanted_pairs(prints(30))))
    wrong = next(place for place, one in enumerate(found) if one[:2] == (14, 15))
    found[wrong] = (14, 15, motion([0.2, -0.1, 0.05, 0, 0, 0, 0, 0]))
    assert off_px(path_of(30, found), cameras) < 0.3


def test_stills_that_show_nothing_lie_between_their_neighbours():
    cameras = np.stack([exponential(np.array([0.01 * one, 0, 0, 0, 0, 0, 0, 0])) for one in range(20)])
    spoiled = np.zeros(20, bool)
    spoiled[8:11] = True
    found = list(pairs_of(cameras, wanted_pairs(prints(20))))
    path = path_of(20, found, spoiled)
    assert not path.joined[8:11].any()
    assert off_px(path, cameras) < 0.1
    black = [(one, two, NOT_FOUND if 9 in (one, two) else seen) for one, two, seen in found]
    assert off_px(path_of(20, black), cameras) < 0.1


def test_nothing_at_all_to_go_by_is_a_path_that_stays():
    for count in (0, 1, 2, 5):
        path = path_of(count, [])
        assert path.numbers.shape == (count, 8)
        assert not path.numbers.any()
        assert not path.joined.any()


def test_a_still_more_or_less_changes_only_the_pairs_it_is_in():
    every = prints(200)
    named = {(every[one], every[two]) for one, two in wanted_pairs(every)}
    less = [*every[:77], *every[78:]]
    left = {(less[one], less[two]) for one, two in wanted_pairs(less)}
    new = left - named
    assert len(new) <= 24, "neighbours of the gap, and if it was an anchor, those that looked at it"
    assert len(named) < 4.2 * len(every), "few pairs a still"


@pytest.mark.parametrize("count", [2, 3, 17])
def test_each_still_is_compared_with_the_one_before_it(count):
    wanted = wanted_pairs(prints(count))
    assert {(one, one + 1) for one in range(count - 1)} <= set(wanted)
    assert all(one < two for one, two in wanted)


def test_one_still_repeated_is_not_compared_with_itself():
    assert wanted_pairs(["ab" * 16] * 5) == []
