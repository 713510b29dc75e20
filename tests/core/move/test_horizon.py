"""The horizon: pictures whose long edges lean by a known angle."""

import cv2
import numpy as np
import pytest

from yarnkite.core.move.horizon import horizon, tilt_of


def sea(lean_deg, seed=1):
    """Sky over water with grain, the edge between them turned with the clock."""
    rng = np.random.default_rng(seed)
    down, across = np.mgrid[:400, :640].astype(float)
    edge = 210 + (across - 320) * np.tan(np.radians(lean_deg))
    picture = np.where(down < edge, 190.0, 70.0) + rng.normal(0, 3, (400, 640))
    return np.clip(picture, 0, 255).astype(np.uint8)


@pytest.mark.parametrize("lean", [-8.0, -2.5, -0.4, 0.0, 1.3, 6.0, 11.0])
def test_a_horizon_leans_as_it_was_drawn(lean):
    angle, trust = horizon(sea(lean))
    assert angle == pytest.approx(lean, abs=0.2)
    assert trust > 0.8


def test_what_leans_too_far_or_is_not_there_is_no_horizon():
    assert horizon(sea(20.0)) == (0.0, 0.0)
    assert horizon(np.full((400, 640), 90, np.uint8)) == (0.0, 0.0)
    upright = np.rot90(sea(0.0)).copy()
    assert horizon(upright)[1] == 0


def test_edges_that_do_not_agree_are_trusted_less():
    picture = sea(0.0)
    cv2.line(picture, (0, 60), (639, 140), 20, 3)
    angle, trust = horizon(picture)
    assert trust < 0.8
    assert min(abs(angle), abs(angle - 7.1)) < 0.3


def test_a_large_still_is_looked_at_small():
    angle, trust = horizon(cv2.resize(sea(3.0), (2560, 1600), interpolation=cv2.INTER_LINEAR))
    assert angle == pytest.approx(3.0, abs=0.2)
    assert trust > 0.8


def test_a_shot_s_tilt_is_what_its_stills_agree_on_the_camera_s_turns_left_out():
    turns = np.radians([0.0, 1.0, -1.0, 0.5])
    angles = [2.0, 1.0, 3.0, 1.5]
    assert tilt_of(angles, [1, 1, 1, 1], turns) == pytest.approx(np.radians(2.0))
    # What is not trusted does not count; with too few left nothing is said, nor where they disagree.
    assert tilt_of([2.0, 1.0, 3.0, 40.0], [1, 1, 1, 0.2], turns) == pytest.approx(np.radians(2.0))
    assert tilt_of(angles, [1, 1, 0.1, 0.1], turns) is None
    assert tilt_of([2.0, -6.0, 9.0, 4.0], [1, 1, 1, 1], turns) is None
    assert tilt_of(angles[:3], [0.25, 0.25, 0.25], turns[:3]) is not None
