"""Dirt: spots that stay at the same pixels while what is behind them moves, as dust on a sensor does."""

from collections.abc import Iterable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import EightBit

Floats = NDArray[np.float32]
# A spot is at least this much darker than what is around it, in stops, and this many times what that varies by.
_FAINTEST = 0.05
_BEYOND_CHANCE = 7.0
# Around a spot the scene must move: by this much from one still to another, in stops.
_LEAST_MOVING = 0.014
_SMALLEST_PX, _LARGEST_SHARE = 5, 0.02
_FEWEST = 12


@dataclass(frozen=True)
class Spot:
    """A spot of dirt: its middle in shares of the still's width and height, its width in shares of the still's."""

    x: float
    y: float
    width: float
    stops: float


def spots(images: Iterable[EightBit]) -> list[Spot]:
    """Return the spots of dirt seen in stills taken from all over a shot.

    What is told apart: scenery stands still together with what is around it, dirt alone does.

    Parameters
    ----------
    images : RGB, sRGB, uint8, all of one shape (height, width, 3)

    Returns
    -------
    the spots in shares of the picture, darkest first
    """
    seen = [_contrast(image) for image in images]
    if len(seen) < _FEWEST:
        return []
    # The median over time: what passes a place now and then does not count.
    stack = np.stack(seen)
    usual = np.asarray(np.median(stack, axis=0), np.float32)
    moves = np.asarray((np.percentile(stack, 84, axis=0) - np.percentile(stack, 16, axis=0)) / 2, np.float32)
    dark = usual < -_FAINTEST
    count, labels, stats, middles = cv2.connectedComponentsWithStats(dark.astype(np.uint8), connectivity=8)
    found = []
    for label in range(1, count):
        spot = _spot(usual, moves, np.asarray(labels, np.int32), label, stats[label], middles[label])
        if spot is not None:
            found.append(spot)
    return sorted(found, key=lambda one: one.stops)


def _contrast(image: EightBit) -> Floats:
    """Return how much each place is brighter than what is around it, in stops of the encoded values' light."""
    light = np.log2(np.maximum(cv2.cvtColor(image, cv2.COLOR_RGB2GRAY).astype(np.float32), 1.0)) * np.float32(2.2)
    fine = cv2.GaussianBlur(light, (0, 0), 1.0)
    return np.asarray(fine - cv2.GaussianBlur(light, (0, 0), image.shape[1] / 50), np.float32)


def _spot(
    usual: Floats,
    moves: Floats,
    labels: NDArray[np.int32],
    label: int,
    box: NDArray[np.int32],
    middle: NDArray[np.float64],
) -> Spot | None:
    left, top, width, height, area = (int(value) for value in box)
    tall, wide = usual.shape
    longest = max(width, height)
    if area < _SMALLEST_PX or longest > _LARGEST_SHARE * wide or area < 0.55 * np.pi / 4 * longest**2:
        return None
    reach = max(6, longest)
    rows, columns = slice(max(0, top - reach), top + height + reach), slice(max(0, left - reach), left + width + reach)
    inside = labels[rows, columns] == label
    near = cv2.dilate(inside.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    around = usual[rows, columns][~near]
    depth = float(usual[rows, columns][inside].min())
    strays = np.abs(around - np.median(around))
    alone = -depth > max(_BEYOND_CHANCE * (1.4826 * float(np.median(strays)) + 0.004), 2.5 * np.percentile(strays, 95))
    # Dirt takes the same share of the light always, whatever moves behind it.
    steady = float(np.median(moves[rows, columns][inside])) < -0.5 * depth
    if not alone or not steady or float(np.median(moves[rows, columns][~near])) < _LEAST_MOVING:
        return None
    return Spot(
        x=round(float(middle[0] + 0.5) / wide, 4),
        y=round(float(middle[1] + 0.5) / tall, 4),
        width=round(longest / wide, 4),
        stops=round(depth, 2),
    )
