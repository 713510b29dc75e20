"""A verified clip of a folder, or of a shot saved as a file, made without a database: the same order, chunks and
proof."""

import contextlib
import re
import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from datetime import datetime
from fractions import Fraction
from functools import partial
from pathlib import Path
from typing import Any

from yarnkite.core.base.errors import Refusal, UnreadableStill
from yarnkite.core.base.geometry import count_shapes
from yarnkite.core.base.still import Still
from yarnkite.core.brief.sentence import brief
from yarnkite.core.encode.chunk import copies_of
from yarnkite.core.encode.render_plan import Chunk, ChunkTask, RenderPlan, chunks, render_plan, task_of
from yarnkite.core.encode.runs import share_of
from yarnkite.core.encode.verify import Verdict, verified
from yarnkite.core.encode.warnings import check_possible, disagreements
from yarnkite.core.gather.locations import files_below
from yarnkite.core.gather.sorting import sort_out
from yarnkite.core.order.analysis import Analysis, analyse
from yarnkite.core.order.breaks import Taken
from yarnkite.core.pace.decisions import Thin
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe
from yarnkite.jobs.finishing import Making, finished
from yarnkite.jobs.reading import read_still_facts
from yarnkite.jobs.rendering import Rendering
from yarnkite.jobs.workers import Workers, free_memory_bytes, in_turn

Say = Callable[[str], None]

_CHUNK = re.compile(r"([0-9a-f]{32}\.(chunk|copies|proof)|clip-\d+\.note)(\.\d+\.part)?")


@dataclass(frozen=True)
class Source:
    """The stills of a folder in shooting order, what was found out about it, and a sentence for each file that is
    none."""

    stills: tuple[Still, ...]
    taken: tuple[Taken, ...]
    analysis: Analysis
    left_out: tuple[str, ...]

    @property
    def reason(self) -> str:
        """Why the stills are in that order."""
        return self.analysis.reason

    @property
    def captured(self) -> datetime | None:
        """When the first still was taken, if any says so."""
        return min((one.captured for one in self.taken if one.captured is not None), default=None)


@dataclass(frozen=True)
class Hearers:
    """Who is told while a clip is made: sentences, sentences that need attention, and the count of finished frames."""

    say: Say = lambda sentence: None
    warn: Say = lambda sentence: None
    tell: Callable[[int, int], None] = lambda done, total: None


@dataclass(frozen=True)
class MadeClip:
    """A finished clip: where it is, what was planned, and what comparing it gave."""

    path: Path
    plan: RenderPlan
    verdict: Verdict

    @property
    def evidence(self) -> str:
        """What was compared, in a sentence."""
        return self.verdict.sentence(self.plan)


def stills_of(folder: Path, decisions: Decisions, workers: Workers[Any], *, compares: bool = False) -> Source:
    """Return the stills of a folder in the order that is decided, which is the recommended one unless said otherwise.

    ``compares`` has all bytes read, so that files with the same picture are known.
    """
    read_facts = partial(read_still_facts, compares=compares)
    found, rest = sort_out(folder, files_below(folder, folder))
    left_out = [file.reason for file in rest]
    read: list[tuple[Still, Taken]] = []
    for file, future in in_turn(workers, read_facts, found, lambda file: (folder, file.name), spare=True):
        try:
            read.append(future.result())
        except UnreadableStill as refusal:
            left_out.append(refusal.sentence)
        except Exception:
            left_out.append(f"“{Path(file.name).name}” could not be used. Leave it out, or save it anew.")
    read.sort(key=lambda one: one[0].path)
    analysis = analyse([taken for _, taken in read], decisions.order.group)
    ordered = analysis.order(decisions.order.by)
    return Source(
        tuple(read[index][0] for index in ordered),
        tuple(read[index][1] for index in ordered),
        analysis,
        tuple(left_out),
    )


def make(
    folder: Path,
    target: Path,
    decisions: Decisions,
    hearers: Hearers,
    stretch: tuple[int, int] | None = None,
    *,
    length: str | None = None,
) -> MadeClip:
    """Make a clip of a folder and compare it with its plan; it is verified if the verdict has no differences.

    ``length`` is how long it is to be, which thins the stills evenly. What a broken-off run rendered of the very same
    stills is used again. Raises ``Refusal``.
    """
    with computing() as workers:
        source = stills_of(folder, decisions, workers)
        if length is not None:
            decisions = _as_long(decisions, length, len(source.stills))
        for sentence in source.left_out:
            hearers.warn(sentence)
        recipe = Recipe(stills=source.stills, decisions=decisions.for_recipe())
        said = brief(count_shapes(source.stills), decisions)
        hearers.say(source.reason)
        hearers.say(str(said))
        captured = source.captured
        return make_recipe(recipe, target, hearers, workers, captured=captured, stretch=stretch, expected=said.bytes)


