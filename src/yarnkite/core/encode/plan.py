"""What a clip must turn out to be, and the chunks it is cut into."""

from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

import av

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size, digest
from yarnkite.core.base.rate import nominal
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.video_frame import Depth
from yarnkite.core.render.composite import Spec
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.core.render.frame_spec import mark

# Part of every chunk's name: raise it when the pixels or packets made from the same recipe change.
RENDERING = 7
CHUNK_SECONDS = 2


@dataclass(frozen=True)
class SoundPlan:
    """What the sound of a finished file must turn out to be: samples of each channel at 48 kHz, its loudness in LUFS."""

    samples: int
    lufs: float | None


@dataclass(frozen=True)
class ClipPlan:
    """What the finished file must turn out to be."""

    frames: int
    rate: Fraction
    size: Size
    depth: Depth = 8
    sound: SoundPlan | None = None

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


@dataclass(frozen=True)
class ChunkTask:
    """All that rendering a chunk needs, and nothing of the rest of the clip."""

    chunk: Chunk
    specs: tuple[Spec, ...]
    size: Size
    rate: Fraction
    encode: Encode


def clip_plan(source: FrameSource, encode: Encode) -> ClipPlan:
    """Return what a clip must be; raises ``Refusal`` for one without frames."""
    if not len(source):
        raise Refusal("no_stills", "This shot has no stills. Bring some in first.")
    return ClipPlan(len(source), source.rate, source.size, encode.depth)


def chunks(source: FrameSource, encode: Encode) -> list[Chunk]:
    """Cut a clip into chunks of two seconds, anew from each of its borders; where depends on no machine."""
    plan = clip_plan(source, encode)
    length = nominal(plan.rate) * CHUNK_SECONDS
    edges = pairwise((0, *source.borders, plan.frames))
    ranges = [range(at, min(at + length, last)) for first, last in edges for at in range(first, last, length)]
    return [_chunk(source, encode, number, frames) for number, frames in enumerate(ranges)]


def task_of(source: FrameSource, encode: Encode, chunk: Chunk) -> ChunkTask:
    """Return what a worker needs to render a chunk."""
    specs = tuple(source.spec(frame) for frame in range(chunk.first, chunk.first + chunk.frames))
    return ChunkTask(chunk, specs, source.size, source.rate, encode)


def _chunk(source: FrameSource, encode: Encode, number: int, frames: range) -> Chunk:
    marks = (mark(source.spec(frame)) for frame in frames)
    key = digest(RENDERING, av.__version__, encode.model_dump_json(), source.size, source.rate, *marks)
    return Chunk(number, frames.start, len(frames), key)
