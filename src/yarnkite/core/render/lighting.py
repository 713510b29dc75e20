"""What each slot of a clip gets of the light that was decided: the settings at its still, and what evening adds."""

from collections.abc import Collection, Mapping, Sequence
from functools import cache
from types import MappingProxyType
from typing import Any

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.still import Still
from yarnkite.core.check.decisions import Check
from yarnkite.core.image.lens import NO_PROFILE, Profile
from yarnkite.core.light.adjustment import Adjustment, SharedLight
from yarnkite.core.light.colour import DAYLIGHT_MIRED
from yarnkite.core.light.course import values_of
from yarnkite.core.light.cube import ColourTable
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.evening import NO_GAIN, Gain
from yarnkite.core.light.grade import GradeNumbers, numbers_of
from yarnkite.core.render.recipe import Bridge, Correction
from yarnkite.core.render.slots import Slot

_OF_THE_STILL = ("vignette", "noise", "colour_noise")


def shared_light(
    light: Light, table: ColourTable | None = None, mired: float = DAYLIGHT_MIRED, profile: Profile = NO_PROFILE
) -> SharedLight:
    """Return what of their light all stills of a shot share.

    ``table`` is the one that is applied, ``profile`` that of the lens, if there is one.
    """
    return SharedLight(
        masks=tuple(area.mask for area in light.areas if not area.changes_nothing),
        table=table if light.table else None,
        mired=mired,
        over_time=light.over_time,
        profile=profile if light.lens_profile else NO_PROFILE,
        channels=(1 + light.fringe_red / 1000, 1 + light.fringe_blue / 1000),
    )


def adjustments_of(
    light: Light,
    stills: Sequence[tuple[int, Still]],
    gains: Mapping[int, Gain],
    balances: Mapping[int, float] = MappingProxyType({}),
) -> dict[int, Adjustment]:
    """Return what each still of a shot gets, by id; nothing at all where light is left as it is.

    ``stills`` are all of the shot, with their ids, in order; ``gains`` what evening adds to some, by id; ``balances``
    the mired that some were balanced for and are not to be, by id.
    """
    if light.is_neutral:
        return {}
    ids = [number for number, _ in stills]
    courses = courses_of(light, ids)
    own = {name: one.tolist() for name, one in courses.items() if not name.startswith(("areas.", "even."))}
    of_areas = {name: one.tolist() for name, one in courses.items() if name.startswith("areas.")}
    areas = [(place, area) for place, area in enumerate(light.areas) if not area.changes_nothing]

    @cache
    def fields(*values: float) -> dict[str, Any]:
        at = dict(zip(own, values, strict=True))
        found = numbers_of(light, at) | {name: at[name] for name in _OF_THE_STILL if at.get(name)}
        if light.table and at.get("table.strength"):
            found["table"] = at["table.strength"]
        return found

    @cache
    def grades(*values: float) -> tuple[GradeNumbers, ...]:
        at = dict(zip(of_areas, values, strict=True))
        return tuple(GradeNumbers(**numbers_of(area.grade, at, f"areas.{place}.grade.")) for place, area in areas)

    @cache
    def decided(own_values: tuple[float, ...], area_values: tuple[float, ...]) -> Adjustment:
        return Adjustment(**fields(*own_values), areas=grades(*area_values) if areas else ())

    @cache
    def made(gain: Gain, mired: float, own_values: tuple[float, ...], area_values: tuple[float, ...]) -> Adjustment:
        # Gains differ from still to still: they are rounded where they come from, and need no checking again.
        return decided(own_values, area_values).model_copy(update=gain.fields | {"balanced_for": mired})

    owns = list(zip(*own.values(), strict=True)) if own else [()] * len(ids)
    in_areas = list(zip(*of_areas.values(), strict=True)) if of_areas else [()] * len(ids)
    return {
        number: made(gains.get(number, NO_GAIN), balances.get(number, 0.0), one, other)
        for number, one, other in zip(ids, owns, in_areas, strict=True)
    }


def corrections_of(
    slots: Sequence[Slot], stills: Sequence[tuple[int, Still]], adjustments: Mapping[int, Adjustment]
) -> tuple[Correction, ...]:
    """Return what each slot gets, from what each still of the shot gets; nothing at all if none gets anything."""
    if not adjustments:
        return ()
    by_path = {still.path: adjustments[number] for number, still in stills}

    # By identity: stills that get the same have the same object, and comparing all its numbers takes longer.
    known: dict[tuple[int, int], Correction] = {}

    def made(light: Adjustment, after: Adjustment) -> Correction:
        other = None if after is light or after == light else after
        return Correction.model_construct(light=light, light_after=other, laid=None, laid_after=None)

    def of_slot(one: Slot) -> Correction:
        picture = one.picture
        before, after = (picture.before, picture.after) if isinstance(picture, Bridge) else (picture, picture)
        light, light_after = by_path[before.path], by_path[after.path]
        key = id(light), id(light_after)
        if key not in known:
            known[key] = made(light, light_after)
        return known[key]

    return tuple(of_slot(one) for one in slots)


def courses_of(light: Light, ids: Sequence[int]) -> dict[str, Floats]:
    """Return what each setting that is not neutral is at each still of a shot, by id in order."""
    positions = {number: place for place, number in enumerate(ids)}
    at = np.arange(len(ids), dtype=float)
    return {name: values_of(one, positions, at) for name, one in light.settings.items() if not one.is_neutral}


def not_as_they_are(ids: Sequence[int], check: Check, away: Collection[int]) -> Flags:
    """Tell for each still of a shot in order whether it is nothing to go by: it is not in the clip as it is.

    What is worked out from it is cached by ``what_sets_apart``.
    """
    out = {*check.aside, *check.bridged, *check.repeated, *away}
    first = ids.index(check.begin) if check.begin in ids else 0
    last = ids.index(check.end) if check.end in ids else len(ids) - 1
    return np.array([number in out or not first <= place <= last for place, number in enumerate(ids)], bool)


def what_sets_apart(check: Check) -> tuple[object, ...]:
    """Return all of a check that ``not_as_they_are`` goes by."""
    return check.aside, check.bridged, check.repeated, check.begin, check.end
