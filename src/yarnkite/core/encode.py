"""Encode: the clip that is planned, cut into chunks that are rendered alone and joined without re-encoding."""

import io
import os
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from pathlib import Path

import av
import av.error
from av.video.reformatter import ColorRange, Colorspace

from yarnkite.core.errors import NoRoom, Refusal
from yarnkite.core.pace import schedule_of
from yarnkite.core.picture import ImageArray, Pictures, Read
from yarnkite.core.rate import nominal
from yarnkite.core.recipe import Recipe, Size, digest
from yarnkite.core.stills import read_still

# Part of every chunk's name: raise it when the pixels or packets made from the same recipe change.
RENDERING = 3
CHUNK_SECONDS = 2
LOOK_AHEAD = 10
_BT709 = 1


@dataclass(frozen=True)
class ClipPlan:
    """What the finished file must turn out to be."""

    frames: int
    rate: Fraction
    size: Size

    @property
    def seconds(self) -> Fraction:
        return self.frames / self.rate


@dataclass(frozen=True)
class Chunk:
    """Frames ``first … first + frames - 1`` of a clip; ``key`` names everything that determines its bytes."""

    number: int
    first: int
    frames: int
    key: str

    @property
    def file_name(self) -> str:
        return f"{self.key}.mp4"


def clip_plan(recipe: Recipe) -> ClipPlan:
    """Return what the clip of a recipe must be; raises ``Refusal`` for a shot without stills."""
    if not recipe.stills:
        raise Refusal("no_stills", "This shot has no stills. Bring some in first.")
    decisions = recipe.decisions
    return ClipPlan(len(schedule_of(recipe)), decisions.pace.written_rate, decisions.fit.size)


def chunks(recipe: Recipe) -> list[Chunk]:
    """Cut a clip into chunks of two seconds; their borders depend on nothing but the rate and the frame count."""
    plan = clip_plan(recipe)
    length = nominal(plan.rate) * CHUNK_SECONDS
    return [
        _chunk(recipe, number, first, min(length, plan.frames - first))
        for number, first in enumerate(range(0, plan.frames, length))
    ]


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
    with _completed(target) as unfinished, av.open(str(unfinished), "w", format="mp4") as container:
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


def join(recipe: Recipe, parts: Sequence[Path], target: Path) -> Path:
    """Join rendered chunks in order into one MP4 with its index first, by copying packets.

    Raises ``Refusal`` (``chunks_differ``) if the chunks do not belong together, ``NoRoom`` if the disk is full.
    """
    rate = recipe.decisions.pace.written_rate
    first_frame = 0
    with (
        _completed(target) as unfinished,
        av.open(str(unfinished), "w", format="mp4", options={"movflags": "+faststart"}) as container,
    ):
        stream = None
        headers = None
        for part in parts:
            with av.open(str(part)) as source:
                origin = source.streams.video[0]
                if stream is None:
                    stream = container.add_stream_from_template(origin)
                    stream.time_base = 1 / rate
                    headers = origin.codec_context.extradata
                if origin.codec_context.extradata != headers:
                    raise Refusal(
                        "chunks_differ", "Rendered pieces of this clip do not belong together. Encode it again."
                    )
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
                    packet.stream = stream
                    container.mux(packet)
                    count += 1
                first_frame += count
    return target


def _chunk(recipe: Recipe, number: int, first: int, frames: int) -> Chunk:
    decisions = recipe.decisions
    key = digest(
        RENDERING,
        av.__version__,
        decisions.fit.model_dump_json(),
        decisions.encode.model_dump_json(),
        decisions.pace.written_rate,
        *frame_marks(recipe, range(first, first + frames)),
    )
    return Chunk(number, first, frames, key)


