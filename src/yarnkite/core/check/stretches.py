"""Stretches in which a value leaves what it was, for one to twelve stills, and comes back; the ends of a shot
included."""

from dataclasses import dataclass

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from yarnkite.core.base.arrays import Flags, Floats, Positions
from yarnkite.core.base.robust import second_difference

LONGEST = 12
_SIDE, _FURTHER, _AROUND, _FAR = 4, 11, 14, 17
# The 35th of 100 absolute values of a normal distribution is this much smaller than its standard deviation.
_OF_NORMAL = 2.2
# At an end only one side says what is usual: there more is wanted.
_MORE_AT_ENDS = 1.7


@dataclass(frozen=True)
class StillRange:
    """Positions of the first and the last still that are off, and by how much, in the unit of the values."""

    first: int
    last: int
    off: float


def stretches(values: Floats, *, least: float, factor: float = 6.0, longest: int = LONGEST) -> list[StillRange]:
    """Return where values are off for one to ``longest`` stills, with sharp ends, and come back.

    Parameters
    ----------
    values : shape (n,), in any unit
    least : how far off they must be at least, in that unit
    factor : how many times as far as values around usually stray from the line between their neighbours

    Returns
    -------
    stretches that do not overlap, in order
    """
    count = len(values)
    if count < 3 * _SIDE:
        return []
    values = np.asarray(values, float)
    usual = _usual(second_difference(values))
    # Beside a stretch in which nothing happens it is not as calm as there.
    usual = np.maximum(usual, 0.6 * np.median(usual))
    found: list[tuple[float, StillRange]] = []
    for length in range(1, min(longest, count - 2 * _SIDE) + 1):
        for first, off, sure in _of_length(values, usual, length, least, factor):
            found.append((sure, StillRange(first, first + length - 1, off)))
    taken = np.zeros(count + 1, bool)
    result = []
    for _, one in sorted(found, key=lambda pair: -pair[0]):
        if not taken[max(0, one.first - 1) : one.last + 2].any():
            taken[one.first : one.last + 1] = True
            result.append(one)
    return sorted(result, key=lambda one: one.first)


def _usual(strays: Floats) -> Floats:
    """Return what values usually stray by, of a normal distribution, though more than half of them may be spoiled."""
    width = min(2 * _AROUND + 1, len(strays))
    low = np.percentile(sliding_window_view(np.abs(strays), width), 35, axis=1) * _OF_NORMAL
    return np.asarray(low[np.clip(np.arange(len(strays)) - width // 2, 0, len(low) - 1)])


def _of_length(
    values: Floats, usual: Floats, length: int, least: float, factor: float
) -> list[tuple[int, float, float]]:
    """Return the stretches of a length: where each begins, how far it is off, and how surely."""
    count = len(values)
    firsts = np.arange(count - length + 1)
    inside = sliding_window_view(values, length)
    before, after = _beside(values, firsts, length)
    has_before, has_after = np.isfinite(before), np.isfinite(after)
    # Beyond an end it would go on as it does on the other side.
    before, after = (
        np.where(has_before, before, after - _slopes(values, firsts + length) * (length + _SIDE)),
        np.where(has_after, after, before + _slopes(values, firsts - _FURTHER) * (length + _SIDE)),
    )
    # A day that grows dark is not off: between both sides lies a line.
    middles = (np.arange(length) + (_SIDE + 1) / 2) / (length + _SIDE)
    line = before[:, None] + (after - before)[:, None] * middles
    off = inside - line
    middle = np.median(off, axis=1)
    flat = np.min(off * np.sign(middle)[:, None], axis=1)
    starts = np.abs(values[firsts] - values[np.maximum(firsts - 1, 0)])
    ends = np.abs(values[np.minimum(firsts + length, count - 1)] - values[firsts + length - 1])
    at_end = ~has_before | ~has_after
    edge = np.minimum(np.where(has_before, starts, np.inf), np.where(has_after, ends, np.inf))
    wanted = np.maximum(least, factor * usual[firsts + length // 2]) * np.where(at_end, _MORE_AT_ENDS, 1.0)
    height = np.abs(middle)
    # What has too few stills before it to be held against them must begin with the first.
    whole = (has_before | (firsts == 0)) & (has_after | (firsts + length == count)) & (has_before | has_after)
    # Between two stretches that are off it looks as if the sound ones were: from farther away it is told apart.
    far = np.median(inside, axis=1) - _from_afar(values, firsts, length)
    fits = (
        whole
        & ~(far * np.sign(middle) < 0.5 * height)
        & (height > wanted)
        & (flat > 0.5 * height)
        & (edge > 0.5 * height)
        & (at_end | (np.abs(after - before) < 0.5 * height))
    )
    return [
        (int(first), float(middle[first]), float(height[first] / wanted[first] * length**0.25))
        for first in np.flatnonzero(fits)
    ]


def _beside(values: Floats, firsts: Positions, length: int) -> tuple[Floats, Floats]:
    """Return the medians of the stills before and after stretches, not a number where too few are there."""
    count = len(values)
    medians = np.median(sliding_window_view(values, _SIDE), axis=1)
    before, after = np.full(len(firsts), np.nan), np.full(len(firsts), np.nan)
    few = np.flatnonzero((firsts >= 2) & (firsts < _SIDE))
    for first in few.tolist():
        before[first] = np.median(values[:first])
        other = count - length - first
        after[other] = np.median(values[other + length :])
    enough = np.flatnonzero(firsts >= _SIDE)
    before[enough] = medians[enough - _SIDE]
    enough = np.flatnonzero(firsts + length <= count - _SIDE)
    after[enough] = medians[enough + length]
    return before, after


def _from_afar(values: Floats, firsts: Positions, length: int) -> Floats:
    """Return the mean of the medians of many stills before and after stretches, not a number where too few are
    there."""
    count, result = len(values), np.full(len(firsts), np.nan)
    if count < 2 * _FAR + length:
        return result
    medians = np.median(sliding_window_view(values, _FAR), axis=1)
    enough = np.flatnonzero((firsts >= _FAR) & (firsts + length <= count - _FAR))
    result[enough] = (medians[enough - _FAR] + medians[enough + length]) / 2
    return result


def _slopes(values: Floats, begins: Positions) -> Floats:
    """Return by how much values change from one to the next in the stretches that begin there, by the median."""
    changes = sliding_window_view(np.diff(values), min(_FURTHER - 1, len(values) - 1))
    return np.asarray(np.median(changes, axis=1)[np.clip(begins, 0, len(changes) - 1)])


def covered(found: list[StillRange], count: int) -> Flags:
    """Return which of so many stills lie in a stretch."""
    result = np.zeros(count, bool)
    for one in found:
        result[one.first : one.last + 1] = True
    return result
