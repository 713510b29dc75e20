"""Workers of a Dask cluster in place of this machine's: where they see the same folders, or get what they need sent
along.

A scheduler that is away and workers that die cost time, nothing else: this machine goes on alone with what is left.
"""

import contextlib
import logging
import threading
from collections.abc import Callable
from concurrent.futures import CancelledError, Executor, Future
from functools import partial
from pathlib import Path
from typing import Any
from uuid import uuid4

from distributed import Client, KilledWorker
from distributed.comm.core import CommClosedError

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.encode.render_plan import ChunkTask
from yarnkite.core.encode.runs import Share
from yarnkite.core.gather.locations import Location
from yarnkite.jobs.cluster_worker import Bundle, packed, render_bundle, sees
from yarnkite.jobs.rendering import render
from yarnkite.jobs.workers import Workers

log = logging.getLogger(__name__)

TRY_EVERY_S = 5.0
_PATIENCE_S = 4.0
# What says that a worker or the scheduler is gone, and not that the work itself cannot be done.
_GONE = (KilledWorker, CancelledError, CommClosedError, OSError, TimeoutError)


class ClusterWorkers(Workers[Any]):
    """This machine's workers and those of a cluster: what can go there does while it answers."""

    def __init__(self, address: str, locations: tuple[Location, ...], data: Path, count: int | None = None) -> None:
        super().__init__(count)
        self._address, self._locations, self._data = address, locations, data
        self._client: Client | None = None
        self._executor: Executor | None = None
        self._remote, self._shares_folders = 0, False
        self._ending = threading.Event()
        self._state = threading.Lock()
        threading.Thread(target=self._keep_connected, name="cluster", daemon=True).start()

    @property
    def sentence(self) -> str:
        """Say how the cluster is."""
        if not self._remote:
            return f"The cluster at {self._address} does not answer, or has no workers; this machine works alone."
        how = "see the same folders" if self._shares_folders else "are sent the stills they need"
        return f"{self._remote} {'worker' if self._remote == 1 else 'workers'} of the cluster at {self._address} {how}."

    def at_once(self, share: Share) -> int:
        """Return how many runs of chunks are under way at a time: two for each worker, so that none waits."""
        return 2 * self._remote if self._remote else share.at_once

    def submit(self, function: Callable[..., Any], *arguments: object) -> "Future[Any]":
        """Have something done by the cluster, or here where it cannot be or the cluster is away."""
        executor = self._executor
        if executor is None or not (self._shares_folders or function is render):
            return super().submit(function, *arguments)
        outer: Future[Any] = Future()
        here = partial(self._here, outer, function, arguments)
        try:
            if self._shares_folders:
                inner = executor.submit(function, *arguments)
            else:
                tasks, folder, _, threads = arguments
                inner = executor.submit(render_bundle, self._bundle(tasks, threads))  # type: ignore[arg-type]
                outer.set_running_or_notify_cancel()
                inner.add_done_callback(partial(_take, outer, here, Path(str(folder))))
                return outer
        except Exception:
            log.warning("the cluster takes no work", exc_info=True)
            self._lost()
            return super().submit(function, *arguments)
        outer.set_running_or_notify_cancel()
        inner.add_done_callback(partial(_take, outer, here, None))
        return outer

    def stop(self) -> None:
        """Let go of the cluster, and end the workers of this machine."""
        self._ending.set()
        self._lost()
        super().stop()

    def _bundle(self, tasks: list[ChunkTask], threads: int) -> Bundle:
        return packed(tasks, threads, self._locations)

    def _here(self, outer: "Future[Any]", function: Callable[..., Any], arguments: tuple[object, ...]) -> None:
        """Do on this machine what the cluster could not."""
        log.warning("a worker of the cluster is gone; its work is done here")
        inner = super().submit_here(function, *arguments)
        inner.add_done_callback(lambda done: _pass_on(done, outer))

    def _keep_connected(self) -> None:
        while not self._ending.is_set():
            try:
                self._look()
            except Exception as error:
                if self._client is not None:
                    log.warning("the cluster at %s is lost: %s", self._address, error)
                self._lost()
            self._ending.wait(TRY_EVERY_S)

    def _look(self) -> None:
        """Connect where that is not so yet, and count the workers; raises what says that the scheduler is away."""
        client = self._client
        if client is None:
            client = Client(self._address, timeout=_PATIENCE_S, set_as_default=False)  # type: ignore[no-untyped-call]
            print(f"The cluster at {self._address} answers.", flush=True)
        workers = client.scheduler_info(n_workers=-1)["workers"] if client.status == "running" else {}
        if client.status != "running":
            raise OSError("it does not answer any more")
        shares = self._shares_folders
        if len(workers) != self._remote and workers:
            shares = self._all_see(client)
        with self._state:
            self._client, self._remote, self._shares_folders = client, len(workers), shares
            if self._executor is None and workers:
                self._executor = client.get_executor(pure=False)  # type: ignore[no-untyped-call]
            elif not workers:
                self._executor = None

    def _all_see(self, client: Client) -> bool:
        """Tell whether every worker sees this program's data folder and all locations under the same paths."""
        mark = self._data / f"cluster-{uuid4().hex}.note"
        mark.write_text("")
        try:
            folders = [str(location.folder) for location in self._locations]
            return all(client.run(sees, [str(mark), *folders]).values())
        finally:
            mark.unlink(missing_ok=True)

    def _lost(self) -> None:
        with self._state:
            client, self._client, self._executor, self._remote = self._client, None, None, 0
        if client is not None:
            with contextlib.suppress(Exception):
                client.close(timeout=1)  # type: ignore[no-untyped-call]


def _take(outer: "Future[Any]", here: Callable[[], None], folder: Path | None, inner: "Future[Any]") -> None:
    """Take what a worker of the cluster made: files that were sent are put into their folder, complete or not at
    all."""
    try:
        error = inner.exception()
    except CancelledError as cancelled:
        error = cancelled
    if isinstance(error, _GONE):
        try:
            here()
        except Exception as failed:
            outer.set_exception(failed)
        return
    if error is not None:
        outer.set_exception(error)
        return
    try:
        if folder is not None:
            for name, data in inner.result():
                write_completed(folder / name, data)
        outer.set_result(None if folder is not None else inner.result())
    except Exception as failed:
        outer.set_exception(failed)


def _pass_on(inner: "Future[Any]", outer: "Future[Any]") -> None:
    error = inner.exception()
    if error is not None:
        outer.set_exception(error)
    else:
        outer.set_result(inner.result())
