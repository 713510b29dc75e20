"""The course of a sound's loudness: what is drawn of it, and what finds where it gets going."""

from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.sound.decisions import RATE, Track
from yarnkite.core.sound.loudness import Readable
from yarnkite.core.sound.mix import heard, stretches

A_SECOND = 50
_HOP = RATE // A_SECOND
_BLOCK = 200 * _HOP
_LEAST_DB = -70.0
# What gets going has come within so many dB of how loud a piece usually is, and stays there for so long.
_WITHIN_DB, _LASTING_S = 9.0, 0.6
_OFFERED_S = 0.4


@dataclass(frozen=True)
class Waveform:
    """The level of a sound ``A_SECOND`` times a second, in dB of full scale, and its greatest samples, 0 … 1."""

    level_db: Floats
    peak: Floats


def waveform(sound: Readable) -> Waveform:
    """Return the course of a sound; memory does not depend on how it is read."""
    powers, peaks = [], []
    for first in range(0, sound.total, _BLOCK):
        count = min(_BLOCK, -(-(sound.total - first) // _HOP) * _HOP)
        wave = sound.read(first, count).reshape(-1, _HOP, 2)
        powers.append(np.square(wave, dtype=np.float64).mean(axis=(1, 2)))
        peaks.append(np.abs(wave).max(axis=(1, 2)).astype(np.float64))
    power = np.concatenate(powers) if powers else np.zeros(0)
    peak = np.concatenate(peaks) if peaks else np.zeros(0)
    return Waveform(np.maximum(_LEAST_DB, 10 * np.log10(np.maximum(power, 1e-12))), np.minimum(peak, 1.0))


def beginning(course: Waveform) -> int | None:
    """Return the sample where a sound gets going, or ``None`` if it does so at once or never.

    That is where its level first comes, and stays for a while, near the level that it has for most of its length.
    """
    level = course.level_db
    smooth = _smoothed(level, A_SECOND // 5)
    audible = smooth[smooth > _LEAST_DB + 10]
    if not len(audible):
        return None
    usual = float(np.percentile(audible, 70))
    lasting = round(_LASTING_S * A_SECOND)
    going = np.convolve(smooth > usual - _WITHIN_DB, np.ones(lasting), mode="valid") >= 0.8 * lasting
    if not going.any():
        return None
    first = int(np.argmax(going))
    first += int(np.argmax(level[first:] > usual - _WITHIN_DB))
    # Back to the foot of the rise: a note that begins is not cut into.
    while first and level[first - 1] < level[first] and level[first] > usual - 2 * _WITHIN_DB:
        first -= 1
    return first * _HOP if first / A_SECOND >= _OFFERED_S else None


def loudness_along(track: Track, samples: int, total: int, course: Waveform, rows: int) -> list[float]:
    """Return how loud a track is along a reel of ``total`` samples, in ``rows`` even steps, 0 … 1, with fades and
    volume."""
    at = (np.arange(rows) + 0.5) * total / rows
    loud = np.zeros(rows)
    length = heard(track, samples, total)
    own = at - track.start
    for part in stretches(track, samples, total):
        inside = (own >= part.at) & (own < part.at + part.length)
        step = ((own[inside] - part.at + part.source) / _HOP).astype(int)
        loud[inside] = 10 ** (course.level_db[np.clip(step, 0, len(course.level_db) - 1)] / 20)
    if track.fade_in:
        loud *= np.sin(np.clip(own / track.fade_in, 0, 1) * np.pi / 2)
    if track.fade_out:
        loud *= np.sin(np.clip((length - own) / track.fade_out, 0, 1) * np.pi / 2)
    # Twice the level of a sine at full scale fills it.
    return [float(value) for value in np.clip(2 * loud * 10 ** (track.gain_db / 20), 0, 1) * (not track.muted)]


def quietest(course: Waveform, first: int, last: int) -> int:
    """Return the sample between two others where a sound is quietest."""
    low, high = first // _HOP, max(first // _HOP + 1, last // _HOP)
    smooth = _smoothed(course.level_db, A_SECOND // 5)[low:high]
    return min(last, (low + int(np.argmin(smooth))) * _HOP) if len(smooth) else last


def _smoothed(level: Floats, wide: int) -> Floats:
    power = 10 ** (level / 10)
    mean = np.convolve(power, np.ones(wide) / wide, mode="same") if len(power) >= wide else power
    return np.asarray(10 * np.log10(np.maximum(mean, 1e-12)), np.float64)
