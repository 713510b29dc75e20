"""Even light: the gain each still needs so that the light of a shot goes its way smoothly.

Two things are told apart. *Flicker* goes up and down from still to still, in most of the picture alike. A *step* of the
camera's exposure is there at once and for good. Both are measured block by block and by medians, so that who walks
through a third of the picture does not pull the light about.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.monotone import monotone
from yarnkite.core.base.robust import change_points
from yarnkite.core.base.smooth import best_period, smoothed
from yarnkite.core.light.decisions import Even, LaidCourse, Region
from yarnkite.core.light.field import ACROSS, DOWN, waves
from yarnkite.core.light.white import shared_white

MOST_EV = 8.0
# Blocks darker or brighter than this, in stops of light, do not answer to exposure: they are noise, or clipped.
_DARKEST, _BRIGHTEST = -9.5, -0.2
_FEWEST_BLOCKS = 24
# A change of exposure that Exif tells of counts from a sixth of a stop, one it says nothing about from a quarter.
_TOLD, _UNTOLD = 1 / 6 - 0.02, 0.25
_LEAST_STEP = 0.04
# Where the camera changed its exposure at every few stills there are no steps, only flicker.
_MOST_STEPS_SHARE = 0.12
_ROUNDS = 3
_CALM_EV = 0.01
# A still that strays so far, and so many times as far as the others, is a misfire; and what the spread of a normal
# distribution is to its median absolute deviation.
_WILD_EV, _WILD_TIMES, _OF_NORMAL = 0.7, 6.0, 1.4826
_BESIDE = 5
_SHORTEST_RAMP = 40
# What takes longer than so many stills is no flicker to the eye.
_QUICK = 30.0
# A step of colour from so many stops, and the most that a colour is raised.
_COLOUR_STEP, _MOST_COLOUR = 0.12, 3.0
_FEWEST_BESIDE = 4
# Courses that bands are told by take so many stills at least; what strays further than so many times the usual counts
# less.
_SHORTEST_COURSE, _STRAYS = 30.0, 1.5


@dataclass(frozen=True)
class Step:
    """A change of exposure for good: ``position`` is the first still after it, ``stops`` how much brighter it is."""

    position: int
    stops: float


@dataclass(frozen=True)
class Gain:
    """What evening adds to a still, in stops: ``light`` to all of it, ``red`` and ``blue`` to these besides.

    ``white`` is the light at which it is white then (``white``); ``down`` and ``across`` are waves that take out bands,
    as ``field`` has them.
    """

    light: float = 0.0
    red: float = 0.0
    blue: float = 0.0
    white: float = 0.0
    down: tuple[float, ...] = ()
    across: tuple[float, ...] = ()

    @property
    def fields(self) -> dict[str, Any]:
        """The fields of an ``Adjustment``."""
        return {
            "gain": self.light,
            "red_gain": self.red,
            "blue_gain": self.blue,
            "evened_white": self.white,
            "down": self.down,
            "across": self.across,
        }


NO_GAIN = Gain()


@dataclass(frozen=True)
class Evening:
    """How a shot's light is made even, one value a still, in stops.

    ``measured`` is the light there is, ``planned`` the light there will be, ``gains`` what leads from one to the other;
    ``period`` is how many stills the course of light was found to take for its ups and downs, ``flicker`` what is
    quicker than 30 stills, root mean square, before and after. ``colours`` are gains of red and blue, shape (stills,
    2), ``colour_flicker`` as ``flicker``, of both together; ``bands`` the waves down and across, shape (stills, 17),
    empty where there are none; ``whites`` the light at which each still is white. ``ways`` are the courses there would
    be for each way that what the camera did by steps can be laid over the shot.
    """

    measured: Floats
    planned: Floats
    gains: Floats
    steps: tuple[Step, ...] = ()
    period: float = 0.0
    flicker: tuple[float, float] = (0.0, 0.0)
    colours: Floats = field(default_factory=lambda: np.zeros((0, 2)))
    colour_flicker: tuple[float, float] = (0.0, 0.0)
    bands: Floats = field(default_factory=lambda: np.zeros((0, DOWN + ACROSS)))
    whites: Floats = field(default_factory=lambda: np.zeros(0))
    ways: Mapping[LaidCourse, Floats] = field(default_factory=dict)

    def gain_of(self, place: int) -> Gain:
        """Return what a still gets."""
        red, blue = self.colours[place].round(4).tolist() if len(self.colours) else (0.0, 0.0)
        found = self.bands[place].round(4).tolist() if len(self.bands) else []
        white = round(float(self.whites[place]), 4) if len(self.whites) else 0.0
        light = round(float(self.gains[place]), 4)
        return Gain(light, red, blue, white, tuple(found[:DOWN]), tuple(found[DOWN:]))


def evening(
    blocks: Floats,
    exposure: Floats,
    spoiled: Flags,
    even: Even,
    *,
    colours: Floats | None = None,
    drawn: Floats | None = None,
    blown: Floats | None = None,
) -> Evening:
    """Return how a shot's light is made even.

    Parameters
    ----------
    blocks : light of each still in stops, shape (stills, rows, columns)
    exposure : exposure values at ISO 100 by Exif in stops, shape (stills,), not a number where unknown
    spoiled : stills by which nothing is to be judged, such as misfires, shape (stills,)
    even : what is wished for
    colours : red and blue of each still against its green, in stops, shape (stills, 2)
    drawn : how bright each still shall be, in stops, shape (stills,), where a course is drawn
    blown : which share of each still is blown out, shape (stills,)

    Returns
    -------
    gains within ± 8 stops; all 0 where nothing is wished for, or there are fewer than four stills to judge by
    """
    count = len(blocks)
    judged = _judged(np.asarray(blocks, float), even.region)
    flat = judged.reshape(count, int(np.prod(judged.shape[1:])))
    light = np.median(flat, axis=1) if count else np.zeros(0)
    sound = np.flatnonzero(~spoiled)
    if len(sound) < 4 or not even.is_wished:
        return Evening(light, light, np.zeros(count))
    told = np.asarray(exposure, float)
    wild = _wild(_level(flat[sound]))
    # A misfire is no flicker: it is left as it is, and nothing is judged by it.
    sound = sound[~wild]
    kept = flat[sound]
    usable = _usable(kept)
    found, off, period = _told_apart(kept, usable, told[sound], even)
    stairs = _stairs(found, len(sound))
    laid = {name: lay(found, len(sound)) for name, lay in _LAID.items()}
    course = laid[_way(even)]
    gains = np.zeros(len(sound))
    if even.is_drawn and drawn is not None:
        there = light[sound] - stairs - off
        gains += np.asarray(drawn, float)[sound] - smoothed(there, period) - stairs
    elif even.steps or even.switched:
        gains += course - stairs
    if even.flicker:
        gains -= off
    every = np.interp(np.arange(count), sound, np.clip(gains, -MOST_EV, MOST_EV))
    quick, calm = min(period, _QUICK), kept - stairs[:, None]
    after = calm - off[:, None] if even.flicker else calm
    left = _rms(_off(calm, usable, quick)), _rms(_off(after, usable, quick))
    steps = tuple(Step(int(sound[one.position]), one.stops) for one in found)
    smooth = light[sound] - stairs - off if even.flicker else light[sound] - stairs
    at = np.arange(count)
    ways = {name: np.asarray(np.interp(at, sound, smooth + one)) for name, one in laid.items()}
    result = Evening(light, light + every, every, steps, period, left, ways=ways)
    if even.colour and colours is not None:
        by_colour, strays = _colours(np.asarray(colours, float)[sound], even)
        result = replace(result, colours=_between(by_colour, sound, count), colour_flicker=strays)
    if even.bands and even.region is None:
        waved = _waves(kept - _calm_course(kept, period) - off[:, None], usable, blocks.shape[1:])
        result = replace(result, bands=_between(-waved, sound, count))
    least = every + np.minimum(result.colours.min(axis=1), 0.0) if len(result.colours) else every
    # What a misfire shows is nothing to go by.
    blown_out = np.zeros(0) if blown is None else np.asarray(blown)[sound]
    return replace(result, whites=shared_white(least, blown_out))


def _judged(blocks: Floats, region: Region | None) -> Floats:
    """Return the blocks that touch a region, at least one; all of them where none is given."""
    if region is None:
        return blocks
    rows, columns = blocks.shape[1:]
    top, bottom = int(region.top * rows), max(int(np.ceil(region.bottom * rows)), int(region.top * rows) + 1)
    left, right = int(region.left * columns), max(int(np.ceil(region.right * columns)), int(region.left * columns) + 1)
    return blocks[:, top:bottom, left:right]


def _between(values: Floats, sound: NDArray[np.intp], count: int) -> Floats:
    """Return values of sound stills for all of them, shape (count, k)."""
    at = np.arange(count)
    return np.stack([np.interp(at, sound, column) for column in values.T], axis=1)


def _colours(colours: Floats, even: Even) -> tuple[Floats, tuple[float, float]]:
    """Return the gains that even red and blue out, in stops, shape (n, 2), and how much they stray before and after."""
    gains, strays = np.zeros_like(colours), []
    # A camera changes both at once.
    both = np.abs(colours - np.median(colours, axis=0)).sum(axis=1)
    places = sorted({place for course in (*colours.T, both) for place, _ in change_points(course, least=_COLOUR_STEP)})
    places = places if len(places) <= max(1, _MOST_STEPS_SHARE * len(colours)) else []
    for column in range(2):
        course = colours[:, column]
        heights = np.zeros(len(places))
        for _ in range(_ROUNDS):
            calm = course - _stairs(_made(places, heights), len(course))
            period = float(even.smooth) or best_period(calm)
            if not places:
                break
            heights = heights + _fitted(calm - smoothed(calm, period), places, period)
        steps = _made(places, heights)
        calm = course - _stairs(steps, len(course))
        off = calm - smoothed(calm, period)
        held = _stairs(steps, len(course))
        gains[:, column] = _LAID[_way(even)](steps, len(course)) - held - off
        strays.append((_quick(course), _quick(course + gains[:, column])))
    before, after = np.sqrt((np.array(strays) ** 2).mean(axis=0))
    return np.clip(gains, -_MOST_COLOUR, _MOST_COLOUR), (float(before), float(after))


def _quick(course: Floats) -> float:
    return _rms(course - smoothed(course, _QUICK))


def _calm_course(blocks: Floats, period: float) -> Floats:
    """Return the smooth course of each block by what it mostly is: who passes does not pull it along."""
    reach = max(period, _SHORTEST_COURSE)
    course: Floats = np.median(blocks, axis=0) + np.zeros_like(blocks)
    for _ in range(_ROUNDS):
        strays = blocks - course
        most = _STRAYS * np.median(np.abs(strays), axis=0)
        course = smoothed(course + np.clip(strays, -most, most), reach)
    return course


def _waves(strays: Floats, usable: Flags, shape: tuple[int, ...]) -> Floats:
    """Return the waves down and across the picture that stray from still to still, in stops, shape (n, 17)."""
    rows, columns = shape
    grid, use = strays.reshape(-1, rows, columns), usable.reshape(rows, columns)
    by_row, of_rows = _profiles(grid, use)
    down = _projected(by_row, of_rows, DOWN)
    rest = grid - (down @ waves(DOWN, rows).T)[:, :, None]
    by_column, of_columns = _profiles(rest.transpose(0, 2, 1), use.T)
    across = _projected(by_column, of_columns, ACROSS)
    return np.concatenate([down, across], axis=1)


def _profiles(grid: Floats, use: Flags) -> tuple[Floats, Floats]:
    """Return by how much each row strays in each still, (n, rows), and how much each row counts, (rows,).

    It is the median of the row's blocks; what a row strays by no more than chance would have it, it does not stray by.
    """
    profiles, weights = np.zeros(grid.shape[:2]), use.mean(axis=1)
    for row in range(grid.shape[1]):
        own = grid[:, row, use[row]]
        if own.shape[1] < _FEWEST_BESIDE:
            weights[row] = 0.0
            continue
        middle = np.median(own, axis=1)
        spread = _OF_NORMAL * np.median(np.abs(own - middle[:, None]), axis=1)
        # The median of normal values is less exact than their mean by this factor.
        chance = float(np.mean((1.2533 * spread) ** 2)) / own.shape[1]
        profiles[:, row] = middle * max(0.0, 1 - chance / max(float(np.var(middle)), 1e-9))
    return profiles, weights


def _projected(profiles: Floats, weights: Floats, count: int) -> Floats:
    """Return how much of each wave is in each profile, by weighted least squares, shape (n, count)."""
    basis = np.column_stack([np.ones(profiles.shape[1]), waves(count, profiles.shape[1])])
    weighted = basis * weights[:, None]
    inner = basis.T @ weighted + 1e-3 * np.eye(count + 1)
    return np.asarray(np.linalg.solve(inner, weighted.T @ profiles.T).T[:, 1:])


def _wild(level: Floats) -> Flags:
    """Tell which stills stray far more than the others do, from what is before them and from what is after."""
    padded = np.pad(level, _BESIDE, constant_values=np.nan)
    windows = sliding_window_view(padded, _BESIDE)
    before, after = windows[: len(level)], windows[_BESIDE + 1 :]
    # At an end there is one side only.
    sides = np.array([level - _medians(before), level - _medians(after)])
    off = np.nanmin(np.abs(sides), axis=0)
    return np.asarray(off > max(_WILD_EV, _WILD_TIMES * _OF_NORMAL * float(np.median(off))))


def _medians(windows: Floats) -> Floats:
    """Return the median of each row, not a number for one without any."""
    empty = np.asarray(np.isnan(windows).all(axis=1))
    return np.asarray(np.where(empty, np.nan, np.nanmedian(np.where(empty[:, None], 0, windows), axis=1)))


def _usable(blocks: Floats) -> Flags:
    """Tell which blocks answer to exposure all through; the best there are if hardly any does."""
    share = ((blocks > _DARKEST) & (blocks < _BRIGHTEST)).mean(axis=0)
    return np.asarray(share >= 0.9 if (share >= 0.9).sum() >= _FEWEST_BLOCKS else share >= np.median(share))


def _told_apart(blocks: Floats, usable: Flags, exposure: Floats, even: Even) -> tuple[list[Step], Floats, float]:
    """Return the steps, how far each still's light is off its course otherwise, and the period of the course."""
    chosen = blocks[:, usable]
    places = _places(chosen, exposure, even)
    heights = np.zeros(len(places))
    for _ in range(_ROUNDS):
        calm = chosen - _stairs(_made(places, heights), len(chosen))[:, None]
        period = float(even.smooth) or best_period(_level(calm))
        if not places:
            break
        heights = heights + _fitted(np.median(calm - smoothed(calm, period), axis=1), places, period)
    keep = np.abs(heights) >= _LEAST_STEP
    steps = _made([place for place, one in zip(places, keep, strict=True) if one], heights[keep])
    calm = chosen - _stairs(steps, len(chosen))[:, None]
    return steps, _shared(calm - smoothed(calm, period)), period


