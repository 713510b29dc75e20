"""Model look: sharp along a band, growing soft on both sides, as a lens with little depth shows things that are small.

Light is averaged over discs (linear light), so that lamps become discs. Sums along rows make a disc of any size cost no
more than its height; where discs are large, they are averaged at half or a quarter of the size.
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray, is_deep
from yarnkite.core.image.srgb import codes_of, light_table

Plane = NDArray[np.float32]
# The radius of the largest disc, as a share of the picture's height, at full strength.
LARGEST = 0.028
_LEAST_RADIUS_PX = 0.35
# From this radius on a disc is averaged at half the size, and so on.
_COARSER_FROM_PX = 4.0
_MIXED_OVER_PX = 1.5


@dataclass(frozen=True)
class Band:
    """Where a picture stays sharp: along a line through a point of it, turned with the clock, and how softly that ends.

    ``x`` and ``y`` are shares of the picture, ``width`` and ``softness`` of its height: how wide all stays sharp, and
    over how much on each side softness grows. ``strength`` is 0 … 1.
    """

    x: float
    y: float
    angle_deg: float
    width: float
    softness: float
    strength: float


def radii(band: Band, width: int, height: int) -> Plane:
    """Return how large the disc is at each pixel, shape (height, width), in pixels."""
    sine, cosine = math.sin(math.radians(band.angle_deg)), math.cos(math.radians(band.angle_deg))
    across = (np.arange(width, dtype=np.float32) + 0.5 - band.x * width)[None]
    down = (np.arange(height, dtype=np.float32) + 0.5 - band.y * height)[:, None]
    away = np.abs(down * np.float32(cosine) - across * np.float32(sine)) / np.float32(height)
    share = np.clip((away - band.width / 2) / max(band.softness, 1e-3), 0, 1)
    # Softness begins gently: no edge of the band is seen.
    return np.asarray(share * share * (3 - 2 * share) * np.float32(band.strength * LARGEST * height), np.float32)


def modelled(picture: ImageArray, band: Band) -> ImageArray:
    """Return a picture as if it were of something small.

    Parameters
    ----------
    picture : RGB, sRGB, shape (height, width, 3), uint8 or uint16
    band : what stays sharp

    Returns
    -------
    as ``picture``
    """
    height, width = picture.shape[:2]
    radius = radii(band, width, height)
    soft = radius > _LEAST_RADIUS_PX
    if not soft.any():
        return picture
    light = light_table(picture)[picture]
    result = _discs(light, radius, 0.0, _COARSER_FROM_PX + _MIXED_OVER_PX)
    coarser, finest = light, _COARSER_FROM_PX
    while radius.max() > finest:
        size = (max(1, coarser.shape[1] // 2), max(1, coarser.shape[0] // 2))
        coarser = np.asarray(cv2.resize(coarser, size, interpolation=cv2.INTER_AREA), np.float32)
        shrunk = np.asarray(cv2.resize(radius, size, interpolation=cv2.INTER_AREA), np.float32) * (size[0] / width)
        discs = _discs(coarser, shrunk, _COARSER_FROM_PX / 2 - 1, _COARSER_FROM_PX + _MIXED_OVER_PX)
        large = cv2.resize(discs, (width, height), interpolation=cv2.INTER_LINEAR)
        share = np.clip((radius - finest) / (_MIXED_OVER_PX * finest / _COARSER_FROM_PX), 0, 1)[..., None]
        result = result + (large - result) * share
        finest *= 2
    found = codes_of(np.ascontiguousarray(result, np.float32).reshape(-1), deep=is_deep(picture)).reshape(picture.shape)
    found[~soft] = picture[~soft]
    return found


def _discs(light: Plane, radius: Plane, least: float, most: float) -> Plane:
    """Return light averaged over discs where their radius lies in a range; elsewhere it stays."""
    radius = np.where((radius > least) & (radius < most), radius, np.float32(0))
    sums = np.zeros((light.shape[0], light.shape[1] + 1, 3), np.float64)
    np.cumsum(light, axis=1, dtype=np.float64, out=sums[:, 1:])
    result: Plane = _averaged(light, sums, radius)
    return result


@njit(nogil=True, cache=True)
def _averaged(light, sums, radius):  # type: ignore[no-untyped-def]
    """Each pixel averaged over a disc about it, its rows by differences of sums at fractions of a pixel."""
    height, width = light.shape[:2]
    result = np.empty_like(light)
    for y in range(height):
        for x in range(width):
            size = radius[y, x]
            if size <= _LEAST_RADIUS_PX:
                for channel in range(3):
                    result[y, x, channel] = light[y, x, channel]
                continue
            reach = int(size + 0.5)
            red = green = blue = area = 0.0
            for row in range(max(0, y - reach), min(height, y + reach + 1)):
                away = abs(row - y)
                inner = size * size - away * away
                # Of the outermost row as much as the disc covers of it.
                part = min(1.0, size + 0.5 - away)
                half = math.sqrt(inner) if inner > 0.25 else 0.5
                left, right = max(0.0, x + 0.5 - half), min(float(width), x + 0.5 + half)
                first, last = int(left), min(int(right), width - 1)
                low, high = left - first, right - last
                red += part * (
                    sums[row, last, 0] + high * light[row, last, 0] - sums[row, first, 0] - low * light[row, first, 0]
                )
                green += part * (
                    sums[row, last, 1] + high * light[row, last, 1] - sums[row, first, 1] - low * light[row, first, 1]
                )
                blue += part * (
                    sums[row, last, 2] + high * light[row, last, 2] - sums[row, first, 2] - low * light[row, first, 2]
                )
                area += part * (right - left)
            result[y, x, 0], result[y, x, 1], result[y, x, 2] = red / area, green / area, blue / area
    return result
