"""Order: the candidate orders of a shot's stills, which one is right and why, and what breaks it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import lru_cache
from itertools import pairwise
from statistics import median
from typing import Literal

from natsort import natsort_keygen, ns

from yarnkite.core.names import DigitGroup, Numbering, digit_groups, numbering, parts
from yarnkite.core.recipe import OrderBy
from yarnkite.core.timecode import span_text

Kind = Literal["missing", "skipped", "pause", "duplicate", "clock", "no time"]

name_key = natsort_keygen(alg=ns.INT | ns.IGNORECASE)
_PAUSE = 2.5
_CLOCK_CHANGES_MOST = 3


@dataclass(frozen=True)
class Taken:
    """What order needs to know of a still; ``captured`` is the camera's clock, in UTC where it said its offset."""

    name: str
    captured: datetime | None
    modified: datetime
    fingerprint: str


@dataclass(frozen=True)
class Candidate:
    """One way to order: ``order`` holds indices into the stills as given, ``sentence`` says how it fares."""

    by: OrderBy
    order: tuple[int, ...]
    sentence: str


@dataclass(frozen=True)
class Break:
    """Something about the order worth knowing, at a position (from 0), and what it means for the clip.

    ``count`` says how many stills are missing, where some are.
    """

    kind: Kind
    position: int
    sentence: str
    count: int = 0


@dataclass(frozen=True)
class Analysis:
    """The orders that are possible, the one that is recommended, and the reason with its numbers."""

    candidates: tuple[Candidate, ...]
    recommended: OrderBy
    reason: str
    numbering: Numbering
    groups: tuple[DigitGroup, ...] = ()

    def order(self, by: OrderBy) -> tuple[int, ...]:
        """Return the indices in an order; one that is not possible for these stills becomes the recommended one."""
        wanted = self.recommended if by == "recommended" else by
        orders = {candidate.by: candidate.order for candidate in self.candidates}
        return orders.get(wanted, orders[self.recommended])


def natural_order(names: Sequence[str]) -> list[int]:
    """Return the indices of ``names`` in natural order, digits compared as numbers, letters without case.

    Names that are equal in that sense keep plain text order, so the result never depends on the input's order.
    """
    keys = [_natural_key(name) for name in names]
    return sorted(range(len(names)), key=keys.__getitem__)


def analyse(stills: Sequence[Taken], group: int | None = None) -> Analysis:
    """Compare the candidate orders of a shot's stills and recommend one; ``group`` picks the digits that count."""
    names = [still.name for still in stills]
    found = numbering(names, group)
    everything = range(len(stills))
    counter = _by_counter(names, found)
    place = {index: number for number, index in enumerate(counter)}
    time = tuple(sorted(everything, key=lambda index: (stills[index].captured or datetime.min, place[index])))
    by_file = tuple(sorted(everything, key=lambda index: (stills[index].modified, place[index])))
    text = tuple(sorted(everything, key=lambda index: names[index]))
    timed = all(still.captured for still in stills) and len({still.captured for still in stills}) > 1
    recommended, reason = _recommend(stills, found, counter, time, timed)
    right = time if recommended == "time" else counter
    candidates = [Candidate("counter", counter, _fares(counter, right, "the numbers in the names"))]
    if timed:
        candidates.append(Candidate("time", time, _fares(time, right, "the camera's clock")))
    candidates.append(
        Candidate("file time", by_file, _fares(by_file, right, "the files' dates, which copying changes"))
    )
    candidates.append(Candidate("text", text, _fares(text, right, "names as text, where 10 comes before 9")))
    return Analysis(tuple(candidates), recommended, reason, found, tuple(digit_groups(names)))


def moved(order: Sequence[int], chosen: Iterable[int], to: int) -> tuple[int, ...]:
    """Return an order in which the chosen stills stand together, in the order they had, from position ``to`` on.

    ``to`` counts from 0 among the stills that are not moved; it is kept inside.
    """
    taken = set(chosen)
    staying = [still for still in order if still not in taken]
    moving = [still for still in order if still in taken]
    place = max(0, min(to, len(staying)))
    return (*staying[:place], *moving, *staying[place:])


def reversed_in_place(order: Sequence[int], chosen: Iterable[int]) -> tuple[int, ...]:
    """Return an order in which the chosen stills have changed places, the first with the last and so on."""
    taken = set(chosen)
    backwards = iter([still for still in reversed(order) if still in taken])
    return tuple(next(backwards) if still in taken else still for still in order)


def by_hand(recommended: Sequence[int], hand: Iterable[int]) -> tuple[int, ...]:
    """Return an order made by hand, without what is gone, and with what came since after it in recommended order."""
    there = set(recommended)
    first = [still for still in dict.fromkeys(hand) if still in there]
    known = set(first)
    return (*first, *(still for still in recommended if still not in known))


