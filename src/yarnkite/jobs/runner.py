"""The runner: starts jobs, goes on with those a dead process left, cancels them, says how far they are."""

import contextlib
import logging
import threading
import time
from collections.abc import Callable
from concurrent.futures import Future
from dataclasses import dataclass
from typing import Any

from yarnkite.core.base.errors import DiskFull, Refusal, Unavailable
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.render.recipe import Recipe
from yarnkite.jobs.analyses import Analyses
from yarnkite.jobs.workers import PATIENCE_S, WorkerDied, Workers
from yarnkite.store import jobs
from yarnkite.store.database import Database, Row
from yarnkite.workspace import Workspace

log = logging.getLogger(__name__)

NOTE_EVERY_S = 0.4
DATABASE_EVERY_S = 0.3
ROOM_EVERY_S = 2.0
MOST_DEATHS = 2
SET_ASIDE = (
    "The program ended twice in the middle of this, at the same place, so it is set aside. What is finished is kept; "
    "start it again to try once more."
)
Publish = Callable[[str, dict[str, Any]], None]


class Cancelled(Exception):
    """The person does not want this job any more."""


class Paused(Exception):
    """The person wants this job to rest; it goes on when asked to, also after a restart."""


class Stopped(Exception):
    """The program is ending; the job goes on at the next start."""


@dataclass
class Context:
    """What a job works with: the database, the workers, its own progress and the wish to end it."""

    job: Row
    database: Database
    workspace: Workspace
    workers: Workers[Any]
    analyses: Analyses
    publish: Publish
    cancelled: threading.Event
    paused: threading.Event
    stopping: threading.Event
    _began: float = 0.0
    _at_start: int = 0
    _noted: float = 0.0

    def progress(self, done: int, total: int, *, now: bool = False) -> None:
        """Note how far the job is, at most a few times a second unless ``now``; tells every open page."""
        moment = time.monotonic()
        if not self._began:
            self._began, self._at_start = moment, done
        if not now and moment - self._noted < NOTE_EVERY_S:
            return
        self._noted = moment
        jobs.progress(self.database, self.job["id"], done, total)
        spent, gained = moment - self._began, done - self._at_start
        to_go = spent / gained * (total - done) if gained > 0 and spent > 1 else None
        self.publish("job", {"id": self.job["id"], "seconds_to_go": to_go})

    def check(self) -> None:
        """Raise ``Cancelled``, ``Paused`` or ``Stopped`` if the job should end now."""
        if self.cancelled.is_set():
            raise Cancelled
        if self.paused.is_set():
            raise Paused
        if self.stopping.is_set():
            raise Stopped


Work = Callable[[Context], None]


