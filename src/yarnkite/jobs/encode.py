"""The encoding job: chunks on the workers, then joined, opened again and compared with the plan."""

import re
import shutil
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import Any

from yarnkite.core.base.errors import NoRoom, Refusal, UnreadableStill
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.opened import opened
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.still import Still
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.join import Chapter, join
from yarnkite.core.encode.plan import Chunk, ChunkTask, SoundPlan, chunks, clip_plan, task_of
from yarnkite.core.encode.runs import Share, runs, share_of
from yarnkite.core.encode.verify import Facts, probe, verify
from yarnkite.core.image.decode import check_same
from yarnkite.core.render.frame_source import ClipFrames, FrameSource
from yarnkite.core.render.recipe import Recipe, stills_in
from yarnkite.jobs.ahead import Ahead
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import free_memory_bytes, in_turn
from yarnkite.store import jobs

KEPT_CHUNK_BYTES = 8_000_000_000
LEAST_FREE_BYTES = 200_000_000


def run(context: Context) -> None:
    """Encode the recipe a job was started with; chunks that exist are used as they are."""
    recipe = jobs.recipe_of(context.database, context.job["id"])
    encode = recipe.decisions.encode
    version = (jobs.wanted_of(context.database, context.job["id"]) or {}).get("version", "")
    size, rate = recipe.decisions.fit.size, recipe.decisions.pace.written_rate
    name = clip_name(context.job["shot_name"], size, rate, version)
    finish(context, Finishing(ClipFrames(recipe), encode, (recipe,), name, recipe.digest()))


@dataclass(frozen=True)
class Finishing:
    """All that makes a finished file: its frames, the recipes whose stills they need, its name and the sound under it.

    ``sound`` encodes the sound into a file and says what it must turn out to be.
    """

    frames: FrameSource
    encode: Encode
    recipes: tuple[Recipe, ...]
    name: str
    digest: str
    sound: Callable[[Path], SoundPlan] | None = None
    chapters: tuple[Chapter, ...] = ()


def finish(context: Context, made: Finishing) -> None:
    """Render what is not rendered yet, join it, open it again, compare it with the plan, and keep it as a clip."""
    frames, encode = made.frames, made.encode
    plan = clip_plan(frames, encode)
    folder = context.workspace.chunks
    _check_room(folder)
    parts = chunks(frames, encode)
    _check_stills(context, made.recipes)
    progress = _Progress(context, folder, parts, plan.frames)
    beside = max((2 * recipe.light.over_time for recipe in made.recipes), default=0)
    share = share_of(context.workers.count, free_memory_bytes(), frames.size, beside)
    try:
        _render(context, frames, encode, parts, progress, share)
    finally:
        progress.clear()
    target = context.workspace.clip(context.job["id"])
    sound = target.with_suffix(".m4a.part") if made.sound else None
    try:
        if made.sound and sound:
            plan = replace(plan, sound=made.sound(sound))
        clip = join(plan.rate, [folder / part.file_name for part in parts], target, sound, made.chapters)
    finally:
        if sound:
            sound.unlink(missing_ok=True)
    facts = probe(clip)
    differences = [str(difference) for difference in verify(facts, plan)]
    jobs.add_clip(
        *(context.database, context.job, made.name, facts.bytes, facts.frames, _summary(facts), differences),
        digest=made.digest,
    )
    forget_oldest(folder, "*.mp4", KEPT_CHUNK_BYTES)


def _check_stills(context: Context, recipes: Sequence[Recipe]) -> None:
    """Raise ``Refusal`` (``stills_changed``) if files are not what was gathered: finished chunks show the old ones."""
    every = {still.path: still for recipe in recipes for still in stills_in(recipe)}
    suspects = [still for still in every.values() if _may_have_changed(still)]
    changed = [
        still
        for still, future in in_turn(
            context.workers, has_changed, suspects, lambda still: (still,), while_waiting=context.check
        )
        if future.result()
    ]
    if changed:
        first = min(Path(still.path).name for still in changed)
        many = "One still was" if len(changed) == 1 else f"{len(changed):,} stills were"
        raise Refusal(
            "stills_changed",
            f"{many} changed on disk since the shot was gathered, “{first}” among them. Look for changes in gather, then "
            "encode again.",
        )


def _may_have_changed(still: Still) -> bool:
    """Tell whether a still's file is there with another size or time; one that is lost is named when it is needed."""
    try:
        status = Path(still.path).stat()
    except OSError:
        return False
    return still.bytes is not None and (status.st_size, status.st_mtime_ns) != (still.bytes, still.modified_ns)


def has_changed(still: Still) -> bool:
    """Tell, in a worker, whether a still's file holds other bytes than were gathered."""
    try:
        with opened(Path(still.path)) as file:
            check_same(still, file)
    except UnreadableStill as refusal:
        return refusal.code != "lost"
    return False


