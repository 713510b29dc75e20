"""Sums of light: sRGB code values to light and back (IEC 61966-2-1), and weighted means of pictures."""

from collections.abc import Iterable, Sequence
from fractions import Fraction
from itertools import chain

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray

_STEPS = 16384


def _light_of_codes() -> NDArray[np.float32]:
    code = np.arange(256) / 255
    return np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4).astype(np.float32)


def _codes_of_light() -> ImageArray:
    light = np.arange(_STEPS + 1) / _STEPS
    code = np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)
    return np.asarray(np.rint(code * 255), np.uint8)


SRGB_TO_LINEAR = _light_of_codes()
LINEAR_TO_SRGB = _codes_of_light()


def mean_of_light(images: Iterable[ImageArray], weights: Sequence[Fraction]) -> ImageArray:
    """Return the weighted mean of pictures of one shape, RGB, uint8, as light adds up; the weights sum to 1."""
    coming = iter(images)
    first = next(coming)
    if len(weights) == 1:
        return first
    total = np.zeros(first.size, np.float32)
    for image, weight in zip(chain([first], coming), weights, strict=True):
        _add(total, np.ascontiguousarray(image).reshape(-1), SRGB_TO_LINEAR, np.float32(weight))
    return codes_of(total).reshape(first.shape)


def codes_of(light: NDArray[np.float32]) -> ImageArray:
    """Return light 0 … 1, flat, as sRGB code values; what lies outside is clipped."""
    result = np.empty(light.size, np.uint8)
    _encode(light, LINEAR_TO_SRGB, result)
    return result


@njit(nogil=True, cache=True)
def _add(total, image, light, weight):  # type: ignore[no-untyped-def]
    for i in range(total.size):
        total[i] += weight * light[image[i]]


@njit(nogil=True, cache=True)
def _encode(light, codes, result):  # type: ignore[no-untyped-def]
    steps = codes.size - 1
    for i in range(light.size):
        result[i] = codes[int(min(max(light[i], np.float32(0)), np.float32(1)) * steps + np.float32(0.5))]
