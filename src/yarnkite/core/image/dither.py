"""Cutting samples to fewer bits so that a slow slope has no steps: an ordered pattern, the same for every picture.

What does not move stays still in a clip then, and an encoder has nothing new to write in each frame.
"""

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import EightBit, ImageArray, is_deep


def _bayer(size: int) -> NDArray[np.float32]:
    """Return an ordered matrix of thresholds between 0 and 1, ``size`` a power of two (Bayer 1973)."""
    matrix = np.zeros((1, 1))
    while len(matrix) < size:
        matrix = np.block([[4 * matrix, 4 * matrix + 2], [4 * matrix + 3, 4 * matrix + 1]])
    return np.asarray((matrix + 0.5) / matrix.size, np.float32)


DITHER = _bayer(16)
ROUNDED = np.full((16, 16), 0.5, np.float32)


def dithered(image: ImageArray) -> EightBit:
    """Return a picture with 8 bits a sample; what lies between two steps becomes some of each.

    Parameters
    ----------
    image : shape (height, width, 3), uint8, which is not copied, or uint16

    Returns
    -------
    uint8, the same shape; what is a step of 8 bits already stays as it is
    """
    if not is_deep(image):
        return np.asarray(image, np.uint8)
    result = np.empty(image.shape, np.uint8)
    _cut(np.ascontiguousarray(image), _OF_A_STEP, result)
    return result


def over_a_row(thresholds: NDArray[np.int32], width: int) -> NDArray[np.int32]:
    """Return thresholds side by side until a row of so many samples is full, so that no sample looks for its own.

    Parameters
    ----------
    thresholds : shape (n, n), what is added before samples are cut, for places modulo n

    Returns
    -------
    shape (n, ``width``)
    """
    return np.tile(thresholds, -(-width // thresholds.shape[1]))[:, :width]


_STEPS, _LARGEST = np.uint32(255), np.uint32(65535)
_OF_A_STEP = (DITHER * _LARGEST).astype(np.uint32)


@njit(nogil=True, cache=True)
def _cut(image, thresholds, result):  # type: ignore[no-untyped-def]
    mask = thresholds.shape[0] - 1
    for y in range(image.shape[0]):
        for x in range(image.shape[1]):
            threshold = thresholds[y & mask, x & mask]
            for channel in range(3):
                result[y, x, channel] = (np.uint32(image[y, x, channel]) * _STEPS + threshold) // _LARGEST
