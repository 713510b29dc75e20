"""Loudness after ITU-R BS.1770-4 and EBU R 128, and bringing a mix to one without clipping.

The measure is that of FFmpeg's ``ebur128`` filter, which follows libebur128.
"""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from typing import Protocol

import av
import av.filter
import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.stored import Wave

CEILING_DBTP = -1.0
# A gain that changes moves peaks between samples by a little; what is limited stays below the ceiling by that much
# more.
_MARGIN_DB = 0.25
_OVER_DB = 0.05
# Between samples a wave reaches at most about twice as far as at them.
_SAFE = 0.4
_BLOCK = 2 * RATE
_OVERSAMPLING = 4
_TAPS = 12
_AHEAD = RATE * 3 // 1000
_CONTEXT = 2 * _AHEAD + _TAPS
_NEAR_LU = 0.1
_ROUNDS = 12
_LEAST_SLOPE, _LONGEST_STEP_DB = 0.05, 8.0
# The gate of the measure: what is below counts as silence.
_SILENCE_LUFS = -70.0
_MOST_GAIN_DB = 40.0


class Readable(Protocol):
    """Sound of a length that any part of can be read from."""

    @property
    def total(self) -> int: ...

    def read(self, first: int, count: int) -> Wave: ...


@dataclass(frozen=True)
class Loudness:
    """Integrated loudness in LUFS, ``None`` for silence, and the true peak in dBTP."""

    lufs: float | None
    true_peak_dbtp: float


@dataclass(frozen=True)
class Mastering:
    """The gain that brings a mix to a loudness, and what it comes to; ``limited`` tells whether peaks are held down."""

    gain_db: float = 0.0
    limited: bool = False
    ceiling_dbtp: float = CEILING_DBTP
    reached: Loudness = Loudness(None, -144.0)


def measured(sound: Readable, before_block: Callable[[], None] = lambda: None) -> Loudness:
    """Return the loudness of all of a sound; memory does not depend on its length.

    ``before_block`` is called now and then; what it raises ends the work.
    """
    return loudness_of(blocks(sound), before_block)


def loudness_of(waves: Iterable[Wave], before_block: Callable[[], None] = lambda: None) -> Loudness:
    """Return the loudness of a sound that comes in blocks; see ``measured``."""
    meter = _Meter()
    for wave in waves:
        before_block()
        meter.add(wave)
    return meter.result()


class _Meter:
    """Feeds blocks to the filter and reads what it has measured so far."""

    def __init__(self) -> None:
        self._graph = av.filter.Graph()
        source = self._graph.add_abuffer(sample_rate=RATE, format="fltp", layout="stereo", time_base=Fraction(1, RATE))
        meter = self._graph.add("ebur128", "metadata=1:peak=true:framelog=quiet")
        sink = self._graph.add("abuffersink")
        source.link_to(meter)
        meter.link_to(sink)
        self._graph.configure()
        self._samples = 0
        self._peak = 0.0
        self._said: dict[str, str] = {}

    def add(self, wave: Wave) -> None:
        frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(wave.T), "fltp", "stereo")
        frame.sample_rate, frame.pts, frame.time_base = RATE, self._samples, Fraction(1, RATE)
        self._samples += len(wave)
        self._peak = max(self._peak, float(np.abs(wave).max(initial=0)))
        self._graph.push(frame)
        self._drain()

    def result(self) -> Loudness:
        self._graph.push(None)
        self._drain()
        integrated = float(self._said.get("lavfi.r128.I", "-inf"))
        true = max((float(value) for name, value in self._said.items() if name.endswith("_peak")), default=0.0)
        peak = max(self._peak, true)
        return Loudness(
            integrated if integrated > _SILENCE_LUFS else None, float(20 * np.log10(peak)) if peak > 1e-7 else -144.0
        )

    def _drain(self) -> None:
        while True:
            try:
                self._said.update(self._graph.pull().metadata)
            except (av.error.BlockingIOError, av.error.EOFError):
                return


class Mastered:
    """A mix with a gain, its peaks held below the ceiling where they would reach it; any part of it at a time."""

    def __init__(self, mix: Readable, gain_db: float, *, limited: bool, ceiling_dbtp: float = CEILING_DBTP) -> None:
        self._mix, self._gain, self._limited = mix, np.float32(10 ** (gain_db / 20)), limited
        self._ceiling = 10 ** ((ceiling_dbtp - _MARGIN_DB) / 20)

    @property
    def total(self) -> int:
        return self._mix.total

    def read(self, first: int, count: int) -> Wave:
        """Return samples ``first …``, shape (count, 2)."""
        if not self._limited:
            return self._mix.read(first, count) * self._gain
        wave = self._mix.read(first - _CONTEXT, count + 2 * _CONTEXT) * self._gain
        held = wave * _holding(wave, self._ceiling)[:, None]
        return np.ascontiguousarray(held[_CONTEXT : _CONTEXT + count], np.float32)


