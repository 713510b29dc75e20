"""Chunks: rendered alone, each a closed group of pictures, with a reduced copy of every frame to compare with."""

import io
import zipfile
from collections.abc import Callable, Generator, Iterable, Sequence
from contextlib import closing
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import partial
from itertools import chain, groupby, islice
from pathlib import Path

import av
import numpy as np
from av.container import OutputContainer

from yarnkite.core.base.atomic import completed
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.result_source import OneByOne, ResultSource
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.formats.format import Format, Settings
from yarnkite.core.encode.join import SAME_BYTES
from yarnkite.core.encode.likeness import Copies, sheet, sheet_of_picture
from yarnkite.core.encode.numbered import encoded_still
from yarnkite.core.encode.planes import frame_by_planes
from yarnkite.core.encode.proof import proof_of
from yarnkite.core.encode.render_plan import Chunk, ChunkTask, task_of
from yarnkite.core.encode.streams import clip_stream
from yarnkite.core.encode.video_frame import plane_of, to_video_frame
from yarnkite.core.image.decode import Read, read_still
from yarnkite.core.image.dither import dithered
from yarnkite.core.image.pixels import EightBit, ImageArray, Pixels, as_sixteen
from yarnkite.core.render.composite import Spec
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.core.render.frame_spec import FrameSpec
from yarnkite.core.render.picture import Painter

_ONE_BY_ONE = OneByOne()


@dataclass(frozen=True)
class Rendered:
    """A frame ready for its encoder, or encoded already where each is a file, and its reduced copy."""

    frame: av.VideoFrame | bytes
    copy: EightBit


def render_chunks(
    tasks: Sequence[ChunkTask],
    folder: Path,
    *,
    read: Read = read_still,
    making: ResultSource = _ONE_BY_ONE,
    on_frame: Callable[[Chunk, int], None] = lambda chunk, done: None,
) -> None:
    """Render chunks of a clip into ``folder``, one after another; one that is there already is not made again.

    ``making`` may make pictures on several threads while the encoder works on those before, also beyond the end of a
    chunk; the bytes do not depend on how many. A file appears under its name only when it is complete, and after its
    reduced copies and its proof. ``on_frame`` is told how many frames of a chunk are done; what it raises ends the
    work. Raises ``UnreadableStill`` or ``DiskFull``.
    """
    wanted = {task.chunk.key: task for task in tasks}.values()
    todo = [task for task in wanted if not task.chunk.is_in(folder)]
    with closing(rendered_frames(todo, read, making)) as frames:
        for task in todo:
            own = islice(frames, task.chunk.frames)
            copies: list[EightBit] = []
            with completed(folder / task.chunk.file_name, durable=True) as unfinished:
                write_chunk(unfinished, task, _noting(own, copies), partial(on_frame, task.chunk))
                Copies(np.stack(copies)).write(folder / task.chunk.copies_name)
                _prove(unfinished, task, copies, folder / task.chunk.proof_name, making.threads)


def copies_of(task: ChunkTask, read: Read = read_still) -> Copies:
    """Paint the frames of a task and return their reduced copies alone, to hold a file against that was made of
    them."""
    return Copies(np.stack([one.copy for one in rendered_frames([task], read)]))


def _prove(path: Path, task: ChunkTask, copies: Sequence[EightBit], target: Path, threads: int) -> None:
    """Keep what decoding a chunk gives beside it, before it has its name; loops and files of frames are proven as a
    whole."""
    target.unlink(missing_ok=True)
    if (
        format_of(task.encode).way == "joined"
        and (proof := proof_of(path, task.encode, task.size, copies, threads)) is not None
    ):
        proof.write(target)


def _noting(frames: Iterable[Rendered], copies: list[EightBit]) -> Generator[av.VideoFrame | bytes, None, None]:
    for rendered in frames:
        copies.append(rendered.copy)
        yield rendered.frame


def write_chunk(
    path: Path,
    task: ChunkTask,
    frames: Iterable[av.VideoFrame | bytes],
    on_frame: Callable[[int], None] = lambda done: None,
) -> None:
    """Write ready frames into a file as a task says: a short video, or, where each is a file, all of them in one
    archive."""
    format = format_of(task.encode)
    if format.way != "numbered":
        options = SAME_BYTES if format.chunk_container == "matroska" else {}
        with av.open(str(path), "w", format=format.chunk_container, options=options) as container:
            encode_frames(container, task, frames, on_frame)
        return
    with zipfile.ZipFile(path, "w") as archive:
        for position, data in enumerate(frames):
            # Names within an archive carry a time; all the same one, so that the same pictures give the same bytes.
            archive.writestr(zipfile.ZipInfo(f"{position:06}.{format.codec}"), data)  # type: ignore[arg-type]
            on_frame(position + 1)


