"""What a stretch of stills has in common, whatever its pieces and their depth."""

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.render.test_slots import square
from yarnkite.core.check.stack_statistics import StackStatistics


@pytest.mark.parametrize("split", [1, 4, 9])
def test_the_whole_shot_agrees_with_numpy_whatever_the_pieces(split):
    images = [square(40 + 8 * n) for n in range(10)]
    stack = np.stack(images).astype(float)
    parts = [StackStatistics(), StackStatistics()]
    for number, image in enumerate(images):
        parts[number >= split].add(image)
    parts[0].join(parts[1])
    whole = parts[0]
    assert np.abs(whole.mean - stack.mean(axis=0)).max() <= 0.51
    assert (whole.brightest == stack.max(axis=0)).all()
    assert (whole.darkest == stack.min(axis=0)).all()
    activity = cv2.cvtColor(whole.activity, cv2.COLOR_RGB2GRAY).astype(float)
    moved = np.abs(np.diff(stack, axis=0)).mean(axis=(0, 3))
    assert activity[moved > 20].mean() > 3 * activity[moved < 1].mean()


def test_what_a_stretch_has_in_common_keeps_the_depth_also_where_stills_are_mixed():
    dark = np.full((20, 30, 3), 20_000, np.uint16)
    stack = StackStatistics()
    for step in range(5):
        stack.add(dark + np.uint16(step))
    assert (stack.mean == 20_002).all()
    assert (stack.brightest == 20_004).all()
    plain = StackStatistics()
    plain.add(np.full((20, 30, 3), 10, np.uint8))
    plain.join(stack)
    assert (plain.darkest == 2570).all()
    assert (plain.mean == round((2570 + 5 * 20_002) / 6)).all()
    assert plain.activity.dtype == np.uint8


@given(st.lists(st.booleans(), min_size=1, max_size=6), st.integers(0, 99), st.integers(0, 6))
def test_stills_of_either_depth_have_their_mean_in_common_in_any_order_and_any_parts(depths, seed, cut):
    rng = np.random.default_rng(seed)
    stills = [rng.integers(0, 256, (4, 6, 3)).astype(np.uint8) for _ in depths]
    given_as = [still.astype(np.uint16) * 257 if deep else still for still, deep in zip(stills, depths, strict=True)]
    parts = [StackStatistics(), StackStatistics()]
    for place, still in enumerate(given_as):
        parts[place >= cut].add(still)
    parts[0].join(parts[1])
    unit = 257 if any(depths) else 1
    assert parts[0].count == len(stills)
    assert np.abs(parts[0].mean - np.mean(stills, axis=0) * unit).max() <= 0.51
    assert np.array_equal(parts[0].brightest, np.max(stills, axis=0).astype(int) * unit)
    assert np.array_equal(parts[0].darkest, np.min(stills, axis=0).astype(int) * unit)
