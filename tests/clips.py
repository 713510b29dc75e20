"""Clips of recipes, as the program makes them: chunks on their own, then joined."""

from pathlib import Path
from typing import Any

from tests.eight_bits import picture
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.assemble import assemble
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.join import join
from yarnkite.core.encode.labels import Labels
from yarnkite.core.encode.naming import file_ending
from yarnkite.core.encode.preview import Segment, segments
from yarnkite.core.encode.render_plan import Chunk, RenderPlan, chunks, render_plan, task_of
from yarnkite.core.encode.sample import painted_anew, sample_of
from yarnkite.core.encode.verify import Verdict, verified
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe


def plan_of(recipe: Recipe) -> RenderPlan:
    return render_plan(ClipFrames(recipe), recipe.decisions.encode)


def chunks_of(recipe: Recipe) -> list[Chunk]:
    return chunks(ClipFrames(recipe), recipe.decisions.encode)


def rendered(recipe: Recipe, chunk: Chunk, folder: Path, **options: Any) -> Path:
    render_chunks([task_of(ClipFrames(recipe), recipe.decisions.encode, chunk)], folder, **options)
    return folder / chunk.file_name


def clip_of(recipe: Recipe, folder: Path) -> Path:
    """Render all of a recipe into a folder and join it."""
    folder.mkdir(parents=True, exist_ok=True)
    rate = recipe.decisions.pace.written_rate
    return join(rate, [rendered(recipe, chunk, folder) for chunk in chunks_of(recipe)], folder / "clip.mp4")


def finished_clip(
    recipe: Recipe, folder: Path, labels: Labels = Labels(), *, apart: bool = False
) -> tuple[Verdict, Path]:
    """Render all of a recipe, make a file of it as its format wants and verify it; ``apart`` renders chunk by chunk."""
    folder.mkdir(parents=True, exist_ok=True)
    frames, encode = ClipFrames(recipe), recipe.decisions.encode
    parts, plan = chunks(frames, encode), render_plan(frames, encode)
    tasks = [task_of(frames, encode, part) for part in parts]
    for run in [[task] for task in reversed(tasks)] if apart else [tasks]:
        render_chunks(run, folder)
    clip = assemble(plan, parts, folder, folder / f"clip.{file_ending(encode)}", labels=labels)
    anew = painted_anew(sample_of(frames, recipe.digest()), plan.encode)
    return verified(clip, plan, parts, folder, labels, anew), clip


def segments_of(recipe: Recipe) -> list[Segment]:
    return segments(ClipFrames(recipe))


def frame_of(recipe: Recipe, frame: int, size: Size | None = None, **options: Any) -> ImageArray:
    """Return the picture of a frame of a recipe's clip, in 8 bits."""
    return picture(ClipFrames(recipe).spec(frame), size, **options)
