"""What breaks an order: missing and skipped numbers, pauses, duplicates, clocks that went back."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise
from statistics import median
from typing import Literal

from yarnkite.core.base.counter import Numbering
from yarnkite.core.base.timecode import span_text

Kind = Literal["missing", "skipped", "pause", "duplicate", "clock", "no time"]
_PAUSE = 2.5
# A clock that shows whole seconds is off by up to one between two stills.
_WHOLE_SECONDS = timedelta(seconds=1)
_UNSTEADY = 0.15


@dataclass(frozen=True)
class Taken:
    """What order needs to know of a still; ``captured`` is the camera's clock, in UTC where it said its offset."""

    name: str
    captured: datetime | None
    modified: datetime
    fingerprint: str


@dataclass(frozen=True)
class Break:
    """Something about the order worth knowing, at a position (from 0), and what it means for the clip.

    ``count`` says how many stills are missing, where some are.
    """

    kind: Kind
    position: int
    sentence: str
    count: int = 0


def breaks(stills: Sequence[Taken], order: Sequence[int], found: Numbering) -> list[Break]:
    """Return what breaks an order: missing numbers, pauses, turned clocks, duplicates, and stills without a time."""
    interval = _usual_interval([stills[index] for index in order])
    slack = _slack([stills[index] for index in order], interval)
    result = [
        one
        for position, (before, after) in enumerate(pairwise(order), 1)
        if (one := _break_between(position, stills, before, after, found, interval, slack))
    ]
    result += _duplicates([stills[index] for index in order])
    untimed = [position for position, index in enumerate(order) if stills[index].captured is None]
    if untimed:
        many = "one still has" if len(untimed) == 1 else f"{len(untimed):,} stills have"
        result.append(Break("no time", untimed[0], f"{many.capitalize()} no capture time; the counter places them."))
    return sorted(result, key=lambda one: one.position)


def _break_between(
    position: int,
    stills: Sequence[Taken],
    before: int,
    after: int,
    found: Numbering,
    interval: timedelta | None,
    slack: timedelta,
) -> Break | None:
    missing = _missing_numbers(found.counters[before], found.counters[after], found.step)
    times = stills[before].captured, stills[after].captured
    passed = times[1] - times[0] if times[0] and times[1] else None
    name = f"“{_file(stills[before])}”"
    if passed is not None and passed < timedelta(0):
        return Break("clock", position, f"The clock goes back by {span_text(-passed)} after {name}; nothing is lost.")
    paused = bool(interval and passed and passed > interval * _PAUSE)
    stills_said = "still is" if missing == 1 else "stills are"
    if missing and (passed is None or _explains(missing, passed, interval, slack)):
        return Break(
            "missing", position, f"{missing:,} {stills_said} missing after {name}: the clip jumps there.", missing
        )
    if missing and not paused:
        skipped = "number was" if missing == 1 else "numbers were"
        return Break(
            "skipped", position, f"{missing:,} {skipped} skipped after {name} without a pause; nothing to mend."
        )
    if paused and passed is not None and interval is not None:
        usual = span_text(interval)
        would_fit = max(1, round(passed / interval) - 1)
        said = f"A pause of {span_text(passed)} after {name}, where {usual} is usual."
        return Break("pause", position, said, would_fit)
    return None


def _explains(missing: int, passed: timedelta, interval: timedelta | None, slack: timedelta) -> bool:
    """Tell whether so much time passed that as many stills as numbers were lost: more than half of what they take."""
    return interval is not None and passed > interval * (1 + missing / 2) and passed - interval > slack


def _slack(stills: Sequence[Taken], interval: timedelta | None) -> timedelta:
    """Return how far the time between two neighbours may be off though nothing lies between them."""
    times = [one.captured for one in stills if one.captured is not None]
    whole = all(when.microsecond == 0 for when in times)
    return max(_WHOLE_SECONDS if whole else timedelta(0), (interval or timedelta(0)) * _UNSTEADY)


def _missing_numbers(before: int | None, after: int | None, step: int) -> int:
    if before is None or after is None or after <= before:
        return 0
    return (after - before) // step - 1 if (after - before) % step == 0 else 0


def _duplicates(stills: Sequence[Taken]) -> list[Break]:
    first: dict[str, int] = {}
    result = []
    for position, still in enumerate(stills):
        earlier = first.setdefault(still.fingerprint, position)
        if earlier != position:
            other = _file(stills[earlier])
            said = f"“{_file(still)}” is the same picture as “{other}”: the clip stands still there."
            result.append(Break("duplicate", position, said))
    return result


def _usual_interval(stills: Sequence[Taken]) -> timedelta | None:
    steps = [
        (after.captured - before.captured).total_seconds()
        for before, after in pairwise(stills)
        if before.captured and after.captured and after.captured > before.captured
    ]
    return timedelta(seconds=median(steps)) if len(steps) > 2 else None


def _file(still: Taken) -> str:
    return still.name.rpartition("/")[2]


def instant(still: Taken) -> datetime:
    return still.captured or datetime.min
