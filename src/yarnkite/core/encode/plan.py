"""What a clip must turn out to be, and the chunks it is cut into."""

from dataclasses import dataclass
from fractions import Fraction

import av

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size, digest
from yarnkite.core.base.rate import nominal
from yarnkite.core.encode.video_frame import Depth
from yarnkite.core.render.marks import frame_marks
from yarnkite.core.render.recipe import Recipe, schedule_of

# Part of every chunk's name: raise it when the pixels or packets made from the same recipe change.
RENDERING = 4
CHUNK_SECONDS = 2


@dataclass(frozen=True)
class ClipPlan:
    """What the finished file must turn out to be."""

    frames: int
    rate: Fraction
    size: Size
    depth: Depth = 8

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
    return ClipPlan(len(schedule_of(recipe)), decisions.pace.written_rate, decisions.fit.size, decisions.encode.depth)


def chunks(recipe: Recipe) -> list[Chunk]:
    """Cut a clip into chunks of two seconds; their borders depend on nothing but the rate and the frame count."""
    plan = clip_plan(recipe)
    length = nominal(plan.rate) * CHUNK_SECONDS
    return [
        _chunk(recipe, number, first, min(length, plan.frames - first))
        for number, first in enumerate(range(0, plan.frames, length))
    ]


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
