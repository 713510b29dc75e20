"""Chunks: rendered alone, each a closed group of pictures."""

import io
from collections.abc import Callable, Generator, Iterable, Sequence
from contextlib import closing
from functools import partial
from itertools import chain, groupby, islice
from pathlib import Path

import av
from av.container import OutputContainer

from yarnkite.core.base.atomic import completed
from yarnkite.core.base.making import Making, OneByOne
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.plan import Chunk, ChunkTask, task_of
from yarnkite.core.encode.planes import frame_by_planes
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.encode.x264 import clip_stream
from yarnkite.core.image.decode import Read, read_still
from yarnkite.core.render.composite import Spec
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.core.render.frame_spec import FrameSpec
from yarnkite.core.render.picture import Painter

_ONE_BY_ONE = OneByOne()


def render_chunks(
    tasks: Sequence[ChunkTask],
    folder: Path,
    *,
    read: Read = read_still,
    making: Making = _ONE_BY_ONE,
    on_frame: Callable[[Chunk, int], None] = lambda chunk, done: None,
) -> None:
    """Render chunks of a clip into ``folder``, one after another; one that is there already is not made again.

    ``making`` may make pictures on several threads while the encoder works on those before, also beyond the end of a
    chunk; the bytes do not depend on how many. A file appears under its name only when it is complete. ``on_frame`` is told how
    many frames of a chunk are done; what it raises ends the work. Raises ``UnreadableStill`` or ``NoRoom``.
    """
    wanted = {task.chunk.key: task for task in tasks}.values()
    todo = [task for task in wanted if not (folder / task.chunk.file_name).exists()]
    with closing(_frames(todo, read, making)) as frames:
        for task in todo:
            with (
                completed(folder / task.chunk.file_name, durable=True) as unfinished,
                av.open(str(unfinished), "w", format="mp4") as container,
            ):
                own = islice(frames, task.chunk.frames)
                encode_frames(container, task, own, partial(on_frame, task.chunk))


def packets(source: FrameSource, encode: Encode, *, read: Read = read_still) -> list[int]:
    """Encode all of a (short) source in memory and return how many bytes each frame takes."""
    memory = io.BytesIO()
    task = task_of(source, encode, Chunk(0, 0, len(source), ""))
    with av.open(memory, "w", format="mp4") as container:
        encode_frames(container, task, _frames([task], read))
    memory.seek(0)
    with av.open(memory, "r") as container:
        return [packet.size for packet in container.demux(video=0) if packet.size]


def _frames(
    tasks: Sequence[ChunkTask], read: Read, making: Making = _ONE_BY_ONE
) -> Generator[av.VideoFrame, None, None]:
    """Yield the frames of tasks; one that shows what the last one did is the last one again."""
    if not tasks:
        return
    painter, depth = Painter(tasks[0].size, read, making.threads), tasks[0].encode.depth

    def made(spec: Spec) -> av.VideoFrame:
        # Only originals have planes to read; copies and what needs RGB go the other way, which shows the same.
        has_planes = read is read_still and depth == 8
        by_planes = frame_by_planes(spec) if has_planes and isinstance(spec, FrameSpec) else None
        return by_planes or to_video_frame(painter.picture(spec), depth)

    alike = [(spec, len(list(same))) for spec, same in groupby(chain.from_iterable(task.specs for task in tasks))]
    with closing(making(made, (spec for spec, _ in alike))) as frames:
        for (_, times), frame in zip(alike, frames, strict=True):
            for _ in range(times):
                yield frame


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
