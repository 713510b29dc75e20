"""Clock: what the time of the clip is in time of the day."""

from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from yarnkite.core.base.timecode import span_text
from yarnkite.core.pace.schedule import Schedule

# Stills that follow each other this quickly came from a camera that films, or from footage.
_FILMED_MS = 250
_AS_IT_HAPPENED = Fraction(3)


def compression(times: Sequence[int], schedule: Schedule) -> Fraction | None:
    """Return how many seconds of the day one second of the clip shows, or ``None`` where times are not known.

    ``times`` says when each still was taken, in milliseconds. A clip that goes there and back counts one way.
    """
    sequence = schedule.sequence
    if len(times) < 2 or len(sequence) < 2:
        return None
    way = sequence if schedule.pace.direction != "there and back" else sequence[: len(sequence) // 2 + 1]
    shown = abs(times[way[-1]] - times[way[0]])
    lasts = schedule.held_seconds(len(way) - 1)
    return Fraction(shown, 1000) / lasts if shown and lasts else None


def compression_text(factor: Fraction) -> str:
    """Say a compression: ``1 s of clip is 2 min 40 s of the day (160 ×)``."""
    times = f"{float(factor):.3g}" if factor < 100 else f"{round(factor):,}"
    return f"1 s of clip is {span_text(factor)} of the day ({times} ×)"


def filmed_rate(times: Sequence[int]) -> Fraction | None:
    """Return how many stills a second were taken if they came from filming, else ``None``."""
    if len(times) < 3:
        return None
    usual = float(np.median(np.diff(times)))
    return Fraction(round(100_000 / usual), 100) if 0 < usual <= _FILMED_MS else None


def disagreement(times: Sequence[int], factor: Fraction | None) -> str:
    """Say that stills taken from footage play at nearly, but not quite, the speed at which things happened."""
    filmed = filmed_rate(times)
    if filmed is None or factor is None or not 1 / _AS_IT_HAPPENED < factor < _AS_IT_HAPPENED:
        return ""
    if abs(factor - 1) < Fraction(1, 100):
        return ""
    return (
        f"The stills were taken {float(filmed):.4g} a second: shown like this, things move "
        f"{float(factor):.2g} × as fast as they happened."
    )
