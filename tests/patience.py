"""How tests wait: for what happens, and as long as anything moves; no number of seconds is a verdict."""

import hashlib
import os
import time
from collections.abc import Callable
from typing import TypeVar

T = TypeVar("T")

# What the piece of work below takes on a machine of which one core is free.
_USUAL_S = 0.115
_BLOCK = 24 << 20


def slowness() -> float:
    """Return how many times slower than usual this machine is, at least 1: by the best of three, for a pause says
    nothing."""
    return max(1.0, min(_piece_of_work() for _ in range(3)) / _USUAL_S)


def _piece_of_work() -> float:
    began = time.perf_counter()
    state = hashlib.sha256()
    for number in range(500_000):
        state.update(number.to_bytes(8, "little"))
    # Pictures need memory as much as arithmetic: blocks that are got, written and let go of.
    for number in range(2):
        block = bytearray(_BLOCK)
        block[:] = bytes([number]) * _BLOCK
    return time.perf_counter() - began


# Measured once for all processes of a run: each that is started inherits it.
_MEASURED = "YARNKITE_TEST_SLOWNESS"
if _MEASURED not in os.environ:
    os.environ[_MEASURED] = str(slowness())
SLOWNESS = float(os.environ[_MEASURED])
# When nothing has moved for so long, nothing will any more.
STANDSTILL_S = 60 * SLOWNESS


def wait_until(happens: Callable[[], T], moves: Callable[[], object] | None = None) -> T:
    """Return what ``happens`` gives as soon as that is true; give up once ``moves`` has given the same for long."""
    last, since = None, time.monotonic()
    while not (result := happens()):
        now = moves() if moves is not None else None
        if now != last:
            last, since = now, time.monotonic()
        if time.monotonic() - since > STANDSTILL_S:
            raise AssertionError(f"it did not happen, and nothing has moved for {STANDSTILL_S:.0f} s: {last}")
        time.sleep(0.05)
    return result


def wait_for_job(job: Callable[[], dict]) -> dict:
    """Return a job once it has ended, however long that takes as long as it gets on."""
    found: dict = {}

    def ended() -> bool:
        found.update(job())
        return found["state"] not in ("waiting", "running")

    wait_until(ended, lambda: progress(found))
    return found


def progress(job: dict) -> tuple[object, ...]:
    """Return what changes as a job gets on; how long it will take changes by itself, and is no progress."""
    return tuple(job[name] for name in ("id", "state", "done", "total", "message"))
