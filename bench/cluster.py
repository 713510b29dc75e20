"""Two workers of a cluster against one: the same chunks, each worker with one core, the scheduler on this machine."""

import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from fractions import Fraction
from pathlib import Path

from bench.encode import HD
from bench.measure import cores
from bench.stills import make_stills
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.render_plan import render_plan
from yarnkite.core.encode.runs import Share
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.gather.locations import Location
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe
from yarnkite.jobs.cluster import ClusterWorkers
from yarnkite.jobs.rendering import Rendering, rendered

# Chunks of two seconds: eight of eight stills.
STILLS, RATE = 64, Fraction(4)
_PATIENCE_S = 60.0


def run(folder: Path) -> None:
    """Measure and print."""
    stills = make_stills(folder / "stills", STILLS)
    with tempfile.TemporaryDirectory(prefix="yarnkite-bench-") as work:
        one, two = (_seconds(stills, Path(work), count) for count in (1, 2))
    print(
        f"\nCluster: {STILLS} stills of 24 megapixels to 1920 × 1080, one worker {one:.1f} s, two {two:.1f} s: "
        f"{one / two:.2f} ×   (bar: 1.8; each worker on a core of its own, the scheduler on any)"
    )


def _seconds(stills: list[Still], work: Path, count: int) -> float:
    """Return what rendering takes by so many workers, once they have rendered a clip."""
    data = work / f"data-{count}"
    data.mkdir()
    with _cluster(count) as address:
        workers = ClusterWorkers(address, (Location("stills", Path(stills[0].path).parent),), data, 1)
        try:
            _wait_for(workers, count)
            _render(workers, stills[: 16 * count], data / "warm")
            begun = time.monotonic()
            _render(workers, stills, data / "measured")
            return time.monotonic() - begun
        finally:
            workers.stop()


def _render(workers: ClusterWorkers, stills: list[Still], folder: Path) -> None:
    folder.mkdir()
    encode = Encode()
    decisions = Decisions(fit=Fit(size=HD), pace=Pace(rate=RATE), encode=encode)
    frames = ClipFrames(Recipe(stills=tuple(stills), decisions=decisions))
    rendering = Rendering(workers, folder, Share(1, 1), folder.name, lambda: None, lambda done, total: None)
    rendered(rendering, frames, render_plan(frames, encode))


def _wait_for(workers: ClusterWorkers, count: int) -> None:
    begun = time.monotonic()
    while f"{count} worker" not in workers.sentence:
        if time.monotonic() - begun > _PATIENCE_S:
            raise RuntimeError(workers.sentence)
        time.sleep(0.1)


@contextmanager
def _cluster(count: int) -> Iterator[str]:
    """Give the address of a scheduler with so many workers of one core."""
    address, processes = begun_cluster(count)
    try:
        yield address
    finally:
        for process in reversed(processes):
            process.terminate()
        for process in processes:
            process.wait(_PATIENCE_S)


def begun_cluster(count: int, *options: str) -> tuple[str, list[subprocess.Popen[bytes]]]:
    """Begin a scheduler and so many workers, each held to a core of its own as far as there are some; returns its
    address, and their processes, the scheduler's first.

    The encoder of a worker has four threads, which would else take all cores of this machine.
    """
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    address = f"tcp://127.0.0.1:{port}"
    begin = [sys.executable, "-m", "distributed.cli.dask_scheduler", "--host", "127.0.0.1", "--no-dashboard"]
    work = [sys.executable, "-m", "yarnkite", "worker", address, "--cores", "1"]
    held = [["taskset", "-c", str(number % cores())] for number in range(count)]
    commands = [[*begin, "--port", str(port)], *([*one, *work, *options] for one in held)]
    return address, [
        subprocess.Popen(one, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True)
        for one in commands
    ]
