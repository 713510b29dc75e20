"""Taking sounds in: any file the decoders know, as stereo at 48 kHz, with a sentence for what is odd about it."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import av.error
import numpy as np
import soxr

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.stored import CHANNELS, Wave, keep_waves

LONGEST_S = 4 * 3600
# Below this, in all of a file, nothing is heard: -60 dB of full scale.
_SILENT = 1e-3
_HIGHEST_RATE = 768_000


@dataclass(frozen=True)
class TakenIn:
    """How many samples a sound has, 32 hex digits (BLAKE3) that name them, and sentences about what was found."""

    samples: int
    fingerprint: str
    remarks: tuple[str, ...]


def take_in(path: Path, name: str, target: Path, on_second: Callable[[int], None] = lambda done: None) -> TakenIn:
    """Decode the first sound of a file into ``target``; ``name`` is what sentences call it.

    Memory does not depend on the length. ``on_second`` is told how many seconds are done; what it raises ends the work.

    Raises
    ------
    Refusal (``no_sound``, ``unreadable_sound``, ``sound_too_long``)
    DiskFull if the disk is full
    """
    remarks: list[str] = []
    samples, fingerprint = keep_waves(_checked(_waves(path, name, remarks), name, remarks), target, on_second)
    return TakenIn(samples, fingerprint, tuple(remarks))


def _checked(waves: Iterator[Wave], name: str, remarks: list[str]) -> Iterator[Wave]:
    """Pass on what is neither too long nor nothing at all, and note what is silent."""
    samples, loudest = 0, 0.0
    for wave in waves:
        samples += len(wave)
        if samples > LONGEST_S * RATE:
            raise Refusal(
                "sound_too_long",
                f"“{name}” is longer than {LONGEST_S // 3600} hours. Cut out the part you need and bring that in.",
            )
        loudest = max(loudest, float(np.abs(wave).max(initial=0)))
        yield wave
    if not samples:
        raise _unreadable(name)
    if loudest < _SILENT:
        remarks.append(f"“{name}” is silent from beginning to end.")


def _waves(path: Path, name: str, remarks: list[str]) -> Iterator[Wave]:
    """Yield a file's sound in blocks of stereo at 48 kHz."""
    resampler = _ToStereo(name, remarks)
    heard, breaks_off = 0, False
    try:
        with av.open(str(path)) as container:
            if not container.streams.audio:
                raise Refusal("no_sound", f"“{name}” has no sound in it. Choose a sound file, or a video with sound.")
            if container.streams.video and not _is_cover(container):
                remarks.append(f"“{name}” is a video: its sound was taken, its picture left.")
            for frame in container.decode(container.streams.audio[0]):
                for wave in resampler.taken(frame):
                    heard += len(wave)
                    yield wave
    except av.error.EOFError:
        pass
    except (av.error.FFmpegError, ValueError, OSError):
        if not resampler.begun:
            raise _unreadable(name) from None
        breaks_off = True
    for wave in resampler.rest():
        heard += len(wave)
        yield wave
    said = 0.0 if breaks_off else said_seconds(path)
    is_short = said - heard / RATE > max(1.0, 0.02 * said) and said < LONGEST_S * 10
    if breaks_off or is_short:
        though = f", though it says it has {said:.0f} s" if is_short else ""
        lasts = duration_text(Fraction(heard, RATE))
        remarks.append(
            f"“{name}” breaks off after {lasts}{though}: damaged or copied by halves. What there is, is used."
        )


def said_seconds(path: Path) -> float:
    """Return how long a file says its sound is, 0 if it does not say."""
    try:
        with av.open(str(path)) as container:
            stream = container.streams.audio[0]
            said = float((stream.duration or 0) * (stream.time_base or 0))
            bytes_a_second = stream.codec_context.sample_rate * stream.codec_context.channels
            bytes_a_second *= max(1, stream.codec_context.format.bytes)
        with path.open("rb") as file:
            head = file.read(4096)
    except (av.error.FFmpegError, OSError):
        return 0.0
    at = head.find(b"data", 12) if head[:4] == b"RIFF" else -1
    if at < 0 or len(head) < at + 8:
        return said
    # A decoder tells what is left of a WAV; its header still tells what there was (RIFF, "data").
    return max(said, int.from_bytes(head[at + 4 : at + 8], "little") / bytes_a_second)


