"""The picture of a frame: the one way pixels of a clip are made, at any size."""

from collections.abc import Callable
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.bridge import bridged
from yarnkite.core.fit import Placement, Rect, place
from yarnkite.core.pace import Schedule
from yarnkite.core.recipe import Bridge, Fit, Picture, Recipe, Size, Still
from yarnkite.core.resample import resample, taps
from yarnkite.core.stills import Pixels, read_still

ImageArray = NDArray[np.uint8]
Read = Callable[[Still, Fraction], Pixels]


def picture(recipe: Recipe, frame: int, size: Size | None = None, *, read: Read = read_still) -> ImageArray:
    """Return frame ``frame`` (from 0) as RGB, shape (height, width, 3), uint8.

    ``size`` is the wanted size, by default the recipe's own; another size shows the same picture on another grid.
    ``read`` fetches a still's pixels at a given reduction or finer. Raises ``UnreadableStill`` if the still cannot
    be read, ``IndexError`` outside the clip.
    """
    still = recipe.stills[Schedule(len(recipe.stills), recipe.decisions.pace).still_at(frame)]
    return fitted(still, recipe.decisions.fit, size or recipe.decisions.fit.size, read=read)


def fitted(still: Picture, fit: Fit, size: Size, *, read: Read = read_still) -> ImageArray:
    """Return one still, or the picture between two, fitted, on a grid of ``size`` pixels; see ``picture``."""
    if isinstance(still, Bridge):
        before, after = (fitted(one, fit, size, read=read) for one in (still.before, still.after))
        return bridged(before, after, float(still.share), still.how)
    placement = place(still.width, still.height, fit)
    across, down = Fraction(size.width, fit.size.width), Fraction(size.height, fit.size.height)
    on_grid = Placement(placement.source, placement.target.scaled(across, down))
    wanted = min(on_grid.source.width / on_grid.target.width, on_grid.source.height / on_grid.target.height)
    pixels = read(still, wanted)
    source = on_grid.source.scaled(Fraction(1, pixels.reduction), Fraction(1, pixels.reduction))
    return _drawn(pixels.array, source, on_grid.target, size)


def _drawn(array: ImageArray, source: Rect, target: Rect, size: Size) -> ImageArray:
    left, right, across = _grid(target.left, target.right)
    top, bottom, down = _grid(target.top, target.bottom)
    rows = _axis(source.top, source.height, target.top, target.height, top, bottom, array.shape[0])
    columns = _axis(source.left, source.width, target.left, target.width, left, right, array.shape[1])
    inner = resample(array, taps(*rows), taps(*columns))
    if (left, top, right, bottom) == (0, 0, size.width, size.height) and across is None and down is None:
        return inner
    if across is not None or down is not None:
        share_down = np.ones(bottom - top) if down is None else down
        share_across = np.ones(right - left) if across is None else across
        inner = np.rint(inner * share_down[:, None, None] * share_across[None, :, None]).astype(np.uint8)
    frame = np.zeros((size.height, size.width, 3), np.uint8)
    frame[top:bottom, left:right] = inner
    return frame


def _grid(low: Fraction, high: Fraction) -> tuple[int, int, NDArray[np.float64] | None]:
    """Return the whole pixels a range touches, and how much of each it covers unless that is all of each."""
    first, last = low.__floor__(), high.__ceil__()
    if first == low and last == high:
        return first, last, None
    pixel = np.arange(first, last)
    covered = np.minimum(float(high), pixel + 1) - np.maximum(float(low), pixel)
    return first, last, np.clip(covered, 0, 1)


def _axis(
    source: Fraction,
    source_length: Fraction,
    target: Fraction,
    target_length: Fraction,
    first: int,
    last: int,
    count: int,
) -> tuple[Fraction, Fraction, int, int]:
    """Return the arguments of ``taps`` for the whole pixels ``first … last`` around a target range."""
    step = source_length / target_length
    return source + (first - target) * step, (last - first) * step, count, last - first
