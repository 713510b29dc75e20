"""Mixing: tracks laid over each other, any stretch of them at a time, always with the same samples.

Fades and crossovers follow a quarter of a sine (equal power), so that two sounds that have nothing to do with each
other keep their loudness where one goes over into the other.
"""

from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.sound.decisions import RATE, Track
from yarnkite.core.sound.stored import CHANNELS, StoredSound, Wave

# How long a sound and its repetition, or the two sides of a splice, go over into each other.
CROSSOVER = RATE // 20
# What is shorter would be a tone of its own if it began again and again.
_SHORTEST_REPEATED = RATE // 4
_HOP = RATE // 100
_HEARD_DB = -42.0
# A sound steps back a little before the other begins, and comes back a while after.
_BEFORE_S, _AFTER_S, _OVER_S = 0.15, 0.6, 0.3
_BLOCK = 10 * RATE


@dataclass(frozen=True)
class SampleRange:
    """Samples ``source …`` of a sound that are heard from ``at`` on in the track, for ``length``; it comes in by a
    crossover unless it is the first."""

    at: int
    source: int
    length: int


def stretches(track: Track, samples: int, total: int) -> list[SampleRange]:
    """Return what of a sound of so many samples is heard in a reel of ``total`` samples, in the order it is heard.

    All but the last reach a crossover beyond where the next begins, as far as the sound goes.
    """
    room = total - track.start
    if track.length is not None:
        room = min(room, track.length)
    found: list[SampleRange] = []
    at, source, coming = 0, track.skip, list(track.splices)
    while at < room and source < samples:
        splice = next((one for one in coming if one.leave > source), None)
        leave = min(splice.leave, samples) if splice else samples
        if splice:
            coming = coming[coming.index(splice) + 1 :]
        goes_on = splice is not None or (track.repeats and leave - source >= _SHORTEST_REPEATED)
        # A repetition begins before the end is reached, so that the two can go over into each other.
        short = CROSSOVER if goes_on and splice is None and leave - source > 4 * CROSSOVER else 0
        lasts = leave - source - short
        reach = min(lasts + (CROSSOVER if goes_on else 0), samples - source, room - at)
        found.append(SampleRange(at, source, reach))
        if not goes_on or lasts <= 0:
            break
        at += lasts
        source = splice.enter if splice else track.skip
    return found


def heard(track: Track, samples: int, total: int) -> int:
    """Return how many samples a track is heard for in a reel of ``total`` samples."""
    found = stretches(track, samples, total)
    return found[-1].at + found[-1].length if found else 0


