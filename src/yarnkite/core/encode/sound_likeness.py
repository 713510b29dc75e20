"""Likeness of sound: what is heard of a finished file against the mix it is to have, a quarter of a second at a
time."""

from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.loudness import Readable
from yarnkite.core.sound.stored import CHANNELS, Wave

# A codec that leaves out what is hardly heard keeps the wave itself below some 2 kHz: means of so many samples are
# compared.
_AVERAGED = 12
# Slow swaying, below some 40 Hz, is nothing that is heard, and not every codec keeps it.
_SLOW = 101
_PART = RATE // 4
# What differs may have this share of the power of what is planned; of what is loud beside it, or higher, which hides
# it; and this much where hardly anything is heard.
_MOST_APART, _BESIDE, _HIGHER, _NOTHING = 0.5, 0.01, 0.03, 10 ** (-80 / 10)
# All of a sound together is as planned to this share of its power: sides that are exchanged differ by little of it.
_LEAST_OVER_ALL = 0.88
# Without loss samples have 24 bits, and are cut off at full scale.
_STEP = 2.0**-22


@dataclass(frozen=True)
class SoundEvidence:
    """What comparing a sound gave: how many samples, the least share of a part's power that is as planned, where that
    is.

    ``fault`` is the sample at which the first part begins that is not as planned.
    """

    samples: int = 0
    lowest: float = 1.0
    fault: int | None = None


class SoundComparison:
    """Takes a sound as it is decoded, in blocks of any length, and compares it with the mix as that is read anew."""

    def __init__(self, planned: Readable, *, lossless: bool) -> None:
        self._planned, self._lossless = planned, lossless
        self._waiting: list[Wave] = []
        self._length = self._first = 0
        self._lowest = 1.0
        self._apart = self._power = 0.0
        self._fault: int | None = None

    def add(self, wave: Wave) -> None:
        """Take the next samples, shape (n, 2); raises ``Refusal`` (``sound_lost``) where the mix cannot be read."""
        self._waiting.append(wave)
        self._length += len(wave)
        while self._length >= RATE:
            every = np.concatenate(self._waiting)
            self._compare(every[:RATE])
            self._waiting, self._length = [every[RATE:]], len(every) - RATE

    def result(self) -> SoundEvidence:
        """Compare what is left, and return what was found; a file may go on a little beyond its sound, and is silent
        there."""
        if self._length:
            self._compare(np.concatenate(self._waiting)[: max(0, self._planned.total - self._first)])
            self._waiting, self._length = [], 0
        if self._fault is None and self._apart > (1 - _LEAST_OVER_ALL) * self._power:
            self._fault = 0
        return SoundEvidence(self._first, self._lowest, self._fault)

    def _compare(self, found: Wave) -> None:
        around = self._planned.read(self._first - _PART, len(found) + 2 * _PART)
        planned = around[_PART : _PART + len(found)]
        if self._lossless:
            alike = _same_samples(planned, found)
        else:
            apart, power = _apart(around, found)
            alike = np.maximum(0.0, 1 - apart / power)
            self._apart, self._power = self._apart + float(apart.sum()), self._power + float(power.sum())
        for number, one in enumerate(alike.tolist()):
            self._lowest = min(self._lowest, one)
            if one < 1 - _MOST_APART and self._fault is None:
                self._fault = self._first + number * _PART
        self._first += len(found)


def _same_samples(planned: Wave, found: Wave) -> Floats:
    """Return for each part 1 where all its samples are the planned ones, and 0 where any is not."""
    same = np.abs(np.clip(planned, -1, 1) - found) <= _STEP
    return np.array([float(same[first : first + _PART].all()) for first in range(0, len(same), _PART)])


def _apart(around: Wave, found: Wave) -> tuple[Floats, Floats]:
    """Return for each part the power of what differs below 2 kHz, and that which it is held against.

    ``around`` is what is planned, from a part before what was found to one behind it.
    """
    # Takes a quarter of a second to load; clips without sound do not wait for it.
    from scipy.ndimage import maximum_filter1d

    wanted = _averaged(around)
    heard = _averaged(np.concatenate([around[:_PART], found, around[_PART + len(found) :]]))
    low = _power(wanted, _PART // _AVERAGED)
    reference = np.maximum.reduce(
        [low, _BESIDE * maximum_filter1d(low, 3), _HIGHER * _power(around, _PART), np.full(len(low), _NOTHING)]
    )
    inner = slice(1, 1 + -(-len(found) // _PART))
    return _power(wanted - heard, _PART // _AVERAGED)[inner], reference[inner]


def _power(wave: "Wave | Floats", part: int) -> Floats:
    square = (np.square(wave[:, 0], dtype=np.float64) + np.square(wave[:, 1], dtype=np.float64)) / CHANNELS
    starts = np.arange(0, len(square), part)
    return np.asarray(np.add.reduceat(square, starts) / np.diff(np.append(starts, len(square))), np.float64)


def _averaged(wave: Wave) -> Floats:
    from scipy.ndimage import uniform_filter1d

    missing = -len(wave) % _AVERAGED
    low = np.pad(wave.astype(np.float64), ((0, missing), (0, 0))).reshape(-1, _AVERAGED, CHANNELS).mean(axis=1)
    return np.asarray(low - uniform_filter1d(low, _SLOW, axis=0, mode="nearest"), np.float64)
