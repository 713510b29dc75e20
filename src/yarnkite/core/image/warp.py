"""Warping: a still that is levelled or straightened, drawn onto the grid of a picture in one pass."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Any

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.geometry import Rect
from yarnkite.core.image.lens import NO_PROFILE, Lens, Profile, straightening
from yarnkite.core.image.pixels import ImageArray, as_sixteen
from yarnkite.core.image.resample import Taps, resample, taps

Numbers = NDArray[np.float64]
Laid = tuple[float, float, float, float, float, float, float, float, float]
_ROWS_AT_ONCE = 128
_MARGIN = 3
_DENSE = 2.0
_DENSER = 1.5
_MOST_DENSE = 16_000_000
# Enough for a frame of 1920 × 1080, three colours of it at their own places; 18 MB for each.
_STRIPS_KEPT = 27
_NOT_LAID = (0.0,) * 9


@dataclass(frozen=True)
class View:
    """``source``, turned about its centre by ``angle`` degrees, is shown at ``target``.

    ``source`` and ``whole``, where the still itself lies, are in pixels of the array; ``target`` is in pixels of the
    grid. The lens straightens the whole, by hand and by its profile; red and blue are enlarged by ``channels``.
    ``laid`` leads points that are shown to those of the straightened still, by rows, in half diagonals about its
    middle.
    """

    source: Rect
    target: Rect
    whole: Rect
    angle: float
    lens: Lens
    profile: Profile = NO_PROFILE
    channels: tuple[float, float] = (1.0, 1.0)
    laid: Laid | None = None

    @property
    def is_exact(self) -> bool:
        """Whether pixels only need to be averaged or interpolated along rows and columns."""
        straight = self.lens == Lens() and self.profile.bends == NO_PROFILE.bends
        return self.laid is None and not self.angle and straight and self.colours == (1.0, 1.0, 1.0)

    @property
    def colours(self) -> tuple[float, float, float]:
        """By what red, green and blue lie further out in the still than they are shown."""
        red, blue = self.channels
        return self.profile.red / red, 1.0, self.profile.blue / blue


def warped(
    array: ImageArray,
    view: View,
    columns: range,
    rows: range,
    *,
    linear: bool = False,
    of_scene: bool = False,
    preview: bool = False,
    least: Fraction | float = 1,
) -> ImageArray:
    """Return the pixels of the grid in some columns and rows.

    The kernel of every picture (``resample``) leads to a grid half as dense again as the wanted one: what that grid
    cannot hold is gone then, and what it holds is so smooth that a cubic takes each pixel from it with next to no loss.
    The kernel itself, at each pixel's own place, would take a dozen times as long.

    Parameters
    ----------
    array : RGB, shape (height, width, 3), uint8 or uint16
    view : which part of it is shown where
    columns, rows : of the grid
    linear, of_scene, least : as of ``resample`` and ``taps``
    preview : shows the same from pixels up to twice as dense, interpolated between the nearest four, in half the time

    Returns
    -------
    RGB, shape (rows, columns, 3), uint16; in a preview it may be as deep as ``array``
    """
    place, lens, laid = _numbers(view)
    left, top, right, bottom = _box(place, lens, laid, columns, rows, array.shape[1], array.shape[0])
    step = float(min(view.source.width / view.target.width, view.source.height / view.target.height)) * lens[0]
    step *= laid_size(view.laid)
    if preview and step < _DENSE:
        dense = _as_read(array[top:bottom, left:right])
    else:
        density = (1.0 if preview else _DENSER) / max(step, 1.0)
        across, down = (max(1, math.ceil(side * density)) for side in (right - left, bottom - top))
        wide = max(step, float(least))
        vertical = taps(Fraction(top), Fraction(bottom - top), array.shape[0], down, wide)
        horizontal = taps(Fraction(left), Fraction(right - left), array.shape[1], across, wide)
        dense = _resampled(array, vertical, horizontal, linear=linear, of_scene=of_scene)
    to_part = np.array([left, top, dense.shape[1] / (right - left), dense.shape[0] / (bottom - top)])
    result: ImageArray = np.empty((len(rows), len(columns), 3), dense.dtype)
    # However large a frame is, no more of the denser grid is there at once than this many rows of the frame need.
    at_once = max(_ROWS_AT_ONCE, _MOST_DENSE * len(rows) // (dense.shape[0] * dense.shape[1]))
    bands = -(-len(rows) // at_once)
    for band in range(bands):
        some = rows[len(rows) * band // bands : len(rows) * (band + 1) // bands]
        to_band = result[some.start - rows.start : some.stop - rows.start]
        _draw_band(dense, to_band, (columns.start, some.start), (place, lens, laid, to_part), view.colours, preview)
    return result


@dataclass(frozen=True)
class _Dense:
    """The part of a still that is seen, on a grid at least as dense as the wanted one; ``between`` gives some rows of
    it, from the first to before the last."""

    shape: tuple[int, int]
    dtype: np.dtype[np.uint8 | np.uint16]
    between: Callable[[int, int], ImageArray]


def _as_read(part: ImageArray) -> _Dense:
    return _Dense(part.shape[:2], part.dtype, lambda first, last: part[first:last])


def _resampled(array: ImageArray, rows: Taps, columns: Taps, *, linear: bool, of_scene: bool) -> _Dense:
    def between(first: int, last: int) -> ImageArray:
        some = Taps(rows.first[first:last], rows.weights[first:last])
        return as_sixteen(resample(array, some, columns, linear=linear, of_scene=of_scene))

    return _Dense((len(rows.first), len(columns.first)), np.dtype(np.uint16), between)


def _draw_band(
    dense: _Dense,
    to_band: ImageArray,
    begins: tuple[int, int],
    numbers: tuple[Numbers, Numbers, Numbers, Numbers],
    colours: tuple[float, float, float],
    preview: bool,
) -> None:
    """Draw some rows of a grid, from ``begins`` on (column, row), strip by strip."""
    place, lens, laid, to_part = numbers
    strips = []
    for top in range(0, len(to_band), _ROWS_AT_ONCE):
        strip = to_band[top : top + _ROWS_AT_ONCE]
        some = (begins[0], begins[1] + top, *strip.shape[:2])
        further = (1.0,) if colours == (1.0, 1.0, 1.0) else colours
        strips.append((strip, [_points_of_strip(some, place, np.r_[lens[:-1], one], laid, to_part) for one in further]))
    first = min(float(one[1].min()) for _, points in strips for one in points)
    last = max(float(one[1].max()) for _, points in strips for one in points)
    begin = min(max(0, math.floor(first) - _MARGIN), dense.shape[0] - 1)
    part = dense.between(begin, min(dense.shape[0], max(math.ceil(last) + _MARGIN + 1, begin + 1)))
    for strip, points in strips:
        if len(points) == 1:
            taken = _take(part, points[0], begin, preview=preview)
        else:
            each = (_take(part[..., channel], at, begin, preview=preview) for channel, at in enumerate(points))
            taken = np.dstack(list(each))
        if preview:
            strip[:] = taken
        else:
            _write(taken, strip)


def _take(part: NDArray[Any], points: NDArray[np.float32], begin: int, *, preview: bool) -> NDArray[Any]:
    """Return what lies at the points of rows that begin at ``begin``: float32, or as the rows in a preview."""
    low, high = float(points[1].min()) - begin, float(points[1].max()) - begin
    top = min(max(0, math.floor(low) - _MARGIN), part.shape[0] - 1)
    rows = part[top : max(math.ceil(high) + _MARGIN + 1, top + 1)]
    down = points[1] - np.float32(begin + top)
    if preview:
        rows = np.ascontiguousarray(rows) if rows.ndim == 2 else rows
        return cv2.remap(rows, points[0], down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return cv2.remap(rows.astype(np.float32), points[0], down, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)


@njit(nogil=True, cache=True)
def _write(taken, codes):  # type: ignore[no-untyped-def]
    """Round samples to codes of 16 bits."""
    for y in range(taken.shape[0]):
        for x in range(taken.shape[1]):
            for channel in range(taken.shape[2]):
                value = min(max(taken[y, x, channel], np.float32(0)), np.float32(65535))
                codes[y, x, channel] = np.uint16(value + np.float32(0.5))


def points_of(view: View, left: float, top: float, height: int, width: int) -> NDArray[np.float32]:
    """Return where the middles of a grid's pixels, from (left, top) on, lie among the pixels of the array.

    Returns
    -------
    shape (2, height, width): x and y, the middle of the array's first pixel at 0
    """
    place, lens, laid = _numbers(view)
    points: NDArray[np.float32] = _points(left, top, height, width, place, lens, laid, np.array([0.0, 0.0, 1.0, 1.0]))
    return points


def _numbers(view: View) -> tuple[Numbers, Numbers, Numbers]:
    source, target, whole = view.source, view.target, view.whole
    straight = straightening(float(whole.width), float(whole.height), view.lens, view.profile)
    half_diagonal = math.hypot(float(whole.width), float(whole.height)) / 2
    middle, centre = source.centre, whole.centre
    place = np.array(
        [
            *(float(side) for side in target.centre),
            *(float(source.width / target.width), float(source.height / target.height)),
            *(math.cos(math.radians(view.angle)), math.sin(math.radians(view.angle))),
            *(float(middle[0] - centre[0]) / half_diagonal, float(middle[1] - centre[1]) / half_diagonal),
            *(float(centre[0]), float(centre[1]), half_diagonal),
        ]
    )
    by_hand = (straight.spread, view.lens.keystone_x, view.lens.keystone_y, view.lens.k1, view.lens.k2)
    return place, np.array([*by_hand, *view.profile.bends, 1.0]), np.array(view.laid or _NOT_LAID)


def _box(
    place: Numbers, lens: Numbers, laid: Numbers, columns: range, rows: range, width: int, height: int
) -> tuple[int, int, int, int]:
    """Return what part of the array is seen: left, top, right, bottom."""
    whole = np.array([0.0, 0.0, 1.0, 1.0])
    some = (columns.start, rows.start, len(rows), len(columns), place, lens, laid, whole)
    edges = [_points(*some[:2], 1, *some[3:]), _points(some[0], rows.stop - 1, 1, *some[3:])]
    edges += [_points(*some[:3], 1, *some[4:]), _points(columns.stop - 1, some[1], some[2], 1, *some[4:])]
    across = np.concatenate([edge[0].reshape(-1) for edge in edges])
    down = np.concatenate([edge[1].reshape(-1) for edge in edges])
    left, top = max(0, math.floor(across.min()) - _MARGIN), max(0, math.floor(down.min()) - _MARGIN)
    right, bottom = min(width, math.ceil(across.max()) + _MARGIN), min(height, math.ceil(down.max()) + _MARGIN)
    return min(left, width - 1), min(top, height - 1), max(right, left + 1), max(bottom, top + 1)


def laid_size(laid: Laid | None) -> float:
    """Return how many times as large a map shows what lies in the middle of what it leads from."""
    if laid is None:
        return 1.0
    a, b, c, d, e, f, g, h, under = laid
    determinant = a * (e * under - f * h) - b * (d * under - f * g) + c * (d * h - e * g)
    return math.sqrt(abs(determinant / under**3))


def _points_of_strip(
    some: tuple[int, int, int, int], place: Numbers, lens: Numbers, laid: Numbers, to_part: Numbers
) -> NDArray[np.float32]:
    """Return the points of a strip; where stills are not laid singly, they are the same for every still of a shot."""
    if laid[8]:
        points: NDArray[np.float32] = _points(*some, place, lens, laid, to_part)
        return points
    return _kept_points(some, tuple(place), tuple(lens), tuple(to_part))


@lru_cache(maxsize=_STRIPS_KEPT)
def _kept_points(
    some: tuple[int, int, int, int], place: tuple[float, ...], lens: tuple[float, ...], to_part: tuple[float, ...]
) -> NDArray[np.float32]:
    points: NDArray[np.float32] = _points(
        *some, np.array(place), np.array(lens), np.array(_NOT_LAID), np.array(to_part)
    )
    return points


@njit(nogil=True, cache=True)
def _points(left, top, height, width, place, lens, laid, to_part):  # type: ignore[no-untyped-def]
    """Where the middle of each pixel of the grid lies among the pixels of a part of the array."""
    result = np.empty((2, height, width), np.float32)
    middle_x, middle_y, step_x, step_y, cosine, sine, from_x, from_y, centre_x, centre_y, half = place
    spread, keystone_x, keystone_y, k1, k2, bend0, bend1, bend2, bend3, bend4, further = lens
    part_left, part_top, scale_x, scale_y = to_part
    bends = bend0 != 1.0 or bend1 != 0.0 or bend2 != 0.0 or bend3 != 0.0 or bend4 != 0.0
    if laid[8] != 0.0 and spread == 1.0 and not (keystone_x or keystone_y or k1 or k2 or bends):
        _lead(_one_map(left, top, place, laid, to_part, further), result)
        return result
    for y in range(height):
        down = (top + y + 0.5 - middle_y) * step_y / half
        for x in range(width):
            across = (left + x + 0.5 - middle_x) * step_x / half
            px = across * cosine + down * sine + from_x
            py = down * cosine - across * sine + from_y
            if laid[8] != 0.0:
                under = laid[6] * px + laid[7] * py + laid[8]
                px, py = (
                    (laid[0] * px + laid[1] * py + laid[2]) / under,
                    (laid[3] * px + laid[4] * py + laid[5]) / under,
                )
            px, py = px * spread, py * spread
            divisor = 1.0 + keystone_x * px + keystone_y * py
            px, py = px / divisor, py / divisor
            radius = px * px + py * py
            factor = 1.0 + k1 * radius + k2 * radius * radius
            if bends:
                out = math.sqrt(radius) * factor
                factor *= bend0 + out * (bend1 + out * (bend2 + out * (bend3 + out * bend4)))
            factor *= half * further
            result[0, y, x] = (px * factor + centre_x - part_left) * scale_x - 0.5
            result[1, y, x] = (py * factor + centre_y - part_top) * scale_y - 0.5
    return result


@njit(nogil=True, cache=True)
def _one_map(left, top, place, laid, to_part, further):  # type: ignore[no-untyped-def]
    """The map from pixels of the grid to those of a part of the array, where no lens bends anything."""
    middle_x, middle_y, step_x, step_y, cosine, sine, from_x, from_y, centre_x, centre_y, half = place
    part_left, part_top, scale_x, scale_y = to_part
    grid = np.array([[1.0, 0.0, left + 0.5 - middle_x], [0.0, 1.0, top + 0.5 - middle_y], [0.0, 0.0, 1.0]])
    across = np.array([step_x * cosine / half, step_y * sine / half, from_x])
    down = np.array([-step_x * sine / half, step_y * cosine / half, from_y])
    to_shown, to_array = np.eye(3), np.eye(3)
    to_shown[0], to_shown[1] = across, down
    to_array[0, 0], to_array[0, 2] = half * further * scale_x, (centre_x - part_left) * scale_x - 0.5
    to_array[1, 1], to_array[1, 2] = half * further * scale_y, (centre_y - part_top) * scale_y - 0.5
    return to_array @ laid.reshape(3, 3) @ to_shown @ grid


@njit(nogil=True, cache=True)
def _lead(one, result):  # type: ignore[no-untyped-def]
    """Write where a map leads each pixel of a grid."""
    for y in range(result.shape[1]):
        across, down, under = one[0, 1] * y + one[0, 2], one[1, 1] * y + one[1, 2], one[2, 1] * y + one[2, 2]
        for x in range(result.shape[2]):
            factor = 1.0 / (one[2, 0] * x + under)
            result[0, y, x] = (one[0, 0] * x + across) * factor
            result[1, y, x] = (one[1, 0] * x + down) * factor
