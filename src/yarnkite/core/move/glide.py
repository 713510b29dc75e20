"""Glide: a smooth path in place of the camera's own, as smooth as is wished, within the edge that may be lost.

The path is that of a Whittaker smoother (Eilers 2003). Where that would lose more of the edge than may be lost, it
is the smoothest one that stays within: the same least squares with the edge as a constraint on every still, by the
alternating direction method of multipliers (Boyd et al. 2011), each step of which is a banded system.
"""

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.homography import mapped
from yarnkite.core.base.smooth import bending, smoothed, smoothing_bands
from yarnkite.core.move.path import PLACES
from yarnkite.core.move.region import half_sides

_MOST_ROUNDS = 2000
_LOOK_EVERY = 25
_FINE_ENOUGH = 2e-4
_OVER = 1.6
_LEAST_LENGTH = 12
_SWINGS, _FEWEST_SWINGS = 4, 3


def courses(matrices: Floats) -> Floats:
    """Return what maps of shift, turn and size do: shift right and down, turn (radians), logarithm of size, (stills,
    4)."""
    plain = matrices / matrices[:, 2:, 2:]
    turn = np.unwrap(np.arctan2(plain[:, 1, 0] - plain[:, 0, 1], plain[:, 0, 0] + plain[:, 1, 1]))
    size = np.log(np.sqrt(np.abs(np.linalg.det(plain[:, :2, :2]))))
    return np.stack([plain[:, 0, 2], plain[:, 1, 2], turn, size], axis=1)


def maps_of(course: Floats) -> Floats:
    """Return the maps that ``courses`` describes, shape (stills, 3, 3)."""
    scale = np.exp(course[:, 3])
    cosine, sine = np.cos(course[:, 2]) * scale, np.sin(course[:, 2]) * scale
    maps = np.zeros((len(course), 3, 3))
    maps[:, 0, 0], maps[:, 0, 1], maps[:, 0, 2] = cosine, -sine, course[:, 0]
    maps[:, 1, 0], maps[:, 1, 1], maps[:, 1, 2] = sine, cosine, course[:, 1]
    maps[:, 2, 2] = 1
    return maps


def glided(course: Floats, lengths: tuple[float, float, float]) -> Floats:
    """Return a smooth course, shape (stills, 4); ``lengths`` are those of place, level and size, in stills."""
    place, level, size = lengths
    each = (place, place, level, size)
    return np.stack([_smooth(course[:, one], length) for one, length in enumerate(each)], axis=1)


def _smooth(values: Floats, length: float) -> Floats:
    return smoothed(values, length) if length > 0 else np.array(values, float)


def within(course: Floats, lengths: tuple[float, float, float], most_lost: float, aspect: float) -> Floats:
    """Return the smooth course of ``glided``, held so near the camera's that no more than a share of the edge is lost.

    Parameters
    ----------
    course : of the camera, shape (stills, 4)
    lengths : of place, level and size, in stills
    most_lost : the share of the width and height that may be lost at each edge, above 0, up to 0.5
    aspect : of the still, width over height
    """
    wanted = glided(course, lengths)
    half = half_sides(aspect)
    limits, room = _limits(half * (1 - 2 * most_lost)), np.tile(2 * most_lost * half, 4)
    # A shift counts in the still as it is shown: where the view is close, a little of the way is much of the picture.
    scale = np.ones_like(course)
    scale[:, :2] = np.exp(-course[:, 3:])
    off = (wanted - course) * scale
    if len(course) < 5 or (np.abs(off @ limits.T) <= room).all():
        return wanted
    place, level, size = lengths
    return course + _held(course, (place, place, level, size), limits, room, scale)


def _limits(half: Floats) -> Floats:
    """Return how far the corners of the view move, right and down in turn, with each number of a course, shape (8,
    4)."""
    rows = []
    for x, y in np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half:
        rows += [[1, 0, -y, x], [0, 1, x, y]]
    return np.array(rows)


def _held(course: Floats, lengths: tuple[float, ...], limits: Floats, room: Floats, scale: Floats) -> Floats:
    """Return by what the smoothest course that stays within differs from the camera's, shape (stills, 4)."""
    # Loaded by who steadies: it takes as long as many a command.
    from scipy.linalg import cho_solve_banded, cholesky_banded

    count = len(course)
    # The corners lie evenly about the middle, so that the four numbers stay apart in each system.
    apart = (limits**2).sum(axis=0) * scale**2
    smooth = [one for one in range(4) if lengths[one] > 0]
    # What smoothing asks of the difference: as bent the other way as the camera's course is.
    pulls = {one: -bending(course[:, one], lengths[one]) for one in smooth}
    off = np.zeros((count, 4))
    moved, price = np.zeros((count, 8)), np.zeros((count, 8))
    factors: dict[int, Floats] = {}
    weight = 1.0
    for step in range(_MOST_ROUNDS):
        if not factors:
            factors = {
                one: cholesky_banded(smoothing_bands(count, lengths[one], 1 + weight * apart[:, one])[::-1])
                for one in smooth
            }
        wanted = (moved - price) @ limits * scale
        for one in smooth:
            off[:, one] = cho_solve_banded((factors[one], False), pulls[one] + weight * wanted[:, one])
        corners = (off * scale) @ limits.T
        relaxed = _OVER * corners + (1 - _OVER) * moved
        before, moved = moved, np.clip(relaxed + price, -room, room)
        price += relaxed - moved
        if step % _LOOK_EVERY == _LOOK_EVERY - 1:
            broken = float(np.abs(corners - moved).max())
            changed = float(np.abs(moved - before).max())
            if max(broken, changed) < _FINE_ENOUGH * float(room.min()):
                break
            if broken > 5 * changed or changed > 5 * broken:
                by = 3.0 if broken > changed else 1 / 3
                weight, price, factors = weight * by, price / by, {}
    return off


def jerk(matrices: Floats) -> float:
    """Return how unevenly a path goes: the third difference of where the picture's middle and corners lie, rms."""
    places = mapped(matrices[:, None], PLACES[None])
    return float(np.sqrt((np.diff(places, 3, axis=0) ** 2).sum(axis=-1).mean())) if len(places) > 3 else 0.0


def proposed_length(matrices: Floats) -> int:
    """Return over how many stills to smooth a path: a few times the swing that is strongest in its unrest."""
    count = len(matrices)
    if count < 8:
        return _LEAST_LENGTH
    # By velocity, jitter counts little and drift no more than it should: what is left as a peak is the swing.
    velocity = np.diff(mapped(matrices, np.zeros(2)), axis=0)
    power = (np.abs(np.fft.rfft(velocity - velocity.mean(axis=0), axis=0)) ** 2).sum(axis=1)
    power[:_FEWEST_SWINGS] = 0
    if not power.max() > 0:
        return _LEAST_LENGTH
    swing = (count - 1) / int(np.argmax(power))
    return int(np.clip(round(_SWINGS * swing), _LEAST_LENGTH, max(_LEAST_LENGTH, count)))
