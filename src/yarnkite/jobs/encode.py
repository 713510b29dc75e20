"""The encoding job: chunks on the workers, then joined, opened again and compared with the plan frame by frame."""

import os
import shutil
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from yarnkite.core.base.errors import DiskFull, Refusal, UnreadableStill
from yarnkite.core.base.oldest import forget_oldest
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.safe_open import safe_open
from yarnkite.core.base.still import Still
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.encode.colours import colours_of
from yarnkite.core.encode.file_size import Expected
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.naming import DEFAULT, file_ending, named, words
from yarnkite.core.encode.probe import Facts
from yarnkite.core.encode.render_plan import BESIDE_ENDINGS, CHUNK_ENDING, RenderPlan
from yarnkite.core.encode.runs import share_of
from yarnkite.core.image.decode import check_same, is_as_gathered
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.render.frame_source import ClipFrames, FrameSource
from yarnkite.core.render.recipe import Recipe, stills_in
from yarnkite.jobs.deliver import Destination, deliver
from yarnkite.jobs.finishing import Making, finished
from yarnkite.jobs.rendering import Rendering
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import free_memory_bytes, in_turn
from yarnkite.store import clips, jobs

KEPT_CHUNK_BYTES = 8_000_000_000
LEAST_FREE_BYTES = 200_000_000
_MOST_TRIES = 4


def run(context: Context) -> None:
    """Encode the recipe a job was started with; chunks that exist are used as they are."""
    recipe = recipe_of(context)
    wanted = jobs.wanted_of(context.database, context.job["id"])
    making = Making(ClipFrames(recipe), recipe.decisions.encode, captured=captured_of(wanted))
    finish(context, Finishing(making.within(wanted.get("stretch")), (recipe,), recipe.digest(), wanted))


def recipe_of(context: Context) -> Recipe:
    """Return the recipe a shot's job was started with."""
    return Recipe.model_validate_json(jobs.recipe_text(context.database, context.job["id"]))


def reel_recipe_of(context: Context) -> ReelRecipe:
    """Return the recipe a reel's job was started with."""
    return ReelRecipe.model_validate_json(jobs.recipe_text(context.database, context.job["id"]))


@dataclass(frozen=True)
class Finishing:
    """A file that a job makes, the recipes whose stills it needs, and what is wanted of it."""

    making: Making
    recipes: tuple[Recipe, ...]
    digest: str
    wanted: dict[str, Any]


def finish(context: Context, made: Finishing) -> None:
    """Make a file, keep it as a clip and put it where it is to be."""
    frames, encode = made.making.frames, made.making.encode
    _check_room(context.workspace.chunks)
    lost = _check_stills(context, made.recipes)
    beside = max((2 * recipe.light.over_time for recipe in made.recipes), default=0)
    target = context.workspace.new_clip(context.job["id"], file_ending(encode))
    stem = name_of(context, made)
    sound_file = target.with_suffix(".sound.part")
    try:
        done = finished(rendering_of(context, frames, beside), made.making, target, stem=stem, sound_file=sound_file)
    except BaseException:
        target.unlink(missing_ok=True)
        raise
    plan, verdict = done.plan, done.verdict
    differences = verdict.differences
    destination = Destination.of(made.wanted)
    path, message = deliver(target, stem, destination, plan) if destination and not differences else (None, "")
    message = " ".join(part for part in (_said_of_lost(lost), plan.sound.remark if plan.sound else "", message) if part)
    clips.add(
        context.database,
        context.job,
        clips.FinishedClip(
            name=path.name if path else f"{stem}{target.suffix}",
            bytes=verdict.facts.bytes,
            frames=verdict.facts.frames,
            summary=_summary(verdict.facts, plan),
            evidence=verdict.sentence(plan),
            lowest_at=verdict.evidence.lowest_at,
            differences=[str(difference) for difference in differences],
            digest=made.digest,
            encode=encode,
            size=plan.size,
            rate=plan.rate,
            path=path,
            expected=_expected(made.wanted) if done.fresh else None,
            took_s=done.took_s * context.workers.count / max(1, plan.frames) if done.fresh else None,
        ),
        message,
    )
    if path is not None:
        target.unlink(missing_ok=True)
    forget_oldest(context.workspace.chunks, f"*{CHUNK_ENDING}", KEPT_CHUNK_BYTES, BESIDE_ENDINGS)


