"""Which stills of a folder do not belong to the shot, and what is proposed for them."""

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import pairwise
from statistics import median
from typing import Literal

import numpy as np

from yarnkite.core.base.counter import Numbering, parts
from yarnkite.core.base.geometry import count_shapes, usual_shape
from yarnkite.core.base.timecode import span_text

ProposalKind = Literal["same picture", "edited copy", "test shot", "another camera", "another shape", "another burst"]
Action = Literal["set aside", "own shot", "keep"]
_PAUSE = 20
_LEAST_PAUSE_S = 60
_BREAK_WITH_NUMBERS = 4
_TEST_SHOTS_MOST = 3
_FEW = 8
_STEADY = 12
_OTHER_PACE = 1.8
_CLOCK_SET_DAYS = 300
_LOST_MOST = 100


@dataclass(frozen=True)
class StillFacts:
    """What sorting needs to know of a gathered still; ``captured`` is in UTC where the camera said its offset."""

    id: int
    name: str
    captured: datetime | None
    width: int
    height: int
    camera: str
    software: str
    fingerprint: str


@dataclass(frozen=True)
class Proposal:
    """Stills that do not go with the rest, by id, and what is proposed; ``title`` names the shot they would make."""

    key: str
    kind: ProposalKind
    stills: tuple[int, ...]
    sentence: str
    action: Action
    title: str = ""


def propose(stills: Sequence[StillFacts], found: Numbering, dismissed: Iterable[str] = ()) -> list[Proposal]:
    """Return which stills of a shot, given in its order, do not go with the rest, and what to do with them.

    ``found`` is the numbering of the same stills. ``dismissed`` holds the keys of proposals that were turned down.
    """
    proposals: list[Proposal] = []
    left = dict(enumerate(stills))

    def take(indices: Sequence[int], kind: ProposalKind, sentence: str, action: Action, title: str = "") -> None:
        ids = tuple(left[index].id for index in indices)
        proposals.append(Proposal(f"{kind}:{min(ids)}-{max(ids)}:{len(ids)}", kind, ids, sentence, action, title))
        for index in indices:
            del left[index]

    for proposal in (_same_pictures, _edited_copies, _other_cameras, _other_shapes):
        for indices, kind, sentence, action, title in proposal(left):
            take(indices, kind, sentence, action, title)
    for indices, kind, sentence, action, title in _bursts(left, found):
        take(indices, kind, sentence, action, title)
    turned_down = set(dismissed)
    return [proposal for proposal in proposals if proposal.key not in turned_down]


_Found = tuple[list[int], ProposalKind, str, Action, str]


def _same_pictures(stills: dict[int, StillFacts]) -> list[_Found]:
    first: dict[str, StillFacts] = {}
    again = [index for index, still in stills.items() if first.setdefault(still.fingerprint, still) is not still]
    if not again:
        return []
    one = stills[again[0]]
    example = f"“{_file(one)}” is “{_file(first[one.fingerprint])}” again"
    said = f"{_count(again, 'is', 'are')} the same as another: {example}."
    return [(again, "same picture", said, "set aside", "")]


def _edited_copies(stills: dict[int, StillFacts]) -> list[_Found]:
    """Find stills taken at the very moment of another, with other software or size or a name made from the other's."""
    at: dict[datetime, list[int]] = defaultdict(list)
    for index, still in stills.items():
        if still.captured:
            at[still.captured].append(index)
    usual = Counter((still.software, still.width, still.height) for still in stills.values()).most_common(1)
    copies, example = [], ""
    for together in at.values():
        originals = [index for index in together if _made(stills[index]) == usual[0][0]]
        for index in together:
            still = stills[index]
            original = next((stills[one] for one in originals if one != index), None)
            if original is None:
                continue
            stem, own = parts(original.name)[1].casefold(), parts(still.name)[1].casefold()
            derived = own != stem and own.startswith(stem) and not re.fullmatch(r"\d+", own[len(stem) :])
            if _made(still) != usual[0][0] or derived:
                copies.append(index)
                example = example or f"“{_file(still)}” was made from “{_file(original)}”"
    if not copies or len(copies) > len(stills) / 4:
        return []
    return [(copies, "edited copy", f"{_count(copies, 'is', 'are')} edited: {example}.", "set aside", "")]


def _made(still: StillFacts) -> tuple[str, int, int]:
    return still.software, still.width, still.height


def _other_cameras(stills: dict[int, StillFacts]) -> list[_Found]:
    cameras = Counter(still.camera for still in stills.values() if still.camera)
    result: list[_Found] = []
    for camera, _ in cameras.most_common()[1:]:
        indices = [index for index, still in stills.items() if still.camera == camera]
        said = f"{_count(indices, 'is', 'are')} from another camera, {camera}."
        result.append((indices, "another camera", said, "own shot" if len(indices) >= _FEW else "set aside", camera))
    return result


