"""Resampling: a fractional part of an image onto a grid of whole pixels, in one fused pass of integer arithmetic.

Reducing averages the exact area each target pixel covers; enlarging interpolates with the cubic of Keys (1981),
a = -1/2. Integers make the result of 8-bit pictures the same on every processor.
"""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray, is_deep
from yarnkite.core.image.srgb import codes_of, light_table

WEIGHT_BITS = 14
GROUP = 4
_HALF_WAY_BITS = 7


@dataclass(frozen=True)
class Taps:
    """For each target pixel the first source pixel and the weights of those that follow; rows sum to 2**14."""

    first: NDArray[np.int32]
    weights: NDArray[np.int32]


@lru_cache(maxsize=64)
def taps(start: Fraction, length: Fraction, source_count: int, target_count: int) -> Taps:
    """Return the taps that map a range of source pixels onto target pixels.

    Parameters
    ----------
    start, length : in source pixels, edges between pixels; what lies outside 0 … ``source_count`` is its edge
    source_count, target_count : how many pixels there are, and are made

    Returns
    -------
    taps by area where pixels are averaged, by the cubic of Keys (1981), a = -1/2, where they are enlarged
    """
    step = float(length / target_count)
    edges = float(start) + step * np.arange(target_count + 1, dtype=np.float64)
    edges = np.clip(edges, 0.0, float(source_count))
    first, weights = _area(edges) if step >= 1 else _cubic((edges[:-1] + edges[1:]) / 2)
    return _within(first, weights, source_count)


def resample(image: ImageArray, rows: Taps, columns: Taps, *, linear: bool = False) -> ImageArray:
    """Apply taps to an image, down and across in one pass.

    Parameters
    ----------
    image : RGB, shape (height, width, 3), uint8 or uint16
    rows, columns : the taps of each target row and column
    linear : whether light is summed instead of code values (IEC 61966-2-1)

    Returns
    -------
    shape (rows, columns, 3), as deep as ``image``: 8 bits in integer arithmetic, 16 in single precision
    """
    short = (rows.weights.shape[1] - image.shape[0], columns.weights.shape[1] - image.shape[1])
    if max(short) > 0:
        image = np.pad(image, ((0, max(short[0], 0)), (0, max(short[1], 0)), (0, 0)), mode="edge")
    arguments = np.require(image, requirements=["C", "W"]), rows.first, rows.weights, columns.first, columns.weights
    if linear:
        light: NDArray[np.float32] = _resample_light(*arguments, light_table(image))
        return codes_of(light.reshape(-1), deep=is_deep(image)).reshape(light.shape)
    result: ImageArray = _resample_deep(*arguments) if is_deep(image) else _resample(*arguments)
    return result


def _area(edges: NDArray[np.float64]) -> tuple[NDArray[np.int32], NDArray[np.float64]]:
    low, high = edges[:-1], edges[1:]
    first = np.floor(low + 1e-9).astype(np.int32)
    count = int(np.max(np.ceil(high - 1e-9) - first))
    pixel = first[:, None] + np.arange(max(count, 1))
    covered = np.minimum(high[:, None], pixel + 1) - np.maximum(low[:, None], pixel)
    return first, np.clip(covered, 0.0, None)


def _cubic(centres: NDArray[np.float64]) -> tuple[NDArray[np.int32], NDArray[np.float64]]:
    first = (np.floor(centres - 0.5) - 1).astype(np.int32)
    distance = np.abs(first[:, None] + np.arange(4) + 0.5 - centres[:, None])
    near = 1.5 * distance**3 - 2.5 * distance**2 + 1
    far = -0.5 * distance**3 + 2.5 * distance**2 - 4 * distance + 2
    return first, np.where(distance <= 1, near, np.where(distance < 2, far, 0.0))


