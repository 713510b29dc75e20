"""Masks: how much of each pixel of a picture belongs to an area."""

from dataclasses import dataclass
from threading import Lock

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.cache import Cache
from yarnkite.core.image.pixels import SixteenBit
from yarnkite.core.image.still_map import StillMap
from yarnkite.core.light.areas import Brush, Ellipse, Everything, Gradient, Mask, Part, Stroke, stroke_points
from yarnkite.core.light.oklab import hue_distance, hue_of, to_oklab

Plane = NDArray[np.float32]

# Strokes are painted on a still of this width first, with half a still around it, and then led to the picture.
_CANVAS = 1280
_AROUND = 0.5
_SMALLEST_BLUR = 0.6
_LIMIT_SOFTNESS = 0.08
_GREYISH = 0.04
_MOST_BYTES = 100_000_000
# How many hues the table has by which colours are told: by two differences of code values.
_HUE_STEPS = 64


@dataclass(frozen=True)
class DrawnMask:
    """How much of each pixel belongs to an area, 0 … 1, shape as its map; outside of ``rows`` and ``columns``
    nothing."""

    shares: Plane
    rows: tuple[int, int]
    columns: tuple[int, int]


_masks: Cache[DrawnMask] = Cache(_MOST_BYTES, lambda mask: mask.shares.nbytes, Lock())


def mask_on(mask: Mask, still_map: StillMap) -> Plane:
    """Return how much of each pixel belongs to an area by its parts, 0 … 1, shape as the map; limits do not count."""
    return drawn_mask(mask, still_map).shares


def drawn_mask(mask: Mask, still_map: StillMap) -> DrawnMask:
    """Return a mask by its parts, and where it is at all.

    It is the same for all stills of a shot that lie alike, and kept as long as there is room.
    """
    return _masks.get((mask.parts, mask.inverted, still_map), lambda: _bounded(_drawn(mask, still_map)))


def _bounded(shares: Plane) -> DrawnMask:
    rows, columns = (np.flatnonzero(shares.max(axis=axis) > 0) for axis in (1, 0))
    if not len(rows):
        return DrawnMask(shares, (0, 0), (0, 0))
    return DrawnMask(shares, (int(rows[0]), int(rows[-1]) + 1), (int(columns[0]), int(columns[-1]) + 1))


def _drawn(mask: Mask, still_map: StillMap) -> Plane:
    result = np.zeros(still_map.shape, np.float32)
    for part in mask.parts:
        drawn = _part(part, still_map)
        result = result * (1 - drawn) if part.takes_away else np.maximum(result, drawn)
    return np.asarray(1 - result if mask.inverted else result, np.float32)


def _part(part: Part, still_map: StillMap) -> Plane:
    match part.shape:
        case Gradient() as gradient:
            return _gradient(gradient, still_map)
        case Ellipse() as ellipse:
            return _ellipse(ellipse, still_map)
        case Brush() as brush:
            return _brush(brush, still_map)
        case Everything():
            return np.ones(still_map.shape, np.float32)


def _gradient(gradient: Gradient, still_map: StillMap) -> Plane:
    x, y = still_map.shares()
    # A height counts as much as it is wide, so that the edges stand square to the way.
    aspect = still_map.aspect
    right, down = gradient.to_x - gradient.x, (gradient.to_y - gradient.y) / aspect
    length = max(right**2 + down**2, 1e-9)
    way = (x - np.float32(gradient.x)) * np.float32(right) + (y - np.float32(gradient.y)) * np.float32(down / aspect)
    return 1 - _smooth(np.asarray(way / np.float32(length), np.float32))


def _ellipse(ellipse: Ellipse, still_map: StillMap) -> Plane:
    x, y = still_map.shares()
    aspect = np.float32(still_map.aspect)
    across, down = x - np.float32(ellipse.x), (y - np.float32(ellipse.y)) / aspect
    angle = np.radians(ellipse.angle_deg)
    cosine, sine = np.float32(np.cos(angle)), np.float32(np.sin(angle))
    along = (across * cosine + down * sine) / np.float32(ellipse.x_radius)
    beside = (down * cosine - across * sine) / (np.float32(ellipse.y_radius) / aspect)
    from_middle = np.sqrt(along * along + beside * beside)
    soft = np.float32(max(ellipse.softness, 0.004))
    return 1 - _smooth(np.asarray((from_middle - (1 - soft)) / soft, np.float32))


def _smooth(share: Plane) -> Plane:
    """Return 0 below 0, 1 above 1, and between them without a corner."""
    within = np.clip(share, np.float32(0), np.float32(1))
    return np.asarray(within * within * (3 - 2 * within), np.float32)


def _brush(brush: Brush, still_map: StillMap) -> Plane:
    width = _CANVAS
    height = max(1, round(width / still_map.aspect))
    left, top = round(_AROUND * width), round(_AROUND * height)
    canvas = np.zeros((height + 2 * top, width + 2 * left), np.float32)
    for stroke in brush.strokes:
        _paint(canvas, stroke, width, height, left, top)
    x, y = still_map.shares()
    across = x * np.float32(width) + np.float32(left - 0.5)
    down = y * np.float32(height) + np.float32(top - 0.5)
    return np.asarray(cv2.remap(canvas, across, down, cv2.INTER_LINEAR, borderValue=0), np.float32)