def _holding(wave: Wave, ceiling: float) -> Wave:
    """Return the gain that keeps the true peak of a wave below a ceiling; it comes and goes within milliseconds."""
    if np.abs(wave).max(initial=0) < _SAFE * ceiling:
        return np.ones(len(wave), np.float32)
    peaks = oversampled_peaks(wave)
    if peaks.max(initial=0) <= ceiling:
        return np.ones(len(wave), np.float32)
    needed = np.minimum(1.0, ceiling / np.maximum(peaks, 1e-9))
    from scipy.ndimage import convolve1d, minimum_filter1d

    least = minimum_filter1d(needed, 2 * _AHEAD + 1, mode="nearest")
    window = np.hanning(2 * _AHEAD + 3)[1:-1]
    return np.asarray(convolve1d(least, window / window.sum(), mode="nearest"), np.float32)


@cache
def _low_pass() -> Floats:
    # scipy.signal, and scipy.ndimage, take as long to load as all else of a start; only who listens waits for them.
    from scipy.signal import firwin

    taps = firwin(2 * _TAPS * _OVERSAMPLING + 1, 1 / _OVERSAMPLING, window=("kaiser", 7.0))
    return np.asarray(taps * _OVERSAMPLING, np.float64)


def oversampled_peaks(wave: Wave) -> Floats:
    """Return the greatest magnitude of a wave around each sample, between samples as well, over both channels.

    Source: ITU-R BS.1770-4 annex 2 (four times oversampled).
    """
    from scipy.ndimage import maximum_filter1d
    from scipy.signal import upfirdn

    fine = upfirdn(_low_pass(), wave.astype(np.float64), up=_OVERSAMPLING, axis=0)
    delay = _TAPS * _OVERSAMPLING
    magnitude = _of_both(fine[delay : delay + len(wave) * _OVERSAMPLING])
    around = maximum_filter1d(magnitude, _OVERSAMPLING + 1, mode="nearest")[::_OVERSAMPLING]
    return np.asarray(np.maximum(around, _of_both(wave)), np.float64)


def _of_both(wave: "Wave | Floats") -> Floats:
    # Ten times as fast as the greatest along an axis of two.
    magnitude = np.abs(wave)
    return np.asarray(np.maximum(magnitude[:, 0], magnitude[:, 1]), np.float64)


def mastering(
    mix: Readable,
    wanted_lufs: float | None,
    before_block: Callable[[], None] = lambda: None,
    *,
    most_dbtp: float = CEILING_DBTP,
) -> Mastering:
    """Return how a mix is brought to a loudness with a true peak of at most ``most_dbtp``.

    Without a wanted loudness it stays as it is, but for peaks that would clip.
    """
    as_it_is = measured(mix, before_block)
    lufs, peak = as_it_is.lufs, as_it_is.true_peak_dbtp
    gain = 0.0 if lufs is None or wanted_lufs is None else min(_MOST_GAIN_DB, wanted_lufs - lufs)
    if peak + gain <= most_dbtp:
        return Mastering(gain, False, reached=Loudness(None if lufs is None else lufs + gain, peak + gain))
    ceiling, slope = most_dbtp, 1.0
    before: tuple[float, float] | None = None
    for _ in range(_ROUNDS):
        measured_at = gain, ceiling
        reached = measured(Mastered(mix, gain, limited=True, ceiling_dbtp=ceiling), before_block)
        missing = 0.0 if wanted_lufs is None or reached.lufs is None else wanted_lufs - reached.lufs
        over = reached.true_peak_dbtp - most_dbtp
        if (abs(missing) < _NEAR_LU or gain >= _MOST_GAIN_DB) and over <= 0:
            break
        # Another measure may see a little more between samples than this one does.
        ceiling -= over + _OVER_DB if over > 0 else 0.0
        # Where peaks are held down, a decibel more makes less than a decibel louder, and of drums next to nothing.
        if before is not None and reached.lufs is not None and gain != before[0]:
            slope = min(1.0, max(_LEAST_SLOPE, (reached.lufs - before[1]) / (gain - before[0])))
        before = None if reached.lufs is None else (gain, reached.lufs)
        gain = min(_MOST_GAIN_DB, gain + min(_LONGEST_STEP_DB, missing / slope))
    return Mastering(measured_at[0], True, measured_at[1], reached)


def blocks(sound: Readable, size: int = _BLOCK) -> Iterator[Wave]:
    """Yield all of a sound in blocks of ``size`` samples, the last one shorter."""
    for first in range(0, sound.total, size):
        yield sound.read(first, min(size, sound.total - first))
