"""Measuring work in a process of its own: seconds on the clock, seconds of processor, and memory at its highest."""

import multiprocessing
import os
import resource
import statistics
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

POLL_S = 0.1


@dataclass(frozen=True)
class Measured:
    """``wall_s`` and ``cpu_s`` in seconds; ``peak_mb`` is the proportional memory of all its processes together.

    Memory is watched in runs of its own: to ask for it ten times a second takes time from what is measured.
    """

    wall_s: float
    cpu_s: float
    peak_mb: float


def measure(work: Callable[..., None], *arguments: object, memory: bool = False) -> Measured:
    """Run ``work`` in a fresh process and measure it with all the processes it starts; ``memory`` watches that too."""
    context = multiprocessing.get_context("spawn")
    receiver, sender = context.Pipe(duplex=False)
    process = context.Process(target=_report, args=(sender, work, arguments))
    process.start()
    peak = _Peak(process.pid or 0) if memory else None
    while not receiver.poll(POLL_S):
        if not process.is_alive():
            raise RuntimeError(f"{work.__name__} ended early")
    wall, cpu = receiver.recv()
    process.join()
    return Measured(wall, cpu, peak.stop() if peak else 0.0)


_started = [0.0, 0.0]


def begin_again() -> None:
    """Leave out of the measurement what the work has done so far to prepare itself."""
    _started[:] = [time.perf_counter(), _cpu_s()]


def _cpu_s() -> float:
    used = [resource.getrusage(who) for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)]
    return sum(one.ru_utime + one.ru_stime for one in used)


def _report(
    sender: "multiprocessing.connection.Connection", work: Callable[..., None], arguments: tuple[object, ...]
) -> None:
    begin_again()
    work(*arguments)
    sender.send((time.perf_counter() - _started[0], _cpu_s() - _started[1]))


class _Peak:
    """Watches the memory of a process and its descendants."""

    def __init__(self, pid: int) -> None:
        self._pid, self._peak, self._ended = pid, 0.0, threading.Event()
        self._thread = threading.Thread(target=self._watch, daemon=True)
        self._thread.start()

    def stop(self) -> float:
        self._ended.set()
        self._thread.join()
        return self._peak

    def _watch(self) -> None:
        while not self._ended.wait(POLL_S):
            self._peak = max(self._peak, sum(_memory_mb(pid) for pid in _family(self._pid)))


def _family(pid: int) -> list[int]:
    found = [pid]
    for parent in found:
        try:
            for thread in Path(f"/proc/{parent}/task").iterdir():
                found += [int(child) for child in (thread / "children").read_text().split()]
        except OSError:
            continue
    return found


def _memory_mb(pid: int) -> float:
    try:
        for line in Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines():
            if line.startswith("Pss:"):
                return int(line.split()[1]) / 1024
    except OSError:
        pass
    return 0.0


def median_s(work: Callable[[], object], times: int) -> float:
    """Return how long work takes in this process, the middle of so many times, once it was done before."""
    work()
    taken = []
    for _ in range(times):
        began = time.perf_counter()
        work()
        taken.append(time.perf_counter() - began)
    return statistics.median(taken)


def cores() -> int:
    return len(os.sched_getaffinity(0))