def _paint(canvas: Plane, stroke: Stroke, width: int, height: int, left: int, top: int) -> None:
    """Add a stroke to a canvas, or take it away from it."""
    points = stroke_points(stroke.points) * (width, height) + (left, top)
    thickness = max(1.0, stroke.width * width)
    # What is soft thins out from half way in to half way beyond its edge.
    blur = max(_SMALLEST_BLUR, stroke.softness * thickness / 4)
    margin = int(thickness + 4 * blur) + 2
    low = np.maximum(np.floor(points.min(axis=0)).astype(int) - margin, 0)
    high = np.minimum(np.ceil(points.max(axis=0)).astype(int) + margin, canvas.shape[::-1])
    if np.any(high <= low):
        return
    part = np.zeros((high[1] - low[1], high[0] - low[0]), np.uint8)
    shift = 4
    line = np.rint((points - low) * (1 << shift)).astype(np.int32)
    if len(line) == 1:
        cv2.circle(part, tuple(line[0].tolist()), round(thickness / 2 * (1 << shift)), 255, -1, cv2.LINE_AA, shift)
    else:
        cv2.polylines(part, [line[:, None]], False, 255, max(1, round(thickness)), cv2.LINE_AA, shift)
    drawn = cv2.GaussianBlur(part.astype(np.float32) / 255, (0, 0), blur)
    under = canvas[low[1] : high[1], low[0] : high[0]]
    under[:] = under * (1 - drawn) if stroke.erases else np.maximum(under, drawn)


def limited(shares: Plane, mask: Mask, codes: SixteenBit) -> Plane:
    """Return how much of each pixel belongs to an area once the picture's own brightness and hue limit it.

    Parameters
    ----------
    shares : by its parts, shape (height, width)
    codes : the picture, RGB, shape (height, width, 3)

    Returns
    -------
    shape (height, width), 0 … 1
    """
    if not mask.has_limits:
        return shares
    result = np.empty_like(shares)
    hues = _hue_table(mask.hue.hue, mask.hue.width) if mask.hue else np.ones((1, 1), np.float32)
    _limit(
        shares, codes, np.float32(mask.darkest), np.float32(mask.brightest), np.float32(_LIMIT_SOFTNESS), hues, result
    )
    return result


def _hue_table(hue: float, width: float) -> Plane:
    """Return how much a colour is of a hue, by how far its red and its blue lie from its green: shape (steps,
    steps)."""
    differences = np.linspace(-1, 1, _HUE_STEPS)
    red, blue = np.meshgrid(differences, differences, indexing="ij")
    green = np.clip(0.5 - (red + blue) / 3, 0, 1)
    colours = np.clip(np.stack([green + red, green, green + blue], axis=-1), 0, 1)
    lab = to_oklab(colours)
    strength = np.hypot(lab[..., 1], lab[..., 2])
    near = np.clip((width - hue_distance(hue_of(lab), hue)) / max(0.35 * width, 4.0), 0, 1)
    return np.asarray(near * np.clip(strength / _GREYISH - 0.3, 0, 1), np.float32)


@njit(nogil=True, cache=True)
def _limit(shares, codes, darkest, brightest, softness, hues, result):  # type: ignore[no-untyped-def]
    unit, one, zero = np.float32(1 / 65535), np.float32(1), np.float32(0)
    steps = hues.shape[0]
    to_step, half = np.float32((steps - 1) / 2), np.float32(0.5)
    for y in range(shares.shape[0]):
        for x in range(shares.shape[1]):
            share = shares[y, x]
            if share > zero:
                red, green, blue = codes[y, x, 0] * unit, codes[y, x, 1] * unit, codes[y, x, 2] * unit
                luma = np.float32(0.299) * red + np.float32(0.587) * green + np.float32(0.114) * blue
                if darkest > zero:
                    share *= min(max((luma - darkest) / softness + half, zero), one)
                if brightest < one:
                    share *= min(max((brightest - luma) / softness + half, zero), one)
                if steps > 1:
                    u = (np.float32(red - green) + one) * to_step
                    v = (np.float32(blue - green) + one) * to_step
                    i, j = min(int(u), steps - 2), min(int(v), steps - 2)
                    du, dv = u - np.float32(i), v - np.float32(j)
                    above = hues[i, j] + dv * (hues[i, j + 1] - hues[i, j])
                    below = hues[i + 1, j] + dv * (hues[i + 1, j + 1] - hues[i + 1, j])
                    share *= above + du * (below - above)
            result[y, x] = share


@njit(nogil=True, cache=True, fastmath=True)
def mix(codes, other, shares):  # type: ignore[no-untyped-def]
    """Replace a picture by so much of another as a mask says, in place; both RGB, uint16, the mask float32."""
    half = np.float32(0.5)
    for y in range(codes.shape[0]):
        for x in range(codes.shape[1]):
            share = shares[y, x]
            if share > np.float32(0):
                for channel in range(3):
                    here = np.float32(codes[y, x, channel])
                    codes[y, x, channel] = np.uint16(here + share * (np.float32(other[y, x, channel]) - here) + half)
