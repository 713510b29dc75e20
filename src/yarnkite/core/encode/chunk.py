"""Chunks: rendered alone, each a closed group of pictures."""

import io
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

import av

from yarnkite.core.base.atomic import completed
from yarnkite.core.encode.plan import Chunk, clip_plan
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.encode.x264 import clip_stream
from yarnkite.core.image.decode import Read, read_still
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.render.picture import Pictures
from yarnkite.core.render.recipe import Recipe, schedule_of


def render_chunk(
    recipe: Recipe,
    chunk: Chunk,
    folder: Path,
    *,
    read: Read = read_still,
    on_frame: Callable[[int], None] = lambda done: None,
) -> Path:
    """Render a chunk into ``folder`` and return its path; a chunk that is there already is not made again.

    The file appears under its name only when it is complete. ``on_frame`` is told how many frames are done; what it
    raises ends the work. Raises ``UnreadableStill`` or ``NoRoom``.
    """
    target = folder / chunk.file_name
    if target.exists():
        return target
    with completed(target, durable=True) as unfinished, av.open(str(unfinished), "w", format="mp4") as container:
        frames = range(chunk.first, chunk.first + chunk.frames)
        encode_images(container, recipe, _images(recipe, frames, read), on_frame)
    return target


def packets(recipe: Recipe, *, read: Read = read_still) -> list[int]:
    """Encode a whole (short) recipe in memory and return how many bytes each frame takes."""
    memory = io.BytesIO()
    with av.open(memory, "w", format="mp4") as container:
        encode_images(container, recipe, _images(recipe, range(clip_plan(recipe).frames), read))
    memory.seek(0)
    with av.open(memory, "r") as container:
        return [packet.size for packet in container.demux(video=0) if packet.size]


def _images(recipe: Recipe, frames: range, read: Read) -> Iterator[ImageArray]:
    schedule, pictures = schedule_of(recipe), Pictures.of(recipe, read=read)
    return (pictures.shown(schedule.shown(frame)) for frame in frames)


def encode_images(
    container: av.container.OutputContainer,
    recipe: Recipe,
    images: Iterable[ImageArray],
    on_frame: Callable[[int], None] = lambda done: None,
) -> None:
    """Encode ready frames, each (height, width, 3) RGB, into a container as the recipe says."""
    decisions = recipe.decisions
    rate = decisions.pace.written_rate
    stream = clip_stream(container, decisions.fit.size, rate, decisions.encode)
    for position, image in enumerate(images):
        frame = to_video_frame(image, decisions.encode.depth)
        frame.pts, frame.time_base = position, 1 / rate
        container.mux(stream.encode(frame))
        on_frame(position + 1)
    container.mux(stream.encode(None))
