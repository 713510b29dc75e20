"""Sounds as they are kept: float32 samples at 48 kHz, left and right by turns, in a file that any part of can be read from."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.errors import Refusal

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


def _lost(path: str) -> Refusal:
    return Refusal(
        "sound_lost", f"A sound of this project cannot be read any more ({Path(path).name}). Bring it in again."
    )
