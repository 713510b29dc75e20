"""Pictures to check by: real pixels at a spot, the difference from the still before, and clipped areas."""

from fractions import Fraction

import numpy as np

from yarnkite.core.base.still import Still
from yarnkite.core.image.decode import Read, read_still
from yarnkite.core.image.pixels import ImageArray, as_eight
from yarnkite.core.image.scene import developed

_AMPLIFIED = 4
_HATCH = 8


def spot(still: Still, across: float, down: float, width: int, height: int, *, read: Read = read_still) -> ImageArray:
    """Return the real pixels around a spot of a still, one for one.

    Parameters
    ----------
    across, down : where the spot is, shares 0 … 1 of the upright still; at an edge it moves inside
    width, height : of the result, in pixels of the still
    read : fetches the still's pixels

    Returns
    -------
    RGB, sRGB, shape (height, width, 3), as deep as the still; black where it is too small

    Raises
    ------
    UnreadableStill if the still cannot be read
    """
    image = developed(read(still, Fraction(1))).array
    left = _start(across, width, image.shape[1])
    top = _start(down, height, image.shape[0])
    shown = image[top : top + height, left : left + width]
    result = np.zeros((height, width, 3), image.dtype)
    result[: shown.shape[0], : shown.shape[1]] = shown
    return result


def _start(share: float, wanted: int, there: int) -> int:
    return max(0, min(there - wanted, round(share * there - wanted / 2)))


def difference(image: ImageArray, before: ImageArray) -> ImageArray:
    """Return an image less the one before, four times as strong, around middle grey.

    Parameters
    ----------
    image, before : RGB, sRGB, shape (height, width, 3), both uint8 or both uint16

    Returns
    -------
    as ``image``
    """
    off = as_eight(image).astype(np.int16) - as_eight(before).astype(np.int16)
    return np.clip(off * _AMPLIFIED + 128, 0, 255).astype(np.uint8)


def with_clipping(image: ImageArray) -> ImageArray:
    """Mark what is clipped: blown-out areas by dark stripes, black ones by bright dots, so that no colour is needed.

    Parameters
    ----------
    image : RGB, sRGB, shape (height, width, 3), uint8 or uint16

    Returns
    -------
    a copy, as ``image``
    """
    image = as_eight(image)
    rows, columns = np.indices(image.shape[:2])
    bright = image.max(axis=2) >= 254
    dark = image.max(axis=2) <= 1
    marked = image.copy()
    marked[bright & ((rows + columns) % _HATCH < 2)] = (35, 38, 43)
    marked[dark & (rows % _HATCH < 2) & (columns % _HATCH < 2)] = (244, 242, 238)
    return marked
