"""Workers: where the computing happens, and how many pieces of it are under way at a time."""

import contextlib
import ctypes
import multiprocessing
import os
import select
import signal
import threading
import time
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import FIRST_COMPLETED, Executor, Future, ProcessPoolExecutor, wait
from concurrent.futures.process import BrokenProcessPool
from multiprocessing import forkserver
from multiprocessing.context import BaseContext
from pathlib import Path
from typing import TYPE_CHECKING, Generic, TypeVar

if TYPE_CHECKING:
    # A command begins its workers before it has loaded all it needs by itself.
    from yarnkite.core.encode.runs import Share

Task = TypeVar("Task")
Result = TypeVar("Result")

TRIES = 3
_SUBMIT_TRIES = 6
POLL_S = 0.25
# So long is waited for what may be in the middle of something, and no longer.
PATIENCE_S = 6.0
_APART = 0
# What is loaded, and compiled, once for all workers; a command, whose user waits for it, needs less.
_PRELOADED = [f"yarnkite.jobs.{name}" for name in ("reading", "warm", "gather", "finishing")]
_PRELOADED_FOR_A_CLIP = [f"yarnkite.jobs.{name}" for name in ("reading", "warm", "finishing")]
_M_MMAP_THRESHOLD = -3
_LARGE_BLOCK = 2_000_000


# What is said to who asks for work when a worker was killed, or the process they are forked from.
_POOL_IS_GONE = (BrokenProcessPool, EOFError, ConnectionError)


class WorkerDied(RuntimeError):
    """A worker process ended again and again on the same piece of work."""


class Workers(Generic[Result]):
    """A pool of processes on this machine, made anew when one of them is killed."""

    def __init__(self, count: int | None = None) -> None:
        self.count = count or os.cpu_count() or 1
        self._lock = threading.Lock()
        self._pools: dict[int, Executor] = {}

    def at_once(self, share: "Share") -> int:
        """Return how many runs of chunks are under way at a time."""
        return share.at_once

    def submit(self, function: Callable[..., Result], *arguments: object) -> "Future[Result]":
        return self._submit(self.count, function, *arguments)

    def submit_here(self, function: Callable[..., Result], *arguments: object) -> "Future[Result]":
        """Have something done by a process of this machine, whose files it needs."""
        return self._submit(self.count, function, *arguments)

    def submit_apart(self, function: Callable[..., Result], *arguments: object) -> "Future[Result]":
        """Have something done in a process beside the others, which it cannot take with it when it ends that
        process."""
        return self._submit(_APART, function, *arguments)

    def _submit(self, which: int, function: Callable[..., Result], *arguments: object) -> "Future[Result]":
        with self._lock:
            for attempt in range(_SUBMIT_TRIES):
                # A process that was killed is there for a moment more, and whoever asks it is told that it is not.
                time.sleep(0.1 * attempt)
                pool = self._pools.get(which) or _process_pool(which or 1)
                self._pools[which] = pool
                try:
                    return pool.submit(function, *arguments)
                except _POOL_IS_GONE:
                    del self._pools[which]
        raise WorkerDied("Worker processes end as soon as they begin.")

    def stop(self) -> None:
        """End the workers: those that do not answer within a few seconds are killed."""
        with self._lock:
            pools, self._pools = list(self._pools.values()), {}
        processes = [process for pool in pools for process in getattr(pool, "_processes", None) or {}]
        for pool in pools:
            pool.shutdown(wait=False, cancel_futures=True)
        if not _have_ended(processes, PATIENCE_S):
            for process in processes:
                with contextlib.suppress(ProcessLookupError):
                    os.kill(process, signal.SIGKILL)
            _have_ended(processes, PATIENCE_S)


