"""The light of the scene on its way to a picture: linear, of a wide gamut, with what is brighter than white.

A raw still is drawn in it. It is laid on the frame and its light is set first; what is brighter than white rolls off
and what lies outside sRGB is led to its edge only then, once (``gamut``).
"""

from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.camera_colour import Scene
from yarnkite.core.image.gamut import led_in
from yarnkite.core.image.high_range import BT2020_TO_SRGB
from yarnkite.core.image.pixels import Pixels, SixteenBit, as_sixteen
from yarnkite.core.image.srgb import to_codes

# Samples are roots of light, so that steps are alike to the eye from black on: the largest is this light.
BRIGHTEST = 4.0
# By how much the base curve raises mid greys: a sensor leaves room for highlights.
RAISED = 2 ** (2 / 3)
_FROM_SRGB = np.linalg.inv(BT2020_TO_SRGB)
_LARGEST = 65535
LIGHT: NDArray[np.float32] = np.asarray((np.arange(_LARGEST + 1) / _LARGEST) ** 2 * BRIGHTEST, np.float32)


def scene_codes(light: NDArray[np.float32]) -> SixteenBit:
    """Return linear light as samples of the light of the scene; what lies outside is cut off."""
    return np.asarray(np.rint(np.sqrt(np.clip(light, 0, BRIGHTEST) / BRIGHTEST) * _LARGEST), np.uint16)


def scene_of(pixels: Pixels) -> Pixels:
    """Return camera colour as the light of the scene: balanced, and led through the camera's matrix.

    Where the sensor clipped a colour it is made up from those that did not clip, so that bright clouds keep their shape
    and do not turn pink.

    Parameters
    ----------
    pixels : uint16 camera colour; others are returned as they are

    Returns
    -------
    Pixels with ``scene``; uint16, roots of light against ``BRIGHTEST``, of BT.2020's primaries, the same shape
    """
    if pixels.camera is None:
        return pixels
    balance = np.array(pixels.camera.balance, np.float32)
    # Where each colour clips, in shares of what is white in every one of them.
    clips = (balance / balance.min()).astype(np.float32)
    matrix = (_FROM_SRGB @ np.array(pixels.camera.matrix)).astype(np.float32)
    array = np.ascontiguousarray(as_sixteen(pixels.array))
    result: SixteenBit = np.empty_like(array)
    _see(array.reshape(-1, 3), np.float32(1 / (_LARGEST * balance.min())), clips, matrix, result.reshape(-1, 3))
    return Pixels(result, pixels.reduction, scene=Scene(min(float(clips.max()), BRIGHTEST), pixels.camera.matrix))


def developed(pixels: Pixels) -> Pixels:
    """Return pixels as sRGB; camera colour, or light of the scene, gets the base curve and nothing else.

    Returns
    -------
    Pixels of neither, the same shape
    """
    seen = scene_of(pixels)
    if seen.scene is None:
        return pixels
    array = np.ascontiguousarray(seen.array)
    result: SixteenBit = np.empty_like(array)
    _show(array.reshape(-1, 3), LIGHT, BT2020_TO_SRGB.astype(np.float32), _base_codes(), result.reshape(-1, 3))
    return Pixels(result, pixels.reduction)


def base_curve(light: Floats) -> NDArray[np.float64]:
    """Return the light that is shown for a sensor's light, 1 where its least sensitive colour clips.

    A sensor leaves room for highlights that a camera's own pictures do not show: mid greys are raised by two thirds of
    a stop, what is brighter rolls off towards white, which is reached four times beyond 1.
    """
    raised = np.asarray(light, float) * RAISED
    over = np.maximum(raised - _KNEE, 0) / (1 - _KNEE)
    most = (BRIGHTEST * RAISED - _KNEE) / (1 - _KNEE)
    rolled = _KNEE + (1 - _KNEE) * (1 - np.exp(-over)) / (1 - np.exp(-most))
    return np.asarray(np.where(raised <= _KNEE, raised, np.minimum(rolled, 1.0)), np.float64)


def light_before(shown: Floats) -> NDArray[np.float64]:
    """Return the light of the scene that the base curve shows as ``shown``, linear, 0 … 1."""
    roots = np.linspace(0, BRIGHTEST**0.5, 4096)
    return np.asarray(np.interp(shown, base_curve(roots**2), roots**2), np.float64)


_KNEE = 0.35
_STEPS = 16384


@lru_cache(maxsize=1)
def _base_codes() -> SixteenBit:
    """Return the code of the base curve for each root of light, ``_STEPS`` up to 1."""
    roots = np.arange(int(BRIGHTEST**0.5) * _STEPS + 1) / _STEPS
    return np.asarray(np.rint(to_codes(base_curve(roots**2)) * _LARGEST), np.uint16)


@njit(nogil=True, cache=True, fastmath=True)
def _see(camera, unit, clips, matrix, result):  # type: ignore[no-untyped-def]
    one, black, half = np.float32(1), np.float32(0), np.float32(0.5)
    brightest, largest = np.float32(BRIGHTEST), np.float32(_LARGEST)
    near = np.float32(0.93)
    colours = np.empty(3, np.float32)
    shares = np.empty(3, np.float32)
    for i in range(camera.shape[0]):
        clipped = black
        for channel in range(3):
            colours[channel] = np.float32(camera[i, channel]) * unit
            # How far a colour has come into the last few hundredths before the sensor clips it.
            share = (colours[channel] / clips[channel] - near) / (np.float32(0.99) - near)
            shares[channel] = min(max(share, black), one)
            clipped = max(clipped, shares[channel])
        if clipped > black:
            weight, total, most = black, black, max(colours[0], colours[1], colours[2])
            for channel in range(3):
                sound = one - shares[channel]
                weight += sound
                total += sound * colours[channel]
            # Of colours that all clipped nothing is known but that they are at least so bright: white.
            known = min(weight, one)
            wanted = known * (total / max(weight, np.float32(1e-6))) + (one - known) * most
            for channel in range(3):
                colours[channel] += shares[channel] * (max(wanted, colours[channel]) - colours[channel])
        for channel in range(3):
            value = matrix[channel, 0] * colours[0] + matrix[channel, 1] * colours[1] + matrix[channel, 2] * colours[2]
            root = np.sqrt(min(max(value, black), brightest) / brightest)
            result[i, channel] = np.uint16(root * largest + half)


@njit(nogil=True, cache=True, fastmath=True)
def _show(scene, light, matrix, base, result):  # type: ignore[no-untyped-def]
    black, half, steps = np.float32(0), np.float32(0.5), np.float32(_STEPS)
    brightest = np.float32(BRIGHTEST)
    for i in range(scene.shape[0]):
        red, green, blue = light[scene[i, 0]], light[scene[i, 1]], light[scene[i, 2]]
        shown = led_in(matrix, red, green, blue)
        for channel in range(3):
            root = np.sqrt(min(max(shown[channel], black), brightest)) * steps + half
            result[i, channel] = base[np.int64(root)]
