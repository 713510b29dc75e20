"""What each slot of a clip gets of the light that was decided: the settings at its still, and what evening adds."""

from collections.abc import Mapping, Sequence
from functools import cache

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.still import Still
from yarnkite.core.check.decisions import Check
from yarnkite.core.light.adjustment import Adjustment
from yarnkite.core.light.course import values_of
from yarnkite.core.light.decisions import Light
from yarnkite.core.render.recipe import Bridge, Correction
from yarnkite.core.render.slots import Slot


def adjustments_of(
    light: Light, stills: Sequence[tuple[int, Still]], gains: Mapping[int, float]
) -> dict[int, Adjustment]:
    """Return what each still of a shot gets, by id; nothing at all where light is left as it is.

    ``stills`` are all of the shot, with their ids, in order; ``gains`` the stops by which evening raises some, by id.
    """
    if light.is_neutral:
        return {}
    ids = [number for number, _ in stills]
    courses = {name: course.tolist() for name, course in courses_of(light, ids).items()}

    @cache
    def made(*values: float) -> Adjustment:
        return Adjustment(**dict(zip(("gain", *courses), values, strict=True)))

    every = zip((gains.get(number, 0.0) for number in ids), *courses.values(), strict=True)
    return {number: made(*values) for number, values in zip(ids, every, strict=True)}


def corrections_of(
    slots: Sequence[Slot], stills: Sequence[tuple[int, Still]], adjustments: Mapping[int, Adjustment]
) -> tuple[Correction, ...]:
    """Return what each slot gets, from what each still of the shot gets; nothing at all if none gets anything."""
    if not adjustments:
        return ()
    by_path = {still.path: adjustments[number] for number, still in stills}

    @cache
    def made(light: Adjustment, after: Adjustment) -> Correction:
        return Correction(light=light, light_after=None if after == light else after)

    def of_slot(one: Slot) -> Correction:
        picture = one.picture
        before, after = (picture.before, picture.after) if isinstance(picture, Bridge) else (picture, picture)
        return made(by_path[before.path], by_path[after.path])

    return tuple(of_slot(one) for one in slots)


def courses_of(light: Light, ids: Sequence[int]) -> dict[str, Floats]:
    """Return what each setting that is not neutral is at each still of a shot, by id in order."""
    positions = {number: place for place, number in enumerate(ids)}
    at = np.arange(len(ids), dtype=float)
    return {name: values_of(one, positions, at) for name, one in light.settings.items() if not one.is_neutral}


def spoiled_for_evening(ids: Sequence[int], check: Check, away: set[int]) -> list[bool]:
    """Tell for each still of a shot in order whether its light is nothing to go by: it is not in the clip as it is."""
    out = {*check.aside, *check.bridged, *check.held, *away}
    first = ids.index(check.begin) if check.begin in ids else 0
    last = ids.index(check.end) if check.end in ids else len(ids) - 1
    return [number in out or not first <= place <= last for place, number in enumerate(ids)]
