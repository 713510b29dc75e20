"""Textures and tones the painted scenes are made of; everything follows from a seed."""

from collections.abc import Sequence
from typing import Any

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray

Plane = NDArray[Any]
Colour = tuple[float, ...]


def clouds(height: int, width: int, *, seed: int, octaves: int = 5, stretch: float = 1.0) -> Plane:
    """Return fractal noise 0…1, shape (height, width), that joins left to right; ``stretch`` widens its features."""
    random = np.random.default_rng(seed)
    total = np.zeros((height, width), np.float32)
    amplitude, weight = 1.0, 0.0
    for octave in range(octaves):
        columns = max(2, round(4 * 2**octave / stretch))
        rows = max(2, round(4 * 2**octave * height / width))
        coarse = random.random((rows + 3, columns)).astype(np.float32)
        coarse = np.concatenate([coarse[:, -2:], coarse, coarse[:, :3]], axis=1)
        step = width / columns
        fine = cv2.resize(coarse, (round(step * coarse.shape[1]), height + 8), interpolation=cv2.INTER_CUBIC)
        first = round(step * 2)
        total += amplitude * fine[4 : 4 + height, first : first + width]
        weight += amplitude
        amplitude *= 0.5
    total /= weight
    low, high = np.percentile(total, [1, 99])
    return np.asarray(np.clip((total - low) / (high - low), 0, 1), np.float32)


def grain(height: int, width: int, *, seed: int, strength: float) -> Plane:
    """Return fine noise around 0, shape (height, width, 1), as a sensor gives."""
    noise = np.random.default_rng(seed).normal(0, strength, (height, width, 1))
    return noise.astype(np.float32)


def smooth_step(value: Plane | float, low: float, high: float) -> Plane:
    """Return 0 below ``low``, 1 above ``high``, and a smooth rise between."""
    share = np.clip((np.asarray(value, np.float32) - low) / (high - low), 0, 1)
    return np.asarray(share * share * (3 - 2 * share), np.float32)


def ramp(value: float, stops: Sequence[tuple[float, Colour]]) -> Plane:
    """Return the colour at ``value`` on a ramp of (position, colour) stops in rising order."""
    positions = [position for position, _ in stops]
    colours = np.array([colour for _, colour in stops], np.float32)
    return np.array([np.interp(value, positions, colours[:, channel]) for channel in range(3)], np.float32)


def polygon(shape: tuple[int, int], points: Sequence[tuple[float, float]]) -> Plane:
    """Return the coverage 0…1 of a polygon given in pixels, edges smoothed."""
    mask = np.zeros(shape, np.uint8)
    fill(mask, points, (255,))
    return mask.astype(np.float32) / 255


def fill(image: NDArray[Any], points: Sequence[tuple[float, float]], colour: Sequence[float] | Plane) -> None:
    """Draw a smooth-edged polygon, points in pixels with fractions, into an image."""
    fixed = np.round(np.array(points) * 16).astype(np.int32)
    cv2.fillPoly(image, [fixed], tuple(float(c) for c in colour), cv2.LINE_AA, 4)


def glow(image: Plane, x: float, y: float, radius: float, colour: Plane, power: float) -> None:
    """Add a lamp's glow around a point to a float image 0…255, in place."""
    reach = int(radius * 4)
    top, bottom = max(0, int(y) - reach), min(image.shape[0], int(y) + reach)
    left, right = max(0, int(x) - reach), min(image.shape[1], int(x) + reach)
    if top >= bottom or left >= right:
        return
    down, across = np.ogrid[top:bottom, left:right]
    distance = (across - x) ** 2 + (down - y) ** 2
    halo = np.exp(-distance / (2 * radius**2)) * 0.35 + np.exp(-distance / (2 * (radius / 5) ** 2))
    image[top:bottom, left:right] += (power * halo)[:, :, None].astype(np.float32) * colour


def developed(picture: Plane, noise: Plane, shift: int, strength: float) -> ImageArray:
    """Add a sensor's grain, moved aside by ``shift`` so that no two stills share it, and round to 8 bit."""
    return np.asarray(_developed(picture, noise, shift, np.float32(strength)), np.uint8)


@njit(cache=True)
def _developed(picture, noise, shift, strength):  # type: ignore[no-untyped-def]
    height, width = picture.shape[:2]
    result = np.empty((height, width, 3), np.uint8)
    for y in range(height):
        source = shift % width
        for x in range(width):
            added = noise[y, source, 0] * strength
            source += 1
            if source == width:
                source = 0
            for c in range(3):
                result[y, x, c] = np.uint8(min(max(picture[y, x, c] + added, 0.0), 255.0))
    return result
