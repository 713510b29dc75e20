"""How bright a clip of high dynamic range is: measured on what it shows, and written where its stream says it.

Sources: CTA-861.3 annex P (how content light levels are worked out), ITU-T H.265 D.2.35 (where they stand), ITU-R
BT.2100-2 table 4 (from signal to light). Whole numbers of cd/m².
"""

import mmap
import os
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.encode.colours import PQ
from yarnkite.core.image.high_range import pq_light

# What says it in a stream: a message of nine bytes, two of them for each number.
_MESSAGE = b"\x4e\x01\x90\x04%b\x80"
_LENGTH = b"\x00\x09"
_ANY = re.compile(re.escape(_MESSAGE).replace(b"%b", b"(.{4})"), re.DOTALL)
# Messages come before the pictures of a packet.
_BEFORE_PICTURES = 400


@dataclass(frozen=True)
class LightLevel:
    """The brightest pixel of all, and the mean of the brightest frame, by each pixel's strongest colour."""

    brightest: int
    mean: int

    @property
    def written(self) -> bytes:
        return self.brightest.to_bytes(2) + self.mean.to_bytes(2)


# What an encoder is told, before anything of a clip is known.
NOT_KNOWN = LightLevel(1000, 400)


def highest(levels: Iterable[LightLevel]) -> LightLevel:
    """Return the level of what several parts are together."""
    every = list(levels)
    return LightLevel(max(one.brightest for one in every), max(one.mean for one in every))


def light_level(planes: Sequence[NDArray[np.unsignedinteger]]) -> LightLevel:
    """Measure a frame in PQ.

    Parameters
    ----------
    planes : luma, blue and red difference in limited range, 10 bits, shape (height, width) and half of both
    """
    luma, blues, reds = planes
    brightest, total = _measured(luma, blues, reds, np.float32(PQ.red), np.float32(PQ.blue), _light())
    # Nought would say that nobody knows, and two bytes of it in a row are no message.
    return LightLevel(max(1, round(brightest)), max(1, round(total / luma.size)))


@lru_cache(maxsize=1)
def _light() -> NDArray[np.float32]:
    """Light of each signal in steps of a code of full range, 12 bits."""
    return pq_light(np.arange(4096) / 4095).astype(np.float32)


@njit(nogil=True, cache=True)
def _measured(luma, blues, reds, red, blue, light):  # type: ignore[no-untyped-def]
    brightest, total = np.float32(0), np.float64(0)
    green = np.float32(1) - red - blue
    for y in range(luma.shape[0]):
        for x in range(luma.shape[1]):
            bright = (np.float32(luma[y, x]) - np.float32(64)) / np.float32(876)
            to_blue = (np.float32(blues[y // 2, x // 2]) - np.float32(512)) / np.float32(896)
            to_red = (np.float32(reds[y // 2, x // 2]) - np.float32(512)) / np.float32(896)
            r = bright + np.float32(2) * (np.float32(1) - red) * to_red
            b = bright + np.float32(2) * (np.float32(1) - blue) * to_blue
            g = (bright - red * r - blue * b) / green
            signal = min(max(r, g, b, np.float32(0)), np.float32(1))
            found = light[int(signal * np.float32(4095) + np.float32(0.5))]
            brightest = max(brightest, found)
            total += found
    return brightest, total


def write_level(file: Path, level: LightLevel) -> None:
    """Write a clip's light level into a finished file, everywhere its stream says one that was not known."""
    before, after = (_LENGTH + _MESSAGE % one.written for one in (NOT_KNOWN, level))
    with file.open("r+b") as opened, mmap.mmap(opened.fileno(), 0) as held:
        at = held.find(before)
        while at >= 0:
            held[at : at + len(before)] = after
            at = held.find(before, at + len(after))
        held.flush()
        os.fsync(opened.fileno())


def level_in(headers: bytes) -> LightLevel | None:
    """Return the light level that headers say."""
    found = _ANY.search(headers)
    return LightLevel(int.from_bytes(found[1][:2]), int.from_bytes(found[1][2:])) if found else None


def without_level(data: bytes) -> bytes:
    """Return headers or a packet as they were before their light level was known."""
    head = data[:_BEFORE_PICTURES]
    return _ANY.sub(lambda _: _MESSAGE % NOT_KNOWN.written, head) + data[_BEFORE_PICTURES:]
