"""Which stills before and after fill what a steadied still leaves empty, and the least crop with which they can."""

from collections.abc import Callable

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.homography import inverse, mapped
from yarnkite.core.move.region import half_sides

MOST_FILLS = 3
REACH = 16
_HALVINGS = 8
# What is taken from a neighbour goes over into the still softly: that much of its edge is not counted on.
_MARGIN = 0.012


def inside(back: Floats, points: Floats, aspect: float) -> Flags:
    """Tell which points of what is shown lie inside a still.

    Parameters
    ----------
    back : maps from what is shown to the still, shape (…, 3, 3)
    points : in half diagonals, shape (n, 2)
    aspect : of the still, width over height

    Returns
    -------
    shape (…, n)
    """
    return np.asarray((np.abs(mapped(back[..., None, :, :], points)) <= half_sides(aspect) - _MARGIN).all(axis=-1))


def fills(own: int, backs: Floats, points: Floats, aspect: float) -> list[int]:
    """Return the positions of the stills, near ones first, that have what a still leaves empty of some points."""
    left = ~inside(backs[own], points, aspect)
    chosen: list[int] = []
    for away in range(1, REACH + 1):
        for other in (own - away, own + away):
            if not left.any() or len(chosen) == MOST_FILLS:
                return chosen
            if 0 <= other < len(backs):
                has = inside(backs[other], points[left], aspect)
                # One that has but a sliver more is left for one that has it all.
                if has.sum() > 0.25 * left.sum() or has.all():
                    chosen.append(other)
                    left[np.flatnonzero(left)[has]] = False
    return chosen


def least_crop(maps: Floats, aspect: float, middle: tuple[Floats, Floats], view: Floats, closest: float) -> float:
    """Return how many times closer the view must be so that every frame is covered by its still or those near it.

    Parameters
    ----------
    maps : of the stills in order, shape (stills, 3, 3)
    middle : of the view as the fit has it, and where the closest one lies, in half diagonals
    view : corners of what the fit shows, from its middle, in half diagonals, shape (4, 2)
    closest : how many times closer it is where each still covers it alone
    """
    backs = inverse(maps)

    def is_covered(share: float) -> bool:
        closer = 1 + (closest - 1) * share
        points = middle[0] + (middle[1] - middle[0]) * share + outline(view) / closer
        return all(_is_covered(own, backs, points, aspect) for own in range(len(maps)))

    return 1 + (closest - 1) * _least(is_covered)


def outline(view: Floats) -> Floats:
    """Return points along the edges of a view and a little inside, from its corners, shape (n, 2)."""
    along = np.linspace(0, 1, 13)[:-1, None]
    edge = np.concatenate([one + (other - one) * along for one, other in zip(view, np.roll(view, -1, 0), strict=True)])
    return np.concatenate([edge, edge * 0.9, edge * 0.75])


def _is_covered(own: int, backs: Floats, points: Floats, aspect: float) -> bool:
    left = points[~inside(backs[own], points, aspect)]
    if not len(left):
        return True
    taken = fills(own, backs, points, aspect)
    return bool(taken) and bool(inside(backs[taken], left, aspect).any(axis=0).all())


def _least(holds: Callable[[float], bool]) -> float:
    """Return about the least share, 0 … 1, from which on something holds; it does at 1."""
    if holds(0.0):
        return 0.0
    low, high = 0.0, 1.0
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if holds(middle) else (middle, high)
    return high
