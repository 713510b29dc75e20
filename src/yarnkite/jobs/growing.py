"""A shot that grows: what is whole in its folder is taken into it, a handful at a time, while everything else works."""

import threading
import time
from itertools import pairwise
from pathlib import Path

from watchfiles import watch

from yarnkite.core.base.errors import NotFound, Refusal, Unavailable
from yarnkite.core.gather.growing import Growth
from yarnkite.core.gather.locations import FoundFile, files_below
from yarnkite.jobs import check, gather
from yarnkite.jobs.runner import Context
from yarnkite.store import jobs, shots, snapshots, sorting, stills
from yarnkite.store.database import Row
from yarnkite.store.growing import End, append, end_of

AT_ONCE = 240
# Folders of other machines tell nothing of what is written there: they are looked at again and again.
LOOK_EVERY_S = 2.0
AFTER_TROUBLE_S = 5.0
BUSY_S = 0.5
# After something came, more is likely to come at once: it is taken together.
ENOUGH_S = 0.25


class Growing:
    """Takes into a shot what comes into its folder; ``taken`` counts the stills it has by now."""

    def __init__(self, context: Context, *, written_whole: bool = False) -> None:
        """Grow the shot of a job; ``written_whole`` says that files appear under their names only when complete."""
        self._written_whole = written_whole
        self._context, self._shot_id = context, context.job["shot_id"]
        self._growth = Growth()
        self._refused: dict[str, tuple[int, int]] = {}
        self._paired: set[tuple[str, str]] | None = None
        self._end: End | None = None
        self._taken_on = False
        self.folder_is_there = True
        self.taken = stills.count(context.database, self._shot_id)

    @property
    def folder(self) -> Path:
        """The folder that is looked at: where a copied shot's files come from, else where they lie. Raises
        ``NotFound``."""
        shot = shots.one(self._context.database, self._shot_id)
        return shots.source_of(shot) or shots.folder_of(shot)

    def step(self) -> float:
        """Take what is whole by now, in pieces; returns how long to wait before the next look, in seconds."""
        folder = self.folder
        self.folder_is_there = folder.is_dir()
        if not self.folder_is_there:
            return LOOK_EVERY_S
        now = time.monotonic()
        new = self._new(folder)
        whole = new if self._written_whole else self._growth.whole(folder, new, now, time.time_ns())
        if not whole:
            return min(self._growth.wait_s(now) or LOOK_EVERY_S, LOOK_EVERY_S)
        some = whole[:AT_ONCE]
        try:
            if not self._take(some):
                return BUSY_S
        except Refusal as refusal:
            if refusal.code != "lost_folder":
                raise
            self.folder_is_there = False
            return LOOK_EVERY_S
        return 0.0 if len(whole) > len(some) else ENOUGH_S

    def finish(self) -> None:
        """Take all that is whole now, and have the whole shot checked."""
        while (wait := self.step()) < LOOK_EVERY_S:
            self._context.check()
            time.sleep(wait)
        if self._taken_on:
            self._take([])
        check.measure(self._context)

    def _new(self, folder: Path) -> list[FoundFile]:
        """Return the files that no shot of the folder knows yet, and that were not turned down as they are."""
        database = self._context.database
        shot = shots.one(database, self._shot_id)
        by_source = folder != shots.folder_of(shot)
        end = self._end_of(shot, by_source=by_source)
        others = {
            *sorting.taken_out(database, self._shot_id),
            *(stills.named(row, by_source=by_source) for row in sorting.of_siblings(database, shot)),
        }
        return [
            file
            for file in files_below(folder, folder, end.names)
            if file.name not in others
            and not file.name.endswith(".part")
            and self._refused.get(file.name) != (file.bytes, file.modified_ns)
        ]

    def _end_of(self, shot: Row, *, by_source: bool) -> End:
        """Return what the shot ends with; that is read anew only where something else changed it."""
        if self._end is None or self._end.version != snapshots.state(self._context.database, self._shot_id):
            self._end = end_of(self._context.database, shot, by_source=by_source)
        return self._end

    def _take(self, files: list[FoundFile]) -> bool:
        """Take files into the shot; tells ``False`` while its files are changed by something else."""
        database, job_id = self._context.database, self._context.job["id"]
        if not jobs.take_files(database, job_id, self._shot_id):
            return False
        try:
            pairs = self._take_on(files)
            if pairs is None:
                gather.gather(self._context, only_new={file.name for file in files})
            self._taken_on = pairs is not None
        finally:
            jobs.leave_files(database, job_id)
        shot = shots.one(database, self._shot_id)
        known = self._end_of(shot, by_source=self.folder != shots.folder_of(shot)).names
        self._refused |= {file.name: (file.bytes, file.modified_ns) for file in files if file.name not in known}
        self.taken = len(known)
        if pairs is None:
            self._paired = check.measure_pairs(self._context, self._paired)
        else:
            measured = check.measure_those(self._context, pairs)
            self._paired = None if self._paired is None else self._paired | measured
            self._context.progress(self.taken, self.taken, now=True)
        self._context.publish("stills", {"shot_id": self._shot_id})
        return True

    def _take_on(self, files: list[FoundFile]) -> list[check.Pair] | None:
        """Take files that only come after all stills there are, without looking at those; returns the new neighbours.

        Whatever else they are, nothing is taken: that is for gathering, which looks at the whole shot.
        """
        context, end = self._context, self._end
        shot = shots.one(context.database, self._shot_id)
        if not files or end is None or end.last_still is None or sorting.of_siblings(context.database, shot):
            return None
        found = gather.gather_on(context, shot, files, end)
        grown = append(context.database, shot, end, *found) if found else None
        if grown is None:
            return None
        self._end, added = grown
        return list(pairwise([end.last_still, *added]))


