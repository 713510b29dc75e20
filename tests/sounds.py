"""Sounds with known truth: clicks, tones, pieces with a beat that is known."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np
import soundfile
from numpy.typing import NDArray

from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.stored import StoredSound, Wave


@dataclass(frozen=True)
class Samples:
    """A sound held in memory."""

    wave: Wave

    @property
    def total(self) -> int:
        return len(self.wave)

    def read(self, first: int, count: int) -> Wave:
        begin, end = max(0, first), min(self.total, first + count)
        if begin >= end:
            return np.zeros((count, 2), np.float32)
        return np.pad(self.wave[begin:end], ((begin - first, first + count - end), (0, 0)))


def tone(seconds: float, hertz: float = 997, level: float = 0.5, rate: int = RATE) -> Wave:
    time = np.arange(round(seconds * rate)) / rate
    return np.repeat((level * np.sin(2 * np.pi * hertz * time))[:, None], 2, axis=1).astype(np.float32)


def noise(seconds: float, level: float = 0.1, seed: int = 1) -> Wave:
    return (np.random.default_rng(seed).normal(size=(round(seconds * RATE), 2)) * level).astype(np.float32)


def clicks(total: int, *places: int) -> Wave:
    wave = np.zeros((total, 2), np.float32)
    wave[list(places)] = 0.8
    return wave


def piece(pattern: str, bpm: float = 120, beats: int = 16) -> Wave:
    """A piece of sections named by letters, each so many beats of its own tones, with a drum on each beat."""
    beat = round(60 / bpm * RATE)
    random = np.random.default_rng(5)
    drum = random.normal(size=2400) * np.exp(-np.arange(2400) / 400) * 0.5
    out = np.zeros((len(pattern) * beats * beat, 1))
    for section, letter in enumerate(pattern):
        root = 220 * 2 ** ((ord(letter) - ord("a")) * 5 % 12 / 12)
        for number in range(beats):
            at = (section * beats + number) * beat
            time = np.arange(beat) / RATE
            pitch = root * 2 ** ((0, 4, 7, 12)[number % 4] / 12)
            out[at : at + beat, 0] += 0.3 * np.sin(2 * np.pi * pitch * time) * np.exp(-3 * time)
            out[at : at + 2400, 0] += drum
    return np.repeat(out, 2, axis=1).astype(np.float32)


def stored(wave: Wave, path: Path) -> StoredSound:
    """Keep samples as the program does."""
    path.write_bytes(np.ascontiguousarray(wave, "<f4").tobytes())
    return StoredSound(str(path), path.stem, len(wave))


def written(wave: NDArray[np.float32], path: Path, rate: int = RATE, **options: str) -> Path:
    """Write a sound file as another program would."""
    soundfile.write(path, wave, rate, **options)
    return path
