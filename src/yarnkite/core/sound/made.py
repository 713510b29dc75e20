"""Sounds the program makes up, for people who have none at hand: free to use, the same for the same seed.

They are a stand-in for a library of music, and the sounds of the demo.
"""

from collections.abc import Iterator
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.frozen import Frozen
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.stored import Wave

Kind = Literal["calm", "bright", "dusk", "driving", "water", "gulls", "wind"]
BEDS: dict[Kind, str] = {
    "calm": "calm music",
    "bright": "bright music",
    "dusk": "music at dusk",
    "driving": "driving music",
}
NOISES: dict[Kind, str] = {"water": "water", "gulls": "gulls", "wind": "wind"}

_A4 = 440.0
_BEATS_A_BAR = 4
_LEVEL = 0.16


class Made(Frozen):
    """A sound to make up: its kind, its length and the seed that makes it another one."""

    kind: Kind
    seconds: Annotated[float, Field(ge=1, le=3600, allow_inf_nan=False)]
    seed: Annotated[int, Field(ge=0, le=9999)] = 1

    @property
    def name(self) -> str:
        return f"{(BEDS | NOISES)[self.kind]} {self.seed}"


def made(wanted: Made) -> Iterator[Wave]:
    """Yield a made-up sound in blocks of stereo at 48 kHz, exactly as long as wanted."""
    left = round(wanted.seconds * RATE)
    coming = _bed(wanted) if wanted.kind in BEDS else _noise(wanted)
    for wave in coming:
        part = wave[:left]
        left -= len(part)
        if len(part):
            yield np.asarray(part, np.float32)
        if left <= 0:
            return


# Roots of the chords in semitones above the key, and whether each is minor; tempo; key; how many plucked notes a beat.
_MOODS: dict[Kind, tuple[tuple[tuple[int, bool], ...], int, float, int]] = {
    "calm": (((0, False), (9, True), (5, False), (7, False)), 72, -14, 1),
    "bright": (((0, False), (7, False), (9, True), (5, False)), 104, -9, 2),
    "dusk": (((0, True), (8, False), (3, False), (10, False)), 66, -12, 1),
    "driving": (((0, True), (10, False), (8, False), (10, False)), 120, -16, 2),
}