def frame_marks(recipe: Recipe, frames: Iterable[int]) -> Iterator[str]:
    """Yield a text for each frame that says which stills, how large and with what weights, it is made of."""
    schedule = schedule_of(recipe)
    for frame in frames:
        what = schedule.shown(frame)
        stills = [(recipe.stills[place], weight) for place, weight in what.parts]
        mark = "+".join(f"{weight} {still.fingerprint} {still.width}x{still.height}" for still, weight in stills)
        unusual = any((still.width, still.height) != recipe.usual for still, _ in stills)
        yield mark + (" moving" if what.moving else "") + (f" among {recipe.usual}" if unusual else "")


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
    stream = _video_stream(container, recipe)
    for position, image in enumerate(images):
        frame = to_video_frame(image)
        frame.pts, frame.time_base = position, 1 / recipe.decisions.pace.written_rate
        container.mux(stream.encode(frame))
        on_frame(position + 1)
    container.mux(stream.encode(None))


def to_video_frame(image: ImageArray) -> av.VideoFrame:
    """Return RGB pixels as a frame in BT.709, limited range, with colour at half the size (4:2:0)."""
    return av.VideoFrame.from_ndarray(image, format="rgb24").reformat(
        format="yuv420p",
        src_colorspace=Colorspace.ITU709,
        dst_colorspace=Colorspace.ITU709,
        src_color_range=ColorRange.JPEG,
        dst_color_range=ColorRange.MPEG,
    )


def _video_stream(container: av.container.OutputContainer, recipe: Recipe) -> av.VideoStream:
    decisions = recipe.decisions
    rate = decisions.pace.written_rate
    stream = container.add_stream("libx264", rate=rate)
    stream.width, stream.height = decisions.fit.size.width, decisions.fit.size.height
    stream.pix_fmt = "yuv420p"
    stream.time_base = 1 / rate
    context = stream.codec_context
    context.color_primaries = context.color_trc = context.colorspace = _BT709
    context.color_range = ColorRange.MPEG
    context.sample_aspect_ratio = Fraction(1)
    # One thread each: x264's output depends on how many it has, and the chunks already keep every core busy.
    context.thread_count = 1
    length = nominal(rate) * CHUNK_SECONDS
    # A chunk is short: looking further ahead than this takes memory and time, and the file gets no smaller.
    stream.options = {
        "preset": decisions.encode.preset,
        "crf": str(decisions.encode.crf),
        "x264-params": f"stitchable=1:keyint={length}:min-keyint={length}:scenecut=0:open-gop=0:threads=1"
        f":rc-lookahead={LOOK_AHEAD}:sync-lookahead=0{_steady_code(stream.width)}",
    }
    return stream


def _steady_code(width: int) -> str:
    """Return the option that keeps the encoder's bytes from depending on what lies in memory beside its own.

    Its code for AVX-512 reads a little beyond a row of blocks of 16 pixels where their number is no multiple of 8, and
    what lies there then turns decisions (seen with 15, 17, 30 and 68 blocks, never with 8, 16, 80 or 120). The code for
    AVX2 gives the same bytes as that for AVX-512 where that is steady, and takes about 6 % longer.
    """
    blocks = -(-width // 16)
    return f":asm={_UP_TO_AVX2}" if blocks % 8 and _has_avx512() else ""


@lru_cache(maxsize=1)
def _has_avx512() -> bool:
    try:
        return "avx512bw" in Path("/proc/cpuinfo").read_text()
    except OSError:
        return False


_UP_TO_AVX2 = "MMX2,SSE2Fast,LZCNT,SSSE3,SSE4.2,AVX,FMA3,BMI2,AVX2"


@contextmanager
def _completed(target: Path) -> Iterator[Path]:
    """Give a name to write to beside ``target``, put in its place when all went well and removed otherwise."""
    unfinished = target.with_name(f"{target.name}.{os.getpid()}.part")
    try:
        yield unfinished
        with unfinished.open("rb+") as file:
            os.fsync(file.fileno())
        unfinished.replace(target)
    except OSError as error:
        unfinished.unlink(missing_ok=True)
        if isinstance(error, av.error.FFmpegError) and not error.errno:
            raise
        raise NoRoom(
            "cannot_write",
            f"“{target.name}” cannot be written to {target.parent}: {os.strerror(error.errno or 0)}. "
            "Free some space there, then start the encode again; what is finished is kept.",
        ) from error
    except BaseException:
        unfinished.unlink(missing_ok=True)
        raise
