"""Pace: which still, or which few, each frame of the clip shows.

Time is counted in whole thousandths of a frame, so every schedule is exact.
"""

import math
from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.pace.decisions import Knot, Pace, Thin

TICKS = 1000
LONGEST_S = 24 * 3600
TOO_LONG = "The clip would be longer than 24 hours. Hold the stills less, or thin them out."
_MOST_AVERAGED = 48
Ticks = NDArray[np.int64]


@dataclass(frozen=True)
class FrameMix:
    """What a frame shows: slots of stills with weights that sum to 1; ``moving`` is what lies between two of them."""

    parts: tuple[tuple[int, Fraction], ...]
    moving: bool = False

    @property
    def main(self) -> int:
        """The slot of the still that is seen most."""
        return max(self.parts, key=lambda part: part[1])[0]


@dataclass(frozen=True)
class Schedule:
    """For each frame of the clip, counted from 0, the stills it shows, by their slots counted from 0.

    ``times`` says when each still was taken, in milliseconds; it is needed only for a pace by the clock.
    """

    stills: int
    pace: Pace
    times: tuple[int, ...] = ()

    def __len__(self) -> int:
        return self._shown_frames * self.pace.repeat

    @property
    def seconds(self) -> Fraction:
        """The clip's exact length."""
        return len(self) / self.pace.written_rate

    @cached_property
    def sequence(self) -> tuple[int, ...]:
        """The slots of the stills in the order they are shown, one after another."""
        chosen = thinned(self.stills, self.pace.thin, self.pace.picked)
        if self.pace.direction == "back":
            return chosen[::-1]
        return chosen if self.pace.direction == "on" else chosen + chosen[-2:0:-1]

    @property
    def is_too_long(self) -> bool:
        """Whether the clip would be longer than 24 hours, after which timecode begins again."""
        return self.seconds > LONGEST_S

    @cached_property
    def used(self) -> int:
        """How many different stills the clip shows."""
        if self.pace.blend != "none" or not self.stills:
            return len(set(self.sequence))
        return len(np.unique(np.asarray(self.sequence, np.int64)[self._elements]))

    def still_at(self, frame: int) -> int:
        """Return the still that a frame shows most; raises ``IndexError`` outside the clip."""
        return self.shown(frame).main

    def shown(self, frame: int) -> FrameMix:
        """Return what a frame shows.

        Parameters
        ----------
        frame : from 0, in frames of the file

        Raises
        ------
        IndexError outside the clip
        """
        if not 0 <= frame < len(self):
            raise IndexError(f"frame {frame} of a clip with {len(self)} frames")
        tick = frame // self.pace.repeat * TICKS
        if self.pace.blend == "none":
            return only_still(self.sequence[self._element(tick)])
        position = self._position(tick)
        if self.pace.blend == "shutter":
            return _exposed(position, self._position(tick + TICKS * self.pace.shutter // 360), self.stills)
        return _between(position, moving=self.pace.blend == "motion")

    def mains(self) -> list[int]:
        """Return for every frame the still it shows most."""
        if self.pace.blend != "none":
            return [self.still_at(frame) for frame in range(len(self))]
        if not self.stills:
            return []
        mains: list[int] = np.asarray(self.sequence, np.int64)[self._elements.repeat(self.pace.repeat)].tolist()
        return mains

    def held_seconds(self, elements: int) -> Fraction:
        """Return how long the first so many stills of the sequence are shown, in exact seconds."""
        return Fraction(int(self.frames_held[:elements].sum()), TICKS) / self.pace.rate

    def frame_of(self, still: int) -> int:
        """Return the first frame that shows a still, or, for one that is skipped, a frame that shows its neighbour.

        Raises ``IndexError`` for a still the shot does not have.
        """
        if not 0 <= still < self.stills:
            raise IndexError(f"still {still} of a shot with {self.stills} stills")
        starts = self._first_ticks
        shown = starts.get(still)
        if shown is None:
            known = sorted(starts)
            after = min(bisect_left(known, still), len(known) - 1)
            shown = starts[min(known[max(0, after - 1) : after + 1], key=lambda slot: abs(slot - still))]
        return min(-(-shown // TICKS), self._shown_frames - 1) * self.pace.repeat

    @cached_property
    def changes(self) -> int:
        """How many frames show something else than the frame before."""
        if self.pace.blend != "none":
            return self._shown_frames
        return int(np.count_nonzero(np.diff(self._elements))) + 1 if self.stills else 0

    @cached_property
    def frames_held(self) -> Ticks:
        """How long each still of the sequence stays, in thousandths of a frame."""
        pace, count = self.pace, len(self.sequence)
        held = np.full(count, pace.hold * TICKS, np.int64)
        if pace.by_clock and count > 1:
            held = _by_clock(self.sequence, self.times, pace.hold * TICKS * count)
        if pace.curve:
            speed = speeds(pace.curve, (np.arange(count) + 0.5) / count)
            held = np.maximum(1, np.rint(held / speed)).astype(np.int64)
        longer = {one.still: one.frames for one in pace.longer}
        for slot, still in enumerate(self.sequence):
            if still in longer:
                held[slot] = longer[still] * TICKS
        if pace.last is not None and count:
            held[-1] = pace.last * TICKS
        return held

    @cached_property
    def _ends(self) -> Ticks:
        return np.cumsum(self.frames_held)

    @cached_property
    def _starts(self) -> Ticks:
        return self._ends - self.frames_held

    @cached_property
    def _shown_frames(self) -> int:
        if not self.stills:
            return 0
        return max(1, int((self._ends[-1] + TICKS // 2) // TICKS))

    @cached_property
    def _elements(self) -> Ticks:
        """Which element of the sequence each frame shows, before repeating."""
        shown = np.searchsorted(self._ends, np.arange(self._shown_frames) * TICKS, "right")
        return np.minimum(shown, len(self.sequence) - 1)

    @cached_property
    def _first_ticks(self) -> dict[int, int]:
        """Where each still that some frame shows begins."""
        elements, frames = np.unique(self._elements, return_index=True)
        first: dict[int, int] = {}
        for element, frame in zip(elements.tolist(), frames.tolist(), strict=True):
            first.setdefault(self.sequence[element], frame * TICKS)
        return first

    @cached_property
    def _stays(self) -> frozenset[int]:
        """Elements of the sequence that stay as they are for all their time."""
        longer = {one.still for one in self.pace.longer}
        stays = {slot for slot, still in enumerate(self.sequence) if still in longer}
        return frozenset(stays | {len(self.sequence) - 1})

    def _element(self, tick: int) -> int:
        return min(int(np.searchsorted(self._ends, tick, "right")), len(self.sequence) - 1)

    def _position(self, tick: int) -> Fraction:
        """Return which still a moment shows, as an exact position between stills."""
        element = self._element(tick)
        here = Fraction(self.sequence[element])
        if element in self._stays:
            return here
        share = Fraction(tick - int(self._starts[element]), int(self.frames_held[element]))
        return here + share * (self.sequence[element + 1] - here)


@lru_cache(maxsize=32)
def schedule(stills: int, pace: Pace, times: tuple[int, ...] = ()) -> Schedule:
    """Return the schedule of so many stills, remembered; see ``Schedule``."""
    return Schedule(stills, pace, times)


def thinned(stills: int, thin: Thin, picked: Sequence[int] = ()) -> tuple[int, ...]:
    """Return the slots, of so many stills, that are used; where none of those picked is there, all are."""
    if thin.way == "every":
        return tuple(range(0, stills, thin.every))
    if thin.way == "leave":
        return tuple(slot for slot in range(stills) if slot % (thin.use + thin.leave) < thin.use)
    if thin.way == "even" and thin.count < stills:
        return tuple(slot * (stills - 1) // max(1, thin.count - 1) for slot in range(thin.count))
    if thin.way == "picked":
        return tuple(slot for slot in picked if slot < stills) or tuple(range(stills))
    return tuple(range(stills))


def speeds(curve: Sequence[Knot], shares: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return how many times as fast a curve is: between knots by equal factors.

    Parameters
    ----------
    curve : knots by share of the way and speed, rising
    shares : 0 … 1 of the way, any shape

    Returns
    -------
    factors above 0, shape as ``shares``
    """
    at = [knot.at for knot in curve]
    return np.asarray(np.exp(np.interp(shares, at, [math.log(knot.speed) for knot in curve])), np.float64)


def _by_clock(sequence: Sequence[int], times: Sequence[int], whole: int) -> Ticks:
    """Share ``whole`` ticks among the stills as the clock did; a step back or none counts as a usual one."""
    if not times:
        return np.full(len(sequence), whole // len(sequence), np.int64)
    taken = np.array([times[still] for still in sequence], np.float64)
    steps = np.abs(np.diff(taken))
    usual = float(np.median(steps[steps > 0])) if (steps > 0).any() else 1.0
    steps = np.where(steps > 0, steps, usual)
    steps = np.append(steps, usual)
    return np.asarray(np.maximum(1, np.rint(steps * (whole / steps.sum()))), np.int64)


def only_still(slot: int) -> FrameMix:
    """Return a frame that shows one still."""
    return FrameMix(((slot, Fraction(1)),))


def _between(position: Fraction, *, moving: bool) -> FrameMix:
    before = math.floor(position)
    share = position - before
    if not share:
        return only_still(before)
    return FrameMix(((before, 1 - share), (before + 1, share)), moving)


def _exposed(begin: Fraction, end: Fraction, stills: int) -> FrameMix:
    """Return the stills seen from one position to another, each by how long: a still lasts until the next one."""
    if begin == end:
        return only_still(math.floor(begin + Fraction(1, 2)))
    backwards = end < begin
    if backwards:
        begin, end = stills - 1 - begin, stills - 1 - end
    first, last = math.floor(begin), min(math.ceil(end), stills) - 1
    slots = list(range(first, max(first, last) + 1))
    if len(slots) > _MOST_AVERAGED:
        slots = [slots[step * len(slots) // _MOST_AVERAGED] for step in range(_MOST_AVERAGED)]
        seen = [Fraction(1)] * _MOST_AVERAGED
    else:
        seen = [max(Fraction(0), min(end, Fraction(slot + 1)) - max(begin, Fraction(slot))) for slot in slots]
    total = sum(seen) or Fraction(1)
    if not sum(seen):
        return only_still(stills - 1 - first if backwards else first)
    turned = [stills - 1 - slot if backwards else slot for slot in slots]
    return FrameMix(tuple((slot, part / total) for slot, part in zip(turned, seen, strict=True) if part))
