"""Gain fields: light that is raised more in some places than in others, at the corners or along rows and columns."""

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.still_map import StillMap

Plane = NDArray[np.float32]

# How many cosines run down the still and across it; the first of each is half a wave.
DOWN, ACROSS = 14, 3
_COARSE = 96
_OCTAVES_A_ROW = 2


def field_of(
    vignette: float,
    down: tuple[float, ...],
    across: tuple[float, ...],
    still_map: StillMap,
    darkens: tuple[float, float, float] = (0.0, 0.0, 0.0),
) -> Plane | None:
    """Return by what factor the light of each pixel is raised, or ``None`` where none is.

    Parameters
    ----------
    vignette : stops at the still's corners
    down, across : stops, for each cosine down the still and across it (``waves``)
    still_map : where the pixels lie in the still
    darkens : the factors of r², r⁴ and r⁶ by which the lens lets light fall off, radii in half diagonals

    Returns
    -------
    shape as the map
    """
    if not vignette and not any(down) and not any(across) and not any(darkens):
        return None
    height, width = still_map.shape
    # A field is smooth: it is made at few places and drawn out.
    rows, columns = min(height, _COARSE * _OCTAVES_A_ROW), min(width, _COARSE)
    x, y = still_map.coarser(columns, rows).shares()
    stops = np.zeros(x.shape, np.float32)
    if vignette or any(darkens):
        aspect = still_map.aspect
        square = ((x - 0.5) ** 2 + ((y - 0.5) / aspect) ** 2) / (0.25 + 0.25 / aspect**2)
        stops += np.float32(vignette) * (0.5 * square + 0.5 * square**2)
        one, two, three = darkens
        stops -= np.log2(np.maximum(1 + square * (one + square * (two + square * three)), 0.1))
    for place, at in ((down, y), (across, x)):
        for wave, amount in enumerate(place, 1):
            if amount:
                stops += np.float32(amount) * np.cos(np.float32(np.pi * wave) * np.clip(at, 0, 1))
    field = cv2.resize(np.exp2(stops), (width, height), interpolation=cv2.INTER_LINEAR)
    return np.asarray(field, np.float32)


def waves(count: int, places: int) -> Floats:
    """Return cosines at the middles of so many places, shape (places, count): half a wave, a whole one, and so on."""
    at = (np.arange(places) + 0.5) / places
    return np.asarray(np.cos(np.pi * np.arange(1, count + 1) * at[:, None]))
