"""The region that every steadied still covers: the largest view in it, and how far that may move."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.homography import mapped

# Nothing is enlarged more than this to hide edges: from there on they are drawn out.
MOST_CLOSER = 8.0


@dataclass(frozen=True)
class Region:
    """A rectangle in shares of a still, inside all steadied stills; ``closer`` is how much closer the view gets in it.

    ``is_whole`` tells whether no still leaves anything of it empty.
    """

    left: float
    top: float
    right: float
    bottom: float
    closer: float
    is_whole: bool = True


NOTHING_LOST = Region(0.0, 0.0, 1.0, 1.0, 1.0)


def outlines(maps: Floats, aspect: float) -> Floats:
    """Return the corners of steadied stills, with the clock from the top left, shape (stills, 4, 2), in half
    diagonals."""
    half = half_sides(aspect)
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half
    return np.asarray(mapped(maps[:, None], corners[None]))


def half_sides(aspect: float) -> Floats:
    """Return half the width and height of a picture in half diagonals; ``aspect`` is its width over its height."""
    return np.asarray(np.array([aspect, 1.0]) / np.hypot(aspect, 1.0))


def region_of(maps: Floats, aspect: float, view: Floats) -> Region:
    """Return the region of a shot that leaves nothing empty in any frame.

    Parameters
    ----------
    maps : of steadied stills, from the still to where its points are shown, shape (stills, 3, 3)
    aspect : of the still as it is shown, width over height
    view : the corners of what the fit shows, in half diagonals, shape (4, 2)
    """
    half = half_sides(aspect)
    if not len(maps):
        return NOTHING_LOST
    slope, limit = _edges(outlines(maps, aspect))
    middle = view.mean(axis=0)
    spread = view - middle
    reach = (slope @ spread.T).max(axis=1)
    # The largest view: its middle and how large it is against the fit's; of those alike, the one nearest to the middle.
    found = _solved(
        *([0, 0, -1], np.column_stack([slope, reach]), limit),
        bounds=[(-half[0], half[0]), (-half[1], half[1]), (1 / MOST_CLOSER, 1)],
        method="highs",
    )
    if not found.success:
        shares = _shares(np.r_[-half, half] / MOST_CLOSER, half)
        return Region(*shares, MOST_CLOSER, is_whole=False)
    x, y, scale = found.x
    x, y = _nearest((x, y), middle, slope, limit - reach * scale)
    low, high = np.array([x, y]) + spread.min(axis=0) * scale, np.array([x, y]) + spread.max(axis=0) * scale
    return Region(*_shares(_wide(slope, limit, low, high, half), half), float(1 / scale))


def _solved(*problem: Any, **options: Any) -> Any:
    # scipy.optimize takes a fifth of a second to load, which every start would wait for.
    from scipy.optimize import linprog

    return linprog(*problem, **options)


def _edges(outline: Floats) -> tuple[Floats, Floats]:
    """Return the edges of outlines as half planes: points inside have slope · point ≤ limit."""
    along = np.roll(outline, -1, axis=1) - outline
    outwards = np.stack([along[..., 1], -along[..., 0]], axis=-1)
    outwards /= np.maximum(np.hypot(*np.moveaxis(outwards, -1, 0)), 1e-12)[..., None]
    limit = (outwards * outline).sum(axis=-1)
    return outwards.reshape(-1, 2), limit.reshape(-1)


def _nearest(start: tuple[float, float], wanted: Floats, slope: Floats, limit: Floats) -> tuple[float, float]:
    """Return the point nearest to a wanted one on the way there from one that keeps all limits."""
    way = wanted - np.array(start)
    grows = slope @ way
    room = limit - slope @ np.array(start)
    blocking = grows > 1e-12
    share = float(np.clip((room[blocking] / grows[blocking]).min(), 0, 1)) if blocking.any() else 1.0
    x, y = np.array(start) + way * share
    return float(x), float(y)


def _wide(slope: Floats, limit: Floats, low: Floats, high: Floats, half: Floats) -> Floats:
    """Return the largest rectangle (left, top, right, bottom) within limits around one that keeps them."""
    worst = np.column_stack(
        [
            np.minimum(slope[:, 0], 0),
            np.minimum(slope[:, 1], 0),
            np.maximum(slope[:, 0], 0),
            np.maximum(slope[:, 1], 0),
        ]
    )
    bounds = [(-half[0], low[0]), (-half[1], low[1]), (high[0], half[0]), (high[1], half[1])]
    bounds = [(min(one), max(one)) for one in bounds]
    found = _solved([1 / half[0], 1 / half[1], -1 / half[0], -1 / half[1]], worst, limit + 1e-9, bounds=bounds)
    return np.asarray(found.x) if found.success else np.r_[low, high]


def _shares(sides: Floats, half: Floats) -> tuple[float, float, float, float]:
    """Return a rectangle in half diagonals as shares of the picture, rounded inwards."""
    left, top, right, bottom = (sides / np.r_[half, half] + 1) / 2
    fine = 1e6
    return (
        max(0.0, float(np.ceil(left * fine) / fine)),
        max(0.0, float(np.ceil(top * fine) / fine)),
        min(1.0, float(np.floor(right * fine) / fine)),
        min(1.0, float(np.floor(bottom * fine) / fine)),
    )
