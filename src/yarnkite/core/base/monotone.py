"""Monotone courses: from one given value to the next smoothly, and never beyond them (Fritsch and Carlson 1980)."""

from collections.abc import Sequence

import numpy as np

from yarnkite.core.base.arrays import Floats


def monotone(
    places: Sequence[float], values: Sequence[float], at: Floats, *, level_ends: bool = True, jump: float = 0.0
) -> Floats:
    """Return values between given ones by a cubic that never goes beyond them (Fritsch and Carlson 1980).

    Parameters
    ----------
    places : where the values are, rising
    values : one for each
    at : where values are wanted
    level_ends : whether the first and the last value are left and reached levelly, or on the way of those beside them
    jump : places no farther apart than this are a jump: what lies before and after it knows nothing of it

    Returns
    -------
    shape as ``at``; outside, the nearest value
    """
    x, y = np.asarray(places, float), np.asarray(values, float)
    if len(x) == 1:
        return np.full(np.shape(at), y[0])
    widths = np.diff(x)
    slopes = np.diff(y) / widths
    tangents = _tangents(widths, slopes, level_ends=level_ends)
    jumps = np.flatnonzero(widths <= jump)
    tangents[jumps] = tangents[jumps + 1] = 0.0
    within = np.clip(np.asarray(at, float), x[0], x[-1])
    piece = np.clip(np.searchsorted(x, within, side="right") - 1, 0, len(widths) - 1)
    width, share = widths[piece], (within - x[piece]) / widths[piece]
    return np.asarray(
        (2 * share**3 - 3 * share**2 + 1) * y[piece]
        + (share**3 - 2 * share**2 + share) * width * tangents[piece]
        + (3 * share**2 - 2 * share**3) * y[piece + 1]
        + (share**3 - share**2) * width * tangents[piece + 1]
    )


def _tangents(widths: Floats, slopes: Floats, *, level_ends: bool) -> Floats:
    """Return the slope at each place: level where values turn, elsewhere the harmonic mean of those beside it."""
    tangents = np.zeros(len(slopes) + 1)
    if len(slopes) == 1 and not level_ends:
        return np.asarray(tangents + slopes[0])
    before, after = slopes[:-1], slopes[1:]
    same = before * after > 0
    one, two = 2 * widths[1:] + widths[:-1], widths[1:] + 2 * widths[:-1]
    with np.errstate(divide="ignore", invalid="ignore"):
        tangents[1:-1] = np.where(same, (one + two) / (one / before + two / after), 0.0)
    if not level_ends and len(slopes) > 1:
        tangents[0] = _end(widths[0], widths[1], slopes[0], slopes[1])
        tangents[-1] = _end(widths[-1], widths[-2], slopes[-1], slopes[-2])
    return tangents


def _end(width: float, next_width: float, slope: float, next_slope: float) -> float:
    """Return the slope at an end by the parabola through it and the two places beside, as far as none turns back."""
    found = ((2 * width + next_width) * slope - width * next_slope) / (width + next_width)
    return float(np.clip(found, 0, 3 * slope) if slope >= 0 else np.clip(found, 3 * slope, 0))
