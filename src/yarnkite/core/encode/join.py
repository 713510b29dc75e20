"""Joining rendered chunks into one file without re-encoding, with the sound that was encoded for them."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from types import TracebackType
from typing import Any

import av
import av.error
from av.container import OutputContainer

from yarnkite.core.base.atomic import completed
from yarnkite.core.base.errors import Refusal
from yarnkite.core.encode.decisions import Container, Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.labels import Labels

# Lengths of pictures and of sound are both whole numbers of these, for all usual rates: none is rounded in an index.
_TICKS_A_SECOND = 240_000
# These containers carry marks made up anew for each file, unless they are told not to.
SAME_BYTES = {"fflags": "+bitexact"}
MUXERS: dict[Container, str] = {"mp4": "mp4", "mov": "mov", "mkv": "matroska", "webm": "webm", "mxf": "mxf"}


# It has no place for them.
WITHOUT_CHAPTERS: frozenset[Container] = frozenset({"mxf"})


@dataclass(frozen=True)
class Chapter:
    """A named stretch of a video: frames ``first … end - 1``."""

    name: str
    first: int
    end: int


def join(
    rate: Fraction,
    parts: Sequence[Path],
    target: Path,
    sound: Path | None = None,
    chapters: Sequence[Chapter] = (),
    encode: Encode = Encode(),
    labels: Labels = Labels(),
) -> Path:
    """Join rendered chunks of a rate, in order, into one file with its index first, by copying packets.

    ``sound`` is a file with the sound of the whole, whose packets are copied beside them.

    Raises ``Refusal`` (``chunks_differ``) if the chunks do not belong together, or (``cannot_hold``) if the container
    cannot hold them, ``DiskFull`` if the disk is full.
    """
    format = format_of(encode)
    container_name = format.container_of(encode)
    with (
        completed(target, durable=True) as unfinished,
        av.open(str(unfinished), "w", format=MUXERS[container_name], options=_options(container_name)) as container,
        _SoundBeside(sound) as beside,
    ):
        container.metadata.update(labels.metadata(container_name))
        stream: av.VideoStream | None = None
        for packet, origin, position in _packets(rate, parts):
            if stream is None:
                stream = container.add_stream_from_template(origin, opaque=True)
                stream.codec_context.codec_tag = format.tags.get(container_name, "\0\0\0\0")
                stream.codec_context.framerate = rate
                stream.time_base = 1 / rate
                if timecode := labels.timecode(container_name):
                    stream.metadata["timecode"] = timecode
                beside.begin(container)
                if chapters and container_name not in WITHOUT_CHAPTERS:
                    container.set_chapters([_chapter(one, rate, number) for number, one in enumerate(chapters)])
                _begin(container, format.title, container_name)
            packet.stream = stream
            container.mux(packet)
            beside.copy_until(position / rate)
        beside.copy_until(None)
    return target


def _options(container: Container) -> dict[str, str]:
    if container in ("mp4", "mov"):
        return {"movflags": "+faststart", "movie_timescale": str(_TICKS_A_SECOND)}
    # The index of a file that is read over a network belongs before its pictures.
    index = {"cues_to_front": "1"} if container in ("mkv", "webm") else {}
    return index | SAME_BYTES


def _begin(container: OutputContainer, title: str, name: Container) -> None:
    try:
        container.start_encoding()
    except av.error.FFmpegError as error:
        raise Refusal(
            "cannot_hold", f"A file of the kind {name.upper()} cannot hold this clip in {title}: {error.strerror}."
        ) from error


def _packets(
    rate: Fraction, parts: Sequence[Path]
) -> Iterator[tuple["av.Packet[av.VideoStream]", av.VideoStream, int]]:
    """Yield the packets of all chunks, timed as one clip, with the stream they come from and how many came before."""
    first_frame = 0
    headers = None
    for part in parts:
        with av.open(str(part)) as source:
            origin = source.streams.video[0]
            headers = headers if headers is not None else origin.codec_context.extradata
            if origin.codec_context.extradata != headers:
                raise Refusal("chunks_differ", "Rendered pieces of this clip do not belong together. Encode it again.")
            count = 0
            for packet in source.demux(origin):
                if packet.dts is None or packet.pts is None or packet.time_base is None:
                    continue
                # A container's ticks may be rounded, by less than half a frame.
                per_tick = packet.time_base * rate
                packet.pts = first_frame + round(packet.pts * per_tick)
                packet.dts = first_frame + round(packet.dts * per_tick)
                packet.duration = 1
                packet.time_base = 1 / rate
                yield packet, origin, first_frame + count
                count += 1
            first_frame += count


class _SoundBeside:
    """Copies the packets of a sound as far as the pictures have come, so that players find both at one place."""

    def __init__(self, path: Path | None) -> None:
        self._source = av.open(str(path)) if path else None

    def __enter__(self) -> "_SoundBeside":
        return self

    def __exit__(self, *_: type[BaseException] | BaseException | TracebackType | None) -> None:
        if self._source is not None:
            self._source.close()

    def begin(self, container: OutputContainer) -> None:
        self._container = container
        if self._source is not None:
            origin = self._source.streams.audio[0]
            self._stream = container.add_stream_from_template(origin, opaque=True)
            self._stream.codec_context.codec_tag = "\0\0\0\0"
            self._left = self._source.demux(origin)
            self._held = next(self._left, None)

    def copy_until(self, seconds: Fraction | None) -> None:
        """Copy the packets that begin before a time, or all that are left."""
        if self._source is None:
            return
        while (packet := self._held) is not None:
            if packet.dts is not None and packet.time_base is not None:
                if seconds is not None and packet.dts * packet.time_base >= seconds:
                    return
                packet.stream = self._stream
                self._container.mux(packet)
            self._held = next(self._left, None)


def _chapter(one: Chapter, rate: Fraction, number: int) -> Any:
    return {
        "id": number,
        "start": one.first,
        "end": one.end,
        "time_base": 1 / rate,
        "metadata": {"title": one.name},
    }
