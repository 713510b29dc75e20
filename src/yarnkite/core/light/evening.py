"""Even light: the gain each still needs so that the light of a shot goes its way smoothly.

Two things are told apart. *Flicker* goes up and down from still to still, in most of the picture alike. A *step* of the
camera's exposure is there at once and for good. Both are measured block by block and by medians, so that who walks through
a third of the picture does not pull the light about.
"""

from dataclasses import dataclass

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import change_points
from yarnkite.core.base.smooth import best_period, smoothed
from yarnkite.core.light.decisions import Even

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


@dataclass(frozen=True)
class Step:
    """A change of exposure for good: ``position`` is the first still after it, ``stops`` how much brighter it is."""

    position: int
    stops: float


@dataclass(frozen=True)
class Evening:
    """How a shot's light is made even, one value a still, in stops.

    ``measured`` is the light there is, ``planned`` the light there will be, ``gains`` what leads from one to the other;
    ``period`` is how many stills the course of light was found to take for its ups and downs, ``flicker`` what is quicker than 30
    stills, root mean square, before and after.
    """

    measured: Floats
    planned: Floats
    gains: Floats
    steps: tuple[Step, ...] = ()
    period: float = 0.0
    flicker: tuple[float, float] = (0.0, 0.0)


def evening(blocks: Floats, exposure: Floats, spoiled: Flags, even: Even) -> Evening:
    """Return how a shot's light is made even.

    Parameters
    ----------
    blocks : light of each still in stops, shape (stills, rows, columns)
    exposure : exposure values at ISO 100 by Exif in stops, shape (stills,), not a number where unknown
    spoiled : stills by which nothing is to be judged, such as misfires, shape (stills,)
    even : what is wished for

    Returns
    -------
    gains within ± 8 stops; all 0 where nothing is wished for, or there are fewer than four stills to judge by
    """
    count = len(blocks)
    flat = np.asarray(blocks, float).reshape(count, int(np.prod(blocks.shape[1:])))
    light = np.median(flat, axis=1) if count else np.zeros(0)
    sound = np.flatnonzero(~spoiled)
    if len(sound) < 4 or not (even.flicker or even.steps):
        return Evening(light, light, np.zeros(count))
    told = np.asarray(exposure, float)
    wild = _wild(_level(flat[sound]))
    # A misfire is no flicker: it is left as it is, and nothing is judged by it.
    sound = sound[~wild]
    kept = flat[sound]
    usable = _usable(kept)
    found, off, period = _told_apart(kept, usable, told[sound], even)
    stairs = _stairs(found, len(sound))
    # What the camera did by steps is laid over the shot as one ramp, or taken out: the scene as the eye had it.
    course = np.full(len(sound), stairs[0]) if even.course == "as seen" else _ramp(found, len(sound))
    gains = np.zeros(len(sound))
    if even.steps:
        gains += course - stairs
    if even.flicker:
        gains -= off
    every = np.interp(np.arange(count), sound, np.clip(gains, -MOST_EV, MOST_EV))
    quick, calm = min(period, _QUICK), kept - stairs[:, None]
    after = calm - off[:, None] if even.flicker else calm
    left = _rms(_off(calm, usable, quick)), _rms(_off(after, usable, quick))
    steps = tuple(Step(int(sound[one.position]), one.stops) for one in found)
    return Evening(light, light + every, every, steps, period, left)


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
    places = _places(chosen, exposure)
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


def _places(blocks: Floats, exposure: Floats) -> list[int]:
    """Return where the exposure may have changed for good: where Exif tells, or the picture where it does not."""
    change = np.abs(np.diff(exposure))
    told = np.flatnonzero(change >= _TOLD) + 1
    unknown = np.flatnonzero(np.isnan(change)) + 1
    seen = [place for place, _ in change_points(_level(blocks), least=_UNTOLD)]
    places = sorted({*told.tolist(), *set(seen).intersection(unknown.tolist())})
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
