"""How like its picture a finished frame is: reduced copies kept while rendering, compared after everything is written.

Structural similarity: Wang, Bovik, Sheikh, Simoncelli, "Image quality assessment: from error visibility to structural
similarity", 2004, with even windows of 8 × 8 samples.
"""

import zlib
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.image.pixels import EightBit, ImageArray, as_eight

# Copies are about so wide: small enough to keep of every frame, large enough to tell one from the next.
_WIDTH = 240
_WINDOW = 8
_C1, _C2 = (0.01 * 255) ** 2, (0.03 * 255) ** 2
_LUMA = (54, 183, 19)


def reduced(luma: NDArray[np.unsignedinteger], depth: int) -> EightBit:
    """Return brightness averaged over squares of samples, as steps of 8 bits.

    Parameters
    ----------
    luma : samples of ``depth`` bits, shape (height, width)

    Returns
    -------
    uint8, about 240 columns
    """
    step = max(1, luma.shape[1] // _WIDTH)
    result = np.empty((max(1, luma.shape[0] // step), max(1, luma.shape[1] // step)), np.uint8)
    _average(luma, min(step, luma.shape[0]), depth - 8, result)
    return result


def reduced_picture(image: ImageArray) -> EightBit:
    """Return a picture's brightness, as a video of 8 bits and full range would hold it, averaged over squares."""
    eight = as_eight(image).astype(np.uint16)
    weighed = eight[..., 0] * _LUMA[0] + eight[..., 1] * _LUMA[1] + eight[..., 2] * _LUMA[2] + 128
    return reduced(np.asarray(weighed >> 8, np.uint8), 8)


def similarity(one: EightBit, other: EightBit) -> float:
    """Return the mean structural similarity of two reduced copies of one size, at most 1."""
    return float(similarity_map(one, other).mean())


def similarity_map(one: EightBit, other: EightBit) -> NDArray[np.float32]:
    """Return the structural similarity around each sample, shape as the copies."""
    first, second = one.astype(np.float32), other.astype(np.float32)
    window = (min(_WINDOW, one.shape[1]), min(_WINDOW, one.shape[0]))

    def mean(values: NDArray[np.float32]) -> NDArray[np.float32]:
        return np.asarray(cv2.boxFilter(values, -1, window, borderType=cv2.BORDER_REFLECT), np.float32)

    mean_1, mean_2 = mean(first), mean(second)
    variance_1 = mean(first * first) - mean_1 * mean_1
    variance_2 = mean(second * second) - mean_2 * mean_2
    covariance = mean(first * second) - mean_1 * mean_2
    above = (2 * mean_1 * mean_2 + _C1) * (2 * covariance + _C2)
    return np.asarray(above / ((mean_1**2 + mean_2**2 + _C1) * (variance_1 + variance_2 + _C2)), np.float32)


@dataclass(frozen=True)
class Copies:
    """The reduced copies of the frames of a chunk, uint8, shape (frames, height, width)."""

    frames: EightBit

    def write(self, path: Path) -> None:
        """Keep them beside their chunk; raises ``NoRoom``."""
        header = np.array(self.frames.shape, "<u4").tobytes()
        write_completed(path, header + zlib.compress(self.frames.tobytes(), 1))

    @classmethod
    def read(cls, path: Path) -> "Copies":
        """Read what was kept; raises ``ValueError`` or ``OSError`` where it is not whole."""
        data = path.read_bytes()
        shape = np.frombuffer(data[:12], "<u4")
        try:
            return cls(np.frombuffer(zlib.decompress(data[12:]), np.uint8).reshape(shape))
        except zlib.error as error:
            raise ValueError(str(error)) from error


@njit(nogil=True, cache=True)
def _average(luma, step, shift, result):  # type: ignore[no-untyped-def]
    half = step * step // 2
    for y in range(result.shape[0]):
        for x in range(result.shape[1]):
            total = np.int64(half)
            for row in range(y * step, (y + 1) * step):
                for column in range(x * step, (x + 1) * step):
                    total += luma[row, column]
            result[y, x] = min((total // (step * step)) >> shift, 255)
