"""Sums of light: sRGB code values to light and back (IEC 61966-2-1), and weighted means of pictures."""

from collections.abc import Iterable, Sequence
from fractions import Fraction
from itertools import chain

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import EightBit, ImageArray, SixteenBit, is_deep

Light = NDArray[np.float32]

_STEPS = 16384
# Light is looked up by the leading bits of its float: 2^7 steps to a factor of two, from 2^-16 up to 1, a line between.
_MANTISSA_BITS = 7
_SHIFT = 23 - _MANTISSA_BITS
_LEAST = 2.0**-16


def to_light(codes: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return sRGB code values 0 … 1 as light 0 … 1.

    Source: IEC 61966-2-1.
    """
    return np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)


def to_codes(light: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return light 0 … 1 as sRGB code values 0 … 1.

    Source: IEC 61966-2-1.
    """
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 1e-12) ** (1 / 2.4) - 0.055)


SRGB_TO_LINEAR: Light = to_light(np.arange(256) / 255).astype(np.float32)
SRGB_TO_LINEAR_DEEP: Light = to_light(np.arange(65536) / 65535).astype(np.float32)
LINEAR_TO_SRGB: EightBit = np.rint(to_codes(np.arange(_STEPS + 1) / _STEPS) * 255).astype(np.uint8)
# From linear samples of 16 bits to code values of 16 bits and back.
LINEAR_TO_SRGB_DEEP: SixteenBit = np.rint(to_codes(np.arange(65536) / 65535) * 65535).astype(np.uint16)
SRGB_TO_LINEAR_SIXTEEN: SixteenBit = np.rint(to_light(np.arange(65536) / 65535) * 65535).astype(np.uint16)


def light_table(image: ImageArray) -> Light:
    """Return the light of each value a sample of a picture can have."""
    return SRGB_TO_LINEAR_DEEP if is_deep(image) else SRGB_TO_LINEAR


def mean_of_light(images: Iterable[ImageArray], weights: Sequence[Fraction]) -> ImageArray:
    """Return the weighted mean of pictures as light adds up; a single one is returned as it is.

    Parameters
    ----------
    images : pictures of one shape, RGB, uint8 or uint16
    weights : one for each, summing to 1

    Returns
    -------
    uint16 if any of the pictures is, else uint8
    """
    coming = iter(images)
    first = next(coming)
    if len(weights) == 1:
        return first
    total = np.zeros(first.size, np.float32)
    deep = False
    for image, weight in zip(chain([first], coming), weights, strict=True):
        _add(total, np.ascontiguousarray(image).reshape(-1), light_table(image), np.float32(weight))
        deep = deep or is_deep(image)
    return codes_of(total, deep=deep).reshape(first.shape)


def dissolved(first: ImageArray, second: ImageArray, share: float) -> ImageArray:
    """Return what two pictures give, as light adds up, of which the second has a share; a quicker ``mean_of_light``.

    Parameters
    ----------
    first, second : pictures of one shape and depth, RGB, uint8 or uint16
    share : of the second, 0 … 1

    Returns
    -------
    the same shape and depth, off by at most half a step of 8 bits, or 13 steps of 16
    """
    table = SRGB_TO_LINEAR_DEEP if is_deep(first) else SRGB_TO_LINEAR
    codes = LINEAR_TO_SRGB_DEEP if is_deep(first) else LINEAR_TO_SRGB
    steps = len(codes) - 1
    # Two rounded halves may reach a step beyond the whole.
    longer = np.append(codes, codes[-1:])
    first_table, second_table = (np.rint(table * (steps * weight)).astype(np.uint16) for weight in (1 - share, share))
    flat, over = (np.ascontiguousarray(one).reshape(-1) for one in (first, second))
    result = np.empty_like(flat)
    _dissolve(flat, over, first_table, second_table, longer, result)
    return result.reshape(first.shape)


