"""Chunks: rendered alone, each a closed group of pictures."""

import io
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

import av
from av.container import OutputContainer

from yarnkite.core.base.atomic import completed
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.plan import Chunk, ChunkTask, task_of
from yarnkite.core.encode.planes import frame_by_planes
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.encode.x264 import clip_stream
from yarnkite.core.image.decode import Read, read_still
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.core.render.frame_spec import FrameSpec
from yarnkite.core.render.picture import Painter


def render_chunk(
    task: ChunkTask, folder: Path, *, read: Read = read_still, on_frame: Callable[[int], None] = lambda done: None
) -> Path:
    """Render a chunk into ``folder`` and return its path; a chunk that is there already is not made again.

    The file appears under its name only when it is complete. ``on_frame`` is told how many frames are done; what it
    raises ends the work. Raises ``UnreadableStill`` or ``NoRoom``.
    """
    target = folder / task.chunk.file_name
    if target.exists():
        return target
    with completed(target, durable=True) as unfinished, av.open(str(unfinished), "w", format="mp4") as container:
        encode_frames(container, task, _frames(task, read), on_frame)
    return target


def packets(source: FrameSource, encode: Encode, *, read: Read = read_still) -> list[int]:
    """Encode all of a (short) source in memory and return how many bytes each frame takes."""
    memory = io.BytesIO()
    task = task_of(source, encode, Chunk(0, 0, len(source), ""))
    with av.open(memory, "w", format="mp4") as container:
        encode_frames(container, task, _frames(task, read))
    memory.seek(0)
    with av.open(memory, "r") as container:
        return [packet.size for packet in container.demux(video=0) if packet.size]


def _frames(task: ChunkTask, read: Read) -> Iterator[av.VideoFrame]:
    """Yield the frames of a task; one that shows what the last one did is the last one again."""
    painter = Painter(task.size, read)
    last: tuple[FrameSpec, av.VideoFrame] | None = None
    for spec in task.specs:
        if last is None or last[0] != spec:
            # Only originals have planes to read; copies and what needs RGB go the other way, which shows the same.
            by_planes = frame_by_planes(spec) if read is read_still and task.encode.depth == 8 else None
            last = spec, by_planes or to_video_frame(painter.picture(spec), task.encode.depth)
        yield last[1]


def encode_frames(
    container: OutputContainer,
    task: ChunkTask,
    frames: Iterable[av.VideoFrame],
    on_frame: Callable[[int], None] = lambda done: None,
) -> None:
    """Encode ready frames into a container as a task says."""
    stream = clip_stream(container, task.size, task.rate, task.encode)
    for position, frame in enumerate(frames):
        frame.pts, frame.time_base = position, 1 / task.rate
        container.mux(stream.encode(frame))
        on_frame(position + 1)
    container.mux(stream.encode(None))
