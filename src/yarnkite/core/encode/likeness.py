"""How like its picture a finished frame is: reduced copies kept while rendering, compared after everything is written.

A copy is brightness, and below it, half as high, blue and red difference beside each other.

Structural similarity: Wang, Bovik, Sheikh, Simoncelli, "Image quality assessment: from error visibility to structural
similarity", 2004, with even windows of 8 × 8 samples.
"""

import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.frozen import digest
from yarnkite.core.image.pixels import EightBit, ImageArray, as_eight

# Copies are about so wide: small enough to keep of every frame, large enough to tell one from the next.
_WIDTH = 240
_WINDOW = 8
_SEEN_OVER, _LEAST_COLUMNS, _LEAST_ROWS = 8, 8, 4
_TILES = 4
_SOME_SLOPE = 0.5
_C1, _C2 = (0.01 * 255) ** 2, (0.03 * 255) ** 2
_LUMA = (54, 183, 19)
# Recommendation ITU-R BT.709, 3.3, for full range.
_BLUE = np.array([-0.1146, -0.3854, 0.5], np.float32)
_RED = np.array([0.5, -0.4542, -0.0458], np.float32)
_NEUTRAL = 128


def sheet(planes: Sequence[NDArray[np.unsignedinteger]], depth: int) -> EightBit:
    """Return the copy of a frame: its three planes averaged over squares of samples, as steps of 8 bits.

    Parameters
    ----------
    planes : brightness, blue and red difference, samples of ``depth`` bits, shape (height, width) of each

    Returns
    -------
    uint8, about 240 columns, one and a half times as many rows as brightness takes
    """
    bright = reduced(planes[0], depth)
    means = (np.asarray(_averaged(plane, bright.shape), np.uint16) for plane in planes[1:])
    return _put_together(bright, *(np.minimum(mean >> (depth - 8), 255).astype(np.uint8) for mean in means))


def sheet_of_picture(image: ImageArray) -> EightBit:
    """Return the copy of a picture, RGB, as a video of 8 bits and full range would hold it."""
    eight = as_eight(image)
    wide = eight.astype(np.uint16)
    weighed = wide[..., 0] * _LUMA[0] + wide[..., 1] * _LUMA[1] + wide[..., 2] * _LUMA[2] + 128
    bright = reduced(np.asarray(weighed >> 8, np.uint8), 8)
    small = np.asarray(_averaged(eight, bright.shape), np.float32)
    colours = (np.clip(np.rint(small @ weights + _NEUTRAL), 0, 255).astype(np.uint8) for weights in (_BLUE, _RED))
    return _put_together(bright, *colours)


def _averaged(plane: NDArray[np.unsignedinteger], bright: tuple[int, ...]) -> NDArray[np.unsignedinteger]:
    """Return samples averaged to the size colours have beside brightness of a shape."""
    rows, columns = _colour_shape(bright)
    mean = cv2.resize(np.ascontiguousarray(plane), (columns, rows), interpolation=cv2.INTER_AREA)
    return np.asarray(mean, plane.dtype)


def _put_together(bright: EightBit, blue: EightBit, red: EightBit) -> EightBit:
    result = np.full((bright.shape[0] + blue.shape[0], bright.shape[1]), _NEUTRAL, np.uint8)
    result[: bright.shape[0]] = bright
    columns = blue.shape[1]
    result[bright.shape[0] :, :columns] = blue
    result[bright.shape[0] :, columns : 2 * columns] = red[:, : bright.shape[1] - columns]
    return result


def parts_of(copy: EightBit) -> tuple[EightBit, EightBit, EightBit]:
    """Return brightness, blue and red difference of a copy; the latter two are 128 where there is no colour."""
    high = 2 * copy.shape[0] // 3
    high = next(rows for rows in (high, high + 1, high - 1) if rows + _colour_shape((rows, 2))[0] == copy.shape[0])
    columns = _colour_shape((high, copy.shape[1]))[1]
    return copy[:high], copy[high:, :columns], copy[high:, columns : 2 * columns]


def _colour_shape(bright: tuple[int, ...]) -> tuple[int, int]:
    return max(1, bright[0] // 2), max(1, bright[1] // 2)


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


def coarser(part: EightBit, width: int) -> EightBit:
    """Return part of a copy of a frame ``width`` samples wide averaged as far as copies of large frames are: over 8 ×
    8.

    What an encoder leaves out is in single samples, and averages out; a small frame's copy has them nearly all.
    """
    rows, columns = part.shape
    factor = min(_SEEN_OVER // max(1, width // _WIDTH), columns // _LEAST_COLUMNS, rows // _LEAST_ROWS)
    if factor <= 1:
        return part
    return np.asarray(cv2.resize(part, (columns // factor, rows // factor), interpolation=cv2.INTER_AREA), np.uint8)


def shift(one: EightBit, other: EightBit) -> tuple[float, float]:
    """Return how far a copy lies from another across and down, in its samples, where that is little; 0 where nothing
    tells.

    By least squares on slopes: Lucas, Kanade, "An iterative image registration technique", 1981, one step for all.
    """
    first, second = one.astype(np.float32), other.astype(np.float32)
    mean, apart = (first + second) / 2, (first - second)[1:-1, 1:-1]
    found = []
    for slope in ((mean[1:-1, 2:] - mean[1:-1, :-2]) / 2, (mean[2:, 1:-1] - mean[:-2, 1:-1]) / 2):
        weight = float(np.square(slope).mean()) if slope.size else 0.0
        found.append(abs(float((slope * apart).mean()) / weight) if weight > _SOME_SLOPE else 0.0)
    return found[0], found[1]


def tile_means(values: NDArray[np.generic]) -> list[float]:
    """Return the means of 4 × 4 parts."""
    bands = np.array_split(values, _TILES, 0)
    return [float(tile.mean()) for band in bands for tile in np.array_split(band, _TILES, 1) if tile.size]


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
    """The copies of the frames of a chunk, uint8, shape (frames, height, width); a file of them says its own name."""

    frames: EightBit

    def write(self, path: Path) -> None:
        """Keep them beside their chunk; raises ``DiskFull``."""
        header = np.array(self.frames.shape, "<u4").tobytes()
        write_completed(path, header + _named(path) + zlib.compress(self.frames.tobytes(), 1))

    @classmethod
    def read(cls, path: Path) -> "Copies":
        """Read what was kept; raises ``ValueError`` or ``OSError`` where it is not whole, or another chunk's."""
        data = path.read_bytes()
        shape, name, packed = np.frombuffer(data[:12], "<u4"), data[12:44], data[44:]
        if name != _named(path):
            raise ValueError("these are the copies of another chunk")
        try:
            return cls(np.frombuffer(zlib.decompress(packed), np.uint8).reshape(shape))
        except zlib.error as error:
            raise ValueError(str(error)) from error


def _named(path: Path) -> bytes:
    return digest(path.stem).encode()


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
