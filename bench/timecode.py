"""Every timecode of 24 hours at every rate, frame by frame, against an independent library."""

import time
from concurrent.futures import ProcessPoolExecutor
from fractions import Fraction
from pathlib import Path

from timecode import Timecode
from yarnkite.core.base.rate import OFFERED, rate_label
from yarnkite.core.base.timecode import timecode

HOURS = 24
NAMES = {Fraction(24000, 1001): "23.98", Fraction(30000, 1001): "29.97", Fraction(60000, 1001): "59.94"}


def run(_folder: Path) -> None:
    """Compare and print."""
    print("\nTimecode: every frame of 24 hours against an independent library")
    hours = [(rate, hour) for rate in OFFERED for hour in range(HOURS)]
    began = time.perf_counter()
    with ProcessPoolExecutor() as pool:
        found = list(pool.map(differences, hours))
    for rate in OFFERED:
        mine = [one for (of, _), one in zip(hours, found, strict=True) if of == rate]
        print(
            f"{rate_label(rate):>8} fps  {sum(count for count, _ in mine):>9,} frames, {sum(off for _, off in mine)} "
            "differ"
        )
    print(f"compared in {time.perf_counter() - began:.0f} s")


def differences(part: tuple[Fraction, int]) -> tuple[int, int]:
    """Return how many frames an hour has, and how many of their timecodes differ."""
    rate, hour = part
    other = Timecode(NAMES.get(rate, str(rate)), frames=1)
    first, last = round(86400 * rate * hour / HOURS), round(86400 * rate * (hour + 1) / HOURS)
    off = 0
    for frame in range(first, last):
        other.frames = frame + 1
        off += timecode(frame, rate) != str(other)
    return last - first, off
