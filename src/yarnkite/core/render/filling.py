"""Filling: what a steadied still leaves empty at its edges is taken from stills before and after, where they have
it."""

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray, peak
from yarnkite.core.image.still_map import StillMap

# Over so many pixels of the frame one picture goes over into the next.
_SOFT_PX = 10.0

Plane = NDArray[np.float32]


def filled(own: ImageArray, lies: StillMap, others: Iterable[tuple[ImageArray, StillMap]]) -> ImageArray:
    """Return a picture with what its still leaves empty filled from others, the first that has something there.

    Parameters
    ----------
    own : RGB, sRGB, shape (height, width, 3), uint8 or uint16; beyond its still it is drawn out
    lies : where its pixels lie in its still
    others : pictures of the same shape, as they are laid, and where their pixels lie in their stills

    Returns
    -------
    as ``own``
    """
    left = 1 - _covered(lies)
    if not left.any():
        return own
    result = own.astype(np.float32)
    for picture, there in others:
        takes = np.minimum(left, _covered(there))
        if takes.any():
            scale = peak(own) / peak(picture)
            result += (picture.astype(np.float32) * scale - own) * takes[..., None]
            left = left - takes
        if not left.any():
            break
    return np.asarray(np.clip(np.rint(result), 0, peak(own)), own.dtype)


def _covered(lies: StillMap) -> Plane:
    """Return how much of each pixel a still has: 0 beyond it, 1 inside, and softly between, shape (height, width)."""
    x, y = lies.shares()
    height, width = x.shape
    inside = np.minimum(np.minimum(x, 1 - x) * width, np.minimum(y, 1 - y) * height)
    return np.asarray(np.clip(inside / (_SOFT_PX * max(lies.scale, 0.2)), 0, 1), np.float32)