class Mix:
    """The tracks of a reel of ``total`` samples, mixed; any part of it at a time.

    ``fade_in`` and ``fade_out`` are those of the whole. Tracks whose sound is not there are silent.
    """

    def __init__(
        self,
        tracks: Sequence[Track],
        sounds: Mapping[int, StoredSound],
        total: int,
        fade_in: int = 0,
        fade_out: int = 0,
    ) -> None:
        self._tracks = [track for track in tracks if track.sound in sounds and not track.muted]
        self._sounds = sounds
        self._parts = {track.id: stretches(track, sounds[track.sound].samples, total) for track in self._tracks}
        self.total, self._fade_in, self._fade_out = total, fade_in, fade_out

    @property
    def is_silent(self) -> bool:
        return not any(self._parts[track.id] for track in self._tracks)

    def read(self, first: int, count: int) -> Wave:
        """Return samples ``first … first + count - 1``, shape (count, 2); silent outside the reel."""
        wave = np.zeros((count, CHANNELS), np.float32)
        for track in self._tracks:
            part = self._track(track, first, count)
            if part is None:
                continue
            if track.duck_db and self._stepped is not None:
                part *= _gain(-track.duck_db * self._back(first, count))[:, None]
            wave += part
        return _scaled(wave, faded(first, count, self.total, self._fade_in, self._fade_out))

    def _track(self, track: Track, first: int, count: int) -> Wave | None:
        """Return a track's part of the mix without stepping back, or ``None`` where it is not heard."""
        sound, parts = self._sounds[track.sound], self._parts[track.id]
        length = parts[-1].at + parts[-1].length if parts else 0
        begin = first - track.start
        low, high = max(0, begin), min(length, begin + count)
        if low >= high:
            return None
        wave = np.zeros((count, CHANNELS), np.float32)
        first_heard = max(0, bisect_right(parts, low, key=lambda part: part.at) - 2)
        for number in range(first_heard, bisect_left(parts, high, key=lambda part: part.at)):
            part = parts[number]
            here, there = max(low, part.at), min(high, part.at + part.length)
            if here >= there:
                continue
            piece = sound.read(part.source + here - part.at, there - here)
            comes = CROSSOVER if number else 0
            goes = part.length - (parts[number + 1].at - part.at) if number + 1 < len(parts) else 0
            wave[here - begin : there - begin] += _scaled(
                piece, faded(here - part.at, there - here, part.length, comes, goes)
            )
        if track.gain_db:
            wave *= np.float32(10 ** (track.gain_db / 20))
        return _scaled(wave, faded(begin, count, length, track.fade_in, track.fade_out))

    @cached_property
    def _stepped(self) -> Floats | None:
        """How far back sounds step, 0 … 1, a hundred times a second; nothing where there is nothing to step back
        for."""
        leading = [track for track in self._tracks if not track.duck_db]
        if not leading or len(leading) == len(self._tracks):
            return None
        level = np.zeros(-(-self.total // _HOP) + 1)
        for first in range(0, self.total, _BLOCK):
            wave = np.zeros((_BLOCK, CHANNELS), np.float32)
            for track in leading:
                part = self._track(track, first, _BLOCK)
                if part is not None:
                    wave += part
            power = np.square(wave, dtype=np.float64).mean(axis=1).reshape(-1, _HOP).mean(axis=1)
            hop = first // _HOP
            level[hop : hop + len(power)] = power[: len(level) - hop]
        loud = (level > 10 ** (_HEARD_DB / 10)).astype(np.float64)
        before, after = round(_BEFORE_S * 100), round(_AFTER_S * 100)
        wide = before + after + 1
        # Takes a quarter of a second to load; only who mixes waits for it.
        from scipy.ndimage import maximum_filter1d, uniform_filter1d

        held = maximum_filter1d(loud, wide, origin=(wide // 2) - before, mode="constant")
        smooth: Floats = uniform_filter1d(held, round(_OVER_S * 100), mode="nearest")
        return smooth

    def _back(self, first: int, count: int) -> Floats:
        assert self._stepped is not None
        position = np.arange(first, first + count) / _HOP
        return np.interp(position, np.arange(len(self._stepped)), self._stepped)


def faded(first: int, count: int, length: int, fade_in: int, fade_out: int) -> Wave | None:
    """Return the gain of samples ``first …`` of something ``length`` samples long that fades in and out.

    ``None`` stands for 1 throughout.
    """
    comes, goes = fade_in and first < fade_in, fade_out and first + count > length - fade_out
    if not comes and not goes:
        return None
    position = np.arange(first, first + count)
    rise = _rise(position, fade_in) if comes else np.ones(count, np.float32)
    return rise * _rise(length - 1 - position, fade_out) if goes else rise


def _scaled(wave: Wave, gain: Wave | None) -> Wave:
    if gain is not None:
        wave *= gain[:, None]
    return wave


def _rise(position: "np.ndarray[tuple[int], np.dtype[np.int64]]", length: int) -> Wave:
    share = np.clip((position + 0.5) / max(1, length), 0, 1)
    return np.sin(share * (np.pi / 2)).astype(np.float32)


def _gain(decibels: Floats) -> Wave:
    return (10 ** (decibels / 20)).astype(np.float32)
