"""Frames of a finished file at full quality, and a stand-in of it for browsers that cannot play it."""

import zipfile
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from PIL import Image, ImageSequence

from yarnkite.core.base.atomic import completed
from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.formats.format import Settings
from yarnkite.core.encode.numbered import frames_in, read_frame
from yarnkite.core.encode.preview import playing_size
from yarnkite.core.encode.streams import preview_stream
from yarnkite.core.image.pixels import EightBit, as_eight

_SEEN_S = 2


def frame_of(path: Path, number: int, rate: Fraction, encode: Encode) -> EightBit:
    """Return a frame of a finished file, decoded as it is.

    Parameters
    ----------
    number : from 0

    Returns
    -------
    RGB, shape (height, width, 3), uint8

    Raises
    ------
    NotFound for a frame that is not in it, ``FFmpegError`` or ``ValueError`` for a file that is damaged
    """
    way = format_of(encode).way
    if way == "numbered":
        return as_eight(_numbered(path, number, encode))
    if encode.format == "webp":
        with Image.open(path) as image:
            try:
                image.seek(number)
            except EOFError:
                raise _no_such_frame(number) from None
            return np.asarray(image.convert("RGB"))
    with av.open(str(path)) as container:
        stream = max(container.streams.video, key=lambda one: one.frames)
        if way == "joined" and stream.time_base:
            container.seek(round(number / rate / stream.time_base), stream=stream)
        for count, frame in enumerate(container.decode(stream)):
            at = (
                count
                if way == "streamed" or frame.time is None
                else round(Fraction(frame.pts or 0) * (stream.time_base or 0) * rate)
            )
            if at >= number:
                return np.asarray(frame.to_ndarray(format="rgb24"), np.uint8)
    raise _no_such_frame(number)


def _numbered(path: Path, number: int, encode: Encode) -> "np.typing.NDArray[np.uint8 | np.uint16]":
    if path.is_dir():
        files = _numbered_files(path, encode)
        if number >= len(files):
            raise _no_such_frame(number)
        return read_frame(files[number].read_bytes(), encode)
    with zipfile.ZipFile(path) as archive:
        packed = archive.namelist()
        if number >= len(packed):
            raise _no_such_frame(number)
        return read_frame(archive.read(packed[number]), encode)


def _no_such_frame(number: int) -> NotFound:
    return NotFound("no_such_frame", f"This clip has no frame {number + 1:,}.")


def write_stand_in(path: Path, target: Path, size: Size, rate: Fraction, encode: Encode) -> None:
    """Write a small H.264 of a finished file, frame for frame; raises as ``frame_of`` does, or ``DiskFull``."""
    small = playing_size(size)
    settings = Settings(encode, small, rate, max(2, round(rate * _SEEN_S)))
    with (
        completed(target) as unfinished,
        av.open(str(unfinished), "w", format="mp4", options={"movflags": "+faststart"}) as container,
    ):
        stream = preview_stream(container, settings)
        for position, frame in enumerate(_every_frame(path, encode)):
            seen = frame.reformat(width=small.width, height=small.height, format="yuv420p", interpolation="AREA")
            seen.pts, seen.time_base = position, 1 / rate
            container.mux(stream.encode(seen))
        container.mux(stream.encode(None))


def _every_frame(path: Path, encode: Encode) -> Iterator[av.VideoFrame]:
    if format_of(encode).way == "numbered":
        for data in _files(path, encode):
            yield _video_frame(as_eight(read_frame(data, encode)))
        return
    if encode.format == "webp":
        with Image.open(path) as image:
            for shown in ImageSequence.Iterator(image):
                yield _video_frame(np.asarray(shown.convert("RGB")))
        return
    with av.open(str(path)) as container:
        stream = max(container.streams.video, key=lambda one: one.frames)
        stream.thread_type = "AUTO"
        yield from container.decode(stream)


def _files(path: Path, encode: Encode) -> Iterator[bytes]:
    """Yield the frames of a folder or an archive as they were written, in order."""
    if path.is_dir():
        return (one.read_bytes() for one in _numbered_files(path, encode))
    return frames_in([path])


def _numbered_files(folder: Path, encode: Encode) -> list[Path]:
    return sorted(one for one in folder.iterdir() if one.suffix == f".{format_of(encode).codec}")


def _video_frame(picture: EightBit) -> av.VideoFrame:
    return av.VideoFrame.from_ndarray(np.ascontiguousarray(picture), "rgb24")
