"""The runner: starts jobs, goes on with those a dead process left, cancels them, says how far they are."""

import contextlib
import logging
import threading
import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future
from dataclasses import dataclass
from typing import Any

from yarnkite.core.errors import Refusal
from yarnkite.core.recipe import Recipe
from yarnkite.jobs.workers import WorkerDied, Workers
from yarnkite.store import jobs
from yarnkite.store.database import Database, Row
from yarnkite.workspace import Workspace

log = logging.getLogger(__name__)

NOTE_EVERY_S = 0.4

Publish = Callable[[str, dict[str, Any]], None]


class Cancelled(Exception):
    """The person does not want this job any more."""


class Stopped(Exception):
    """The program is ending; the job goes on at the next start."""


@dataclass
class Context:
    """What a job works with: the database, the workers, its own progress and the wish to end it."""

    job: Row
    database: Database
    workspace: Workspace
    workers: Workers[Any]
    publish: Publish
    cancelled: threading.Event
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
        """Raise ``Cancelled`` or ``Stopped`` if the job should end now."""
        if self.cancelled.is_set():
            raise Cancelled
        if self.stopping.is_set():
            raise Stopped


Work = Callable[[Context], None]


class Runner:
    """Runs each kind of job: gathering side by side, encodes one after another."""

    def __init__(
        self, database: Database, workspace: Workspace, workers: Workers[Any], publish: Publish, work: dict[str, Work]
    ) -> None:
        self._database, self._workspace, self._workers = database, workspace, workers
        self._publish, self._work = publish, work
        self._stopping = threading.Event()
        self._cancelled: dict[int, threading.Event] = {}
        self._threads: set[threading.Thread] = set()
        self._one_encode = threading.Lock()

    def start(
        self,
        kind: jobs.Kind,
        shot_id: int,
        total: int,
        recipe: Recipe | None = None,
        wanted: dict[str, Any] | None = None,
    ) -> int:
        """Note a job in the database, with what is wanted of it, and begin it; returns its id."""
        job_id = jobs.add(self._database, kind, shot_id, total, recipe, wanted)
        self._begin(jobs.one(self._database, job_id))
        return job_id

    def go_on(self) -> None:
        """Begin again every job that waits or was running when the last process ended."""
        for job in jobs.unfinished(self._database):
            self._begin(job)

    def cancel(self, job_id: int) -> None:
        """Ask a job to end; one that has ended already stays as it is."""
        if job_id in self._cancelled:
            self._cancelled[job_id].set()

    def submit(self, function: Callable[..., Any], *arguments: object) -> "Future[Any]":
        """Have something small computed by the workers, beside the jobs."""
        return self._workers.submit(function, *arguments)

    def stop(self) -> None:
        """End all work; unfinished jobs go on at the next start."""
        self._stopping.set()
        for thread in list(self._threads):
            thread.join()
        self._workers.stop()

    def _begin(self, job: Row) -> None:
        self._cancelled[job["id"]] = threading.Event()
        thread = threading.Thread(target=self._run, args=(job,), name=f"job-{job['id']}", daemon=True)
        self._threads.add(thread)
        thread.start()
        self._publish("job", {"id": job["id"], "seconds_to_go": None})

    def _run(self, job: Row) -> None:
        context = Context(
            *(job, self._database, self._workspace, self._workers, self._publish),
            cancelled=self._cancelled[job["id"]],
            stopping=self._stopping,
        )
        try:
            with self._turn(context):
                jobs.begin(self._database, job["id"])
                self._work[job["kind"]](context)
        except Stopped:
            pass
        except Cancelled:
            jobs.end(self._database, job["id"], "cancelled")
        except Refusal as refusal:
            jobs.end(self._database, job["id"], "failed", refusal.sentence)
        except WorkerDied as death:
            jobs.end(self._database, job["id"], "failed", f"{death} Start it again; what is finished is kept.")
        except Exception:
            log.exception("job %s failed", job["id"])
            with contextlib.suppress(Exception):
                jobs.end(
                    self._database,
                    job["id"],
                    "failed",
                    "Something went wrong that should not; the log tells more. "
                    "Start it again; what is finished is kept.",
                )
        finally:
            self._cancelled.pop(job["id"], None)
            self._threads.discard(threading.current_thread())
            self._publish("job", {"id": job["id"], "seconds_to_go": None})

    @contextlib.contextmanager
    def _turn(self, context: Context) -> Iterator[None]:
        """Wait until no other encode runs; a gathering job need not wait."""
        if context.job["kind"] != "encode":
            yield
            return
        while not self._one_encode.acquire(timeout=0.2):
            context.check()
        try:
            yield
        finally:
            self._one_encode.release()
