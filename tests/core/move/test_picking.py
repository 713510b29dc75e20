"""Picking stills: one of every few, and none other of them would go on better."""

from itertools import product

import numpy as np
import pytest

from yarnkite.core.base.homography import exponential, mapped
from yarnkite.core.move.path import PLACES
from yarnkite.core.move.picking import picked


def steps(lengths):
    numbers = np.zeros((len(lengths), 8))
    numbers[:, 0] = np.cumsum(lengths)
    return exponential(numbers)


def bend(matrices, chosen):
    places = mapped(matrices[list(chosen)][:, None], PLACES[None])
    return float((np.diff(places, 2, axis=0) ** 2).sum())


@pytest.mark.parametrize("count", [12, 13, 14])
def test_none_of_all_the_ways_is_bent_less(count):
    random = np.random.default_rng(count)
    matrices = steps(random.uniform(0.002, 0.02, count))
    groups = [range(low, min(low + 3, count)) for low in range(0, count, 3)]
    best = min(product(*groups), key=lambda way: bend(matrices, way))
    assert bend(matrices, picked(matrices, 3)) == pytest.approx(bend(matrices, best))


def test_steps_of_uneven_length_become_even():
    matrices = steps(np.random.default_rng(1).uniform(0.002, 0.02, 120))
    chosen = picked(matrices, 4)
    assert len(chosen) == 30
    assert all(4 * place <= one < 4 * place + 4 for place, one in enumerate(chosen))
    assert bend(matrices, chosen) < 0.2 * bend(matrices, range(0, 120, 4))


@pytest.mark.parametrize("count", [0, 1, 2, 5])
def test_few_stills_are_no_trouble(count):
    chosen = picked(np.tile(np.eye(3), (count, 1, 1)), 3)
    assert len(chosen) == -(-count // 3)
