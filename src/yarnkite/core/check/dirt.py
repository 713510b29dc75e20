"""Dirt: spots that stay at the same pixels while what is behind them moves, as dust on a sensor does."""

from collections.abc import Iterable
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import EightBit

Floats = NDArray[np.float32]
_FEWEST = 12
# Spots are looked for at these sizes, the standard deviation of a soft one, in shares of the width.
_SIZES = (0.0022, 0.0034, 0.0052, 0.008)
_CANDIDATES = 120
# A spot is darker than what is around it by so much, in stops, and no more, and by so many times what places around it
# are.
_FAINTEST, _DARKEST, _BEYOND_CHANCE = 0.035, 0.75, 7.0
_SEEN_THROUGH = 2.5
# Around a spot the scene must move: by this much from one still to another at the spot's size, in stops.
_LEAST_MOVING, _LEAST_SWAYING, _ALONE, _BEYOND_CHANCE_ALONE = 0.012, 0.05, 5.0, 8.0
# A spot is so dark in nearly all stills, and in either half of them, in shares of its usual depth.
_ALWAYS, _HALVES_ALIKE = 0.5, 0.5
# The middle of a soft spot is this much darker than the mean of its core less the ring around it.
_OF_CORE = 1.35
# Darker than this, steps of 8 bits are coarser than dirt is faint, and they and grain pass for movement.
_LEAST_LIGHT, _BLOWN = -5.5, -0.04


@dataclass(frozen=True)
class Spot:
    """A spot of dirt: its middle in shares of the still's width and height, its width in shares of the still's."""

    x: float
    y: float
    width: float
    stops: float


def spots(images: Iterable[EightBit]) -> list[Spot]:
    """Return the spots of dirt seen in stills taken from all over a shot.

    What is told apart: scenery stands still together with what is around it, dirt alone does. Spots are minima of
    differences of Gaussians over place and size (Lindeberg 1998), each held against the places around it.

    Parameters
    ----------
    images : RGB, sRGB, uint8, all of one shape (height, width, 3)

    Returns
    -------
    the spots in shares of the picture, darkest first
    """
    seen = [_light(image) for image in images]
    if len(seen) < _FEWEST:
        return []
    stack = np.stack(seen)
    # The median over time: what passes a place now and then does not count.
    levels = np.asarray(np.median(stack[:, ::4, ::4], axis=(1, 2)), np.float32)
    stack -= levels[:, None, None]
    found: list[tuple[float, Spot]] = []
    usual = np.asarray(np.median(stack, axis=0), np.float32)
    for row, column, size in _candidates(usual):
        judged = _judged(stack, levels, usual, row, column, size)
        found += [judged] if judged is not None else []
    result: list[Spot] = []
    for _, spot in sorted(found, key=lambda pair: -pair[0]):
        if all(np.hypot(spot.x - one.x, spot.y - one.y) > max(spot.width, one.width) for one in result):
            result.append(spot)
    return sorted(result, key=lambda one: one.stops)


def _light(image: EightBit) -> Floats:
    """Return the light of a still in stops, of the encoded values', without the finest grain."""
    light = np.log2(np.maximum(cv2.cvtColor(image, cv2.COLOR_RGB2GRAY).astype(np.float32), 1.0) / 255) * np.float32(2.2)
    return np.asarray(cv2.GaussianBlur(light, (0, 0), 1.0), np.float32)


def _candidates(usual: Floats) -> list[tuple[int, int, float]]:
    """Return dark places that stand out: row, column and size in pixels."""
    found = []
    height, width = usual.shape
    for share in _SIZES:
        size = share * width
        blob = cv2.GaussianBlur(usual, (0, 0), size) - cv2.GaussianBlur(usual, (0, 0), 2 * size)
        lowest = (blob == cv2.erode(blob, np.ones((5, 5), np.uint8))) & (blob < -_FAINTEST / 3)
        # A spot that touches the border cannot be told from what lies beyond it.
        margin = int(4 * size) + 1
        rows, columns = np.nonzero(lowest[margin : height - margin, margin : width - margin])
        near = cv2.GaussianBlur(np.abs(blob), (0, 0), 6 * size)
        for row, column in zip(rows + margin, columns + margin, strict=True):
            found.append((float(blob[row, column] / (near[row, column] + 0.002)), int(row), int(column), size))
    return [(row, column, size) for _, row, column, size in sorted(found)[:_CANDIDATES]]


