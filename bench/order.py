"""Ordering 10,000 stills, with their gaps and duplicates."""

import random
import time
from datetime import datetime, timedelta
from pathlib import Path

from yarnkite.core.base.counter import DCF_LAST
from yarnkite.core.order.analysis import analyse
from yarnkite.core.order.breaks import Taken, breaks

STILLS = 9_990


def run(folder: Path) -> None:
    """Measure and print."""
    begins = datetime(2031, 9, 14)
    stills = [
        Taken(
            f"10{n // 5000}MARRO/MRW_{(7000 + n) % DCF_LAST + 1:04}.JPG",
            begins + timedelta(seconds=4 * n),
            begins,
            str(n),
        )
        for n in range(STILLS)
    ]
    random.Random(1).shuffle(stills)
    began = time.perf_counter()
    analysis = analyse(stills)
    order = analysis.order("recommended")
    found = breaks(stills, order, analysis.numbering)
    seconds = time.perf_counter() - began
    right = sorted(range(STILLS), key=lambda index: stills[index].captured or begins)
    print(f"\nOrder: {STILLS:,} stills of two folders, counter starting again, shuffled")
    print(f"candidates, recommendation, breaks  {seconds:5.2f} s   (bar: 0.30)")
    print(f"right: {'yes' if list(order) == right else 'no'}, {len(found)} breaks")
