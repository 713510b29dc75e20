"""Sound in files: encoded once as AAC beside the pictures, and as lossless segments for playing."""

import io
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.container import OutputContainer
from numpy.typing import NDArray

from yarnkite.core.base.atomic import completed
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.loudness import Readable, blocks
from yarnkite.core.sound.stored import Wave

SOUND_CODEC = "flac"
_BIT_RATE = 256_000
_FLAC_PEAK = 2**31 - 1


@dataclass(frozen=True)
class SoundCodec:
    """How sound is written: FFmpeg's names of what encodes it, of what is found, of its samples, and of a file of it
    alone."""

    encoder: str
    name: str
    samples: str
    container: str
    bit_rate: int = 0


AAC = SoundCodec("aac", "aac", "fltp", "mp4", _BIT_RATE)
_OPUS = SoundCodec("libopus", "opus", "flt", "webm", _BIT_RATE)
_PCM = SoundCodec("pcm_s24le", "pcm_s24le", "s32", "mov")
_FLAC = SoundCodec("flac", "flac", "s32", "matroska")
# Names of those that give every sample back.
LOSSLESS = frozenset({_PCM.name, _FLAC.name})


def sound_codec_of(encode: Encode) -> SoundCodec:
    """Return how sound is written beside pictures: without loss beside those every frame of which stands by itself."""
    format = format_of(encode)
    container = format.container_of(encode)
    if container == "webm":
        return _OPUS
    if format.intra:
        return _FLAC if container == "mkv" else _PCM
    return AAC


def encode_sound(
    sound: Readable, target: Path, on_second: Callable[[int], None] = lambda done: None, codec: SoundCodec = AAC
) -> None:
    """Encode all of a sound in a file of its own; memory does not depend on its length.

    AAC is ISO/IEC 14496-3, Opus RFC 6716, FLAC RFC 9639. ``on_second`` is told how many seconds are done; what it
    raises ends the work. Raises ``DiskFull``.
    """
    with (
        completed(target, durable=True) as unfinished,
        av.open(str(unfinished), "w", format=codec.container) as container,
    ):
        stream = container.add_stream(codec.encoder, rate=RATE)
        assert isinstance(stream, av.AudioStream)
        if codec.bit_rate:
            stream.bit_rate = codec.bit_rate
        else:
            stream.format = codec.samples
        stream.layout = "stereo"
        stream.time_base = Fraction(1, RATE)
        first = 0
        for wave in blocks(sound):
            container.mux(stream.encode(_frame(wave, codec.samples, first)))
            first += len(wave)
            on_second(first // RATE)
        container.mux(stream.encode(None))


def sound_segment(wave: Wave) -> bytes:
    """Return samples, shape (n, 2), as a fragmented MP4 with lossless FLAC in it, which begins at 0."""
    memory = io.BytesIO()
    options = {"movflags": "empty_moov+default_base_moof", "strict": "-2"}
    with av.open(memory, "w", format="mp4", options=options) as container:
        stream = container.add_stream("flac", rate=RATE, options={"compression_level": "0"})
        stream.layout, stream.format = "stereo", "s32"
        stream.time_base = Fraction(1, RATE)
        _write_whole(container, stream, wave)
    return memory.getvalue()


def _write_whole(container: OutputContainer, stream: "av.AudioStream", wave: Wave) -> None:
    container.mux(stream.encode(_frame(wave, "s32", 0)))
    container.mux(stream.encode(None))


def _frame(wave: Wave, samples: str, first: int) -> av.AudioFrame:
    """Return samples, shape (n, 2), as a frame: floats a channel after the other or in turns, or whole numbers."""
    if samples == "fltp":
        ready: NDArray[np.generic] = wave.T
    elif samples == "flt":
        ready = wave.reshape(1, -1)
    else:
        ready = np.rint(np.clip(wave, -1, 1).astype(np.float64) * _FLAC_PEAK).astype(np.int32).reshape(1, -1)
    frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(ready), samples, "stereo")
    frame.sample_rate, frame.pts, frame.time_base = RATE, first, Fraction(1, RATE)
    return frame


def decoded(path: Path) -> Iterator[Wave]:
    """Yield the sound of a finished file as a player hears it, in blocks of shape (n, 2)."""
    with av.open(str(path)) as container:
        for frame in container.decode(audio=0):
            yield _floats(frame)


def _floats(frame: av.AudioFrame) -> Wave:
    """Return the samples of a frame, shape (n, 2), whatever form they have."""
    samples = frame.to_ndarray()
    if not frame.format.is_planar:
        samples = samples.reshape(-1, len(frame.layout.channels)).T
    if samples.dtype.kind == "i":
        samples = samples.astype(np.float64) / 2.0 ** (8 * samples.dtype.itemsize - 1)
    return np.ascontiguousarray(samples.T, np.float32)
