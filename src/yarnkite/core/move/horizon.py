"""The horizon: by how much long, nearly level edges of a still lean, if they agree."""

from collections.abc import Sequence
from typing import TypeVar

import cv2
import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.pixels import EightBit

LONG_SIDE = 640
_MOST_DEG = 12.0
_LEAST_LENGTH = 0.08
_STEP_DEG = 0.1
_LEAST_TRUST = 0.25
_LEAST_STILLS = 3
_MOST_SPREAD_DEG = 0.6
_LOOKED_IN = 24

T = TypeVar("T")


def looked_in(stills: Sequence[T]) -> list[T]:
    """Return those of a shot's stills, spread over it, in which the horizon is looked for."""
    return list(stills[:: max(1, len(stills) // _LOOKED_IN)])


def horizon(grey: EightBit) -> tuple[float, float]:
    """Return how far the horizon of a still is turned, in degrees with the clock, and 0 … 1 how much edges agree on it.

    ``grey`` is its brightness, shape (height, width). Segments are found as von Gioi et al. (2010) do; each counts by
    its length.
    """
    height, width = grey.shape
    scale = min(1.0, LONG_SIDE / max(height, width))
    small = cv2.resize(grey, (round(width * scale), round(height * scale)), interpolation=cv2.INTER_AREA)
    found = cv2.createLineSegmentDetector().detect(small)[0]
    if found is None:
        return 0.0, 0.0
    ends = found.reshape(-1, 4).astype(float)
    run, rise = ends[:, 2] - ends[:, 0], ends[:, 3] - ends[:, 1]
    length = np.hypot(run, rise)
    angle = (np.degrees(np.arctan2(rise, run)) + 90) % 180 - 90
    level = (np.abs(angle) < _MOST_DEG) & (length > _LEAST_LENGTH * small.shape[1])
    if not level.any():
        return 0.0, 0.0
    angle, length = angle[level], length[level] ** 2
    steps = np.arange(-_MOST_DEG, _MOST_DEG + _STEP_DEG, _STEP_DEG)
    votes = (length * np.exp(-(((steps[:, None] - angle) / 0.3) ** 2))).sum(axis=1)
    best = steps[int(np.argmax(votes))]
    near = np.abs(angle - best) < 0.6
    if not near.any():
        return 0.0, 0.0
    return float(np.average(angle[near], weights=length[near])), float(length[near].sum() / length.sum())


def tilt_of(angles_deg: Sequence[float], trusts: Sequence[float], path_turns: Floats) -> float | None:
    """Return by how much the horizon of a shot is turned with the clock where the camera's path has no turn, in
    radians.

    Parameters
    ----------
    angles_deg, trusts : of some stills, as ``horizon`` gives them
    path_turns : of the same stills, by the camera's path, in radians

    Returns
    -------
    ``None`` where too few stills show a horizon, or they do not agree
    """
    sure = np.asarray(trusts) >= _LEAST_TRUST
    if sure.sum() < _LEAST_STILLS:
        return None
    each = np.radians(np.asarray(angles_deg, float)[sure]) + np.asarray(path_turns, float)[sure]
    middle = float(np.median(each))
    return middle if np.median(np.abs(each - middle)) < np.radians(_MOST_SPREAD_DEG) else None
