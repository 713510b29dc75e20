"""Sound in files: encoded once as AAC beside the pictures, and as lossless segments for playing."""

import io
from collections.abc import Callable, Iterator
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.container import OutputContainer

from yarnkite.core.base.atomic import completed
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.loudness import Readable, blocks
from yarnkite.core.sound.stored import Wave

SOUND_CODEC = "flac"
_BIT_RATE = 256_000
_FLAC_PEAK = 2**31 - 1


def encode_sound(sound: Readable, target: Path, on_second: Callable[[int], None] = lambda done: None) -> None:
    """Encode all of a sound as AAC (ISO/IEC 14496-3) in an MP4 of its own; memory does not depend on its length.

    ``on_second`` is told how many seconds are done; what it raises ends the work. Raises ``NoRoom``.
    """
    with completed(target, durable=True) as unfinished, av.open(str(unfinished), "w", format="mp4") as container:
        stream = container.add_stream("aac", rate=RATE)
        stream.bit_rate = _BIT_RATE
        stream.layout = "stereo"
        stream.time_base = Fraction(1, RATE)
        first = 0
        for wave in blocks(sound):
            container.mux(stream.encode(_frame(wave, "fltp", first)))
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
    whole = np.rint(np.clip(wave, -1, 1).astype(np.float64) * _FLAC_PEAK).astype(np.int32)
    frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(whole.reshape(1, -1)), "s32", "stereo")
    frame.sample_rate, frame.pts, frame.time_base = RATE, 0, Fraction(1, RATE)
    container.mux(stream.encode(frame))
    container.mux(stream.encode(None))


def _frame(wave: Wave, form: str, first: int) -> av.AudioFrame:
    frame = av.AudioFrame.from_ndarray(np.ascontiguousarray(wave.T), form, "stereo")
    frame.sample_rate, frame.pts, frame.time_base = RATE, first, Fraction(1, RATE)
    return frame


def decoded(path: Path) -> Iterator[Wave]:
    """Yield the sound of a finished file as a player hears it, in blocks of shape (n, 2)."""
    with av.open(str(path)) as container:
        for frame in container.decode(audio=0):
            yield np.ascontiguousarray(frame.to_ndarray().T, np.float32)