def _judged(
    stack: Floats, levels: Floats, usual: Floats, row: int, column: int, size: float
) -> tuple[float, Spot] | None:
    """Return how sure a place is to be dirt, and the spot; nothing if it is none."""
    places = _around(row, column, size, usual.shape)
    if len(places) < 12:
        return None
    rough = _standing_out(_depths(usual[None], row, column, size), [_depths(usual[None], *at, size) for at in places])
    if rough.depth > -_FAINTEST / 2 or rough.beyond < _BEYOND_CHANCE / 2 or -rough.depth < rough.most:
        return None
    # What is blown out hides it, and so do the steps of 8 bits in the dark.
    light = stack[:, row, column] + levels
    seen = (light < _BLOWN) & (light > _LEAST_LIGHT)
    if seen.sum() < _FEWEST:
        return None
    reach = round(15 * size)
    top, left = max(0, row - reach), max(0, column - reach)
    x, y = (column + 0.5) / usual.shape[1], (row + 0.5) / usual.shape[0]
    stack = stack[:, top : row + reach, left : column + reach][seen]
    row, column, places = row - top, column - left, [(one - top, other - left) for one, other in places]
    depths, around = _depths(stack, row, column, size), [_depths(stack, *at, size) for at in places]
    found = _standing_out(depths, around)
    depth, beyond, most = found.depth, found.beyond, found.most
    if not -_DARKEST < depth < -_FAINTEST or beyond < _BEYOND_CHANCE or -depth < 2 * most:
        return None
    moves = float(np.median([_spread(one) for one in around]))
    # Dirt takes the same share of the light always, whatever moves behind it.
    halves = [float(np.median(half)) for half in np.array_split(depths, 2)]
    if np.percentile(depths, 85) > _ALWAYS * depth + 0.3 * moves or abs(halves[0] - halves[1]) > -_HALVES_ALIKE * depth:
        return None
    # A veil that thins lets a part of the scenery through more and less; dirt is the same behind it.
    if _spread(depths) > 1.3 * moves - 0.1 * depth:
        return None
    # Behind it something moves: at its own size, more than what stands there is uneven, or as a whole, where nothing
    # stands but it. Else it is a part of the scenery. What moves is seen through it, too.
    sways = float(np.median([_sway(stack, *at, size) for at in places[::2]]))
    is_passed = moves > max(_LEAST_MOVING, most)
    is_alone = sways > _LEAST_SWAYING and -depth > _ALONE * most and beyond > _BEYOND_CHANCE_ALONE
    if not (is_passed or is_alone) or not 1 / _SEEN_THROUGH < _sway(stack, row, column, size) / sways < _SEEN_THROUGH:
        return None
    width = 3 * size / usual.shape[1]
    return beyond, Spot(x=round(x, 4), y=round(y, 4), width=round(width, 4), stops=round(depth * _OF_CORE, 2))


@dataclass(frozen=True)
class _StandingOut:
    """How dark a place is in stops, how many times what those around it stray by, and how far most of them do."""

    depth: float
    beyond: float
    most: float


def _standing_out(depths: Floats, around: list[Floats]) -> _StandingOut:
    depth = float(np.median(depths))
    others = np.array([np.median(one) for one in around])
    middle = float(np.median(others))
    strays = np.abs(others - middle)
    beyond = (middle - depth) / (1.4826 * float(np.median(strays)) + 0.004)
    return _StandingOut(depth, beyond, float(np.percentile(strays, 90)))


def _around(row: int, column: int, size: float, shape: tuple[int, int]) -> list[tuple[int, int]]:
    """Return places around another, by turns near and far, those that lie well within the picture."""
    margin = 4 * size
    every = [
        (row + round(reach * size * np.sin(angle)), column + round(reach * size * np.cos(angle)))
        for angle in np.linspace(0, 2 * np.pi, 12, endpoint=False)
        for reach in (6, 10, 7)
    ]
    return [at for at in every if margin < at[0] < shape[0] - margin and margin < at[1] < shape[1] - margin]


def _spread(values: Floats) -> float:
    return float(np.percentile(values, 84) - np.percentile(values, 16)) / 2


def _sway(stack: Floats, row: int, column: int, size: float) -> float:
    """Return how much the light of a place changes from still to still, against the whole view, in stops."""
    reach = max(1, round(size))
    core = stack[:, row - reach : row + reach + 1, column - reach : column + reach + 1].mean(axis=(1, 2))
    return _spread(core)


def _depths(stack: Floats, row: int, column: int, size: float) -> Floats:
    """Return for each still how much darker a core of a size is than a ring around it, in stops; dark is negative."""
    reach = int(np.ceil(3.6 * size))
    top, left = max(0, row - reach), max(0, column - reach)
    patch = stack[:, top : row + reach + 1, left : column + reach + 1]
    down, across = np.ogrid[top : top + patch.shape[1], left : left + patch.shape[2]]
    away = np.hypot(down - row, across - column)
    core, ring = away <= 1.1 * size, (away >= 2.4 * size) & (away <= 3.6 * size)
    return np.asarray(patch[:, core].mean(axis=1) - patch[:, ring].mean(axis=1), np.float32)