def faded(image: ImageArray, colour: tuple[int, int, int], share: float, white: float = 1.0) -> ImageArray:
    """Return a picture on its way to a colour (sRGB, 0 … 255), of which it has a share already, as light adds up;
    ``white`` is the light that white is of the largest there is."""
    table = light_table(image).astype(np.float64)
    light = (1 - share) * table + share * white * SRGB_TO_LINEAR[np.array(colour)][:, None]
    codes = np.rint(to_codes(light) * (table.size - 1)).astype(image.dtype)
    flat = np.ascontiguousarray(image).reshape(-1, 3)
    result = np.empty_like(flat)
    _recode(flat, codes[0], codes[1], codes[2], result)
    return result.reshape(image.shape)


def codes_of(light: Light, *, deep: bool = False) -> ImageArray:
    """Return light as sRGB code values; what lies outside 0 … 1 is clipped.

    Parameters
    ----------
    light : float32, flat, contiguous
    deep : whether the code values have 16 bits, off by at most one step, or 8

    Returns
    -------
    uint16 or uint8, the same shape

    Source: IEC 61966-2-1.
    """
    if deep:
        sixteen = np.empty(light.size, np.uint16)
        within = np.clip(light, np.float32(0), np.float32(1))
        _encode_deep(within, within.view(np.uint32), _BASE, _SLOPE, sixteen)
        return sixteen
    eight = np.empty(light.size, np.uint8)
    _encode(light, LINEAR_TO_SRGB, eight)
    return eight


def _segments() -> tuple[Light, Light]:
    """Return the code value at the beginning of each segment of light, and by how much it grows for a unit of light."""
    first, last = (int(np.float32(value).view(np.uint32)) >> _SHIFT for value in (_LEAST, 1.0))
    begins = (np.arange(first, last + 2, dtype=np.uint32) << _SHIFT).view(np.float32).astype(np.float64)
    codes = to_codes(begins) * 65535
    slope = np.diff(codes) / np.diff(begins)
    return codes[:-1].astype(np.float32), slope.astype(np.float32)


_BASE, _SLOPE = _segments()
_FIRST_SEGMENT = np.uint32(int(np.float32(_LEAST).view(np.uint32)) >> _SHIFT)


@njit(nogil=True, cache=True)
def _dissolve(first, second, first_table, second_table, codes, result):  # type: ignore[no-untyped-def]
    for i in range(first.size):
        # Unsigned indices spare the compiler a test for negative ones.
        step = np.uintp(first_table[np.uintp(first[i])]) + np.uintp(second_table[np.uintp(second[i])])
        result[i] = codes[step]


@njit(nogil=True, cache=True)
def _recode(image, red, green, blue, result):  # type: ignore[no-untyped-def]
    for i in range(image.shape[0]):
        result[i, 0] = red[np.uintp(image[i, 0])]
        result[i, 1] = green[np.uintp(image[i, 1])]
        result[i, 2] = blue[np.uintp(image[i, 2])]


@njit(nogil=True, cache=True)
def _add(total, image, light, weight):  # type: ignore[no-untyped-def]
    for i in range(total.size):
        total[i] += weight * light[image[i]]


@njit(nogil=True, cache=True)
def _encode(light, codes, result):  # type: ignore[no-untyped-def]
    steps = codes.size - 1
    for i in range(light.size):
        result[i] = codes[int(min(max(light[i], np.float32(0)), np.float32(1)) * steps + np.float32(0.5))]


@njit(nogil=True, cache=True)
def _encode_deep(light, bits, base, slope, result):  # type: ignore[no-untyped-def]
    least, first = np.float32(_LEAST), np.int64(_FIRST_SEGMENT)
    linear = np.float32(12.92 * 65535)
    for i in range(light.size):
        if light[i] < least:
            result[i] = np.uint16(light[i] * linear + np.float32(0.5))
        else:
            segment = np.int64(bits[i] >> np.uint32(_SHIFT)) - first
            begin = np.int64(bits[i]) & ((1 << _SHIFT) - 1)
            # How far the light lies beyond the beginning of its segment: what the bits below the leading ones are
            # worth.
            beyond = light[i] * np.float32(begin) / np.float32((np.int64(bits[i]) & 0x7FFFFF) | 0x800000)
            result[i] = np.uint16(base[segment] + slope[segment] * beyond + np.float32(0.5))