def in_turn(
    workers: "Workers[Result]",
    function: Callable[..., Result],
    tasks: Iterable[Task],
    arguments: Callable[[Task], tuple[object, ...]],
    *,
    while_waiting: Callable[[], None] = lambda: None,
    spare: bool = False,
    at_once: int | None = None,
    here: bool = False,
) -> Iterator[tuple[Task, Future[Result]]]:
    """Run ``function`` on each task and yield tasks with their finished futures, in the order they finish.

    Only a few are under way at a time (``at_once``, or one more than there are workers), so that other jobs get their
    share of the workers. A task whose worker was
    killed is tried again, three times at most, alone and apart, so that it cannot take others with it. One that never
    survives ends the work with ``WorkerDied``; with ``spare`` it is yielded with that as its exception, and the others
    go on. ``while_waiting`` is called several times a second; what it raises ends the work: nothing new begins, and
    what is under way is waited for, for a few seconds. ``here`` keeps the work on this machine.
    """
    left = iter(tasks)
    most = at_once or workers.count + 1
    running: dict[Future[Result], tuple[Task, int]] = {}
    suspects: deque[tuple[Task, int]] = deque()

    def begin(task: Task, tries: int) -> None:
        first = workers.submit_here if here else workers.submit
        submit = first if tries == 1 else workers.submit_apart
        running[submit(function, *arguments(task))] = (task, tries)

    def begin_more() -> None:
        if suspects:
            if not running:
                begin(*suspects.popleft())
            return
        while len(running) < most and (task := next(left, None)) is not None:
            begin(task, 1)

    try:
        while True:
            begin_more()
            if not running:
                return
            finished, _ = wait(running, timeout=POLL_S, return_when=FIRST_COMPLETED)
            while_waiting()
            for future in finished:
                task, tries = running.pop(future)
                if not isinstance(future.exception(), BrokenProcessPool):
                    yield task, future
                elif tries < TRIES:
                    suspects.append((task, tries + 1))
                else:
                    death = WorkerDied(f"A worker process ended {TRIES} times while it did the same piece of work.")
                    if not spare:
                        raise death
                    yield task, _ended(death)
    finally:
        for future in running:
            future.cancel()
        wait(running, timeout=PATIENCE_S)


def free_memory_bytes() -> int:
    """Return how many bytes of memory can be had without others losing theirs; where that is not told, plenty."""
    try:
        lines = Path("/proc/meminfo").read_text().splitlines()
    except OSError:
        return 1 << 62
    return next((int(line.split()[1]) * 1024 for line in lines if line.startswith("MemAvailable:")), 1 << 62)


def _ended(error: Exception) -> "Future[Result]":
    future: Future[Result] = Future()
    future.set_exception(error)
    return future


def _have_ended(processes: Iterable[int], seconds: float) -> bool:
    """Wait for processes to end, at most so long; tells whether all have."""
    deadline = time.monotonic() + seconds
    while any(_is_alive(process) for process in processes):
        if time.monotonic() > deadline:
            return False
        time.sleep(0.02)
    return True


def _is_alive(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    return True


def begin_soon() -> None:
    """Start the process that workers are forked from, which loads what a clip needs while this one does."""
    _forking(_PRELOADED_FOR_A_CLIP)
    forkserver.ensure_running()


def _forking(preloaded: list[str] = _PRELOADED) -> BaseContext:
    # The fork server is single-threaded, so its children start clean; it ends when the last of them has.
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(preloaded)
    return context


def _process_pool(count: int) -> ProcessPoolExecutor:
    context = _forking()
    return ProcessPoolExecutor(count, mp_context=context, initializer=_prepare_worker, initargs=(os.getpid(),))


def compute_alone() -> None:
    """Set this process up to compute as one of several: on one thread, in no more memory than it uses."""
    import cv2

    cv2.setNumThreads(1)
    # The allocator of glibc learns to keep blocks as large as pictures for itself, and they break up: told a fixed
    # limit, it gives them back when they are freed.
    if hasattr(libc := ctypes.CDLL(None), "mallopt"):
        libc.mallopt(_M_MMAP_THRESHOLD, _LARGE_BLOCK)


def _prepare_worker(server: int) -> None:
    compute_alone()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    os.nice(5)
    threading.Thread(target=_end_with, args=(os.pidfd_open(server),), daemon=True).start()


def _end_with(server: int) -> None:
    """End this worker as soon as the server has ended, however that came about."""
    select.select([server], [], [])
    os.kill(os.getpid(), signal.SIGKILL)
