"""Rendering a clip's chunks on workers: those that are there are used, at one quality or the one that meets a size."""

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from yarnkite.core.base.errors import Refusal
from yarnkite.core.encode import aim
from yarnkite.core.encode.chunk import encoded_bytes, render_chunks
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.file_size import Weights, weights_of
from yarnkite.core.encode.render_plan import Chunk, ChunkTask, RenderPlan, chunks, task_of
from yarnkite.core.encode.runs import Share, runs
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.decode import read_still
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.jobs.ahead import Ahead
from yarnkite.jobs.workers import Workers, in_turn

_MOST_TRIES = 5


@dataclass(frozen=True)
class Rendering:
    """Where chunks are rendered and go to, and who is told.

    ``check`` may end the work, ``tell`` gets the count of finished frames, ``name`` tells its notes from others',
    ``proxies`` are reduced copies that may be looked at where no detail is needed.
    """

    workers: Workers[Any]
    folder: Path
    share: Share
    name: str
    check: Callable[[], None]
    tell: Callable[[int, int], None]
    proxies: Proxies | None = None


@dataclass(frozen=True)
class Rendered:
    """The chunks of a clip, all there; ``fresh`` says that none was there before."""

    parts: list[Chunk]
    fresh: bool


def rendered(rendering: Rendering, frames: FrameSource, plan: RenderPlan, *, has_sound: bool = False) -> Rendered:
    """Render what is not there yet of a clip, whose file ``has_sound`` besides.

    Raises ``Refusal`` for a size no quality meets, and what workers raise.
    """
    encode = plan.encode
    wanted = aim.wanted_bytes(plan, has_sound)
    progress = Progress(rendering, plan.frames)
    try:
        if wanted is not None:
            parts = _aimed(rendering, frames, plan, wanted, progress)
        else:
            parts = chunks(frames, encode)
            progress.begin_with(parts)
            _render(rendering, frames, parts, progress, [encode] * len(parts))
    finally:
        progress.clear()
    return Rendered(parts, progress.is_fresh)


def _aimed(
    rendering: Rendering, frames: FrameSource, plan: RenderPlan, wanted: float, progress: "Progress"
) -> list[Chunk]:
    encode, folder = plan.encode, rendering.folder
    plain = chunks(frames, encode)
    weights = [float(sum(one.each)) for one in weigh(rendering, frames, encode, plain)]
    every: Sequence[int] = range(len(plain))

    def at(crf: float) -> tuple[list[Encode], list[Chunk]]:
        each = aim.qualities(encode, crf, len(plain))
        return each, chunks(frames, encode, each)

    def render(numbers: Sequence[int], crf: float) -> float:
        """Render some chunks at a quality; returns what all chunks take, going by these."""
        each, parts = at(crf)
        chosen = [parts[number] for number in numbers]
        progress.begin_with(chosen, of=parts)
        _render(rendering, frames, chosen, progress, each)
        known = {number: float(encoded_bytes(folder / parts[number].file_name)) for number in numbers}
        return aim.foreseen(weights, known)

    crf = aim.first_guess(plan, wanted)
    for numbers in (aim.sampled(weights), every):
        tried: list[tuple[float, float]] = []
        for _ in range(_MOST_TRIES):
            tried.append((crf, render(numbers, crf)))
            aim.check_large_enough(*tried[-1], wanted, plan)
            if aim.is_close(tried[-1][1], wanted) or aim.is_as_near_as_can_be(*tried[-1], wanted):
                break
            crf = aim.next_quality(tried, wanted)
        crf = min(tried, key=lambda one: abs(one[1] - wanted))[0]
    _, parts = at(crf)
    return parts


def weigh(rendering: Rendering, frames: FrameSource, encode: Encode, parts: Sequence[Chunk]) -> list[Weights]:
    """Have chunks encoded quickly and at a small size by the workers; returns what each takes, in order."""
    found: dict[int, Weights] = {}
    work = in_turn(
        rendering.workers,
        weights_in_worker,
        parts,
        lambda part: (task_of(frames, encode, part), rendering.proxies),
        while_waiting=rendering.check,
        here=True,
    )
    for part, future in work:
        found[part.number] = future.result()
    return [found[part.number] for part in parts]


def weights_in_worker(task: ChunkTask, proxies: Proxies | None) -> Weights:
    """Encode a chunk quickly, in a worker."""
    return weights_of(task, proxies.read if proxies else read_still)


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
    rendering: Rendering, frames: FrameSource, parts: Sequence[Chunk], progress: "Progress", each: Sequence[Encode]
) -> None:
    """Render the chunks that are not there yet; ``each`` are the decisions of every chunk of the clip, by number."""
    # A still that is held for long, or a shot that comes twice, makes chunks that are one and the same.
    todo = list({part.key: part for part in parts if not progress.take(part)}.values())
    share = rendering.share

    def watch() -> None:
        try:
            rendering.check()
        except Exception:
            progress.clear()
            raise
        progress.tell()

    def arguments(run: list[Chunk]) -> tuple[object, ...]:
        tasks = [task_of(frames, each[part.number], part) for part in run]
        return tasks, rendering.folder, [progress.begin(part) for part in run], share.threads

    at_once = rendering.workers.at_once(share)
    for run, future in in_turn(
        rendering.workers, render, runs(todo, at_once), arguments, while_waiting=watch, at_once=at_once
    ):
        future.result()
        progress.finish(run)


class Progress:
    """Counts finished frames: those of whole chunks, and those the workers note as they go."""

    def __init__(self, rendering: Rendering, total: int) -> None:
        self._rendering, self._total = rendering, total
        self._whole, self._taken = 0, 0
        self._times: Counter[str] = Counter()
        self._notes: dict[str, Path] = {}

    @property
    def is_fresh(self) -> bool:
        """Tell whether no chunk was there before: only then does the time it took say something."""
        return not self._taken

    def begin_with(self, parts: Sequence[Chunk], of: Sequence[Chunk] = ()) -> None:
        """Count anew, with some chunks of a clip."""
        chosen = {part.number for part in parts}
        folder = self._rendering.folder
        self._whole = sum(part.frames for part in of if part.number not in chosen and part.is_in(folder))
        self._times = Counter(part.key for part in parts)

    def take(self, part: Chunk) -> bool:
        """Count a chunk that exists already; tells whether it does."""
        if not part.is_in(self._rendering.folder):
            return False
        (self._rendering.folder / part.file_name).touch()
        self._whole += part.frames
        self._taken += 1
        return True

    def begin(self, part: Chunk) -> Path:
        """Return the note in which a worker counts the frames of a chunk."""
        note = self._rendering.folder / f"{self._rendering.name}-{part.number}.note"
        note.write_text("0")
        self._notes[part.key] = note
        return note

    def finish(self, run: list[Chunk]) -> None:
        """Count the frames of finished chunks."""
        for part in run:
            self._notes.pop(part.key).unlink(missing_ok=True)
            self._whole += part.frames * self._times[part.key]
        self.tell()

    def tell(self) -> None:
        """Say how many frames are done."""
        done = self._whole + sum(_number_in(note) for note in self._notes.values())
        self._rendering.tell(min(done, self._total), self._total)

    def clear(self) -> None:
        """Remove the notes, which asks workers to stop."""
        for note in self._rendering.folder.glob(f"{self._rendering.name}-*.note"):
            note.unlink(missing_ok=True)


def _number_in(note: Path) -> int:
    try:
        return int(note.read_text() or 0)
    except (OSError, ValueError):
        return 0
