"""The candidate orders of a shot's stills, and which one is right and why."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise

from yarnkite.core.base.counter import DigitGroup, Numbering, digit_groups, numbering, parts
from yarnkite.core.base.timecode import span_text
from yarnkite.core.order.breaks import Taken, instant
from yarnkite.core.order.decisions import OrderBy
from yarnkite.core.order.natural import folder_key, natural_order

_CLOCK_CHANGES_MOST = 3


@dataclass(frozen=True)
class Candidate:
    """One way to order: ``order`` holds indices into the stills as given, ``sentence`` says how it fares."""

    by: OrderBy
    order: tuple[int, ...]
    sentence: str


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


def _by_counter(names: Sequence[str], found: Numbering) -> tuple[int, ...]:
    """Order by folder, then number; names without a number of their own come in natural order."""
    rank: Sequence[int] = range(len(names))
    if not found.complete:
        rank = [0] * len(names)
        for place, index in enumerate(natural_order(names)):
            rank[index] = place
    keys = [
        (folder_key(parts(name)[0]), counter is None, counter or 0, rank[index])
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
    back = [pair for pair in pairwise(counter) if instant(stills[pair[1]]) < instant(stills[pair[0]])]
    if not back:
        if found.wraps:
            return (
                "counter",
                f"{again}; counted on past it, it agrees with the capture times of all {len(stills):,} stills.",
            )
        return "counter", f"Counter and capture time agree on all {len(stills):,} stills."
    if len(back) <= _CLOCK_CHANGES_MOST and all(_counts_on(pair, stills, found) for pair in back):
        before, after = back[0]
        turned = span_text(instant(stills[before]) - instant(stills[after]))
        many = "once" if len(back) == 1 else f"{len(back)} times"
        return "counter", (
            f"The counter runs on, but the camera's clock goes back {many}, "
            f"by {turned} after “{stills[before].name}”; the counter is used."
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
