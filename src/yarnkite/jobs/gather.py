"""The gathering job: every file of a folder read once, in natural order, kept as results come."""

import shutil
from concurrent.futures import Future
from concurrent.futures.process import BrokenProcessPool
from pathlib import Path

from yarnkite.core.errors import NoRoom, Refusal, UnreadableStill
from yarnkite.core.formats import category, description
from yarnkite.core.gather import Gathered, Proxies, gather_still
from yarnkite.core.order import natural_order
from yarnkite.core.places import FoundFile, files_below, safe_relative
from yarnkite.core.recipe import Still
from yarnkite.core.sorting import LeftOut, printable, sort_out
from yarnkite.core.weight import Weight, measured_weight
from yarnkite.jobs import check
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import in_turn
from yarnkite.store import jobs, shots, sorting, stills, uploads, used
from yarnkite.store.database import Database, Row

KEEP_EVERY = 24


ROOM_TO_SPARE = 500_000_000


def run(context: Context) -> None:
    """Gather a shot's folder; stills that an earlier run kept are not read again."""
    gather(context)
    check.look(context)
    jobs.end(context.database, context.job["id"], "finished")


def gather(context: Context) -> None:
    """Gather a shot's folder within a job, which goes on afterwards."""
    shot_id = context.job["shot_id"]
    shot = shots.one(context.database, shot_id)
    folder, origin = shots.folder_of(shot), _origin(shot)
    found, left_out = listing(context.database, shot, origin)
    left_out += _never_sent(context, shot_id, folder)
    names = [file.name for file in found]
    ordered = [names[index] for index in natural_order(names)]
    known = stills.known(context.database, shot_id, ordered)
    todo = [(position, name) for position, name in enumerate(ordered) if name not in known]
    copy_to = folder if origin != folder else None
    if copy_to is not None:
        _check_room(copy_to, [file for file in found if file.name not in known])
    context.progress(len(ordered) - len(todo), len(ordered), now=True)
    gathering = _Gathering(context, shot_id, left_out)
    finished = in_turn(
        context.workers,
        gather_still,
        todo,
        lambda task: (origin, task[1], context.workspace.proxies, copy_to),
        while_waiting=context.check,
    )
    for count, (task, future) in enumerate(finished, len(ordered) - len(todo) + 1):
        gathering.take(*task, future)
        context.progress(count, len(ordered))
    gathering.keep()
    if copy_to is not None:
        _copy_beside(origin, copy_to, left_out)
    shots.arrange(context.database, shot_id)
    shots.set_gathered(context.database, shot_id, _weight(context, shot))
    context.progress(len(ordered), len(ordered), now=True)


def listing(database: Database, shot: Row, origin: Path) -> tuple[list[FoundFile], list[LeftOut]]:
    """Return the files of a shot's folder that are its stills, and the rest with the reasons.

    Files of other shots of the project, and files that were taken out, are not its stills.
    """
    if not origin.is_dir():
        raise Refusal(
            "lost_folder",
            f"The folder {origin} is not there any more. Put it back, or tell the project where it is now.",
        )
    elsewhere = sorting.of_siblings(database, shot)
    taken_out = set(sorting.taken_out(database, shot["id"]))
    files = [file for file in files_below(origin, origin) if file.name not in elsewhere]
    found, left_out = sort_out(origin, files, raws=bool(shot["raws"]))
    left_out += [
        LeftOut(printable(file.name), f"“{Path(file.name).name}” was taken out of this shot.", "taken out")
        for file in found
        if file.name in taken_out
    ]
    return [file for file in found if file.name not in taken_out], left_out


def _origin(shot: Row) -> Path:
    """Return where a shot's files are read: for a copied one its source, as long as that is there."""
    source = shots.source_of(shot)
    return source if source is not None and source.is_dir() else shots.folder_of(shot)


def _check_room(folder: Path, files: list[FoundFile]) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    needed, free = sum(file.bytes for file in files), shutil.disk_usage(folder).free
    if needed + ROOM_TO_SPARE > free:
        raise NoRoom(
            "disk_full",
            f"Copying {len(files):,} files needs {needed / 1e9:.1f} GB and {free / 1e9:.1f} GB are free. Free some "
            "space, or use the folder where it lies.",
        )


def _copy_beside(origin: Path, target: Path, left_out: list[LeftOut]) -> None:
    """Copy what belongs to the stills but is none: sidecars, and the other file of a pair."""
    for file in left_out:
        if file.kind not in ("sidecar", "pair") or (target / file.name).exists():
            continue
        (target / file.name).parent.mkdir(parents=True, exist_ok=True)
        unfinished = target / f"{file.name}.part"
        try:
            shutil.copy2(origin / file.name, unfinished)
            unfinished.replace(target / file.name)
        except OSError as error:
            unfinished.unlink(missing_ok=True)
            raise NoRoom("cannot_write", f"“{file.name}” cannot be copied: {error.strerror}.") from error


def _weight(context: Context, shot: Row) -> Weight | None:
    """Measure what the shot's frames weigh; a still that is lost meanwhile only costs the estimate."""
    gathered = [still for _, still in used.of_shot_whole(context.database, shot)]
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
        LeftOut(name, f"“{Path(name).name}” was left out: it is a {description(name)}.", category(Path(name).name))
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
            self._left_out.append(LeftOut(Path(name).as_posix(), refusal.sentence, "unreadable"))
            stills.leave_out(self._context.database, self._shot_id, self._left_out)
        if len(self._results) >= KEEP_EVERY:
            self.keep()

    def keep(self) -> None:
        stills.add(self._context.database, self._shot_id, self._results)
        self._results = []
        self._context.publish("stills", {"shot_id": self._shot_id})
