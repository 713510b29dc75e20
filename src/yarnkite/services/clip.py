"""A verified clip of a folder, made without a database: the same sorting out, order, chunks and comparison."""

import contextlib
import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.errors import Refusal, UnreadableStill
from yarnkite.core.base.geometry import count_shapes
from yarnkite.core.base.opened import opened
from yarnkite.core.base.still import Still
from yarnkite.core.brief.sentence import brief
from yarnkite.core.encode.assemble import assemble
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.plan import Chunk, ChunkTask, chunks, clip_plan, task_of
from yarnkite.core.encode.runs import runs, share_of
from yarnkite.core.encode.verify import Difference, verified
from yarnkite.core.gather.roots import clock_of, files_below
from yarnkite.core.gather.sorting import sort_out
from yarnkite.core.image.decode import header_and_data
from yarnkite.core.order.analysis import analyse
from yarnkite.core.order.breaks import Taken
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe
from yarnkite.jobs.ahead import Ahead
from yarnkite.jobs.workers import Workers, free_memory_bytes, in_turn

Say = Callable[[str], None]

_CHUNK = re.compile(r"[0-9a-f]{32}\.(chunk|copies)(\.\d+\.part)?")


@dataclass(frozen=True)
class Source:
    """The stills of a folder in shooting order, why in that order, and a sentence for each file that is none."""

    stills: tuple[Still, ...]
    reason: str
    left_out: tuple[str, ...]


def stills_of(folder: Path, decisions: Decisions, workers: Workers[Any]) -> Source:
    """Return the stills of a folder in the order that is decided, which is the recommended one unless said otherwise."""
    found, rest = sort_out(folder, files_below(folder, folder))
    left_out = [file.reason for file in rest]
    read: list[tuple[Still, Taken]] = []
    for file, future in in_turn(workers, read_in_worker, found, lambda file: (folder, file.name), spare=True):
        try:
            read.append(future.result())
        except UnreadableStill as refusal:
            left_out.append(refusal.sentence)
        except Exception:
            left_out.append(f"“{Path(file.name).name}” could not be used. Leave it out, or save it anew.")
    read.sort(key=lambda one: one[0].path)
    analysis = analyse([taken for _, taken in read], decisions.order.group)
    ordered = tuple(read[index][0] for index in analysis.order(decisions.order.by))
    return Source(ordered, analysis.reason, tuple(left_out))


def read_in_worker(folder: Path, name: str) -> tuple[Still, Taken]:
    """Read, in a worker, what tells a still from another and where in the order it belongs."""
    with opened(folder / name) as file:
        header, _ = header_and_data(file)
        fingerprint = file.fingerprint()
        file.check_unchanged()
        still = Still(
            path=str(folder / name),
            fingerprint=fingerprint,
            width=header.width,
            height=header.height,
            bytes=file.size,
            modified_ns=file.modified_ns,
        )
        captured = header.captured
        return still, Taken(name, universal_time(captured), clock_of(file.modified_ns), fingerprint)


def make(folder: Path, target: Path, decisions: Decisions, say: Say, warn: Say) -> list[Difference]:
    """Make a clip of a folder and compare it with its plan; returns how it differs, which is nothing if it is verified.

    What a broken-off run rendered of the very same stills is used again. Raises ``Refusal``.
    """
    with _workers() as workers:
        source = stills_of(folder, decisions, workers)
        for sentence in source.left_out:
            warn(sentence)
        recipe = Recipe(stills=source.stills, decisions=decisions.for_recipe())
        frames = ClipFrames(recipe)
        plan = clip_plan(frames, decisions.encode)
        say(source.reason)
        say(str(brief(count_shapes(source.stills), decisions)))
        pieces = target.with_name(f"{target.stem}.chunks")
        pieces.mkdir(parents=True, exist_ok=True)
        parts = chunks(frames, decisions.encode)
        share = share_of(workers.count, free_memory_bytes(), plan.size)
        done = 0
        for run, future in in_turn(
            workers,
            _render,
            runs(parts, share.at_once),
            lambda run: ([task_of(frames, decisions.encode, chunk) for chunk in run], pieces, share.threads),
            at_once=share.at_once,
        ):
            future.result()
            done += sum(chunk.frames for chunk in run)
            say(f"{done} of {plan.frames} frames")
    assemble(plan, parts, pieces, target)
    differences = verified(target, plan, parts, pieces).differences
    _clear(pieces, parts if differences else [])
    return differences


def _render(tasks: list[ChunkTask], folder: Path, threads: int) -> None:
    render_chunks(tasks, folder, making=Ahead(threads))


@contextmanager
def _workers() -> Iterator[Workers[Any]]:
    workers: Workers[Any] = Workers()
    try:
        yield workers
    finally:
        workers.stop()


def _clear(folder: Path, keep: list[Chunk]) -> None:
    """Remove rendered chunks, of earlier tries too; whatever else lies there is left alone, and so is the folder then."""
    kept = {name for chunk in keep for name in (chunk.file_name, chunk.copies_name)}
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