class Runner:
    """Runs each kind of job: most side by side, encodes one after another in the order they were asked for."""

    def __init__(
        self, database: Database, workspace: Workspace, workers: Workers[Any], publish: Publish, work: dict[str, Work]
    ) -> None:
        self._database, self._workspace, self._workers = database, workspace, workers
        self._publish, self._work = publish, work
        self._analyses = Analyses()
        self._stopping = threading.Event()
        self._under_way: dict[int, _UnderWay] = {}
        self._threads: set[threading.Thread] = set()
        # What fills the machine is done one after another: those that wait, in order, and the one that runs.
        self._queue: list[int] = []
        self._at_work: int | None = None
        self._changed = threading.Condition()

    def start(
        self,
        kind: jobs.Kind,
        shot_id: int,
        total: int,
        recipe: Recipe | None = None,
        wanted: dict[str, Any] | None = None,
    ) -> int:
        """Note a job in the database, with what is wanted of it, and begin it; returns its id."""
        job_id = jobs.add(self._database, kind, shot_id, total, _text_of(recipe), wanted)
        self._begin(jobs.one(self._database, job_id))
        return job_id

    def start_for_reel(
        self,
        kind: jobs.Kind,
        reel_id: int,
        total: int,
        recipe: ReelRecipe | None = None,
        wanted: dict[str, Any] | None = None,
    ) -> int:
        """Note a job for a reel, and begin it; returns its id."""
        job_id = jobs.add_for_reel(self._database, kind, reel_id, total, _text_of(recipe), wanted)
        self._begin(jobs.one(self._database, job_id))
        return job_id

    def start_noted(self, job_id: int) -> Row:
        """Begin a job that was noted in the database with more than jobs have in common; returns it."""
        job = jobs.one(self._database, job_id)
        self._begin(job)
        return job

    def go_on(self) -> None:
        """Begin again every job that waits or was running when the last process ended.

        One in which the program ended again and again, without getting any further, may be why: it is set aside.
        """
        for job in jobs.unfinished(self._database):
            was_killed = job["state"] == "running" and job["kind"] not in jobs.GROWING
            if was_killed and jobs.died(self._database, job["id"]) >= MOST_DEATHS:
                jobs.end(self._database, job["id"], "failed", SET_ASIDE)
                self._tell(job["id"])
            else:
                self._begin(job)

    def cancel(self, job_id: int) -> None:
        """Ask a job to end; one that has ended already stays as it is."""
        with self._changed:
            if (one := self._under_way.get(job_id)) is not None:
                one.cancelled.set()
            self._changed.notify_all()
        # What rests, or is about to, is not at work: nothing but its row is to be ended.
        if jobs.end_resting(self._database, job_id):
            self._tell(job_id)

    def pause(self, job_id: int) -> None:
        """Have an encode rest as soon as it can; what is rendered is kept, and the next one has its turn."""
        if jobs.rest(self._database, job_id):
            with self._changed:
                if (one := self._under_way.get(job_id)) is not None:
                    one.paused.set()
                self._changed.notify_all()
            self._tell(job_id)

    def go_on_with(self, job_id: int) -> None:
        """Have an encode that rests, failed or was cancelled go on from where it was."""
        if jobs.wait_again(self._database, job_id):
            self._begin(jobs.one(self._database, job_id))
            self._sort_queue()

    def put_before(self, job_id: int, other: int | None) -> None:
        """Give an encode its turn just before another one's, or after all; one that runs goes on."""
        jobs.put_before(self._database, job_id, other)
        self._sort_queue()
        self._publish("queue", {})

    def _sort_queue(self) -> None:
        order = [row["id"] for row in jobs.queue(self._database, ended=0)]
        with self._changed:
            self._queue.sort(key=lambda one: order.index(one) if one in order else len(order))
            self._changed.notify_all()

    @property
    def worker_count(self) -> int:
        """How many workers compute at once."""
        return self._workers.count

    def submit(self, function: Callable[..., Any], *arguments: object) -> "Future[Any]":
        """Have something small computed by the workers, beside the jobs."""
        return self._workers.submit(function, *arguments)

    def stop(self) -> None:
        """End all work; unfinished jobs go on at the next start. What does not answer is not waited for."""
        with self._changed:
            self._stopping.set()
            self._changed.notify_all()
        deadline = time.monotonic() + PATIENCE_S
        for thread in list(self._threads):
            thread.join(max(0.0, deadline - time.monotonic()))
        self._workers.stop()

    def _begin(self, job: Row) -> None:
        with self._changed:
            before = self._under_way.get(job["id"])
            one = self._under_way[job["id"]] = _UnderWay()
            one.thread = threading.Thread(
                target=self._run, args=(job, one, before), name=f"job-{job['id']}", daemon=True
            )
            if job["kind"] in jobs.QUEUED:
                self._queue.append(job["id"])
        self._threads.add(one.thread)
        one.thread.start()
        self._tell(job["id"])

    def _run(self, job: Row, one: "_UnderWay", before: "_UnderWay | None") -> None:
        if before is not None and before.thread is not None:
            # One that was to rest, and goes on already, must have come to rest first.
            before.thread.join()
        context = Context(
            *(job, self._database, self._workspace, self._workers, self._analyses, self._publish),
            cancelled=one.cancelled,
            paused=one.paused,
            stopping=self._stopping,
        )
        try:
            while not self._has_ended(context):
                self._wait_for_database()
        except Stopped:
            with contextlib.suppress(Unavailable, DiskFull):
                jobs.leave(self._database, job["id"])
        finally:
            with self._changed:
                if self._under_way.get(job["id"]) is one:
                    del self._under_way[job["id"]]
                self._leave_queue(job["id"])
                self._changed.notify_all()
            self._threads.discard(threading.current_thread())
            self._tell(job["id"])

    def _leave_queue(self, job_id: int) -> None:
        if self._at_work == job_id:
            self._at_work = None
        elif job_id in self._queue:
            self._queue.remove(job_id)

    def _has_ended(self, context: Context) -> bool:
        """Carry a job out; tells ``False`` if it must begin again, because the database went away in the middle."""
        job = context.job
        state: jobs.State = "failed"
        try:
            self._wait_for_turn(context)
            jobs.begin(self._database, job["id"])
            self._work[job["kind"]](context)
            return True
        except Unavailable:
            return False
        except Cancelled:
            state, said = "cancelled", ""
        except Paused:
            return True
        except Stopped:
            raise
        except Refusal as refusal:
            said = refusal.sentence
        except WorkerDied as death:
            said = f"{death} Start it again; what is finished is kept."
        except Exception:
            log.exception("job %s failed", job["id"])
            said = "Something went wrong that should not; the log tells more. Start it again; what is finished is kept."
        while True:
            try:
                jobs.end(self._database, job["id"], state, said)
                return True
            except Unavailable:
                self._wait_for_database()
            except DiskFull:
                # Where not even that can be kept, it is kept as soon as there is room: a job must not seem to wait for
                # ever.
                if self._stopping.wait(ROOM_EVERY_S):
                    raise Stopped from None

    def _wait_for_turn(self, context: Context) -> None:
        """Wait until no encode whose turn is earlier is left; other jobs need not wait."""
        job_id = context.job["id"]
        if context.job["kind"] not in jobs.QUEUED:
            context.check()
            return
        with self._changed:
            if self._at_work != job_id:
                self._changed.wait_for(
                    lambda: (
                        (self._at_work is None and self._queue[0] == job_id)
                        or context.cancelled.is_set()
                        or context.paused.is_set()
                        or context.stopping.is_set()
                    )
                )
            context.check()
            if self._at_work != job_id:
                self._queue.remove(job_id)
                self._at_work = job_id

    def _wait_for_database(self) -> None:
        while not self._database.answers():
            if self._stopping.wait(DATABASE_EVERY_S):
                raise Stopped

    def _tell(self, job_id: int) -> None:
        with contextlib.suppress(Unavailable):
            self._publish("job", {"id": job_id, "seconds_to_go": None})


class _UnderWay:
    """A job that waits or runs: the wishes to end it, and the thread that carries it out."""

    def __init__(self) -> None:
        self.cancelled, self.paused = threading.Event(), threading.Event()
        self.thread: threading.Thread | None = None


def _text_of(recipe: Recipe | ReelRecipe | None) -> str | None:
    return recipe.model_dump_json() if recipe else None
