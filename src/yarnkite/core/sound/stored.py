"""Sounds as they are kept: float32 samples at 48 kHz, left and right by turns, in a file that any part of can be read
from."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from blake3 import blake3
from numpy.typing import NDArray

from yarnkite.core.base.atomic import completed
from yarnkite.core.base.errors import Refusal
from yarnkite.core.sound.decisions import RATE

Wave = NDArray[np.float32]

CHANNELS = 2
_BYTES = 4 * CHANNELS


@dataclass(frozen=True)
class StoredSound:
    """A sound that was taken in; ``fingerprint`` names its samples, ``samples`` is how many each channel has."""

    path: str
    fingerprint: str
    samples: int

    @property
    def total(self) -> int:
        return self.samples

    def read(self, first: int, count: int) -> Wave:
        """Return samples ``first … first + count - 1``, shape (count, 2); what lies outside is silent.

        Raises ``Refusal`` (``sound_lost``) if the file cannot be read.
        """
        begin, end = max(0, first), min(self.samples, first + count)
        if begin >= end:
            return np.zeros((count, CHANNELS), np.float32)
        try:
            with Path(self.path).open("rb") as file:
                part = np.fromfile(file, "<f4", (end - begin) * CHANNELS, offset=begin * _BYTES)
        except OSError:
            raise _lost(self.path) from None
        if len(part) != (end - begin) * CHANNELS:
            raise _lost(self.path)
        wave = part.reshape(-1, CHANNELS)
        if end - begin == count:
            return wave
        return np.pad(wave, ((begin - first, first + count - end), (0, 0)))


def keep_waves(
    waves: Iterable[Wave], target: Path, on_second: Callable[[int], None] = lambda done: None
) -> tuple[int, str]:
    """Write blocks of samples as a sound to be kept; returns how many there are and 32 hex digits (BLAKE3) that name
    them.

    ``on_second`` is told how many seconds are done; what it raises ends the work, and nothing is kept. Raises
    ``DiskFull``.
    """
    samples, state = 0, blake3()
    with completed(target, durable=True) as unfinished, unfinished.open("wb") as file:
        for wave in waves:
            data = np.ascontiguousarray(wave, "<f4").tobytes()
            file.write(data)
            state.update(data)
            samples += len(wave)
            on_second(samples // RATE)
    return samples, state.hexdigest()[:32]


def _lost(path: str) -> Refusal:
    return Refusal(
        "sound_lost", f"A sound of this project cannot be read any more ({Path(path).name}). Bring it in again."
    )