def clip_name(shot_name: str, size: Size, rate: Fraction, version: str = "") -> str:
    """Return a file name that says what the clip is: shot, version, size, rate."""
    named = (re.sub(r"[^\w.-]+", "-", part, flags=re.UNICODE).strip("-.") for part in (shot_name, version))
    stem = "_".join(part for part in named if part) or "clip"
    return f"{stem}_{size.width}x{size.height}_{rate_label(rate)}fps.mp4"


def forget_oldest(folder: Path, pattern: str, most_bytes: int) -> None:
    """Remove the files used longest ago until those left take no more than ``most_bytes``."""
    kept = 0
    for file in sorted(folder.glob(pattern), key=lambda path: path.stat().st_mtime, reverse=True):
        kept += file.stat().st_size
        if kept > most_bytes:
            file.unlink(missing_ok=True)


def render(tasks: list[ChunkTask], folder: Path, notes: list[Path], threads: int) -> None:
    """Render chunks in a worker and write the count of each one's finished frames into its note as it goes.

    A file lets the count cross to another process or machine with nothing but the folder the chunk goes to anyway.
    Removing the notes asks the worker to stop.
    """
    note_of = {task.chunk: note for task, note in zip(tasks, notes, strict=True)}

    def on_frame(chunk: Chunk, done: int) -> None:
        try:
            with note_of[chunk].open("r+") as file:
                file.write(str(done))
        except FileNotFoundError:
            raise Refusal("cancelled", "This encode was cancelled.") from None

    render_chunks(tasks, folder, making=Ahead(threads), on_frame=on_frame)


def _render(
    context: Context, frames: FrameSource, encode: Encode, parts: list[Chunk], progress: "_Progress", share: Share
) -> None:
    folder = context.workspace.chunks
    # A still that is held for long, or a shot that comes twice, makes chunks that are one and the same.
    todo = list({part.key: part for part in parts if not progress.take(part)}.values())

    def watch() -> None:
        try:
            context.check()
        except Exception:
            progress.clear()
            raise
        progress.tell()

    def arguments(run: list[Chunk]) -> tuple[object, ...]:
        tasks = [task_of(frames, encode, part) for part in run]
        return tasks, folder, [progress.begin(part) for part in run], share.threads

    for run, future in in_turn(
        context.workers, render, runs(todo, share.at_once), arguments, while_waiting=watch, at_once=share.at_once
    ):
        future.result()
        progress.finish(run)


class _Progress:
    """Counts finished frames: those of whole chunks, and those the workers note as they go."""

    def __init__(self, context: Context, folder: Path, parts: list[Chunk], total: int) -> None:
        self._context, self._folder, self._total = context, folder, total
        self._whole = 0
        self._times = Counter(part.key for part in parts)
        self._notes: dict[str, Path] = {}
        self._prefix = f"job-{context.job['id']}"

    def take(self, part: Chunk) -> bool:
        """Count a chunk that exists already; tells whether it does."""
        path = self._folder / part.file_name
        if not path.exists():
            return False
        path.touch()
        self._whole += part.frames
        return True

    def begin(self, part: Chunk) -> Path:
        note = self._folder / f"{self._prefix}-{part.number}.note"
        note.write_text("0")
        self._notes[part.key] = note
        return note

    def finish(self, run: list[Chunk]) -> None:
        for part in run:
            self._notes.pop(part.key).unlink(missing_ok=True)
            self._whole += part.frames * self._times[part.key]
        self.tell()

    def tell(self) -> None:
        self._context.progress(self._whole + sum(_number_in(note) for note in self._notes.values()), self._total)

    def clear(self) -> None:
        for note in self._folder.glob(f"{self._prefix}-*.note"):
            note.unlink(missing_ok=True)


def _number_in(note: Path) -> int:
    try:
        return int(note.read_text() or 0)
    except (OSError, ValueError):
        return 0


def _check_room(folder: Path) -> None:
    free = shutil.disk_usage(folder).free
    if free < LEAST_FREE_BYTES:
        raise NoRoom(
            "disk_full",
            f"Only {free / 1e6:.0f} MB are free in {folder.parent}. Free at least {LEAST_FREE_BYTES / 1e6:.0f} MB, "
            "then start the encode again.",
        )


def _summary(facts: Facts) -> str:
    rate: Any = rate_label(facts.rate) if facts.rate else "uneven"
    said = (
        f"{facts.frames:,} frames, {rate} fps, {facts.width} × {facts.height}, {duration_text(facts.seconds)}, "
        f"H.264 {facts.pixel_format}, BT.709"
    )
    if facts.sound is None:
        return said
    lufs = facts.sound.loudness.lufs
    loud = "silent" if lufs is None else f"{lufs:.1f} LUFS, true peak {facts.sound.loudness.true_peak_dbtp:.1f} dBTP"
    return f"{said}; AAC 48 kHz, {loud}"
