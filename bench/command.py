"""The whole command against the line someone would type, from pressing Enter to having the file; and how soon it
begins."""

import json
import os
import shutil
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

from bench.plain import plain
from bench.stills import USUAL, make_stills
from yarnkite.core.base.frozen import Size

SIZE = Size(width=1920, height=1080)
PAIRS = int(os.environ.get("YARNKITE_BENCH_PAIRS", "5"))
COUNTS = [int(one) for one in os.environ.get("YARNKITE_BENCH_STILLS", "120").split(",")]
_IMPORTS = [sys.executable, "-c", "import numpy, cv2, av"]
_YARNKITE = [sys.executable, "-m", "yarnkite"]
_LOOK_EVERY_S = 0.005


def run(folder: Path) -> None:
    """Measure and print."""
    print("\nThe command line, each beside what it is held against, in turn; medians (least … most)")
    stills = make_stills(folder / "stills", max(COUNTS))
    imports, helps, begins = [], [], []
    for _ in range(PAIRS):
        imports.append(_timed(lambda: subprocess.run(_IMPORTS, check=True)))
        helps.append(_timed(lambda: subprocess.run([*_YARNKITE, "--help"], check=True, stdout=subprocess.DEVNULL)))
        begins.append(_until_the_first_picture(folder, Path(stills[0].path).parent))
    _say("importing numpy, OpenCV and PyAV", imports)
    _say("yarnkite --help", helps, imports, "0.5 ×")
    _say("yarnkite clip until its first picture", begins, imports, "1.5 ×")
    for count in COUNTS:
        _whole(folder, count)


def _whole(folder: Path, count: int) -> None:
    stills = make_stills(folder / "stills", count)
    card = folder / f"card-{count}"
    shutil.rmtree(card, ignore_errors=True)
    card.mkdir()
    for still in stills:
        os.link(still.path, card / Path(still.path).name)
    ours, theirs = folder / "ours.mp4", folder / "theirs.mp4"
    mine, plainly = [], []
    for _ in range(PAIRS):
        plainly.append(_timed(lambda: plain(stills, USUAL, SIZE, theirs)))
        mine.append(_timed(lambda: _clip(card, ours)))
    ratios = [one / other for one, other in zip(plainly, mine, strict=True)]
    print(
        f"{count:,} stills of 24 MP, whole command: {statistics.median(ratios):.2f} × as fast as the plain line "
        f"({min(ratios):.2f} … {max(ratios):.2f}; bar 1.35): {statistics.median(mine):.1f} s against "
        f"{statistics.median(plainly):.1f} s, {ours.stat().st_size / theirs.stat().st_size:.2f} × the bytes"
    )
    for path in (ours, theirs):
        path.unlink()
    shutil.rmtree(card)


def _clip(card: Path, target: Path) -> None:
    command = [*_YARNKITE, "clip", str(card), str(target), "--force", "--json"]
    said = subprocess.run(command, check=True, capture_output=True, text=True).stdout
    assert json.loads(said)["verified"], said


def _until_the_first_picture(folder: Path, card: Path) -> float:
    """Return the seconds until a note beside the chunks says that a frame was made."""
    target = folder / "begun.mp4"
    pieces = target.with_name("begun.chunks")
    shutil.rmtree(pieces, ignore_errors=True)
    began = time.perf_counter()
    process = subprocess.Popen([*_YARNKITE, "clip", str(card), str(target), "--force"], stdout=subprocess.DEVNULL)
    while process.poll() is None and not _has_begun(pieces):
        time.sleep(_LOOK_EVERY_S)
    took = time.perf_counter() - began
    process.terminate()
    process.wait()
    shutil.rmtree(pieces, ignore_errors=True)
    target.unlink(missing_ok=True)
    return took


def _has_begun(pieces: Path) -> bool:
    try:
        return any(int(path.read_text() or 0) for path in pieces.glob("*.note"))
    except (OSError, ValueError):
        return False


def _timed(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def _say(what: str, taken: list[float], beside: list[float] | None = None, bar: str = "") -> None:
    middle = statistics.median(taken)
    ratio = f", {middle / statistics.median(beside):.2f} × (bar {bar})" if beside else ""
    print(f"{what:40} {middle:6.2f} s ({min(taken):.2f} … {max(taken):.2f}){ratio}")