def _bed(wanted: Made) -> Iterator[Wave]:
    """Yield music bar by bar; its tempo is bent so that the last chord, which is the first again, ends with it."""
    chords, tempo, key, plucks = _MOODS[wanted.kind]
    random = np.random.default_rng([wanted.seed, list(_MOODS).index(wanted.kind)])
    total = round(wanted.seconds * RATE)
    bars = max(1, round(wanted.seconds * tempo / 60 / _BEATS_A_BAR))
    bar = -(-total // bars)
    key += float(random.integers(-3, 4))
    order = random.permutation(4) if plucks > 1 else np.arange(4)
    tail = np.zeros((bar + 3 * RATE, 2))
    for number in range(bars):
        root, minor = chords[number % len(chords)] if number < bars - 1 else chords[0]
        triad = [key + root + step for step in (0, 3 if minor else 4, 7, 12)]
        _pad(tail, triad, bar)
        if number or bars < 3:
            _plucked(tail, [triad[one] for one in order], bar, plucks, random, first_only=number == bars - 1)
        if number > 1 or bars < 4:
            _bass(tail, key + root - 12, bar, twice=plucks > 1)
        part = tail[:bar].copy()
        if number == bars - 1:
            part *= np.cos(np.linspace(0, np.pi / 2, bar))[:, None] ** 0.7
        yield np.tanh(part).astype(np.float32)
        tail[:-bar] = tail[bar:]
        tail[-bar:] = 0


def _pad(out: Floats, notes: list[float], bar: int) -> None:
    for note, place in zip(notes[:3], range(3), strict=True):
        out[: bar + RATE] += _pad_note(note, place, bar + RATE)


# A piece has few notes, each of which is heard many times.
@lru_cache(maxsize=24)
def _pad_note(note: float, place: int, length: int) -> Floats:
    time = np.arange(length) / RATE
    swell = np.clip(time / 0.6, 0, 1) * np.clip((length - np.arange(length)) / (RATE * 1.2), 0, 1)
    sides = []
    for cents in (-4, 4):
        pitch = _hertz(note + cents / 100)
        sides.append(sum(np.sin(2 * np.pi * pitch * one * time + place) / one**2.2 for one in (1, 2, 3, 4)))
    return np.asarray(_LEVEL * 0.55 * swell[:, None] * np.stack(sides, axis=1), np.float64)


def _plucked(
    out: Floats, notes: list[float], bar: int, a_beat: int, random: np.random.Generator, *, first_only: bool
) -> None:
    count = 1 if first_only else _BEATS_A_BAR * a_beat
    for step in range(count):
        at = step * bar // (_BEATS_A_BAR * a_beat)
        strength = 1.0 if step % a_beat == 0 else 0.6
        across = 0.5 + 0.35 * np.sin(step * 1.7 + random.uniform(0, 0.5))
        room = out[at:]
        sound = strength * _pluck(notes[step % len(notes)] + 12)[: len(room)]
        room[: len(sound), 0] += sound * np.sqrt(1 - across)
        room[: len(sound), 1] += sound * np.sqrt(across)


@lru_cache(maxsize=32)
def _pluck(note: float) -> Floats:
    time = np.arange(round(1.4 * RATE)) / RATE
    pitch = _hertz(note)
    partials = (
        np.sin(2 * np.pi * pitch * one * time) * np.exp(-time * (2.5 + 1.8 * one)) / one for one in (1, 2, 3, 5)
    )
    return np.asarray(_LEVEL * np.clip(time / 0.004, 0, 1) * sum(partials), np.float64)


def _bass(out: Floats, note: float, bar: int, *, twice: bool) -> None:
    length = bar // (2 if twice else 1)
    for half in range(2 if twice else 1):
        out[half * length : half * length + length] += _bass_note(note, length)[:, None]


@lru_cache(maxsize=16)
def _bass_note(note: float, length: int) -> Floats:
    time = np.arange(length) / RATE
    swell = np.clip(time / 0.02, 0, 1) * np.exp(-time * 0.9) * np.clip((length - np.arange(length)) / 2400, 0, 1)
    wave = np.sin(2 * np.pi * _hertz(note) * time) + 0.3 * np.sin(4 * np.pi * _hertz(note) * time)
    return np.asarray(_LEVEL * 1.3 * swell * wave, np.float64)


def _hertz(note: float) -> float:
    """Return the frequency of a note so many semitones from the A of 440 Hz."""
    return float(_A4 * 2 ** (note / 12))


def _noise(wanted: Made) -> Iterator[Wave]:
    """Yield water, gulls or wind second by second."""
    from scipy.signal import butter, sosfilt, sosfilt_zi

    random = np.random.default_rng([wanted.seed, 100 + list(NOISES).index(wanted.kind)])
    low, high = {"water": (250, 2600), "gulls": (300, 1500), "wind": (120, 700)}[wanted.kind]
    filters = butter(2, [low, high], "bandpass", fs=RATE, output="sos")
    state = np.repeat(sosfilt_zi(filters)[:, :, None], 2, axis=2) * 0
    phase = random.uniform(0, 2 * np.pi, 3)
    calls = np.zeros((3 * RATE, 2))
    second = 0
    while True:
        noise, state = sosfilt(filters, random.normal(size=(RATE, 2)), axis=0, zi=state)
        time = second + np.arange(RATE) / RATE
        slow = sum(np.sin(2 * np.pi * time / every + one) for every, one in zip((4.1, 7.3, 11.9), phase, strict=True))
        swell = {"water": 0.35 + 0.1 * slow, "gulls": 0.05 + 0 * slow, "wind": 0.3 + 0.11 * slow}[wanted.kind]
        if wanted.kind == "gulls" and random.uniform() < 0.4:
            _call(calls, random)
        yield (noise * 0.5 * np.maximum(swell, 0.02)[:, None] + calls[:RATE]).astype(np.float32)
        calls[:-RATE] = calls[RATE:]
        calls[-RATE:] = 0
        second += 1


def _call(out: Floats, random: np.random.Generator) -> None:
    """Add the cry of a bird: some falling tones one after another."""
    at, across = round(random.uniform(0, 0.6) * RATE), random.uniform(0.15, 0.85)
    pitch = random.uniform(1300, 1900)
    for cry in range(int(random.integers(1, 4))):
        length = round(random.uniform(0.18, 0.34) * RATE)
        time = np.arange(length) / length
        course = pitch * (1 + 0.25 * np.sin(np.pi * time) - 0.25 * time - 0.05 * cry)
        turn = 2 * np.pi * np.cumsum(course) / RATE
        wave = (np.sin(turn) + 0.4 * np.sin(2 * turn) + 0.2 * np.sin(3 * turn)) * np.sin(np.pi * time) ** 0.7 * 0.07
        room = out[at : at + length]
        room[:, 0] += wave[: len(room)] * np.sqrt(1 - across)
        room[:, 1] += wave[: len(room)] * np.sqrt(across)
        at += round(length * 1.35)
