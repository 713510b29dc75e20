"""A card that is emptied with proof, held against the disk: the same bytes copied and read back, unproven."""

import os
import shutil
import subprocess
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median

from yarnkite.core.order.card import FOLDERS
from yarnkite.serve import running
from yarnkite.services import jobs, locations, offload, projects
from yarnkite.services.offload import Into, Names
from yarnkite.services.running import Services
from yarnkite.workspace import Workspace

FILES, BYTES, PAIRS = 60, 25_000_000, 5


def run(folder: Path) -> None:
    """Measure and print; nothing is kept in ``folder``."""
    del folder
    with tempfile.TemporaryDirectory() as name:
        top = Path(name)
        card = top / "card"
        card.mkdir()
        for number in range(FILES):
            (card / f"{number:04}.bin").write_bytes(os.urandom(BYTES))
        with running(Workspace(top / "data"), workers=1) as services:
            locations.name(services, str(top))
            project = projects.add(services, "bench")["id"]
            pairs = []
            for _ in range(PAIRS):
                _clear(top)
                plain_s = _timed(card, lambda: _plainly(card, top / "plain"))
                pairs.append((plain_s, _timed(card, lambda: _with_proof(services, project, top))))
    size = FILES * BYTES
    ratios = sorted(plain / proven for plain, proven in pairs)
    print(f"\nEmptying a card: {FILES} files of {BYTES / 1e6:.0f} MB, copied, on the disk, and read back from it")
    print(f"{'copied and read, MB/s':>24}{'with proof, MB/s':>20}{'ratio':>10}{'least … most':>18}")
    plain, proven = (size / 1e6 / median(times) for times in zip(*pairs, strict=True))
    print(f"{plain:>24.0f}{proven:>20.0f}{median(ratios):>10.2f}{f'{ratios[0]:.2f} … {ratios[-1]:.2f}':>18}")


def _clear(top: Path) -> None:
    for one in ("plain", "proven"):
        shutil.rmtree(top / one, ignore_errors=True)
    os.sync()


def _timed(card: Path, work: Callable[[], None]) -> float:
    # The card is read from the disk each time, not from memory.
    for file in card.iterdir():
        with file.open("rb") as opened:
            os.posix_fadvise(opened.fileno(), 0, 0, os.POSIX_FADV_DONTNEED)
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def _plainly(card: Path, target: Path) -> None:
    """Do what is least: copy all, have it on the disk, and read it back from there without looking at it."""
    subprocess.run(["cp", "-r", card, target], check=True)
    subprocess.run(["sync", "-f", target], check=True)
    for file in sorted(target.iterdir()):
        read = ["dd", f"if={file}", "of=/dev/null", "bs=8M", "iflag=direct", "status=none"]
        subprocess.run(read, check=True)


def _with_proof(services: Services, project: int, top: Path) -> None:
    looked = offload.look(services, top.name, "card")
    into = Into(top.name, "", "proven")
    names = Names(FOLDERS, None)
    job = offload.begin(
        services, project, (top.name, "card"), looked.listing, [], others=True, names=names, into=[into]
    )
    while (now := next(one for one in jobs.recent(services) if one["id"] == job["id"]))["state"] != "finished":
        if now["state"] in ("failed", "cancelled"):
            raise RuntimeError(now["message"])
        time.sleep(0.02)
