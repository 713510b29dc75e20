"""Laying something that covers a part of a picture over it, as light adds up."""

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray, is_deep
from yarnkite.core.image.srgb import LINEAR_TO_SRGB, LINEAR_TO_SRGB_DEEP, SRGB_TO_LINEAR, light_table

Coverage = NDArray[np.uint8]
RGB = tuple[int, int, int]


def rgb(colour: str) -> RGB:
    """Return a colour written ``#rrggbb`` as its three code values."""
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


def colour_over(
    image: ImageArray, coverage: Coverage, colour: RGB, left: int, top: int, strength: float, white: float = 1.0
) -> None:
    """Lay a colour over a picture, in place, as far as it covers.

    Parameters
    ----------
    image : RGB, sRGB, shape (height, width, 3), uint8 or uint16, changed in place
    coverage : how much of each pixel is covered, 0 … 255, shape (rows, columns)
    colour : RGB, sRGB, 0 … 255
    left, top : where the coverage's first pixel lies in the picture, also outside of it
    strength : how much of the coverage counts, 0 … 1
    white : the light that white is of the largest there is, less than 1 in pictures with headroom
    """
    inside = _inside(image, coverage.shape, left, top)
    if inside is None or strength <= 0:
        return
    region, rows, columns = inside
    codes = LINEAR_TO_SRGB_DEEP if is_deep(image) else LINEAR_TO_SRGB
    light = SRGB_TO_LINEAR[np.array(colour)] * np.float32(white)
    _colour(region, coverage[rows, columns], light_table(image), codes, light, np.float32(strength / 255))


def picture_over(
    image: ImageArray, picture: NDArray[np.uint8], left: int, top: int, strength: float, white: float = 1.0
) -> None:
    """Lay a picture with transparency over another, in place; see ``colour_over``.

    ``picture`` is RGBA, sRGB, not multiplied, shape (rows, columns, 4).
    """
    inside = _inside(image, picture.shape[:2], left, top)
    if inside is None or strength <= 0:
        return
    region, rows, columns = inside
    codes = LINEAR_TO_SRGB_DEEP if is_deep(image) else LINEAR_TO_SRGB
    part = np.ascontiguousarray(picture[rows, columns])
    light = SRGB_TO_LINEAR * np.float32(white)
    _picture(region, part, light_table(image), codes, light, np.float32(strength / 255))


def _inside(image: ImageArray, shape: tuple[int, ...], left: int, top: int) -> tuple[ImageArray, slice, slice] | None:
    height, width = image.shape[:2]
    first_row, last_row = max(0, -top), min(shape[0], height - top)
    first_column, last_column = max(0, -left), min(shape[1], width - left)
    if first_row >= last_row or first_column >= last_column:
        return None
    region = image[top + first_row : top + last_row, left + first_column : left + last_column]
    return region, slice(first_row, last_row), slice(first_column, last_column)


@njit(nogil=True, cache=True)
def _colour(region, coverage, table, codes, light, strength):  # type: ignore[no-untyped-def]
    steps = np.float32(codes.size - 1)
    for y in range(coverage.shape[0]):
        for x in range(coverage.shape[1]):
            if coverage[y, x]:
                share = np.float32(coverage[y, x]) * strength
                for channel in range(3):
                    under = table[region[y, x, channel]]
                    over = under + share * (light[channel] - under)
                    region[y, x, channel] = codes[int(over * steps + np.float32(0.5))]


@njit(nogil=True, cache=True)
def _picture(region, picture, table, codes, light, strength):  # type: ignore[no-untyped-def]
    steps = np.float32(codes.size - 1)
    for y in range(picture.shape[0]):
        for x in range(picture.shape[1]):
            if picture[y, x, 3]:
                share = np.float32(picture[y, x, 3]) * strength
                for channel in range(3):
                    under = table[region[y, x, channel]]
                    over = under + share * (light[picture[y, x, channel]] - under)
                    region[y, x, channel] = codes[int(over * steps + np.float32(0.5))]
