"""Resampling: a fractional part of an image onto a grid of whole pixels, by one kernel, in one fused pass.

The kernel is a sinc windowed by a wider one, three lobes to a side (Duchon 1979). It grows with the reduction from one
to one on, without a step: at one to one it leaves every pixel as it is, reduced it keeps what the grid can hold and
little of what would be moiré there. Integers make the result the same on every processor.
"""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray, SixteenBit, is_deep
from yarnkite.core.image.scene import LIGHT, scene_codes
from yarnkite.core.image.srgb import codes_of, light_table

WEIGHT_BITS = 14
GROUP = 4
# A view that drifts is drawn by a kernel of at least so many pixels of the still: what is as fine as single pixels
# looks alike then wherever it lies between those of the frame, and does not pulse.
DRIFTING = Fraction(5, 4)
_LOBES = 3
# Between the passes samples of 8 bits keep so many below a step; the kernel overshoots by a seventh at most each way.
HALF_WAY_BITS = 6


@dataclass(frozen=True)
class Taps:
    """For each target pixel the first source pixel and the weights of those that follow; rows sum to 2**14."""

    first: NDArray[np.int32]
    weights: NDArray[np.int32]

    @property
    def is_identity(self) -> bool:
        """Whether each target pixel is one source pixel."""
        return bool((self.weights.max(axis=1) == 1 << WEIGHT_BITS).all())

    @property
    def sources(self) -> NDArray[np.intp]:
        """The source pixel that each target pixel has most of."""
        return np.asarray(self.first + np.argmax(self.weights, axis=1), np.intp)


@lru_cache(maxsize=64)
def taps(start: Fraction, length: Fraction, source_count: int, target_count: int, least: Fraction | float = 1) -> Taps:
    """Return the taps that map a range of source pixels onto target pixels by the kernel.

    Parameters
    ----------
    start, length : in source pixels, edges between pixels; what lies outside 0 … ``source_count`` is its edge
    source_count, target_count : how many pixels there are, and are made
    least : the least distance, in source pixels, between the zeros of the kernel; what is reduced by more has more

    Source: C. E. Duchon, Lanczos filtering in one and two dimensions, J. Appl. Meteorology 18 (1979).
    """
    step = float(length / target_count)
    width = max(step, float(least))
    reach = _LOBES * width
    centres = float(start) + step * (np.arange(target_count) + 0.5)
    first = np.floor(centres - reach).astype(np.int32)
    count = int(np.max(np.ceil(centres + reach) - first))
    distance = (first[:, None] + np.arange(count) + 0.5 - centres[:, None]) / width
    weights = np.where(np.abs(distance) < _LOBES, np.sinc(distance) * np.sinc(distance / _LOBES), 0.0)
    return _within(first, weights, source_count)


@lru_cache(maxsize=64)
def area_taps(start: Fraction, length: Fraction, source_count: int, target_count: int) -> Taps:
    """Return the taps that average the exact area each target pixel covers, for what is measured; see ``taps``."""
    edges = float(start) + float(length / target_count) * np.arange(target_count + 1, dtype=np.float64)
    edges = np.clip(edges, 0.0, float(source_count))
    return _within(*_area(edges), source_count)


def resample(
    image: ImageArray, rows: Taps, columns: Taps, *, linear: bool = False, of_scene: bool = False
) -> ImageArray:
    """Apply taps to an image, down and across in one pass.

    Parameters
    ----------
    image : RGB, shape (height, width, 3), uint8 or uint16
    rows, columns : the taps of each target row and column
    linear : whether light is summed instead of code values
    of_scene : whether the image is light of the scene (``scene``), not sRGB (IEC 61966-2-1)

    Returns
    -------
    shape (rows, columns, 3), uint16, so that what comes to lie between two steps of 8 bits is kept; as deep as
    ``image`` where no pixel comes to lie elsewhere than another. All is summed in integers, light in single precision
    """
    short = (rows.weights.shape[1] - image.shape[0], columns.weights.shape[1] - image.shape[1])
    if max(short) > 0:
        image = np.pad(image, ((0, max(short[0], 0)), (0, max(short[1], 0)), (0, 0)), mode="edge")
    if rows.is_identity and columns.is_identity:
        return _taken(image, rows.sources, columns.sources)
    arguments = np.require(image, requirements=["C", "W"]), rows.first, rows.weights, columns.first, columns.weights
    if linear:
        light: NDArray[np.float32] = _resample_light(*arguments, LIGHT if of_scene else light_table(image))
        return scene_codes(light) if of_scene else codes_of(light.reshape(-1), deep=True).reshape(light.shape)
    between, kept_bits = (np.int32, 0) if is_deep(image) else (np.int16, HALF_WAY_BITS)
    result: SixteenBit = _resample(*arguments, kept_bits, np.empty(3 * image.shape[1], between))
    return result


def _taken(image: ImageArray, rows: NDArray[np.intp], columns: NDArray[np.intp]) -> ImageArray:
    """Return a copy of some rows and columns, quickly where none is left out and none comes twice."""
    if all((np.diff(one) == 1).all() for one in (rows, columns)):
        return image[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1].copy()
    return image[np.ix_(rows, columns)]


def _area(edges: NDArray[np.float64]) -> tuple[NDArray[np.int32], NDArray[np.float64]]:
    low, high = edges[:-1], edges[1:]
    first = np.floor(low + 1e-9).astype(np.int32)
    count = int(np.max(np.ceil(high - 1e-9) - first))
    pixel = first[:, None] + np.arange(max(count, 1))
    covered = np.minimum(high[:, None], pixel + 1) - np.maximum(low[:, None], pixel)
    return first, np.clip(covered, 0.0, None)


