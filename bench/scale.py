"""What grows with what: constants measured here; a closed network of workers, scheduler and link, simulated."""

import heapq
import itertools
import tempfile
import time
from dataclasses import dataclass, replace
from pathlib import Path

from bench.screen import many_stills
from bench.stills import make_stills
from yarnkite.core.gather.gathering import gather_still
from yarnkite.core.gather.proxies import Proxies
from yarnkite.serve import running
from yarnkite.workspace import Workspace

STILLS, ROWS = 12, 4000
SHOTS, STILLS_A_SHOT = (100, 1_000, 10_000), 10_000
WORKERS = (1, 10, 100, 1_000)
SIMULATED_S = 3_600.0
_COLUMNS = (18, 14, 12, 10, 10)


@dataclass(frozen=True)
class Station:
    """What tasks pass one after another (``servers`` at a time), each for so many seconds."""

    name: str
    seconds: float
    servers: float = 1


@dataclass(frozen=True)
class Cluster:
    """A chunk's way, 50 frames of 24 megapixels: told by the scheduler, read, made, sent back over a link, joined.

    Stills are read over the link, or, ``own_disk`` bytes a second, by each worker from its own.
    """

    workers: int
    chunk_s: float
    read_bytes: float = 50 * 9e6
    result_bytes: float = 5e6
    link: float = 1.2e9
    own_disk: float = 0.0
    task_s: float = 1e-3
    join: float = 250e6

    @property
    def stations(self) -> tuple[Station, ...]:
        read_s = self.read_bytes / (self.own_disk or self.link)
        made_s = self.chunk_s + (read_s if self.own_disk else 0.0)
        return (
            Station("scheduler", self.task_s),
            Station("link, stills", 0.0 if self.own_disk else read_s),
            Station("workers", made_s, self.workers),
            Station("link, results", self.result_bytes / self.link),
            Station("joining", self.result_bytes / self.join),
        )


def run(folder: Path) -> None:
    """Measure and print."""
    row, copy, gathering_s = _constants(folder)
    print(
        f"\nScale: a still takes {row:,.0f} bytes of the database, {copy / 1e3:,.0f} kB of reduced copies and "
        f"{gathering_s:.2f} core seconds to be gathered (24 megapixels, 9 MB)"
    )
    head = (f"shots of {STILLS_A_SHOT:,}", "stills", "originals", "copies", "database")
    print("".join(f"{word:>{wide}}" for word, wide in zip(head, _COLUMNS, strict=True)))
    for shots in SHOTS:
        stills = shots * STILLS_A_SHOT
        said = (f"{shots:,}", f"{stills:,}", *map(_size, (stills * 9e6, stills * copy, stills * row)))
        print("".join(f"{word:>{wide}}" for word, wide in zip(said, _COLUMNS, strict=True)))
    for words, change in (
        ("one folder on a link of 10 Gbit/s", {}),
        ("stills on the workers' own disks, 1 GB/s each", {"own_disk": 1e9}),
        ("and four processes that join", {"own_disk": 1e9, "join": 1e9}),
    ):
        print(f"\n{words}: frames a second, simulated (at most, by the station that is busiest)")
        for workers in WORKERS:
            cluster = replace(Cluster(workers, chunk_s=5.5), **change)
            made = simulated(cluster.stations, jobs=2 * workers)
            limit, which = bound(cluster.stations)
            print(f"{workers:8,} workers {made * 50:10,.0f}   ({limit * 50:,.0f}, {which})")


def simulated(stations: tuple[Station, ...], jobs: int, seconds: float = SIMULATED_S) -> float:
    """Return how many tasks a second pass a ring of stations with so many under way, the first to come first."""
    waiting = [0] * len(stations)
    free = [one.servers for one in stations]
    events: list[tuple[float, int, int]] = []
    order = itertools.count()
    done = 0

    def enter(at: float, station: int) -> None:
        waiting[station] += 1
        begin(at, station)

    def begin(at: float, station: int) -> None:
        while free[station] >= 1 and waiting[station]:
            waiting[station] -= 1
            free[station] -= 1
            heapq.heappush(events, (at + stations[station].seconds, next(order), station))

    for _ in range(jobs):
        enter(0.0, 0)
    warm, counted_from = seconds / 4, 0
    now = 0.0
    while events and now < seconds:
        now, _, station = heapq.heappop(events)
        free[station] += 1
        following = (station + 1) % len(stations)
        done += following == 0
        if now < warm:
            counted_from = done
        enter(now, following)
        begin(now, station)
    return (done - counted_from) / max(1e-9, now - warm)


def bound(stations: tuple[Station, ...]) -> tuple[float, str]:
    """Return the most tasks a second there can be, and the station that says so (Denning and Buzen, 1978)."""
    slowest = max(stations, key=lambda one: one.seconds / one.servers)
    return slowest.servers / slowest.seconds, slowest.name


def _constants(folder: Path) -> tuple[float, float, float]:
    """Return what a still takes of the database and of the disk for its copies, in bytes, and core seconds."""
    taken = make_stills(folder / "stills", STILLS)
    with tempfile.TemporaryDirectory(prefix="yarnkite-bench-") as work:
        proxies = Proxies(Path(work) / "proxies")
        origin = Path(taken[0].path).parent
        began = time.process_time()
        for still in taken:
            gather_still(origin, Path(still.path).name, proxies)
        seconds = (time.process_time() - began) / len(taken)
        copies = sum(path.stat().st_size for path in proxies.folder.rglob("*") if path.is_file()) / len(taken)
        return _row_bytes(Path(work)), copies, seconds


def _row_bytes(work: Path) -> float:
    workspace = Workspace(work / "data")
    many_stills(workspace, ROWS)
    with running(workspace, workers=1) as services, services.database.transaction() as cursor:
        cursor.execute("ANALYZE TABLE still, still_pair")
        cursor.fetchall()
        cursor.execute(
            "SELECT SUM(data_length + index_length) AS bytes FROM information_schema.tables "
            "WHERE table_schema = DATABASE() AND table_name IN ('still', 'still_pair')"
        )
        row = cursor.fetchone()
    return float(row["bytes"]) / ROWS if row else 0.0


def _size(count: float) -> str:
    units = ((1e15, "PB"), (1e12, "TB"), (1e9, "GB"), (1e6, "MB"))
    return next((f"{count / unit:,.0f} {name}" for unit, name in units if count >= unit), f"{count:.0f} B")
