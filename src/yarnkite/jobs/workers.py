"""Workers: where the computing happens, and how many pieces of it are under way at a time."""

import ctypes
import multiprocessing
import os
import select
import signal
import threading
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import FIRST_COMPLETED, Executor, Future, ProcessPoolExecutor, wait
from concurrent.futures.process import BrokenProcessPool
from typing import Generic, TypeVar

Task = TypeVar("Task")
Result = TypeVar("Result")

TRIES = 3
POLL_S = 0.25
_M_MMAP_THRESHOLD = -3
_LARGE_BLOCK = 2_000_000


class WorkerDied(RuntimeError):
    """A worker process ended again and again on the same piece of work."""


class Workers(Generic[Result]):
    """A pool of processes on this machine, made anew when one of them is killed."""

    def __init__(self, count: int | None = None) -> None:
        self.count = count or os.cpu_count() or 1
        self._lock = threading.Lock()
        self._pool: Executor | None = None

    def submit(self, function: Callable[..., Result], *arguments: object) -> "Future[Result]":
        with self._lock:
            if self._pool is None:
                self._pool = _process_pool(self.count)
            try:
                return self._pool.submit(function, *arguments)
            except BrokenProcessPool:
                self._pool = _process_pool(self.count)
                return self._pool.submit(function, *arguments)

    def stop(self) -> None:
        with self._lock:
            if self._pool is not None:
                self._pool.shutdown(wait=True, cancel_futures=True)
                self._pool = None


def in_turn(
    workers: "Workers[Result]",
    function: Callable[..., Result],
    tasks: Iterable[Task],
    arguments: Callable[[Task], tuple[object, ...]],
    *,
    while_waiting: Callable[[], None] = lambda: None,
) -> Iterator[tuple[Task, Future[Result]]]:
    """Run ``function`` on each task and yield tasks with their finished futures, in the order they finish.

    Only a few are under way at a time, so that other jobs get their share of the workers. A task whose worker was
    killed is tried again, three times at most. ``while_waiting`` is called several times a second; what it raises
    ends the work: nothing new begins, and what is under way is waited for.
    """
    left = iter(tasks)
    running: dict[Future[Result], tuple[Task, int]] = {}

    def begin(task: Task, tries: int) -> None:
        running[workers.submit(function, *arguments(task))] = (task, tries)

    try:
        while True:
            while len(running) <= workers.count and (task := next(left, None)) is not None:
                begin(task, 1)
            if not running:
                return
            finished, _ = wait(running, timeout=POLL_S, return_when=FIRST_COMPLETED)
            while_waiting()
            for future in finished:
                task, tries = running.pop(future)
                if not isinstance(future.exception(), BrokenProcessPool):
                    yield task, future
                elif tries < TRIES:
                    begin(task, tries + 1)
                else:
                    raise WorkerDied(f"A worker process ended {TRIES} times while it did the same piece of work.")
    finally:
        for future in running:
            future.cancel()
        wait(running)


def _process_pool(count: int) -> ProcessPoolExecutor:
    # The fork server is single-threaded, so its children start clean; it ends when the last of them has.
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(["yarnkite.core.encode", "yarnkite.core.gather"])
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