def _within(first: NDArray[np.int32], weights: NDArray[np.float64], source_count: int) -> Taps:
    """Fold weights outside the source onto its edge pixels, fill up to groups of four, sum each row to 2**14."""
    count = -(-weights.shape[1] // GROUP) * GROUP
    start = np.clip(first, 0, max(source_count - count, 0)).astype(np.int32)
    folded = np.zeros((len(first), count))
    every = np.arange(len(first))
    for k in range(weights.shape[1]):
        pixel = np.clip(first + k, 0, source_count - 1)
        folded[every, pixel - start] += weights[:, k]
    # A target pixel that lies wholly outside covers nothing: it is the edge pixel beside it.
    beside = np.clip(first, 0, source_count - 1) - start
    folded[np.arange(len(first)), beside] += folded.sum(axis=1) == 0
    scaled = folded / folded.sum(axis=1, keepdims=True) * (1 << WEIGHT_BITS)
    whole = np.round(scaled).astype(np.int32)
    largest = np.argmax(whole, axis=1)
    whole[np.arange(len(whole)), largest] += (1 << WEIGHT_BITS) - whole.sum(axis=1, dtype=np.int32)
    return Taps(first=start, weights=whole)


@njit(nogil=True, cache=True)
def _resample(image, row_first, row_weights, column_first, column_weights, kept_bits, half_way):  # type: ignore[no-untyped-def]
    """``half_way`` is an array of what samples are between the passes, with ``kept_bits`` below a step."""
    height, width = row_first.shape[0], column_first.shape[0]
    result = np.empty((height, width, 3), np.uint16)
    flat = result.reshape(height, width * 3)
    low = column_first[0] * 3
    high = (column_first[-1] + column_weights.shape[1]) * 3
    source = image.reshape(image.shape[0], image.shape[1] * 3)[:, low:high]
    row_total = np.empty(high - low, np.int32)
    line = half_way[: high - low]
    column_total = np.empty(width * 3, np.int32)
    half = np.int32(1 << (WEIGHT_BITS - 1))
    for y in range(height):
        for group in range(0, row_weights.shape[1], GROUP):
            add_rows(row_total, source, row_first[y] + group, row_weights[y, group : group + GROUP], group == 0)
        to_half_way(row_total, line, kept_bits)
        for group in range(0, column_weights.shape[1], GROUP):
            offset = 3 * group - low
            _add_columns(column_total, line, offset, column_first, column_weights[:, group:], group == 0)
        for i in range(column_total.shape[0]):
            total = column_total[i]
            # Of 8 bits 255 becomes 65535: times 257, in so many bits that it still fits.
            code = ((total >> kept_bits) * 257 + half if kept_bits else total + half) >> WEIGHT_BITS
            flat[y, i] = min(max(code, 0), 65535)
    return result


@njit(nogil=True, cache=True)
def _resample_light(image, row_first, row_weights, column_first, column_weights, light):  # type: ignore[no-untyped-def]
    height, width = row_first.shape[0], column_first.shape[0]
    unit = np.float32(1 / (1 << WEIGHT_BITS))
    result = np.zeros((height, width, 3), np.float32)
    flat = result.reshape(height, width * 3)
    low = column_first[0] * 3
    span = (column_first[-1] + column_weights.shape[1]) * 3 - low
    source = image.reshape(image.shape[0], image.shape[1] * 3)[:, low : low + span]
    down, across = row_weights.astype(np.float32) * unit, column_weights.astype(np.float32) * unit
    # The light of the rows that are summed, each looked up once: row after row takes the place of one that was left.
    count = row_weights.shape[1]
    rows = np.empty((count, span), np.float32)
    known = row_first[0]
    line = np.empty(span, np.float32)
    for y in range(height):
        for row in range(max(known, row_first[y]), row_first[y] + count):
            for i in range(span):
                rows[row % count, i] = light[source[row, i]]
        known = max(known, row_first[y] + count)
        line[:] = 0
        for k in range(count):
            weight = down[y, k]
            if weight != 0:
                summed = rows[(row_first[y] + k) % count]
                for i in range(span):
                    line[i] += weight * summed[i]
        for group in range(0, across.shape[1], GROUP):
            _add_columns(flat[y], line, 3 * group - low, column_first, across[:, group:], group == 0)
    return result


@njit(nogil=True, cache=True)
def to_half_way(total, line, kept_bits):  # type: ignore[no-untyped-def]
    """Round weighted sums of rows to samples with so many bits below a step; what overshoots still fits in them."""
    shift = WEIGHT_BITS - kept_bits
    for i in range(line.shape[0]):
        line[i] = (total[i] + (1 << (shift - 1))) >> shift


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
    """Add four weighted samples of a line for each target column to a total, or begin it with them; samples become of
    the kind that weights are."""
    kind = weights.dtype.type
    # Unsigned indices spare the compiler a test for negative ones; that halves the time of this loop.
    for x in range(first.shape[0]):
        base = np.uintp(first[x] * 3 + offset)
        weight0, weight1, weight2, weight3 = weights[x, 0], weights[x, 1], weights[x, 2], weights[x, 3]
        for channel in range(3):
            p = base + np.uintp(channel)
            q = np.uintp(3 * x + channel)
            part = (
                weight0 * kind(line[p])
                + weight1 * kind(line[p + np.uintp(3)])
                + weight2 * kind(line[p + np.uintp(6)])
                + weight3 * kind(line[p + np.uintp(9)])
            )
            total[q] = part if begin else total[q] + part
