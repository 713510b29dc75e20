"""What a still's light gets, resolved to numbers, and the one pass that does it."""

from functools import lru_cache
from typing import Annotated

import numpy as np
from numba import njit
from pydantic import Field

from yarnkite.core.base.frozen import Frozen, rounded
from yarnkite.core.image.pixels import ImageArray, SixteenBit, is_deep
from yarnkite.core.image.srgb import light_table
from yarnkite.core.light.colour import colour_matrix
from yarnkite.core.light.tone import MOST_ROOT, STEPS, tone_table

Rounded = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False), rounded(4)]
# How far down highlights roll off for each stop by which evening raises them, so that they are not cut.
_SOFTEN_A_STOP = 0.4


class Adjustment(Frozen):
    """The settings of ``Light`` as they are at one still, and ``gain``: the stops by which evening raises it."""

    gain: Rounded = 0.0
    exposure: Rounded = 0.0
    contrast: Rounded = 0.0
    dark: Rounded = 0.0
    middle: Rounded = 0.0
    bright: Rounded = 0.0
    soften: Rounded = 0.0
    warmth: Rounded = 0.0
    tint: Rounded = 0.0
    saturation: Rounded = 0.0


UNADJUSTED = Adjustment()


def adjusted(image: ImageArray, adjustment: Adjustment) -> ImageArray:
    """Return a picture with its light adjusted: exposure and colour on linear light, then one curve.

    Parameters
    ----------
    image : RGB, sRGB code values, shape (height, width, 3), uint8 or uint16

    Returns
    -------
    the picture itself for ``UNADJUSTED``, else RGB, sRGB, the same shape, uint16

    Source: IEC 61966-2-1.
    """
    if adjustment == UNADJUSTED:
        return image
    plan = _plan(adjustment)
    light = light_table(image)
    picture = np.ascontiguousarray(image)
    result = np.empty(picture.shape, np.uint16)
    rows = picture.reshape(picture.shape[0], -1), result.reshape(picture.shape[0], -1)
    if plan.is_grey:
        # Each channel by itself: all that can happen to a sample is one table.
        roots = np.sqrt(np.minimum(light * plan.matrix[0, 0], np.float32(_MOST_LIGHT))) * STEPS + np.float32(0.5)
        _look_up(*rows, plan.table[roots.astype(np.int32)])
    else:
        _adjust(*rows, light, plan.matrix, plan.table)
    return result


class _Plan:
    """A matrix on linear light and the table of a curve."""

    def __init__(self, adjustment: Adjustment) -> None:
        factor = 2.0 ** (adjustment.exposure + adjustment.gain)
        matrix = factor * colour_matrix(adjustment.warmth, adjustment.tint, adjustment.saturation)
        self.is_grey = not (adjustment.warmth or adjustment.tint or adjustment.saturation)
        self.matrix = (factor * np.eye(3) if self.is_grey else matrix).astype(np.float32)
        soften = min(1.0, max(adjustment.soften, _SOFTEN_A_STOP * max(adjustment.gain, 0.0)))
        self.table = tone_table(
            adjustment.contrast, adjustment.dark, adjustment.middle, adjustment.bright, round(soften, 4)
        )


@lru_cache(maxsize=64)
def _plan(adjustment: Adjustment) -> _Plan:
    return _Plan(adjustment)


_MOST_LIGHT = MOST_ROOT**2


@njit(nogil=True, cache=True)
def _look_up(image, result, table):  # type: ignore[no-untyped-def]
    for y in range(image.shape[0]):
        row, codes = image[y], result[y]
        for x in range(row.size):
            codes[x] = table[row[x]]


# Values are finite, and a sum in another order differs by less than a step of the table.
@njit(nogil=True, cache=True, fastmath=True)
def _adjust(image, result, light, matrix, table):  # type: ignore[no-untyped-def]
    count = image.shape[1] // 3
    channels = np.empty((3, count), np.float32)
    reds, greens, blues = channels[0], channels[1], channels[2]
    red_r, red_g, red_b = matrix[0, 0], matrix[0, 1], matrix[0, 2]
    green_r, green_g, green_b = matrix[1, 0], matrix[1, 1], matrix[1, 2]
    blue_r, blue_g, blue_b = matrix[2, 0], matrix[2, 1], matrix[2, 2]
    black, most = np.float32(0), np.float32(_MOST_LIGHT)
    steps, half = np.float32(STEPS), np.float32(0.5)
    for y in range(image.shape[0]):
        row, codes = image[y], result[y]
        # Unsigned indices spare the compiler a test for negative ones, here and below.
        for x in range(count):
            p = np.uintp(3 * x)
            reds[x], greens[x], blues[x] = light[row[p]], light[row[p + np.uintp(1)]], light[row[p + np.uintp(2)]]
        for x in range(count):
            red, green, blue = reds[x], greens[x], blues[x]
            reds[x] = np.sqrt(min(max(red_r * red + red_g * green + red_b * blue, black), most)) * steps + half
            greens[x] = np.sqrt(min(max(green_r * red + green_g * green + green_b * blue, black), most)) * steps + half
            blues[x] = np.sqrt(min(max(blue_r * red + blue_g * green + blue_b * blue, black), most)) * steps + half
        for x in range(count):
            p = np.uintp(3 * x)
            codes[p] = table[np.uintp(np.uint32(reds[x]))]
            codes[p + np.uintp(1)] = table[np.uintp(np.uint32(greens[x]))]
            codes[p + np.uintp(2)] = table[np.uintp(np.uint32(blues[x]))]


def shown_codes(adjustment: Adjustment, count: int) -> SixteenBit:
    """Return which code values of 16 bits ``count`` greys become, evenly from black to white, shape (count,)."""
    greys = np.rint(np.linspace(0, 65535, count)).astype(np.uint16)
    shown = adjusted(np.repeat(greys[None, :, None], 3, axis=2), adjustment)
    return np.asarray(shown[0, :, 1], np.uint16)


def clipped_shares(image: ImageArray) -> tuple[float, float]:
    """Return which shares of a picture's pixels are black, and blown out: all channels at one end.

    Parameters
    ----------
    image : RGB, shape (height, width, 3), uint8 or uint16
    """
    step = 257 if is_deep(image) else 1
    return float((image.max(axis=2) <= step).mean()), float((image.min(axis=2) >= 254 * step).mean())
