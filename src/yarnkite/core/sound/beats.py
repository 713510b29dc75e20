"""Beats of music, and how alike its places are.

Sources: onsets as rises of a mel spectrum (Dixon 2006), beats by dynamic programming over them (Ellis 2007), places by
chroma and timbre of each beat (Foote 2000).
"""

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.loudness import Readable

_WINDOW, _HOP = 2048, 512
_FRAMES_A_SECOND = RATE / _HOP
_BANDS, _PITCHES = 40, 12
_BLOCK = 512
_SLOWEST_BPM, _FASTEST_BPM, _USUAL_BPM = 50, 190, 108
# How strongly a beat that is early or late counts against one that is strong.
_TIGHT = 100.0
_CLEAR = 0.12
LONGEST_S = 20 * 60


@dataclass(frozen=True)
class Beats:
    """Where beats lie, in samples, and what each sounds like, shape (beats, features), rows of length 1.

    ``clear`` is how clear the beat is, 0 … 1: below a tenth there is none to speak of.
    """

    at: Floats
    features: Floats
    bpm: float
    clear: float

    @property
    def has_beat(self) -> bool:
        return self.clear > _CLEAR and len(self.at) > 8


def beats_of(sound: Readable) -> Beats:
    """Return the beats of the first twenty minutes of a sound."""
    mel, chroma = _spectra(sound)
    onset = np.maximum(0, np.diff(mel, axis=0, prepend=mel[:1])).mean(axis=1)
    onset = onset - _local_mean(onset, round(_FRAMES_A_SECOND))
    onset = np.maximum(0, onset) / max(1e-9, float(onset.std()))
    period, clear = _period(onset)
    frames = _tracked(onset, period)
    return Beats(frames * float(_HOP), _features(mel, chroma, frames), 60 * _FRAMES_A_SECOND / period, clear)


def _spectra(sound: Readable) -> tuple[Floats, Floats]:
    """Return the mel spectrum in decibels and the chroma of a sound, shapes (frames, 40) and (frames, 12)."""
    total = min(sound.total, LONGEST_S * RATE)
    count = max(1, total // _HOP)
    bands, pitches = _mel_bands(), _pitch_bands()
    window = np.hanning(_WINDOW)
    mel, chroma = np.empty((count, _BANDS)), np.empty((count, _PITCHES))
    for first in range(0, count, _BLOCK):
        frames = min(_BLOCK, count - first)
        wave = sound.read(first * _HOP - _WINDOW // 2, (frames - 1) * _HOP + _WINDOW).mean(axis=1)
        cut = np.lib.stride_tricks.sliding_window_view(wave, _WINDOW)[::_HOP]
        power = np.abs(np.fft.rfft(cut * window, axis=1)) ** 2
        mel[first : first + frames] = 10 * np.log10(power @ bands + 1e-6)
        chroma[first : first + frames] = power @ pitches
    return mel, chroma


@lru_cache(maxsize=1)
def _mel_bands() -> Floats:
    """Return triangular bands evenly spaced in mel from 40 Hz to 12 kHz, shape (bins, bands)."""
    mel = np.linspace(2595 * np.log10(1 + 40 / 700), 2595 * np.log10(1 + 12000 / 700), _BANDS + 2)
    edges = 700 * (10 ** (mel / 2595) - 1)
    bins = np.arange(_WINDOW // 2 + 1) * RATE / _WINDOW
    rising = (bins[:, None] - edges[:-2]) / (edges[1:-1] - edges[:-2])
    falling = (edges[2:] - bins[:, None]) / (edges[2:] - edges[1:-1])
    return np.asarray(np.maximum(0, np.minimum(rising, falling)), np.float64)


@lru_cache(maxsize=1)
def _pitch_bands() -> Floats:
    """Return which of the twelve pitches each bin between 100 Hz and 4 kHz counts to, shape (bins, 12)."""
    bins = np.arange(1, _WINDOW // 2 + 1) * RATE / _WINDOW
    pitch = (12 * np.log2(bins / 440)) % _PITCHES
    distance = np.abs((pitch[:, None] - np.arange(_PITCHES) + 6) % 12 - 6)
    share = np.exp(-((distance / 0.5) ** 2)) * ((bins > 100) & (bins < 4000))[:, None]
    return np.vstack([np.zeros(_PITCHES), share])


def _period(onset: Floats) -> tuple[float, float]:
    """Return the frames between beats, and how clearly onsets come back after so many."""
    low, high = (round(60 * _FRAMES_A_SECOND / bpm) for bpm in (_FASTEST_BPM, _SLOWEST_BPM))
    if len(onset) < 4 * high:
        return 60 * _FRAMES_A_SECOND / _USUAL_BPM, 0.0
    size = 1 << (2 * len(onset) - 1).bit_length()
    centred = onset - onset.mean()
    spectrum = np.abs(np.fft.rfft(centred, size)) ** 2
    correlation = np.fft.irfft(spectrum)[: 4 * high] / max(1e-9, float(centred @ centred))
    lags = np.arange(low, high)
    prior = np.exp(-0.5 * (np.log2(60 * _FRAMES_A_SECOND / lags / _USUAL_BPM) / 0.9) ** 2)
    # A beat comes back after two of it as well, which half of it does not do more clearly.
    score = prior * (correlation[lags] + 0.5 * correlation[2 * lags])
    best = int(lags[np.argmax(score)])
    around = correlation[best - 1 : best + 2]
    bend = around[0] - 2 * around[1] + around[2]
    fine = best + (0.5 * (around[0] - around[2]) / bend if bend < 0 else 0.0)
    return float(fine), float(np.clip(correlation[best], 0, 1))


def _tracked(onset: Floats, period: float) -> Floats:
    """Return the frames of the beats: those that are strong and evenly apart (Ellis 2007)."""
    count = len(onset)
    reach = np.arange(-round(2 * period), -round(period / 2) + 1)
    late = -_TIGHT * np.log(-reach / period) ** 2
    score, before = onset.copy(), np.full(count, -1)
    for frame in range(-int(reach[0]), count):
        candidates = score[frame + reach] + late
        best = int(np.argmax(candidates))
        if candidates[best] > 0:
            score[frame] += candidates[best]
            before[frame] = frame + reach[best]
    last = count - 1 - int(np.argmax(score[::-1][: max(1, round(period))])) if count else 0
    found = []
    frame = last
    while frame >= 0 and count:
        found.append(frame)
        frame = int(before[frame])
    return np.array(found[::-1], np.float64)


def _features(mel: Floats, chroma: Floats, frames: Floats) -> Floats:
    """Return what each beat sounds like until the next: pitches and timbre, each weighted alike."""
    if not len(frames):
        return np.zeros((0, _PITCHES + _BANDS))
    edges = [*frames.astype(int), len(mel)]
    rows = []
    timbre = mel - mel.mean(axis=0)
    for first, last in pairwise(edges):
        pitches = np.sqrt(chroma[first : max(last, first + 1)].mean(axis=0))
        sound = timbre[first : max(last, first + 1)].mean(axis=0)
        rows.append(np.concatenate([_unit(pitches - pitches.mean()), _unit(sound)]))
    return np.asarray(np.stack(rows) / np.sqrt(2), np.float64)


def _unit(vector: Floats) -> Floats:
    return np.asarray(vector / max(1e-9, float(np.linalg.norm(vector))), np.float64)


def _local_mean(values: Floats, wide: int) -> Floats:
    return np.convolve(values, np.ones(wide) / wide, mode="same") if len(values) >= wide else values * 0 + values.mean()
