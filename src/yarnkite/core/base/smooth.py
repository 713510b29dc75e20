"""Smooth courses along a shot: the Whittaker smoother (Eilers 2003)."""

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats

# By third differences a parabola is smooth; for long periods, where they would lose all digits, a line is, by second.
_BINOMIALS = {2: np.array([1.0, -2.0, 1.0]), 3: np.array([1.0, -3.0, 3.0, -1.0])}
_LONG = 180.0
_SHORTEST, _LONGEST = 4.0, 3000.0


def smoothed(values: Floats, period: float, weights: Floats | None = None) -> Floats:
    """Return the smooth course of values.

    Parameters
    ----------
    values : shape (n,) or (n, k): k courses at once
    period : in values; ups and downs as long as this are halved, shorter ones vanish, longer ones stay
    weights : how much each value counts, 0 or more, shape (n,); by default all alike

    Returns
    -------
    shape as ``values``; values fewer than four as they are
    """
    given = np.asarray(values, float)
    count = len(given)
    order = _order(period)
    if count <= order:
        return given.copy()
    counted = np.ones(count) if weights is None else np.asarray(weights, float)
    columns = np.ascontiguousarray(given.reshape(count, -1) * counted[:, None])
    _solve(smoothing_bands(count, period, counted), columns)
    return columns.reshape(given.shape)


def best_period(values: Floats) -> float:
    """Return the period that tells the course of values best from what scatters about it.

    By generalised cross-validation (Craven and Wahba 1979), among periods from four values to the length of the shot.
    """
    count = len(values)
    if count <= 6:
        return _SHORTEST
    periods = np.geomspace(_SHORTEST, min(2.0 * count, _LONGEST), 28)
    scores = []
    for period in periods:
        left = values - smoothed(values, float(period))
        free = count - freedom(count, float(period))
        scores.append(float(left @ left) / free**2)
    return float(periods[int(np.argmin(scores))])


def freedom(count: int, period: float) -> float:
    """Return to how many free numbers the course of ``count`` values is reduced."""
    order = _order(period)
    # What is smooth is left as it is; the other waves are those of a string whose ends are free (Eilers 2003).
    waves = (2 - 2 * np.cos(np.pi * (np.arange(order, count) - (order - 1) / 2) / count)) ** order
    return order + float((1 / (1 + _stiffness(period) * waves)).sum())


def _order(period: float) -> int:
    return 3 if period <= _LONG else 2


def _stiffness(period: float) -> float:
    return float((2 * np.sin(np.pi / min(max(period, 2.0), _LONGEST))) ** (-2 * _order(period)))


def smoothing_bands(count: int, period: float, weights: Floats) -> NDArray[np.float64]:
    """Return the matrix of the least squares: its diagonal and, by the row they lie in, those below, shape (order + 1,
    n)."""
    order, stiffness = _order(period), _stiffness(period)
    bands = np.zeros((order + 1, count))
    binomial = _BINOMIALS[order]
    for first in range(order + 1):
        for below in range(order + 1 - first):
            # Each row of differences touches as many values in a row as it has factors.
            rows = slice(first + below, count - order + first + below)
            bands[below, rows] += stiffness * binomial[first] * binomial[first + below]
    bands[0] += weights
    return bands


def bending(values: Floats, period: float) -> Floats:
    """Return how much the least squares pull at values that are bent, shape as ``values``: 0 where they are smooth."""
    binomial = _BINOMIALS[_order(period)]
    bent = np.convolve(values, binomial[::-1], "valid")
    return np.asarray(np.convolve(bent, binomial) * _stiffness(period))


@njit(nogil=True, cache=True)
def _solve(bands, columns):  # type: ignore[no-untyped-def]
    """Solve for all columns in place, by L D Lᵀ of a banded matrix."""
    width, count = bands.shape[0] - 1, bands.shape[1]
    for i in range(count):
        for below in range(min(width, i), 0, -1):
            j = i - below
            value = bands[below, i]
            for k in range(max(0, i - width), j):
                value -= bands[i - k, i] * bands[0, k] * bands[j - k, j]
            bands[below, i] = value / bands[0, j]
        for below in range(1, min(width, i) + 1):
            bands[0, i] -= bands[below, i] ** 2 * bands[0, i - below]
    for i in range(count):
        for below in range(1, min(width, i) + 1):
            for c in range(columns.shape[1]):
                columns[i, c] -= bands[below, i] * columns[i - below, c]
    for i in range(count):
        for c in range(columns.shape[1]):
            columns[i, c] /= bands[0, i]
    for i in range(count - 1, -1, -1):
        for below in range(1, min(width, count - 1 - i) + 1):
            for c in range(columns.shape[1]):
                columns[i, c] -= bands[below, i + below] * columns[i + below, c]