def _places(blocks: Floats, exposure: Floats, even: Even) -> list[int]:
    """Return where light may have changed for good: where Exif tells of the camera, or the picture where it does not.

    Lamps that are switched count only if that is wished, changes of the camera unless lamps alone are.
    """
    change = np.abs(np.diff(exposure))
    told = np.flatnonzero(change >= _TOLD) + 1
    unknown = np.flatnonzero(np.isnan(change)) + 1
    seen = [place for place, _ in change_points(_level(blocks), least=_UNTOLD)]
    by_camera = {*told.tolist(), *set(seen).intersection(unknown.tolist())}
    lamps = {place for place in seen if not by_camera.intersection(range(place - 2, place + 3))}
    only_lamps = even.switched and not even.steps
    places = sorted((set() if only_lamps else by_camera) | (lamps if even.switched else set()))
    return places if len(places) <= max(1, _MOST_STEPS_SHARE * len(blocks)) else []


def _fitted(off: Floats, places: list[int], period: float) -> Floats:
    """Return how high steps at these places are by what they leave beside a smooth course, by least squares."""
    stairs = (np.arange(len(off))[:, None] >= np.array(places)).astype(float)
    return np.asarray(np.linalg.lstsq(stairs - smoothed(stairs, period), off, rcond=1e-6)[0])


