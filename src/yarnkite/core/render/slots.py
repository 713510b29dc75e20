"""Which pictures a clip is made of: the stills in order, less those set aside, with the spoiled ones mended."""

from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction

import numpy as np

from yarnkite.core.base.geometry import count_shapes, usual_shape
from yarnkite.core.base.still import Still
from yarnkite.core.check.decisions import Check
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, SharedLight
from yarnkite.core.move.travel import Sides
from yarnkite.core.pace.decisions import Longer, Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Bridge, Correction, Picture, Recipe


@dataclass(frozen=True)
class Slot:
    """A slot in the clip: the still, by id, that it stands for, and the picture shown there."""

    still: int
    picture: Picture


def slots_of(stills: Sequence[tuple[int, Still]], check: Check) -> list[Slot]:
    """Return what a clip uses of a shot's stills (id and still, in order)."""
    inside = _stretch(stills, check)
    aside, bridged, repeated = set(check.aside), set(check.bridged), set(check.repeated)
    included = [(number, still) for number, still in inside if number not in aside]
    sound = [slot for slot, (number, _) in enumerate(included) if number not in bridged and number not in repeated]
    if not sound:
        return [Slot(number, still) for number, still in included]
    fills = {fill.after: fill.count for fill in check.filled}
    result: list[Slot] = []
    for slot, (number, still) in enumerate(included):
        before, after = _sound_around(sound, slot)
        if number in repeated:
            still = included[before if before is not None else sound[0]][1]
            result.append(Slot(number, still))
        elif number in bridged:
            result.append(Slot(number, _between(included, before, after, slot)))
        else:
            result.append(Slot(number, still))
        if number in fills and slot + 1 < len(included) and after is not None and number not in bridged | repeated:
            count = fills[number]
            result += [
                Slot(
                    number,
                    Bridge(before=still, after=included[after][1], share=Fraction(step, count + 1), how=check.how),
                )
                for step in range(1, count + 1)
            ]
    return [_with_how(one, check) for one in result]


def paced(slots: Sequence[Slot], pace: Pace) -> Pace:
    """Return a pace with slots, among those used, instead of the ids of stills that stay longer or were picked."""
    if not pace.longer and pace.thin.way != "picked":
        return pace
    picked = set(pace.picked)
    first: dict[int, int] = {}
    for slot, one in enumerate(slots):
        first.setdefault(one.still, slot)
    longer = tuple(Longer(still=first[one.still], frames=one.frames) for one in pace.longer if one.still in first)
    chosen = tuple(slot for slot, one in enumerate(slots) if one.still in picked)
    return pace.model_copy(update={"longer": longer, "picked": chosen})


def taken_at(slots: Sequence[Slot], captured: Mapping[int, datetime | None]) -> tuple[int, ...]:
    """Return when each slot was taken, in milliseconds after the first; what is not known lies evenly between.

    Returns nothing when fewer than two are known.
    """
    last, known = None, []
    for slot, one in enumerate(slots):
        moment = captured.get(one.still)
        if moment is not None and one.still != last:
            known.append((slot, moment))
        last = one.still
    if len(known) < 2:
        return ()
    begin = known[0][1]
    moments = [(moment - begin).total_seconds() * 1000 for _, moment in known]
    between = np.interp(np.arange(len(slots)), [slot for slot, _ in known], moments)
    return tuple(int(moment) for moment in np.rint(between))


def recipe_of(
    slots: Sequence[Slot],
    decisions: Decisions,
    times: tuple[int, ...] = (),
    corrections: tuple[Correction, ...] = (),
    light: SharedLight = NO_SHARED_LIGHT,
    region: Sides | None = None,
) -> Recipe:
    """Return the recipe of a shot's clip; ``times`` is as ``taken_at`` gives it, ``corrections`` are one a slot."""
    lasting = decisions.for_recipe()
    return Recipe(
        stills=tuple(one.picture for one in slots),
        decisions=lasting.model_copy(update={"pace": paced(slots, decisions.pace)}),
        times=times if decisions.pace.by_clock else (),
        corrections=corrections,
        light=light,
        region=region,
    )


def _stretch(stills: Sequence[tuple[int, Still]], check: Check) -> list[tuple[int, Still]]:
    ids = [number for number, _ in stills]
    first = ids.index(check.begin) if check.begin in ids else 0
    last = ids.index(check.end) if check.end in ids else len(ids) - 1
    return list(stills[first : last + 1]) if first <= last else list(stills)


def alike(stills: Sequence[Still]) -> list[Still]:
    """Return the stills that have the size most have."""
    usual = usual_shape(count_shapes(stills))
    return [still for still in stills if (still.width, still.height) == usual]


def _sound_around(sound: Sequence[int], slot: int) -> tuple[int | None, int | None]:
    """Return the last sound slot before a slot and the first one after it."""
    low, high = bisect_left(sound, slot), bisect_right(sound, slot)
    return sound[low - 1] if low else None, sound[high] if high < len(sound) else None


def _between(included: Sequence[tuple[int, Still]], before: int | None, after: int | None, slot: int) -> Picture:
    """Return the picture for a spoiled slot; at an end there is only one sound side, whose still is shown."""
    if before is None or after is None:
        sound = after if before is None else before
        return included[sound if sound is not None else slot][1]
    share = Fraction(slot - before, after - before)
    return Bridge(before=included[before][1], after=included[after][1], share=share)


def _with_how(one: Slot, check: Check) -> Slot:
    if isinstance(one.picture, Bridge) and one.picture.how != check.how:
        return Slot(one.still, one.picture.model_copy(update={"how": check.how}))
    return one
