"""Steadying: how every still of a shot is laid, from the camera's path, points that were followed, and what is
wished."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.homography import exponential, inverse, logarithm, mapped
from yarnkite.core.move.decisions import Place, Steady
from yarnkite.core.move.glide import courses, glided, maps_of, within
from yarnkite.core.move.path import PLACES, Path
from yarnkite.core.move.region import half_sides

# Less than this, in half diagonals, is not worth another interpolation: a fiftieth of a pixel at 1920 wide.
_NOTHING = 0.02 / 1153.8
# Two points nearer to each other than this say nothing of level and size.
_APART = 0.02


@dataclass(frozen=True)
class Steadying:
    """How the stills of a shot are laid: maps from the still to where its points are shown, shape (stills, 3, 3).

    ``as_shot`` and ``steadied`` are how far the picture's middle lies from where it is on average, in shares of the
    width, shape (stills,).
    """

    maps: Floats
    as_shot: Floats
    steadied: Floats


def steadying(
    path: Path,
    used: Flags,
    steady: Steady,
    aspect: float,
    *,
    reference: int | None = None,
    points: Sequence[Floats] = (),
    clicked: int = 0,
    tilt: float = 0.0,
) -> Steadying:
    """Return how stills are laid.

    Parameters
    ----------
    path : of the camera over all stills of a shot
    used : which of them are in the clip, shape (stills,)
    steady : what is wished
    aspect : of the still, width over height
    reference : the position of the still all are laid onto
    points : where each anchored point is in each still, in half diagonals, shape (stills, 2)
    clicked : the position of the still in which the first point was pointed at first
    tilt : how far the horizon is turned with the clock where the camera's path has no turn, in radians
    """
    if not used.any():
        nothing = np.zeros(len(used))
        return Steadying(np.tile(np.eye(3), (len(used), 1, 1)), nothing, nothing)
    match steady.how:
        case "still":
            maps = _onto_one(path, used, steady, reference)
        case "glide":
            maps = _gliding(path, used, steady, aspect)
        case _:
            maps = _holding(path, used, steady, aspect, points, clicked, tilt)
    if steady.upright and steady.how != "anchor":
        maps = _upright(path, maps, tilt)
    # What would be turned by half a circle stays as it was shot.
    numbers = np.nan_to_num(logarithm(maps)) * steady.share
    maps = exponential(numbers)
    far = np.hypot(*np.moveaxis(mapped(maps[:, None], PLACES[None]) - PLACES, -1, 0)).max(axis=1)
    maps[far < _NOTHING] = np.eye(3)
    return Steadying(maps, *_courses_of_the_middle(path, maps, used, aspect))


def _onto_one(path: Path, used: Flags, steady: Steady, reference: int | None) -> Floats:
    """Return the maps that lay every still onto one, or onto the middle of all."""
    numbers = path.numbers.copy()
    numbers[:, 2] *= steady.turn
    numbers[:, 3] *= steady.size
    base = np.median(numbers[used], axis=0) if reference is None else numbers[reference]
    return np.asarray(exponential(-base) @ exponential(numbers))


def _gliding(path: Path, used: Flags, steady: Steady, aspect: float) -> Floats:
    """Return the maps that lay every still where a smooth path has it."""
    course = courses(path.matrices)
    lengths = (float(steady.place_over), float(steady.level_over), float(steady.size_over))
    smooth = course.copy()
    smooth[used] = (
        glided(course[used], lengths)
        if steady.most_lost is None
        else within(course[used], lengths, steady.most_lost, aspect)
    )
    return _laid(course, smooth, used)


def _upright(path: Path, maps: Floats, tilt: float) -> Floats:
    """Return maps turned so that the horizon lies level in each still."""
    turns = np.zeros((len(maps), 8))
    turns[:, 2] = path.numbers[:, 2] - tilt - logarithm(maps)[:, 2]
    return np.asarray(exponential(turns) @ maps)


def _laid(course: Floats, smooth: Floats, used: Flags) -> Floats:
    """Return the maps from where stills are to where they shall be; those not used go as their neighbours do."""
    maps: Floats = inverse(maps_of(smooth)) @ maps_of(course)
    if not used.all():
        known, every = np.flatnonzero(used), np.arange(len(used))
        numbers = np.nan_to_num(logarithm(maps))
        maps = exponential(np.stack([np.interp(every, known, numbers[known, one]) for one in range(8)], axis=1))
    return np.asarray(maps)


def _holding(
    path: Path, used: Flags, steady: Steady, aspect: float, points: Sequence[Floats], clicked: int, tilt: float
) -> Floats:
    """Return the maps that keep a point where it shall be."""
    first, count = points[0], len(used)
    half = half_sides(aspect)
    begins = _measured(steady.begins, half) if steady.begins else first[clicked]
    ends = _measured(steady.ends, half) if steady.ends else begins
    along = np.clip(np.interp(np.arange(count), np.flatnonzero(used), np.linspace(0, 1, int(used.sum()))), 0, 1)
    wanted = begins + (ends - begins) * along[:, None]
    maps: Floats = np.tile(np.eye(3), (count, 1, 1))
    if len(points) > 1 and np.hypot(*(points[1] - first)[clicked]) > _APART:
        apart, kept = points[1] - first, (points[1] - first)[clicked]
        squared = np.maximum((apart**2).sum(axis=1), _APART**2)
        cosine = (apart @ kept) / squared
        sine = (apart[:, 0] * kept[1] - apart[:, 1] * kept[0]) / squared
        maps[:, 0, 0], maps[:, 0, 1], maps[:, 1, 0], maps[:, 1, 1] = cosine, -sine, sine, cosine
    else:
        course = courses(path.matrices)
        smooth = course.copy()
        smooth[used] = glided(course[used], (0.0, float(steady.level_over), float(steady.size_over)))
        turned = np.zeros_like(course)
        turned[:, 2:] = (course - smooth)[:, 2:]
        maps = maps_of(turned)
        # Turned first and then put in its place: what is held stays where it is.
        maps = _upright(path, maps, tilt) if steady.upright else maps
        maps = maps / maps[:, 2:, 2:]
    maps[:, :2, 2] += wanted - mapped(maps, first)
    return maps


def _measured(place: Place, half: Floats) -> Floats:
    """Return a place in shares of the still in half diagonals about its middle."""
    return np.asarray((np.array([place.x, place.y]) * 2 - 1) * half)


def _courses_of_the_middle(path: Path, maps: Floats, used: Flags, aspect: float) -> tuple[Floats, Floats]:
    """Return how far the picture lies from a straight course, as shot and as steadied, in shares of the width."""
    width = 2 * half_sides(aspect)[0]

    def course(maps: Floats) -> Floats:
        middle = mapped(maps, np.zeros(2))
        return _signed((middle - np.median(middle[used], axis=0)) / width)

    shot = path.matrices
    return course(shot), course(shot @ inverse(maps))


def _signed(course: Floats) -> Floats:
    """Return the distance of points from their middle, along the direction in which they stray most."""
    _, _, directions = np.linalg.svd(course - course.mean(axis=0), full_matrices=False)
    main = directions[0] * (np.sign(directions[0][np.argmax(np.abs(directions[0]))]) or 1.0)
    return np.asarray(course @ main)
