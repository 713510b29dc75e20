"""The light a raw file was taken in, as its camera says: from what it took for neutral and the matrix of its sensor."""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import rawpy

from yarnkite.core.base.arrays import Floats

# DNG 1.4, chapter 4: matrices from XYZ to camera colour, that for daylight second where there are two.
_COLOR_MATRICES, _AS_SHOT_NEUTRAL = (50722, 50721), 50728


def white_of(raw: rawpy.RawPy, tags: Mapping[int, Any]) -> tuple[float, float, float] | None:
    """Return the XYZ, Y = 1, of what the camera took for white, or ``None`` where it says too little.

    ``tags`` are those of a file that has them, such as a DNG. Source: DNG 1.4, chapter 6 (the neutral of the camera,
    led through the inverse of the matrix from XYZ).
    """
    factors = np.array(raw.camera_whitebalance[:3], float)
    neutral = _numbers(tags.get(_AS_SHOT_NEUTRAL), 3)
    if neutral is None:
        neutral = 1 / factors if len(factors) == 3 and factors.min() > 0 else None
    matrix = _matrix(np.asarray(raw.rgb_xyz_matrix, float), tags)
    if neutral is None or matrix is None:
        return None
    try:
        white = np.linalg.solve(matrix, neutral)
    except np.linalg.LinAlgError:
        return None
    if not np.all(np.isfinite(white)) or white.min() <= 0:
        return None
    x, y, z = (float(value) for value in white / white[1])
    return x, y, z


def _matrix(known: Floats, tags: Mapping[int, Any]) -> Floats | None:
    """Return the matrix from XYZ to camera colour: the file's own, else what the reader knows of the camera."""
    for tag in _COLOR_MATRICES:
        own = _numbers(tags.get(tag), 9)
        if own is not None:
            return own.reshape(3, 3)
    return known[:3] if known.shape[0] >= 3 and np.any(known[:3]) else None


def _numbers(value: Any, count: int) -> Floats | None:
    if not isinstance(value, Sequence) or len(value) != count:
        return None
    try:
        found = np.array([float(one) for one in value])
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    return found if np.all(np.isfinite(found)) else None