def rendering_of(context: Context, frames: FrameSource, beside: int = 0) -> Rendering:
    """Return how a job renders; ``beside`` is how many other pictures each is averaged with."""
    return Rendering(
        context.workers,
        context.workspace.chunks,
        share_of(context.workers.count, free_memory_bytes(), frames.size, beside),
        f"job-{context.job['id']}",
        context.check,
        context.progress,
        context.workspace.proxies,
    )


def _expected(wanted: dict[str, Any]) -> Expected | None:
    expected = wanted.get("expected")
    return Expected(int(expected[0]), float(expected[1])) if expected else None


def name_of(context: Context, made: Finishing) -> str:
    """Return the name of the finished file without its ending: that of a stretch says which."""
    wanted, stretch, frames = made.wanted, made.wanted.get("stretch"), made.making.frames
    said = f"frames-{stretch[0] + 1}-{stretch[1]}" if stretch else ""
    known = words(
        *(context.job["shot_name"], frames.size, frames.rate, made.making.encode),
        *(wanted.get("version", ""), wanted.get("project", ""), said),
    )
    pattern = wanted.get("pattern") or DEFAULT
    return named(pattern if "{stretch}" in pattern or not said else f"{pattern}_{{stretch}}", known)


def captured_of(wanted: dict[str, Any]) -> datetime | None:
    """Return when the first still of what is wanted was taken, if that is known."""
    captured = wanted.get("captured")
    return datetime.fromisoformat(captured) if captured else None


def _said_of_lost(count: int) -> str:
    if not count:
        return ""
    many = "One still was" if count == 1 else f"{count:,} stills were"
    return f"{many} not there: what was rendered of them before was used, and could not be held against them again."


def _check_stills(context: Context, recipes: Sequence[Recipe]) -> int:
    """Return how many stills are not there; raises ``Refusal`` (``stills_changed``) if files are not what was gathered.

    Finished chunks would show the old ones.
    """
    every = {still.path: still for recipe in recipes for still in stills_in(recipe)}
    statuses = {path: _status(path) for path in every}
    suspects = [
        every[path]
        for path, status in statuses.items()
        if status and not is_as_gathered(every[path], status.st_size, status.st_mtime_ns, status.st_ctime_ns)
    ]
    changed = [
        still
        for still, future in in_turn(
            context.workers, has_changed, suspects, lambda still: (still,), while_waiting=context.check, here=True
        )
        if future.result()
    ]
    if changed:
        first = min(Path(still.path).name for still in changed)
        many = "One still was" if len(changed) == 1 else f"{len(changed):,} stills were"
        raise Refusal(
            "stills_changed",
            f"{many} changed on disk since the shot was gathered, “{first}” "
            "among them. Look for changes in gather, then encode again.",
        )
    return sum(status is None for status in statuses.values())


def _status(path: str) -> os.stat_result | None:
    """Return what a file is like; of one that is not there nothing: it is named when it is needed."""
    try:
        return Path(path).stat()
    except OSError:
        return None


def has_changed(still: Still) -> bool:
    """Tell, in a worker, whether a still's file holds other bytes than were gathered."""
    try:
        with safe_open(Path(still.path)) as file:
            check_same(still, file)
    except UnreadableStill as refusal:
        return refusal.code != "lost"
    return False


def _check_room(folder: Path) -> None:
    free = shutil.disk_usage(folder).free
    if free < LEAST_FREE_BYTES:
        raise DiskFull(
            "disk_full",
            f"Only {free / 1e6:.0f} MB are free in {folder.parent}. Free at least {LEAST_FREE_BYTES / 1e6:.0f} MB, "
            "then start the encode again.",
        )


def _summary(facts: Facts, plan: RenderPlan) -> str:
    format = format_of(plan.encode)
    if format.way == "numbered":
        return f"{facts.frames:,} files, {facts.width} × {facts.height}, {format.title}, {plan.encode.profile}"
    rate: Any = rate_label(facts.rate) if facts.rate else "uneven"
    said = (
        f"{facts.frames:,} frames, {rate} fps, {facts.width} × "
        f"{facts.height}, {duration_text(facts.seconds)}, {format.title}"
    )
    if format.way == "joined":
        said += f" {facts.pixel_format}, {colours_of(format.range_of(plan.encode)).name}"
    if facts.sound is None:
        return said
    lufs = facts.sound.loudness.lufs
    loud = "silent" if lufs is None else f"{lufs:.1f} LUFS, true peak {facts.sound.loudness.true_peak_dbtp:.1f} dBTP"
    return f"{said}; {facts.sound.codec.upper()} 48 kHz, {loud}"