def _level(blocks: Floats) -> Floats:
    """Return the course of light that most blocks share, around 0."""
    return np.asarray(np.median(blocks - blocks.mean(axis=0), axis=1))


def _off(blocks: Floats, usable: Flags, period: float) -> Floats:
    chosen = blocks[:, usable]
    return _shared(chosen - smoothed(chosen, period))


def _shared(strays: Floats) -> Floats:
    """Return by how much each still strays as a whole: the median of its blocks, the calm ones counting most.

    A block in which people come and go strays by itself; what it does beyond the others says how little it is worth.
    """
    result = np.median(strays, axis=1)
    order = np.argsort(strays, axis=1)
    for _ in range(_ROUNDS):
        own = strays - result[:, None]
        weights = 1 / (np.median(np.abs(own), axis=0) ** 2 + _CALM_EV**2)
        sums = np.cumsum(weights[order], axis=1)
        middle = np.argmax(sums >= sums[:, -1:] / 2, axis=1)
        rows = np.arange(len(strays))
        result = strays[rows, order[rows, middle]]
    return result


def _rms(values: Floats) -> float:
    return float(np.sqrt(np.mean(values**2)))


def _made(places: list[int], heights: Floats) -> list[Step]:
    return [Step(place, float(height)) for place, height in zip(places, heights, strict=True)]


