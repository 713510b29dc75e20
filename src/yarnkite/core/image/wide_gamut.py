"""Stills of a wider colour space than sRGB: their colours by curve and matrix, and what sRGB lacks led to its edge.

A colour engine cuts off each channel for itself, which turns the hue of a neon sign, a petal or an evening sky and
takes its shading. Whatever a profile says by three curves and a matrix (ICC.1:2022, 8.3), as those of cameras and
developing programs do, is read out of the engine once, without limits, and led in as a raw still's colours are
(``gamut``).
"""

import struct
from dataclasses import dataclass
from functools import lru_cache

import imagecodecs
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.gamut import led_in
from yarnkite.core.image.pixels import ImageArray, is_deep, peak
from yarnkite.core.image.profile import SRGB_PRIMARIES, described, transformed
from yarnkite.core.image.srgb import to_codes

_LARGEST = 65_535
# In linear light: engines and profiles round to about this.
_SAME_LIGHT = 2e-3
_LINEAR = b"para\0\0\0\0" + struct.pack(">HHi", 0, 0, 65_536)


@dataclass(frozen=True)
class WideGamut:
    """A colour space as light: ``curves`` give the light of each sample, shape (3, 65536) or (3, 256) after the depth
    of the samples, ``matrix`` leads it to linear sRGB; white is 1."""

    curves: NDArray[np.float32]
    matrix: NDArray[np.float32]


@lru_cache(maxsize=8)
def wide_gamut(profile: bytes, most: int) -> WideGamut | None:
    """Return the colour space a profile describes for samples up to ``most``; ``None`` for one of another kind.

    Raises ``CmsError`` for a profile that is broken.
    """
    ramp = np.linspace(0, 1, most + 1, dtype=np.float32)
    curves, columns = [], []
    for channel in range(3):
        alone = np.zeros((1, most + 1, 3), np.float32)
        alone[0, :, channel] = ramp
        light = _light_of(alone, profile)[0].astype(np.float64)
        column = light[-1] - light[0]
        curves.append((light - light[0]) @ column / (column @ column))
        columns.append(column)
    # White is white, to the last digit.
    matrix = np.stack(columns, axis=1)
    found = WideGamut(
        np.asarray(curves, np.float32), np.asarray(matrix / matrix.sum(axis=1, keepdims=True), np.float32)
    )
    return found if _is_all(found, profile, most) else None


def shown_in_srgb(array: ImageArray, space: WideGamut) -> ImageArray:
    """Return RGB pixels of a colour space as sRGB of the same depth and shape; grey stays grey, white white."""
    result: ImageArray = np.empty_like(array)
    samples = np.ascontiguousarray(array).reshape(-1, 3)
    _show(samples, space.curves, space.matrix, _codes(is_deep(array)), result.reshape(-1, 3))
    return result


def _is_all(space: WideGamut, profile: bytes, most: int) -> bool:
    """Tell whether curves and matrix are all there is to a profile, and no table of colours."""
    steps = np.array([0, 20, 64, 128, 200, 255])
    samples = np.stack(np.meshgrid(steps, steps, steps), axis=-1).reshape(1, -1, 3) * (most // 255)
    wanted = _light_of((samples / most).astype(np.float32), profile)
    told = np.stack([space.curves[channel][samples[0, :, channel]] for channel in range(3)], axis=-1) @ space.matrix.T
    return bool(np.abs(told - wanted[0]).max() <= _SAME_LIGHT * max(1.0, float(np.abs(space.matrix).max())))


def _light_of(samples: NDArray[np.float32], profile: bytes) -> NDArray[np.float32]:
    """Return linear sRGB of samples 0 … 1, also below 0 and beyond 1."""
    linear = described("linear sRGB", SRGB_PRIMARIES, _LINEAR)
    return transformed(samples, profile, linear, "float32", imagecodecs.CMS.FLAGS.NOOPTIMIZE)


@lru_cache(maxsize=2)
def _codes(deep: bool) -> ImageArray:
    """Return the code of sRGB for each root of light."""
    light = (np.arange(_LARGEST + 1) / _LARGEST) ** 2
    largest = peak(np.empty(0, np.uint16 if deep else np.uint8))
    return np.asarray(np.rint(to_codes(light) * largest), np.uint16 if deep else np.uint8)


@njit(nogil=True, cache=True, fastmath=True)
def _show(samples, curves, matrix, codes, result):  # type: ignore[no-untyped-def]
    black, one, half, largest = np.float32(0), np.float32(1), np.float32(0.5), np.float32(_LARGEST)
    for i in range(samples.shape[0]):
        shown = led_in(matrix, curves[0, samples[i, 0]], curves[1, samples[i, 1]], curves[2, samples[i, 2]])
        for channel in range(3):
            light = min(max(shown[channel], black), one)
            result[i, channel] = codes[np.int64(np.sqrt(light) * largest + half)]
