"""Capture: how near to its due moment each of a thousand stills is released, as the camera itself notes it."""

import json
import tempfile
import time
import urllib.request
from pathlib import Path

from yarnkite.camera.shooting import Orders, Shooting, TakenStill
from yarnkite.camera.simulated import SimulatedCamera, SimulatedProcess
from yarnkite.camera.timing import Beats

STILLS, INTERVAL_S = 1000, 0.05


def run(folder: Path) -> None:
    """Shoot with the simulated camera and print how far off the releases were; nothing is kept in ``folder``."""
    del folder
    process = SimulatedProcess("--scene", "plain", "--width", "96", "--writing", "0", "--card", "20000")
    try:
        camera = SimulatedCamera(process.address())
        with tempfile.TemporaryDirectory() as stills:
            beats = Beats(time.monotonic() + 0.5, INTERVAL_S)
            shooting = Shooting(
                lambda: camera, lambda: None, Orders(Path(stills), "still", beats, 0, STILLS - 1, None, None)
            )
            shooting.start()
            shooting.is_over.wait()
            happened = []
            while not shooting.happened.empty():
                happened.append(shooting.happened.get())
        with urllib.request.urlopen(f"{process.address()}/log", timeout=10) as answer:
            opened = [one / 1e9 for one in json.loads(answer.read())]
    finally:
        process.stop()
    taken = [one for one in happened if isinstance(one, TakenStill)]
    off = sorted(1000 * abs(at - beats.due(one.beat)) for at, one in zip(opened, taken, strict=True))
    print(f"{len(taken):,} of {STILLS:,} stills, {INTERVAL_S:g} s apart, released by the simulated camera")
    print(
        f"off by {off[len(off) // 2]:.2f} ms in the middle, {off[int(len(off) * 0.99)]:.2f} ms for 99 of 100, "
        f"{off[-1]:.2f} ms at most"
    )