def _as_long(decisions: Decisions, length: str, count: int) -> Decisions:
    """Return decisions with as many stills, evenly spread, as a length in seconds takes; raises ``Refusal``."""
    pace = decisions.pace
    try:
        wanted = round(Fraction(length) * pace.rate / pace.hold)
    except (ValueError, ZeroDivisionError):
        raise Refusal("length_not_usable", f"“{length[:40]}” is no length. Write seconds, such as 12.") from None
    if not 0 < wanted <= count:
        longest = float(count * pace.hold / pace.rate)
        raise Refusal(
            "length_not_usable",
            f"{count:,} stills make clips of up to {longest:.1f} s at this rate, and {length} s are wanted. Hold each "
            "still longer with --hold, or choose a slower --rate.",
        )
    thin = Thin(way="even", count=wanted)
    return decisions.model_copy(update={"pace": pace.model_copy(update={"thin": thin})})


def make_recipe(
    recipe: Recipe,
    target: Path,
    hearers: Hearers,
    workers: Workers[Any],
    *,
    captured: datetime | None = None,
    stretch: tuple[int, int] | None = None,
    expected: int = 0,
) -> MadeClip:
    """Make a clip of a recipe, or of a stretch of it, and compare it with its plan; raises ``Refusal``."""
    making = Making(ClipFrames(recipe), recipe.decisions.encode, captured=captured, expected=expected)
    return make_frames(making, target, hearers, workers, stretch=stretch)


def make_frames(
    making: Making, target: Path, hearers: Hearers, workers: Workers[Any], *, stretch: tuple[int, int] | None = None
) -> MadeClip:
    """Make a file of frames, or of a stretch of them, and compare it with its plan; raises ``Refusal``."""
    making = making.within(stretch)
    encode = making.encode
    plan = render_plan(making.frames, encode)
    check_possible(encode, plan.size, plan.rate)
    for sentence in disagreements(encode, plan.size, plan.rate, plan.frames, making.expected):
        hearers.warn(sentence)
    pieces = target.with_name(f"{target.stem}.chunks")
    pieces.mkdir(parents=True, exist_ok=True)
    share = share_of(workers.count, free_memory_bytes(), plan.size)
    rendering = Rendering(workers, pieces, share, "clip", lambda: None, hearers.tell)
    done = finished(rendering, making, target, stem=target.stem, sound_file=pieces / "sound.part")
    if done.plan.sound and done.plan.sound.remark:
        hearers.warn(done.plan.sound.remark)
    _clear(pieces, done.parts if done.verdict.differences else [])
    return MadeClip(target, done.plan, done.verdict)


def prove_frames(making: Making, clip: Path, hearers: Hearers, workers: Workers[Any]) -> MadeClip:
    """Paint all frames anew and compare a finished clip with them, and with all else that is planned of it.

    Raises ``Refusal``.
    """
    frames, encode = making.frames, making.encode
    plan, parts = render_plan(frames, encode), chunks(frames, encode)
    with tempfile.TemporaryDirectory(prefix="yarn-kite-") as name:
        folder, painted = Path(name), 0
        plan = making.with_sound(plan, folder / "sound.part")
        work = in_turn(
            workers, _paint_in_worker, parts, lambda part: (task_of(frames, encode, part), folder), here=True
        )
        for part, future in work:
            future.result()
            hearers.tell(painted := painted + part.frames, plan.frames)
        verdict = verified(clip, plan, parts, folder, making.labels, chapters=making.chapters)
    return MadeClip(clip, plan, replace(verdict, evidence=replace(verdict.evidence, anew=verdict.evidence.frames)))


def _paint_in_worker(task: ChunkTask, folder: Path) -> None:
    copies_of(task).write(folder / task.chunk.copies_name)


@contextmanager
def computing() -> Iterator[Workers[Any]]:
    """Give workers on all cores, and end them."""
    workers: Workers[Any] = Workers()
    try:
        yield workers
    finally:
        workers.stop()


def _clear(folder: Path, keep: Sequence[Chunk]) -> None:
    """Remove rendered chunks, of earlier tries too; whatever else lies there is left alone, and so is the folder
    then."""
    kept = {name for chunk in keep for name in (chunk.file_name, *chunk.beside)}
    for path in folder.iterdir():
        if _CHUNK.fullmatch(path.name) and path.name not in kept:
            path.unlink(missing_ok=True)
    with contextlib.suppress(OSError):
        folder.rmdir()


def size_of(text: str) -> tuple[int, int]:
    """Read a size such as ``1920x1080``; raises ``Refusal`` (``size_not_usable``)."""
    found = re.fullmatch(r"\s*(\d{1,5})\s*[x×]\s*(\d{1,5})\s*", text.lower())
    if found is None:
        raise Refusal("size_not_usable", f"“{text[:40]}” is not a size. Write 1920x1080; both sides are even.")
    return int(found[1]), int(found[2])
