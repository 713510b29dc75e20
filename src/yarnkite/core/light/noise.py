"""Noise: grain of brightness and of colour in one still, and what averages out over several.

In one still it is told from detail by its strength, which is measured (Immerkær 1996, by medians). Over time each pixel is
averaged with those of the stills before and after it, as far as they differ by no more than noise does: what moves stays.
"""

from collections.abc import Sequence

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray, SixteenBit, as_sixteen

Plane = NDArray[np.float32]

_LUMA_REACH = 2
_COLOUR_REACH = 3
# How many times the measured noise counts as noise where all of it shall go.
_LUMA_TIMES, _COLOUR_TIMES = 1.5, 3.0
_LEAST_NOISE = 0.35 / 255
_OF_NORMAL = 0.6745
_MEASURED_ROWS = 3
_WINDOW = 7
# Means of windows that differ by so many times what noise makes them differ are the same, or quite something else.
_SAME, _OTHER = 1.6, 3.0
# Never is so little taken for noise that the steps of 8 bits would count as movement.
_STEP = 0.4 / 255


def noise_of(luma: Plane) -> float:
    """Return how strong the noise of a picture is: its standard deviation, in shares of white.

    By the median of what a mask that leaves planes alone gives (Immerkær 1996): fine detail is in the fewest places.
    """
    mask = np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32)
    found = np.abs(cv2.filter2D(luma[:: _MEASURED_ROWS * 4], cv2.CV_32F, mask)) if luma.shape[0] < 64 else None
    if found is None:
        bands = [luma[top : top + 16] for top in range(0, luma.shape[0] - 16, 16 * _MEASURED_ROWS)]
        found = np.concatenate([np.abs(cv2.filter2D(band, cv2.CV_32F, mask))[2:-2].reshape(-1) for band in bands])
    return max(float(np.median(found)) / _OF_NORMAL / 6, _LEAST_NOISE)


def denoised(image: ImageArray, noise: float, colour_noise: float) -> ImageArray:
    """Return a picture with less grain of brightness and of colour.

    Parameters
    ----------
    image : RGB, sRGB, shape (height, width, 3), uint8 or uint16
    noise, colour_noise : 0 … 1, how much of each goes

    Returns
    -------
    the picture itself where nothing goes, else the same shape, uint16
    """
    if not noise and not colour_noise:
        return image
    planes = cv2.cvtColor(as_sixteen(image), cv2.COLOR_RGB2YCrCb)
    luma, red, blue = (plane.astype(np.float32) * np.float32(1 / 65535) for plane in cv2.split(planes))
    if colour_noise:
        red, blue = (
            _calmed(plane, _COLOUR_REACH, _COLOUR_TIMES * noise_of(plane), colour_noise) for plane in (red, blue)
        )
    if noise:
        luma = _calmed(luma, _LUMA_REACH, _LUMA_TIMES * noise_of(luma), noise)
    codes = [np.rint(np.clip(plane, 0, 1) * 65535).astype(np.uint16) for plane in (luma, red, blue)]
    return np.asarray(cv2.cvtColor(cv2.merge(codes), cv2.COLOR_YCrCb2RGB), np.uint16)


def _calmed(plane: Plane, reach: int, noise: float, amount: float) -> Plane:
    """Return a plane, so far as ``amount`` says, smooth wherever it varies by no more than noise (guided filter)."""
    side = (2 * reach + 1, 2 * reach + 1)
    mean = cv2.blur(plane, side)
    variance = np.maximum(cv2.blur(plane * plane, side) - mean * mean, np.float32(0))
    share = variance / (variance + np.float32(noise**2))
    smooth = cv2.blur(share, side) * plane + cv2.blur(mean - share * mean, side)
    return np.asarray(plane + np.float32(amount) * (smooth - plane), np.float32)


def over_time(image: ImageArray, others: Sequence[ImageArray]) -> SixteenBit:
    """Return a picture averaged with those before and after it, wherever they show the same but for noise.

    Parameters
    ----------
    image : RGB, sRGB, shape (height, width, 3), uint8 or uint16
    others : of the same shape

    Returns
    -------
    uint16, the same shape
    """
    codes = as_sixteen(image)
    luma = _luma(codes)
    strength = np.hypot(noise_of(luma), _STEP)
    total = codes.astype(np.float32)
    weights = np.ones(luma.shape, np.float32)
    # A mean over a window of the difference of two noises is so much smaller than either.
    unit = np.float32(np.sqrt(2) * strength / _WINDOW)
    for other in others:
        other_codes = as_sixteen(other)
        difference = luma - _luma(other_codes)
        near = np.abs(cv2.blur(difference, (_WINDOW, _WINDOW), borderType=cv2.BORDER_REFLECT))
        power = cv2.blur(difference * difference, (_WINDOW, _WINDOW), borderType=cv2.BORDER_REFLECT)
        _gather(other_codes, near, power, unit, np.float32(2 * strength**2), total, weights)
    result = np.empty_like(codes)
    _mean(total, weights, result)
    return result


def _luma(codes: SixteenBit) -> Plane:
    return np.asarray(cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY), np.float32) * np.float32(1 / 65535)


_SAME_TIMES, _OTHER_TIMES = np.float32(_SAME), np.float32(_OTHER)


@njit(nogil=True, cache=True, fastmath=True)
def _gather(other, near, power, unit, noise_power, total, weights):  # type: ignore[no-untyped-def]
    one, zero = np.float32(1), np.float32(0)
    spread = _OTHER_TIMES - _SAME_TIMES
    for y in range(other.shape[0]):
        for x in range(other.shape[1]):
            # Both the mean of a window and its spread say whether something came or went there.
            by_mean = (_OTHER_TIMES - near[y, x] / unit) / spread
            by_power = (np.float32(2.6) - power[y, x] / noise_power) / np.float32(0.9)
            weight = min(min(by_mean, by_power), one)
            if weight > zero:
                weights[y, x] += weight
                for channel in range(3):
                    total[y, x, channel] += weight * np.float32(other[y, x, channel])


@njit(nogil=True, cache=True, fastmath=True)
def _mean(total, weights, result):  # type: ignore[no-untyped-def]
    half = np.float32(0.5)
    for y in range(total.shape[0]):
        for x in range(total.shape[1]):
            factor = np.float32(1) / weights[y, x]
            for channel in range(3):
                result[y, x, channel] = np.uint16(total[y, x, channel] * factor + half)