class Waking:
    """Wakes who waits as soon as something changes in a folder, where the system tells of it."""

    def __init__(self, folder: Path) -> None:
        self._woken, self._ended = threading.Event(), threading.Event()
        self._thread = threading.Thread(target=self._listen, args=(folder,), name=f"watch {folder.name}", daemon=True)
        self._thread.start()

    def wait(self, most_s: float) -> None:
        """Wait until something changes, at most so long."""
        self._woken.wait(most_s)
        self._woken.clear()

    def stop(self) -> None:
        """Stop listening."""
        self._ended.set()
        self._thread.join(2.0)

    def _listen(self, folder: Path) -> None:
        try:
            for _ in watch(folder, stop_event=self._ended, debounce=200, step=50, raise_interrupt=False):
                self._woken.set()
        except (OSError, RuntimeError):
            # The folder is gone, or the system watches no more of them: looking again and again does as well.
            return


def watch_folder(context: Context) -> None:
    """Grow a shot by what comes into its folder, until the job is cancelled or the shot is deleted."""
    try:
        growing = Growing(context)
        while True:
            waking = Waking(growing.folder)
            try:
                _grow(context, growing, waking)
            finally:
                waking.stop()
            _wait_for_folder(context, growing)
    except NotFound:
        jobs.end(
            context.database, context.job["id"], "finished", "The shot was deleted; its folder is watched no more."
        )


def _grow(context: Context, growing: Growing, waking: Waking) -> None:
    """Take what comes, until the folder goes away."""
    told = -1
    troubled = False
    while growing.folder_is_there:
        try:
            wait = growing.step()
        except (NotFound, Unavailable):
            raise
        except Refusal as refusal:
            # A disk is full for a while: what comes afterwards is to be taken in all the same.
            jobs.note(context.database, context.job["id"], f"{refusal.sentence} It is tried again by itself.")
            wait, troubled = AFTER_TROUBLE_S, True
        else:
            if troubled:
                jobs.note(context.database, context.job["id"], "")
            troubled = False
        if growing.taken != told:
            told = growing.taken
            context.progress(told, told, now=True)
        end = time.monotonic() + wait
        while (left := end - time.monotonic()) > 0:
            context.check()
            waking.wait(min(left, 0.2))
        context.check()


def _wait_for_folder(context: Context, growing: Growing) -> None:
    folder = growing.folder
    jobs.note(
        context.database, context.job["id"], f"The folder “{folder.name}” is away. It is looked for; nothing is lost."
    )
    context.progress(growing.taken, growing.taken, now=True)
    while not growing.folder.is_dir():
        context.check()
        time.sleep(0.2)
    growing.folder_is_there = True
    jobs.note(context.database, context.job["id"], "")