def encoded_bytes(path: Path) -> int:
    """Return how many bytes the frames of a rendered chunk take, without what holds them."""
    if zipfile.is_zipfile(path):
        with zipfile.ZipFile(path) as archive:
            return sum(one.file_size for one in archive.infolist())
    with av.open(str(path)) as container:
        return sum(packet.size for packet in container.demux(video=0))


def packets(source: FrameSource, encode: Encode, *, read: Read = read_still) -> list[int]:
    """Encode all of a (short) source in memory and return how many bytes each frame takes."""
    task = task_of(source, encode, Chunk(0, 0, len(source), ""))
    return packets_of(task, list(rendered_frames([task], read)))


def packets_of(task: ChunkTask, frames: Sequence[Rendered]) -> list[int]:
    """Encode ready frames in memory and return how many bytes each takes."""
    if format_of(task.encode).way == "numbered":
        return [len(one.frame) for one in frames if isinstance(one.frame, bytes)]
    memory = io.BytesIO()
    with av.open(memory, "w", format=format_of(task.encode).chunk_container) as container:
        encode_frames(container, task, (one.frame for one in frames))
    memory.seek(0)
    with av.open(memory, "r") as container:
        return [packet.size for packet in container.demux(video=0) if packet.size]


def rendered_frames(
    tasks: Sequence[ChunkTask], read: Read = read_still, making: ResultSource = _ONE_BY_ONE
) -> Generator[Rendered, None, None]:
    """Yield the frames of tasks of one format and size; one that shows what the last one did is the last one again."""
    if not tasks:
        return
    encode = tasks[0].encode
    format = format_of(encode)
    painter = painter_for(encode, tasks[0].size, read, making.threads)
    # Only originals have planes to read; copies and what needs RGB go the other way, which shows the same.
    by_planes = read is read_still and format.way == "joined" and format.range_of(encode) == "standard"

    def made(spec: Spec) -> Rendered:
        frame = frame_by_planes(spec, format.samples) if by_planes and isinstance(spec, FrameSpec) else None
        return _copied(frame, format) if frame is not None else finished(painter.picture(spec), encode, format)

    alike = [(spec, len(list(same))) for spec, same in groupby(chain.from_iterable(task.specs for task in tasks))]
    with closing(making(made, (spec for spec, _ in alike))) as frames:
        for (_, times), frame in zip(alike, frames, strict=True):
            for _ in range(times):
                yield frame


def finished(picture: ImageArray, encode: Encode, format: Format) -> Rendered:
    """Return a picture of ``painter_for`` as its encoder takes it, or encoded where each frame is a file."""
    if format.way == "joined":
        return _copied(to_video_frame(picture, format.samples, format.range_of(encode)), format)
    if format.way == "numbered":
        copy = sheet_of_picture(picture if format.is_deep else dithered(picture))
        return Rendered(encoded_still(picture, encode), copy)
    eight = dithered(picture)
    frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(eight[..., ::-1]), "bgr24").reformat(format="bgr0")
    return Rendered(frame, sheet_of_picture(eight))


def _copied(frame: av.VideoFrame, format: Format) -> Rendered:
    depth = format.samples.depth
    return Rendered(frame, sheet([plane_of(frame, index, depth) for index in range(3)], depth))


def painter_for(encode: Encode, size: Size, read: Read, threads: int = 1) -> Painter:
    """Return what makes the pictures of a clip."""
    is_deep, beyond_white = painted_as(encode)
    return Painter(size, deepened(read) if is_deep else read, threads, beyond_white=beyond_white)


def painted_as(encode: Encode) -> tuple[bool, bool]:
    """Tell whether pictures are made deep, and with headroom beyond white: formats in which both are the same have the
    same pictures."""
    format = format_of(encode)
    return format.is_deep, format.range_of(encode) != "standard"


def deepened(read: Read) -> Read:
    """Return a reader whose pixels have 16 bits, so that nothing computed from them is rounded to 8 on the way."""

    def read_deep(still: Still, reduction: Fraction) -> Pixels:
        pixels = read(still, reduction)
        return replace(pixels, array=as_sixteen(pixels.array))

    return read_deep


def encode_frames(
    container: OutputContainer,
    task: ChunkTask,
    frames: Iterable[av.VideoFrame | bytes],
    on_frame: Callable[[int], None] = lambda done: None,
) -> None:
    """Encode ready frames into a container as a task says."""
    stream = clip_stream(container, Settings(task.encode, task.size, task.rate, task.length))
    for position, frame in enumerate(frames):
        assert isinstance(frame, av.VideoFrame)
        frame.pts, frame.time_base = position, 1 / task.rate
        container.mux(stream.encode(frame))
        on_frame(position + 1)
    container.mux(stream.encode(None))
