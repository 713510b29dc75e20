"""A shot that grows: what ten more stills cost the server, by how many there are already."""

import io
import os
import tempfile
import time
from datetime import timedelta
from itertools import pairwise
from pathlib import Path

import numpy as np
from PIL import Image

from bench.screen import BEGINS
from yarnkite.core.check.shift import Shift
from yarnkite.core.gather.gathering import Gathered, gather_still
from yarnkite.core.gather.locations import files_below
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.order.natural import natural_order
from yarnkite.jobs.growing import Growing
from yarnkite.serve import running
from yarnkite.services import capture
from yarnkite.services.running import Services
from yarnkite.store import check, projects, shots, snapshots, stills
from yarnkite.workspace import Workspace

THERE, MORE, TIMES = (200, 3_000, 20_000), 10, 5
_PATIENCE_S = 60.0
_CAPTURED, _CAPTURED_TAG, _EXIF = "2000:01:01 00:00:00", 0x9003, 0x8769


def run(folder: Path) -> None:
    """Measure and print; nothing is kept in ``folder``."""
    del folder
    print(f"\nGrowing: {MORE} more stills of 96 × 64 at a time, {TIMES} times, by the stills there are (medians)")
    print(f"{'stills':>10}{'server, ms':>14}{'in the shot after, ms':>24}")
    for count in THERE:
        with tempfile.TemporaryDirectory() as folder_name:
            work, whole = _measured(Path(folder_name), count)
        print(f"{count:>10,}{1000 * work:>14.0f}{1000 * whole:>24.0f}")


def _measured(folder: Path, count: int) -> tuple[float, float]:
    """Return what a step that takes ten costs this process, and how long it is, with its looks, in seconds."""
    card, exif = folder / "card", Image.Exif()
    card.mkdir()
    exif.get_ifd(_EXIF)[_CAPTURED_TAG] = _CAPTURED
    packed = io.BytesIO()
    pixels = np.random.default_rng(1).integers(0, 255, (64, 96, 3), np.uint8)
    Image.fromarray(pixels).save(packed, "JPEG", exif=exif)
    for number in range(count):
        _write(card, number, packed.getvalue())
    with running(Workspace(folder / "data"), workers=2) as services:
        shot = _gathered(services, card, Workspace(folder / "data").proxies)
        steps: list[tuple[float, float]] = []
        step = Growing.step

        def timed(growing: Growing) -> float:
            taken, began, work = growing.taken, time.perf_counter(), time.process_time()
            wait = step(growing)
            if growing.taken > taken:
                steps.append((time.process_time() - work, time.perf_counter() - began))
            return wait

        Growing.step = timed  # type: ignore[method-assign]
        try:
            capture.watch(services, shot)
            # The first ten are taken by workers that begin, and are not counted.
            for more in range(1 + TIMES):
                first = count + MORE * more
                # All at once, as from a card: a handful that is half there is taken in two.
                aside = folder / f"aside {more}"
                aside.mkdir()
                for number in range(first, first + MORE):
                    _write(aside, number, packed.getvalue())
                for file in aside.iterdir():
                    file.rename(card / file.name)
                until = time.monotonic() + _PATIENCE_S
                while stills.count(services.database, shot) < first + MORE and time.monotonic() < until:
                    time.sleep(0.05)
                time.sleep(1.0)
        finally:
            Growing.step = step  # type: ignore[method-assign]
        counted = sorted(steps[1:])
        return counted[len(counted) // 2][0], sorted(whole for _, whole in counted)[len(counted) // 2]


def _write(folder: Path, number: int, packed: bytes) -> None:
    captured = (BEGINS + timedelta(seconds=4 * number)).strftime("%Y:%m:%d %H:%M:%S")
    path = folder / f"MRW_{number + 1:05}.JPG"
    path.write_bytes(packed.replace(_CAPTURED.encode(), captured.encode()) + f"{number:06}".encode())
    # Old files are whole: what is measured is not how long they are watched.
    os.utime(path, (1.9e9 - 1e9, 1.9e9 - 1e9))


def _gathered(services: Services, card: Path, proxies: Proxies) -> int:
    """Put all stills of a folder into a shot, as if they had been gathered and checked; returns its id."""
    database = services.database
    shot = shots.add(database, projects.add(database, "Many"), "Many", card, copied=False)
    files = list(files_below(card, card))
    read: list[Gathered] = [gather_still(card, file.name, proxies) for file in files]
    order = natural_order([file.name for file in files])
    for low in range(0, len(order), 500):
        some = [
            (stills.Reading(low + place, files[index].name, None), read[index])
            for place, index in enumerate(order[low : low + 500])
        ]
        stills.add(database, shot, some)
    shots.set_gathered(database, shot, None)
    every = [still for _, still in snapshots.of_shot(database, shots.one(database, shot)).stills]
    check.add_pairs(database, list(pairwise(every)), [Shift(0.0, 0.0, 0.0, 0.8)] * (len(every) - 1))
    return shot