def _stairs(steps: list[Step], count: int) -> Floats:
    """Return how much brighter each still is by all steps before it."""
    result = np.zeros(count)
    for one in steps:
        result[one.position :] += one.stops
    return result


def _way(even: Even) -> LaidCourse:
    """Return how steps are laid over the shot: beside what is drawn as they are followed."""
    return "followed" if even.course == "drawn" else even.course


def _followed(steps: list[Step], count: int) -> Floats:
    """Return steps as the way of who would have turned the exposure on and on: amid two steps it is where the camera
    was, and nowhere does it go before a step by more than from the next one after it."""
    if not steps:
        return np.zeros(count)
    ends = [0, *(one.position for one in steps), count]
    runs = np.diff(ends)
    between = runs[1:-1] if len(steps) > 1 else [0]
    # At the ends of the shot the camera stayed as it was: the way begins and ends as near as it is long between steps.
    begin = ends[1] - min(runs[0], max(between[0], _SHORTEST_RAMP)) / 2
    end = ends[-2] + min(runs[-1], max(between[-1], _SHORTEST_RAMP)) / 2
    amid = [(one + other) / 2 for one, other in pairwise(ends[1:-1])]
    levels = np.cumsum([0.0, *(one.stops for one in steps)])
    return monotone([begin, *amid, end], levels.tolist(), np.arange(count) + 0.5)


def _as_seen(steps: list[Step], count: int) -> Floats:
    """Return the scene as the eye had it: as if the camera had never changed anything."""
    return np.zeros(count)


def _ramp(steps: list[Step], count: int) -> Floats:
    """Return steps as a smooth way from the first level to the last, which never goes beyond a step.

    A mean over the distance of the steps, three times, is a cubic spline (Schoenberg 1946).
    """
    stairs = _stairs(steps, count)
    if not steps:
        return stairs
    ends = [0, *(one.position for one in steps), count]
    reach = int(min(max(np.diff(ends).max() // 2, _SHORTEST_RAMP // 2), max(1, count // 2)))
    result = stairs
    for _ in range(3):
        padded = np.pad(result, reach, mode="edge")
        sums = np.cumsum(np.concatenate([[0.0], padded]))
        result = (sums[2 * reach + 1 :] - sums[: -2 * reach - 1]) / (2 * reach + 1)
    return result


_LAID: dict[LaidCourse, Callable[[list[Step], int], Floats]] = {
    "followed": _followed,
    "even": _ramp,
    "as seen": _as_seen,
}
