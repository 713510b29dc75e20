"""What was decided about light when shots are split or joined: each still goes on looking as it did."""

from collections.abc import Collection, Sequence
from typing import TypeVar

import numpy as np

from yarnkite.core.light.areas import MOST_AREAS
from yarnkite.core.light.course import values_of
from yarnkite.core.light.decisions import Even, Light
from yarnkite.core.light.grade import MOST_HUES, MOST_PULLS
from yarnkite.core.light.settings import Adjustable, Keyframe, Setting

Part = TypeVar("Part", bound=Adjustable)

_LISTS = {"pulls": MOST_PULLS, "hues": MOST_HUES, "areas": MOST_AREAS}


def light_of_part(light: Light, ids: Sequence[int], own: Collection[int]) -> Light:
    """Return the light of a part of a shot; ``ids`` are the shot's stills in order, ``own`` those of the part.

    What changes over the shot is held at the part's ends where it was there, and keeps its keyframes between.
    """
    mine = set(own)
    stills = [still for still in ids if still in mine]
    if not stills:
        return light
    changed = {
        path: Setting(value=one.value, keyframes=_held(one, ids, stills, mine))
        for path, one in light.settings.items()
        if one.keyframes
    }
    return light.with_settings(changed)


def light_of_both(light: Light, ids: Sequence[int], other: Light, others: Sequence[int]) -> Light:
    """Return the light of two shots joined, the stills of each in its order: a setting that differs changes between.

    What only one of them has, such as an area, does nothing to the stills of the other.
    """
    if light == other and not any(one.keyframes for one in light.settings.values()):
        return light
    one, two = _alike(light, other), _alike(other, light, first=False)
    both = one.model_copy(
        update={
            "even": _both(one.even, two.even),
            "over_time": max(one.over_time, two.over_time),
            "lens_profile": one.lens_profile or two.lens_profile,
            "one_balance": one.one_balance or two.one_balance,
        }
    )
    ones, twos = one.settings, two.settings
    changed: dict[str, Setting] = {}
    for path in both.settings:
        here, there = ones.get(path, Setting()), twos.get(path, Setting())
        if here != there or here.keyframes:
            keyframes = (*_held(here, ids, ids, set(ids)), *_held(there, others, others, set(others)))
            changed[path] = Setting(value=here.value, keyframes=keyframes)
    # A course that is drawn says nothing about stills it was not drawn for: it goes on as it is at its ends.
    drawn = (*light.even.drawn.keyframes, *other.even.drawn.keyframes)
    changed["even.drawn"] = light.even.drawn.model_copy(update={"keyframes": drawn})
    return both.with_settings(changed)


def _alike(light: Light, other: Light, *, first: bool = True) -> Light:
    """Return a light that also has, doing nothing, the areas, hues, pulls and table that only the other has."""
    update: dict[str, object] = {}
    for name, most in _LISTS.items():
        mine, theirs = _by_form(getattr(light, name)), _by_form(getattr(other, name))
        early, late = (mine, theirs) if first else (theirs, mine)
        forms = [*early, *(form for form in late if form not in early)][:most]
        update[name] = tuple(mine.get(form, form[0]) for form in forms)
    chosen = (light.table or other.table) if first else (other.table or light.table)
    if chosen is not None:
        same = light.table is not None and light.table.digest == chosen.digest
        update["table"] = light.table if same else _still(chosen)
    return light.model_copy(update=update)


def _by_form(parts: Sequence[Part]) -> dict[tuple[Part, int], Part]:
    """Return parts by what they are without their settings, and which of those alike each is."""
    found: dict[tuple[Part, int], Part] = {}
    for one in parts:
        form = _still(one)
        found[form, sum(1 for other, _ in found if other == form)] = one
    return found


def _still(one: Part) -> Part:
    """Return the same with all settings doing nothing."""
    return one.with_settings(dict.fromkeys(one.settings, Setting()))


def _held(setting: Setting, ids: Sequence[int], stills: Sequence[int], mine: Collection[int]) -> tuple[Keyframe, ...]:
    """Return a setting's keyframes at some stills of a shot, with what it is at the first and the last of them."""
    if not stills:
        return ()
    positions = {still: place for place, still in enumerate(ids)}
    ends = (stills[0], stills[-1])
    values = values_of(setting, positions, np.array([positions[still] for still in ends], float))
    at_ends = [Keyframe(still=still, value=float(value)) for still, value in zip(ends, values, strict=True)]
    return (*at_ends, *(one for one in setting.keyframes if one.still in mine))


def _both(one: Even, two: Even) -> Even:
    more = one if one.is_wished else two
    wished = {
        name: getattr(one, name) or getattr(two, name) for name in ("flicker", "steps", "switched", "colour", "bands")
    }
    return more.model_copy(update=wished)