class _ToStereo:
    """Brings frames of any rate, layout and depth to stereo at 48 kHz; a rate that changes in the middle is
    followed."""

    def __init__(self, name: str, remarks: list[str]) -> None:
        self._name, self._remarks = name, remarks
        self._rate = 0
        self._stream: soxr.ResampleStream | None = None
        self.begun = False

    def taken(self, frame: av.AudioFrame) -> Iterator[Wave]:
        if not 1000 <= frame.sample_rate <= _HIGHEST_RATE:
            raise ValueError(f"{frame.sample_rate} samples a second")
        if frame.sample_rate != self._rate:
            if self._rate:
                self._note(
                    f"“{self._name}” changes its rate from {self._rate:,} to "
                    f"{frame.sample_rate:,} Hz on the way; it plays on evenly."
                )
                yield from self.rest()
            self._rate = frame.sample_rate
            same = self._rate == RATE
            self._stream = None if same else soxr.ResampleStream(self._rate, RATE, CHANNELS, "float32", "VHQ")
        stereo = self._stereo(frame)
        self.begun = True
        yield stereo if self._stream is None else self._stream.resample_chunk(stereo)

    def rest(self) -> Iterator[Wave]:
        """Yield what the resampler still holds."""
        if self._stream is not None:
            yield self._stream.resample_chunk(np.zeros((0, CHANNELS), np.float32), last=True)
            self._stream = None
            self._rate = 0

    def _stereo(self, frame: av.AudioFrame) -> Wave:
        samples = _as_float(frame)
        channels = samples.shape[1]
        if channels == 1:
            return np.repeat(samples, 2, axis=1)
        if channels == 2:
            return samples
        self._note(f"“{self._name}” has {channels} channels; they are mixed down to two.")
        return _mixed_down(samples)

    def _note(self, sentence: str) -> None:
        if sentence not in self._remarks:
            self._remarks.append(sentence)


def _as_float(frame: av.AudioFrame) -> Wave:
    """Return a frame's samples as float32, shape (samples, channels), full scale at 1."""
    array = frame.to_ndarray()
    channels = frame.layout.nb_channels
    array = array.T if frame.format.is_planar else array.reshape(-1, channels)
    if array.dtype == np.uint8:
        return np.asarray((array.astype(np.float32) - 128) / 128, np.float32)
    if array.dtype.kind == "i":
        return np.asarray(array / np.float32(2 ** (8 * array.dtype.itemsize - 1)), np.float32)
    return np.nan_to_num(np.ascontiguousarray(array, np.float32), nan=0.0, posinf=1.0, neginf=-1.0)


def _mixed_down(samples: Wave) -> Wave:
    """Mix many channels to two: 5.1 and 7.1 as ITU-R BS.775-3 has it, others odd ones to the left, even ones to the
    right."""
    half = np.float32(np.sqrt(0.5))
    channels = samples.shape[1]
    if channels in (6, 8):
        left = samples[:, 0] + half * samples[:, 2] + half * samples[:, 4::2].sum(axis=1)
        right = samples[:, 1] + half * samples[:, 2] + half * samples[:, 5::2].sum(axis=1)
        return np.asarray(np.stack([left, right], axis=1) / (1 + 2 * half), np.float32)
    return np.stack([samples[:, 0::2].mean(axis=1), samples[:, 1::2].mean(axis=1)], axis=1).astype(np.float32)


def _is_cover(container: "av.container.InputContainer") -> bool:
    """Tell whether a file's pictures are only the cover of a record."""
    return all(stream.disposition & av.stream.Disposition.attached_pic for stream in container.streams.video)


def _unreadable(name: str) -> Refusal:
    return Refusal(
        "unreadable_sound", f"“{name}” cannot be read as sound. Save it as WAV, FLAC or MP3 and bring that in."
    )
