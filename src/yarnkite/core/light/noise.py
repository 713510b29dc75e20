"""Noise: grain of brightness and of colour in one still, and what averages out over several.

In one still it is told from detail by its strength, which is measured (Immerkær 1996, by medians). Over time each pixel
is averaged with those of the stills before and after it, as far as they differ by no more than noise does: what moves
stays.
"""

from collections.abc import Sequence
from typing import Any

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
_WINDOW = 5
# Means of windows that differ by so many times what noise makes them differ are the same, or quite something else.
_SAME, _OTHER = 1.6, 3.0
# The power of a window is that of noise, or up to so many times more by chance.
_MOST_POWER, _POWER_SPREAD = 2.4, 0.9
# Never is so little taken for noise that the steps of 8 bits would count as movement.
_STEP = 0.2 / 255


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
    luma, red, blue = cv2.split(planes)
    if colour_noise:
        red, blue = (_calmed_colour(plane, colour_noise) for plane in (red, blue))
    if noise:
        shares = luma.astype(np.float32) * np.float32(1 / 65535)
        luma = _codes(_calmed(shares, _LUMA_REACH, _LUMA_TIMES * noise_of(shares), noise))
    return np.asarray(cv2.cvtColor(cv2.merge((luma, red, blue)), cv2.COLOR_YCrCb2RGB), np.uint16)


def _calmed_colour(plane: NDArray[Any], amount: float) -> NDArray[Any]:
    """Return a plane of colour without its noise, at half its size: a clip has no more of colour anyway."""
    height, width = plane.shape
    small = _halved(plane)
    calm = _calmed(small, _COLOUR_REACH, _COLOUR_TIMES * noise_of(small), 1.0)
    drawn = cv2.resize(_codes(calm), (width, height), interpolation=cv2.INTER_LINEAR)
    return np.asarray(cv2.addWeighted(plane, 1 - amount, drawn, amount, 0), np.uint16)


def _codes(shares: Plane) -> SixteenBit:
    return np.asarray(np.rint(np.clip(shares, 0, 1) * np.float32(65535)), np.uint16)


def _halved(plane: NDArray[Any]) -> Plane:
    """Return a plane, or a picture, as shares 0 … 1 at half its size."""
    size = max(1, plane.shape[1] // 2), max(1, plane.shape[0] // 2)
    return np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.float32) * np.float32(1 / 65535)


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
    luma = _half_luma(codes)
    strength = np.hypot(noise_of(luma), _STEP)
    total = codes.reshape(len(codes), -1).astype(np.float32)
    weights = np.ones(codes.shape[:2], np.float32)
    # A mean over a window of the difference of two noises is so much smaller than either.
    unit = np.float32(np.sqrt(2) * strength / _WINDOW)
    square = np.ones((3, 3), np.uint8)
    for other in others:
        other_codes = as_sixteen(other)
        difference = luma - _half_luma(other_codes)
        near, power = np.abs(_mean_around(difference)), _mean_around(difference * difference)
        same = cv2.erode(_sameness(near, power, unit, np.float32(2 * strength**2)), square)
        _gather(np.ascontiguousarray(other_codes).reshape(len(codes), -1), same, total, weights)
    result = np.empty(codes.shape, np.uint16)
    _mean(total, weights, result.reshape(len(codes), -1))
    return result


def _mean_around(plane: Plane) -> Plane:
    return np.asarray(cv2.blur(plane, (_WINDOW, _WINDOW), borderType=cv2.BORDER_REFLECT), np.float32)


def _half_luma(codes: SixteenBit) -> Plane:
    return np.asarray(cv2.cvtColor(_halved(codes), cv2.COLOR_RGB2GRAY), np.float32)


def _sameness(near: Plane, power: Plane, unit: np.float32, noise_power: np.float32) -> Plane:
    """Return how sure it is, 0 … 1, that two stills show the same: by the mean of a window and by its power.

    Either says that something came or went there.
    """
    by_mean = (_OTHER - near / unit) / np.float32(_OTHER - _SAME)
    by_power = (np.float32(_MOST_POWER) - power / noise_power) / np.float32(_POWER_SPREAD)
    return np.asarray(np.clip(np.minimum(by_mean, by_power), 0, 1), np.float32)


@njit(nogil=True, cache=True, fastmath=True)
def _gather(other, same, total, weights):  # type: ignore[no-untyped-def]
    last_row, last_column = same.shape[0] - 1, same.shape[1] - 1
    height, width = weights.shape
    for y in range(height):
        own, row, sums = same[min(y // 2, last_row)], other[y], total[y]
        for x in range(width):
            weight = own[min(x // 2, last_column)]
            weights[y, x] += weight
            p = np.uintp(3 * x)
            for channel in range(3):
                q = p + np.uintp(channel)
                sums[q] += weight * row[q]


@njit(nogil=True, cache=True, fastmath=True)
def _mean(total, weights, result):  # type: ignore[no-untyped-def]
    half, one = np.float32(0.5), np.float32(1)
    height, width = weights.shape
    for y in range(height):
        row, written = total[y], result[y]
        for x in range(width):
            factor = one / weights[y, x]
            p = np.uintp(3 * x)
            for channel in range(3):
                q = p + np.uintp(channel)
                written[q] = np.uint16(np.int32(row[q] * factor + half))
