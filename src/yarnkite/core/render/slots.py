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
from yarnkite.core.pace.decisions import Longer, Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Bridge, Picture, Recipe


@dataclass(frozen=True)
class Used:
    """A place in the clip: the still, by id, that it stands for, and the picture shown there."""

    still: int
    picture: Picture


def used(stills: Sequence[tuple[int, Still]], check: Check) -> list[Used]:
    """Return what a clip uses of a shot's stills (id and still, in order)."""
    inside = _stretch(stills, check)
    aside, bridged, held = set(check.aside), set(check.bridged), set(check.held)
    kept = [(number, still) for number, still in inside if number not in aside]
    sound = [place for place, (number, _) in enumerate(kept) if number not in bridged and number not in held]
    if not sound:
        return [Used(number, still) for number, still in kept]
    fills = {fill.after: fill.count for fill in check.filled}
    result: list[Used] = []
    for place, (number, still) in enumerate(kept):
        before, after = _sound_around(sound, place)
        if number in held:
            still = kept[before if before is not None else sound[0]][1]
            result.append(Used(number, still))
        elif number in bridged:
            result.append(Used(number, _between(kept, before, after, place)))
        else:
            result.append(Used(number, still))
        if number in fills and place + 1 < len(kept) and after is not None and number not in bridged | held:
            count = fills[number]
            result += [
                Used(number, Bridge(before=still, after=kept[after][1], share=Fraction(step, count + 1), how=check.how))
                for step in range(1, count + 1)
            ]
    return [_with_how(one, check) for one in result]


def paced(places: Sequence[Used], pace: Pace) -> Pace:
    """Return a pace with the places, among those used, of the stills that stay longer instead of their ids."""
    if not pace.longer:
        return pace
    first: dict[int, int] = {}
    for place, one in enumerate(places):
        first.setdefault(one.still, place)
    longer = tuple(Longer(still=first[one.still], frames=one.frames) for one in pace.longer if one.still in first)
    return pace.model_copy(update={"longer": longer})


def taken_at(places: Sequence[Used], captured: Mapping[int, datetime | None]) -> tuple[int, ...]:
    """Return when each place was taken, in milliseconds after the first; what is not known lies evenly between.

    Returns nothing when fewer than two are known.
    """
    last, known = None, []
    for place, one in enumerate(places):
        moment = captured.get(one.still)
        if moment is not None and one.still != last:
            known.append((place, moment))
        last = one.still
    if len(known) < 2:
        return ()
    begin = known[0][1]
    moments = [(moment - begin).total_seconds() * 1000 for _, moment in known]
    between = np.interp(np.arange(len(places)), [place for place, _ in known], moments)
    return tuple(int(moment) for moment in np.rint(between))


def recipe_of(places: Sequence[Used], decisions: Decisions, times: tuple[int, ...] = ()) -> Recipe:
    """Return the recipe of a shot's clip; ``times`` is as ``taken_at`` gives it."""
    lasting = decisions.for_recipe()
    return Recipe(
        stills=tuple(one.picture for one in places),
        decisions=lasting.model_copy(update={"pace": paced(places, decisions.pace)}),
        times=times if decisions.pace.by_clock else (),
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


def _sound_around(sound: Sequence[int], place: int) -> tuple[int | None, int | None]:
    """Return the last sound place before a place and the first one after it."""
    low, high = bisect_left(sound, place), bisect_right(sound, place)
    return sound[low - 1] if low else None, sound[high] if high < len(sound) else None


def _between(kept: Sequence[tuple[int, Still]], before: int | None, after: int | None, place: int) -> Picture:
    """Return the picture for a spoiled place; at an end there is only one sound side, whose still is shown."""
    if before is None or after is None:
        sound = after if before is None else before
        return kept[sound if sound is not None else place][1]
    share = Fraction(place - before, after - before)
    return Bridge(before=kept[before][1], after=kept[after][1], share=share)


def _with_how(one: Used, check: Check) -> Used:
    if isinstance(one.picture, Bridge) and one.picture.how != check.how:
        return Used(one.still, one.picture.model_copy(update={"how": check.how}))
    return one