def _within(first: NDArray[np.int32], weights: NDArray[np.float64], source_count: int) -> Taps:
    """Fold weights outside the source onto its edge pixels, fill up to groups of four, sum each row to 2**14."""
    count = -(-weights.shape[1] // GROUP) * GROUP
    start = np.clip(first, 0, max(source_count - count, 0)).astype(np.int32)
    folded = np.zeros((len(first), count))
    for k in range(weights.shape[1]):
        pixel = np.clip(first + k, 0, source_count - 1)
        np.add.at(folded, (np.arange(len(first)), pixel - start), weights[:, k])
    # A target pixel that lies wholly outside covers nothing: it is the edge pixel beside it.
    beside = np.clip(first, 0, source_count - 1) - start
    folded[np.arange(len(first)), beside] += folded.sum(axis=1) == 0
    scaled = folded / folded.sum(axis=1, keepdims=True) * (1 << WEIGHT_BITS)
    whole = np.round(scaled).astype(np.int32)
    largest = np.argmax(whole, axis=1)
    whole[np.arange(len(whole)), largest] += (1 << WEIGHT_BITS) - whole.sum(axis=1, dtype=np.int32)
    return Taps(first=start, weights=whole)


@njit(nogil=True, cache=True)
def _resample(image, row_first, row_weights, column_first, column_weights):  # type: ignore[no-untyped-def]
    height, width = row_first.shape[0], column_first.shape[0]
    result = np.empty((height, width, 3), np.uint8)
    flat = result.reshape(height, width * 3)
    low = column_first[0] * 3
    high = (column_first[-1] + column_weights.shape[1]) * 3
    source = image.reshape(image.shape[0], image.shape[1] * 3)[:, low:high]
    row_total = np.empty(high - low, np.int32)
    line = np.empty(high - low, np.int16)
    column_total = np.empty(width * 3, np.int32)
    shift = 2 * WEIGHT_BITS - _HALF_WAY_BITS
    for y in range(height):
        for group in range(0, row_weights.shape[1], GROUP):
            add_rows(row_total, source, row_first[y] + group, row_weights[y, group : group + GROUP], group == 0)
        for i in range(line.shape[0]):
            # Clamping here keeps the cubic's overshoot inside the 15 bits the second pass has room for.
            half_way = (row_total[i] + (1 << (_HALF_WAY_BITS - 1))) >> _HALF_WAY_BITS
            line[i] = min(max(half_way, 0), 255 << _HALF_WAY_BITS)
        for group in range(0, column_weights.shape[1], GROUP):
            offset = 3 * group - low
            _add_columns(column_total, line, offset, column_first, column_weights[:, group:], group == 0)
        for i in range(column_total.shape[0]):
            flat[y, i] = min(max((column_total[i] + (1 << (shift - 1))) >> shift, 0), 255)
    return result


@njit(nogil=True, cache=True)
def _resample_deep(image, row_first, row_weights, column_first, column_weights):  # type: ignore[no-untyped-def]
    height, width = row_first.shape[0], column_first.shape[0]
    unit = np.float32(1 / (1 << WEIGHT_BITS))
    result = np.empty((height, width, 3), np.uint16)
    low = column_first[0]
    span = (column_first[-1] + column_weights.shape[1] - low) * 3
    source = image.reshape(image.shape[0], image.shape[1] * 3)[:, low * 3 : low * 3 + span]
    line = np.empty(span, np.float32)
    total = np.empty(3, np.float32)
    for y in range(height):
        line[:] = 0
        for k in range(row_weights.shape[1]):
            weight = np.float32(row_weights[y, k]) * unit
            if weight != 0:
                row = source[row_first[y] + k]
                for i in range(span):
                    line[i] += weight * np.float32(row[i])
        for i in range(span):
            # As in the pass of 8 bits, so that both show the same where the cubic overshoots.
            line[i] = min(max(line[i], np.float32(0)), np.float32(65535))
        for x in range(width):
            first = (column_first[x] - low) * 3
            total[:] = 0
            for k in range(column_weights.shape[1]):
                weight = np.float32(column_weights[x, k]) * unit
                for channel in range(3):
                    total[channel] += weight * line[first + 3 * k + channel]
            for channel in range(3):
                result[y, x, channel] = np.uint16(
                    min(max(total[channel], np.float32(0)), np.float32(65535)) + np.float32(0.5)
                )
    return result


@njit(nogil=True, cache=True)
def _resample_light(image, row_first, row_weights, column_first, column_weights, light):  # type: ignore[no-untyped-def]
    height, width = row_first.shape[0], column_first.shape[0]
    unit = np.float32(1 / (1 << WEIGHT_BITS))
    result = np.zeros((height, width, 3), np.float32)
    low = column_first[0]
    high = column_first[-1] + column_weights.shape[1]
    line = np.empty((high - low, 3), np.float32)
    for y in range(height):
        line[:] = 0
        for k in range(row_weights.shape[1]):
            weight = np.float32(row_weights[y, k]) * unit
            if weight != 0:
                source = image[row_first[y] + k]
                for x in range(high - low):
                    for channel in range(3):
                        line[x, channel] += weight * light[source[low + x, channel]]
        for x in range(width):
            first = column_first[x] - low
            for k in range(column_weights.shape[1]):
                weight = np.float32(column_weights[x, k]) * unit
                for channel in range(3):
                    result[y, x, channel] += weight * line[first + k, channel]
    return result


@njit(nogil=True, cache=True)
def add_rows(total, source, first, weights, begin):  # type: ignore[no-untyped-def]
    """Add four weighted rows from ``first`` on to a total, or begin it with them."""
    row0, row1, row2, row3 = source[first], source[first + 1], source[first + 2], source[first + 3]
    weight0, weight1, weight2, weight3 = weights[0], weights[1], weights[2], weights[3]
    if begin:
        for i in range(total.shape[0]):
            total[i] = weight0 * row0[i] + weight1 * row1[i] + weight2 * row2[i] + weight3 * row3[i]
    else:
        for i in range(total.shape[0]):
            total[i] += weight0 * row0[i] + weight1 * row1[i] + weight2 * row2[i] + weight3 * row3[i]


@njit(nogil=True, cache=True)
def _add_columns(total, line, offset, first, weights, begin):  # type: ignore[no-untyped-def]
    # Unsigned indices spare the compiler a test for negative ones; that halves the time of this loop.
    for x in range(first.shape[0]):
        base = np.uintp(first[x] * 3 + offset)
        weight0, weight1, weight2, weight3 = weights[x, 0], weights[x, 1], weights[x, 2], weights[x, 3]
        for channel in range(3):
            p = base + np.uintp(channel)
            q = np.uintp(3 * x + channel)
            part = (
                weight0 * np.int32(line[p])
                + weight1 * np.int32(line[p + np.uintp(3)])
                + weight2 * np.int32(line[p + np.uintp(6)])
                + weight3 * np.int32(line[p + np.uintp(9)])
            )
            total[q] = part if begin else total[q] + part
