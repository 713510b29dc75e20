"""The gathering job: every file of a folder read once, in natural order, kept as results come."""

from concurrent.futures import Future
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path

from yarnkite.core.errors import Refusal, UnreadableStill
from yarnkite.core.formats import description
from yarnkite.core.gather import Gathered, LeftOut, Proxies, gather_still, sort_out
from yarnkite.core.order import natural_order
from yarnkite.core.places import files_below, safe_relative
from yarnkite.core.recipe import Still
from yarnkite.core.weight import Weight, measured_weight
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import in_turn
from yarnkite.store import jobs, shots, stills, uploads
from yarnkite.store.database import Row

KEEP_EVERY = 24


def run(context: Context) -> None:
    """Gather a shot's folder; stills that an earlier, broken run kept are not read again."""
    shot_id = context.job["shot_id"]
    shot = shots.one(context.database, shot_id)
    folder = shots.folder_of(shot)
    if not folder.is_dir():
        raise Refusal("lost_folder", f"The folder {folder} is not there any more. Put it back, then gather again.")
    found, left_out = sort_out(folder, list(files_below(folder, folder)))
    left_out += _never_sent(context, shot_id, folder)
    names = [file.name for file in found]
    ordered = [names[index] for index in natural_order(names)]
    known = stills.known(context.database, shot_id, ordered)
    todo = [(position, name) for position, name in enumerate(ordered) if name not in known]
    context.progress(len(ordered) - len(todo), len(ordered), now=True)
    gathering = _Gathering(context, shot_id, left_out)
    finished = in_turn(
        context.workers,
        gather_still,
        todo,
        lambda task: (folder, task[1], context.workspace.proxies),
        while_waiting=context.check,
    )
    for count, (task, future) in enumerate(finished, len(ordered) - len(todo) + 1):
        gathering.take(*task, future)
        context.progress(count, len(ordered))
    gathering.keep()
    shots.arrange(context.database, shot_id)
    shots.set_gathered(context.database, shot_id, _weight(context, shot))
    context.progress(len(ordered), len(ordered), now=True)
    jobs.end(context.database, context.job["id"], "finished")


def _weight(context: Context, shot: Row) -> Weight | None:
    """Measure what the shot's frames weigh; a still that is lost meanwhile only costs the estimate."""
    gathered = stills.for_recipe(context.database, shot)
    try:
        return context.workers.submit(weigh, gathered, context.workspace.proxies).result() if gathered else None
    except (Refusal, BrokenProcessPool):
        return None


def weigh(gathered: list[Still], proxies: Proxies) -> Weight:
    """Measure what frames of these stills weigh, in a worker."""
    return measured_weight(gathered, read=proxies.read)


def _never_sent(context: Context, shot_id: int, folder: Path) -> list[LeftOut]:
    """Name the files a browser announced but was told to keep."""
    announced = uploads.names_for_shot(context.database, shot_id)
    return [
        LeftOut(name, f"“{Path(name).name}” was left out: it is a {description(Path(name).name)}.")
        for name in announced
        if not (folder / safe_relative(name)).exists()
    ]


class _Gathering:
    """Keeps results in the database a handful at a time."""

    def __init__(self, context: Context, shot_id: int, left_out: list[LeftOut]) -> None:
        self._context, self._shot_id, self._left_out = context, shot_id, left_out
        self._results: list[tuple[int, Gathered]] = []
        stills.leave_out(context.database, shot_id, left_out)

    def take(self, position: int, name: str, future: "Future[Gathered]") -> None:
        try:
            self._results.append((position, future.result()))
        except UnreadableStill as refusal:
            self._left_out.append(LeftOut(Path(name).as_posix(), refusal.sentence))
            stills.leave_out(self._context.database, self._shot_id, self._left_out)
        if len(self._results) >= KEEP_EVERY:
            self.keep()

    def keep(self) -> None:
        stills.add(self._context.database, self._shot_id, self._results)
        self._results = []
        self._context.publish("stills", {"shot_id": self._shot_id})