def _other_shapes(stills: dict[int, StillFacts]) -> list[_Found]:
    shapes = count_shapes(stills.values())
    usual = usual_shape(shapes)
    if usual is None:
        return []
    usual_width, usual_height = usual
    result: list[_Found] = []
    for (width, height), _ in shapes.most_common()[1:]:
        indices = [index for index, still in stills.items() if (still.width, still.height) == (width, height)]
        upright = (width < height) != (usual_width < usual_height)
        what = ("upright" if width < height else "lying") if upright else f"{width} × {height} pixels"
        first = _file(stills[indices[0]])
        said = f"{_count(indices, 'is', 'are')} {what} among {usual_width} × {usual_height}: “{first}”."
        result.append((indices, "another shape", said, "own shot" if len(indices) >= _FEW else "set aside", what))
    return result


def _bursts(stills: dict[int, StillFacts], found: Numbering) -> list[_Found]:
    """Divide what is left where a long pause, a break in the numbers with a pause, or another interval begins."""
    order = list(stills)
    bursts = _divided(order, stills, found)
    if len(bursts) < 2:
        return []
    longest = max(bursts, key=len)
    result: list[_Found] = []
    for number, burst in enumerate(bursts):
        if burst is longest:
            continue
        first = stills[burst[0]]
        pause = _pause_around(burst, order, stills)
        if len(burst) <= _TEST_SHOTS_MOST:
            when = "before the rest" if number == 0 else "from the rest"
            said = f"{_count(burst, 'was', 'were')} taken {pause} {when}: “{_file(first)}” looks like a test."
            result.append((burst, "test shot", said, "set aside", ""))
        else:
            said = f"{_count(burst, 'makes', 'make')} a burst apart, by {pause}, from “{_file(first)}” on."
            result.append((burst, "another burst", said, "own shot", f"from {_file(first)}"))
    return sorted(result, key=lambda one: -len(one[0]))


def _divided(order: list[int], stills: dict[int, StillFacts], found: Numbering) -> list[list[int]]:
    steps = [_seconds(stills[before], stills[after]) for before, after in pairwise(order)]
    known = [step for step in steps if step is not None and step > 0]
    if len(known) < 3:
        return [order]
    usual = median(known)
    cuts = {
        place
        for place, (before, after) in enumerate(pairwise(order), 1)
        if _breaks(steps[place - 1], usual, found.counters[before], found.counters[after], found.step)
    }
    cuts |= _changes_of_interval(steps)
    edges = [0, *sorted(cuts), len(order)]
    return [order[low:high] for low, high in pairwise(edges)]


def _breaks(step: float | None, usual: float, before: int | None, after: int | None, number_step: int) -> bool:
    if step is None or step <= usual * 2.5:
        return False
    numbered_on = before is not None and after is not None and after - before == number_step
    # Numbers that are missing take the time their stills would have taken; a break takes more.
    missing = (after - before) / number_step if before is not None and after is not None and after > before else 1
    lost = 1 < missing <= _LOST_MOST and step < usual * missing * 1.25
    if lost or (numbered_on and _clock_was_set(step, usual)):
        return False
    if step > max(usual * _PAUSE, _LEAST_PAUSE_S):
        return True
    return not numbered_on and step > usual * max(missing, 1) * _BREAK_WITH_NUMBERS


def _clock_was_set(step: float, usual: float) -> bool:
    hours = step - usual
    whole = abs(hours - round(hours / 3600) * 3600) <= max(2, usual / 2) and 0 < round(hours / 3600) <= 14
    return whole or step > _CLOCK_SET_DAYS * 86400


def _changes_of_interval(steps: Sequence[float | None]) -> set[int]:
    """Return the places where a steady interval becomes another steady one."""
    if len(steps) < 2 * _STEADY:
        return set()
    values = np.array([np.nan if step is None or step <= 0 else step for step in steps])
    windows = np.lib.stride_tricks.sliding_window_view(values, _STEADY)
    middle = np.median(windows, axis=1)
    steady = np.max(np.abs(windows - middle[:, None]), axis=1) < middle * 0.2
    before, after = middle[:-_STEADY], middle[_STEADY:]
    with np.errstate(invalid="ignore"):
        changed = (np.abs(np.log(after / before)) > np.log(_OTHER_PACE)) & steady[:-_STEADY] & steady[_STEADY:]
    # The step to a still belongs to what came before it.
    places = np.flatnonzero(changed) + _STEADY + 1
    return {int(place) for place, last in zip(places, [-_STEADY, *places], strict=False) if place - last >= _STEADY}


def _pause_around(burst: list[int], order: list[int], stills: dict[int, StillFacts]) -> str:
    first, last = order.index(burst[0]), order.index(burst[-1])
    pauses = []
    if first > 0:
        pauses.append(_seconds(stills[order[first - 1]], stills[order[first]]))
    if last + 1 < len(order):
        pauses.append(_seconds(stills[order[last]], stills[order[last + 1]]))
    known = [pause for pause in pauses if pause is not None and pause > 0]
    return span_text(timedelta(seconds=max(known))) if known else "some time"


def _seconds(before: StillFacts, after: StillFacts) -> float | None:
    if before.captured is None or after.captured is None:
        return None
    return (after.captured - before.captured).total_seconds()


def _count(indices: Sequence[int], one: str, many: str) -> str:
    return f"One still {one}" if len(indices) == 1 else f"{len(indices):,} stills {many}"


def _file(still: StillFacts) -> str:
    return parts(still.name)[1] + ("." + parts(still.name)[2] if parts(still.name)[2] else "")