def breaks(stills: Sequence[Taken], order: Sequence[int], found: Numbering) -> list[Break]:
    """Return what breaks an order: missing numbers, pauses, turned clocks, duplicates, and stills without a time."""
    interval = _usual_interval([stills[index] for index in order])
    result = [
        one
        for position, (before, after) in enumerate(pairwise(order), 1)
        if (one := _break_between(position, stills, before, after, found, interval))
    ]
    result += _duplicates([stills[index] for index in order])
    untimed = [position for position, index in enumerate(order) if stills[index].captured is None]
    if untimed:
        many = "one still has" if len(untimed) == 1 else f"{len(untimed):,} stills have"
        result.append(Break("no time", untimed[0], f"{many.capitalize()} no capture time; the counter places them."))
    return sorted(result, key=lambda one: one.position)


def _natural_key(name: str) -> tuple[object, ...]:
    folder, stem, suffix = parts(name)
    return (_folder_key(folder), name_key(stem), suffix.casefold(), name)


@lru_cache(maxsize=1000)
def _folder_key(folder: str) -> tuple[object, ...]:
    return tuple(name_key(part) for part in folder.split("/")) if folder else ()


def _by_counter(names: Sequence[str], found: Numbering) -> tuple[int, ...]:
    """Order by folder, then number; names without a number of their own come in natural order."""
    rank: Sequence[int] = range(len(names))
    if not found.complete:
        rank = [0] * len(names)
        for place, index in enumerate(natural_order(names)):
            rank[index] = place
    keys = [
        (_folder_key(parts(name)[0]), counter is None, counter or 0, rank[index])
        for index, (name, counter) in enumerate(zip(names, found.counters, strict=True))
    ]
    return tuple(sorted(range(len(names)), key=keys.__getitem__))


def _recommend(
    stills: Sequence[Taken], found: Numbering, counter: tuple[int, ...], time: tuple[int, ...], timed: bool
) -> tuple[OrderBy, str]:
    again = "Counter starts again after 9999"
    if not timed:
        without = sum(still.captured is None for still in stills)
        why = (
            f"{without:,} of {len(stills):,} stills have no capture time" if without else "Capture times are all equal"
        )
        return "counter", f"{why}; the counter is used{', which starts again after 9999' if found.wraps else ''}."
    back = [pair for pair in pairwise(counter) if _instant(stills[pair[1]]) < _instant(stills[pair[0]])]
    if not back:
        if found.wraps:
            return (
                "counter",
                f"{again}; counted on past it, it agrees with the capture times of all {len(stills):,} stills.",
            )
        return "counter", f"Counter and capture time agree on all {len(stills):,} stills."
    if len(back) <= _CLOCK_CHANGES_MOST and all(_counts_on(pair, stills, found) for pair in back):
        before, after = back[0]
        turned = span_text(_instant(stills[before]) - _instant(stills[after]))
        many = "once" if len(back) == 1 else f"{len(back)} times"
        return "counter", (
            f"The counter runs on, but the camera's clock goes back {many}, by {turned} after “{stills[before].name}”; "
            "the counter is used."
        )
    moved = sum(one != other for one, other in zip(counter, time, strict=True))
    if found.complete:
        why = "The numbers come from more than one camera or card"
    elif None in found.counters:
        why = "Not all names are numbered alike"
    else:
        why = "Some numbers occur twice"
    return "time", f"{why}; capture time is used, which places {moved:,} of {len(stills):,} stills differently."


def _counts_on(pair: tuple[int, int], stills: Sequence[Taken], found: Numbering) -> bool:
    """Tell whether two stills follow each other by number in one folder, whatever their times say."""
    before, after = (found.counters[index] for index in pair)
    same_folder = len({parts(stills[index].name)[0] for index in pair}) == 1
    return before is not None and after is not None and same_folder and after - before == found.step


def _fares(order: tuple[int, ...], right: tuple[int, ...], what: str) -> str:
    """Say how an order compares with the right one, by how many times the clip would jump."""
    place = {index: position for position, index in enumerate(right)}
    jumps = sum(place[after] != place[before] + 1 for before, after in pairwise(order))
    if not jumps:
        return f"By {what}: the same order."
    return f"By {what}: the clip would jump {'once' if jumps == 1 else f'{jumps:,} times'}."


def _break_between(
    position: int, stills: Sequence[Taken], before: int, after: int, found: Numbering, interval: timedelta | None
) -> Break | None:
    missing = _missing_numbers(found.counters[before], found.counters[after], found.step)
    times = stills[before].captured, stills[after].captured
    passed = times[1] - times[0] if times[0] and times[1] else None
    name = f"“{_file(stills[before])}”"
    if passed is not None and passed < timedelta(0):
        return Break("clock", position, f"The clock goes back by {span_text(-passed)} after {name}; nothing is lost.")
    paused = bool(interval and passed and passed > interval * _PAUSE)
    stills_said = "still is" if missing == 1 else "stills are"
    if missing and (paused or passed is None):
        return Break(
            "missing", position, f"{missing:,} {stills_said} missing after {name}: the clip jumps there.", missing
        )
    if missing:
        skipped = "number was" if missing == 1 else "numbers were"
        return Break(
            "skipped", position, f"{missing:,} {skipped} skipped after {name} without a pause; nothing to mend."
        )
    if paused and passed is not None and interval is not None:
        usual = span_text(interval)
        return Break("pause", position, f"A pause of {span_text(passed)} after {name}, where {usual} is usual.")
    return None


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


def _instant(still: Taken) -> datetime:
    return still.captured or datetime.min
