"""What a clip must turn out to be, and the chunks it is cut into."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import pairwise
from pathlib import Path

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import nominal
from yarnkite.core.encode.chunk_key import chunk_key
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.render.composite import Spec
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.core.sound.loudness import Readable

CHUNK_SECONDS = 2
_USUAL = Encode()
CHUNK_ENDING, COPIES_ENDING, PROOF_ENDING = ".chunk", ".copies", ".proof"
BESIDE_ENDINGS = (COPIES_ENDING, PROOF_ENDING)


@dataclass(frozen=True)
class SoundPlan:
    """What the sound of a finished file must turn out to be: samples of each channel at 48 kHz, its loudness in LUFS.

    ``remark`` says why that is not the loudness that is wished, where it cannot be; ``mix`` is what is to be heard.
    """

    samples: int
    lufs: float | None
    codec: str = "aac"
    remark: str = ""
    mix: Readable | None = field(default=None, compare=False, repr=False)


@dataclass(frozen=True)
class RenderPlan:
    """What the finished file must turn out to be."""

    frames: int
    rate: Fraction
    size: Size
    encode: Encode = _USUAL
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
        return f"{self.key}{CHUNK_ENDING}"

    @property
    def copies_name(self) -> str:
        """The name of the file with the reduced copies of its frames."""
        return f"{self.key}{COPIES_ENDING}"

    @property
    def proof_name(self) -> str:
        """The name of the file that says what comparing its frames gave, where they are a video of their own."""
        return f"{self.key}{PROOF_ENDING}"

    @property
    def beside(self) -> tuple[str, str]:
        """The names of what lies beside it, and goes with it."""
        return self.copies_name, self.proof_name

    def is_in(self, folder: Path) -> bool:
        """Tell whether a folder has all of it."""
        return (folder / self.file_name).exists() and (folder / self.copies_name).exists()


@dataclass(frozen=True)
class ChunkTask:
    """All that rendering a chunk needs, and nothing of the rest of the clip."""

    chunk: Chunk
    specs: tuple[Spec, ...]
    size: Size
    rate: Fraction
    encode: Encode

    @property
    def length(self) -> int:
        """How many frames a chunk has at most: an encoder is set up for that, so that all chunks fit together."""
        return nominal(self.rate) * CHUNK_SECONDS


def render_plan(source: FrameSource, encode: Encode) -> RenderPlan:
    """Return what a clip must be; raises ``Refusal`` for one without frames."""
    if not len(source):
        raise Refusal("no_stills", "This shot has no stills. Bring some in first.")
    return RenderPlan(len(source), source.rate, source.size, encode)


def chunks(source: FrameSource, encode: Encode, each: Sequence[Encode] | None = None) -> list[Chunk]:
    """Cut a clip into chunks of two seconds, anew from each of its borders; where depends on no machine.

    ``each`` are the decisions for each chunk where they are not all the same.
    """
    plan = render_plan(source, encode)
    length = nominal(plan.rate) * CHUNK_SECONDS
    edges = pairwise((0, *source.borders, plan.frames))
    ranges = [range(at, min(at + length, last)) for first, last in edges for at in range(first, last, length)]
    decided = each or [encode] * len(ranges)
    return [
        Chunk(number, frames.start, len(frames), chunk_key(source, one, frames))
        for number, (one, frames) in enumerate(zip(decided, ranges, strict=True))
    ]


def task_of(source: FrameSource, encode: Encode, chunk: Chunk) -> ChunkTask:
    """Return what a worker needs to render a chunk."""
    specs = tuple(source.spec(frame) for frame in range(chunk.first, chunk.first + chunk.frames))
    return ChunkTask(chunk, specs, source.size, source.rate, encode)
