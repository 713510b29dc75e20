"""What was decided about light when shots are split or joined: each still goes on looking as it did."""

from collections.abc import Collection, Sequence

import numpy as np

from yarnkite.core.light.course import values_of
from yarnkite.core.light.decisions import Even, Keyframe, Light, Setting


def light_of_part(light: Light, ids: Sequence[int], own: Collection[int]) -> Light:
    """Return the light of a part of a shot; ``ids`` are the shot's stills in order, ``own`` those of the part.

    What changes over the shot is held at the part's ends where it was there, and keeps its keyframes between.
    """
    mine = set(own)
    stills = [still for still in ids if still in mine]
    if not stills:
        return light
    changed = {
        name: Setting(value=one.value, keyframes=_held(one, ids, stills, mine))
        for name, one in light.settings.items()
        if one.keyframes
    }
    return light.model_copy(update=changed)


def light_of_both(light: Light, ids: Sequence[int], other: Light, others: Sequence[int]) -> Light:
    """Return the light of two shots joined, the stills of each in its order: a setting that differs changes between."""
    changed: dict[str, Setting | Even] = {"even": _both(light.even, other.even)}
    for name, one in light.settings.items():
        two = other.settings[name]
        if one != two or one.keyframes:
            keyframes = (*_held(one, ids, ids, set(ids)), *_held(two, others, others, set(others)))
            changed[name] = Setting(value=one.value, keyframes=keyframes)
    return light.model_copy(update=changed)


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
    return more.model_copy(update={"flicker": one.flicker or two.flicker, "steps": one.steps or two.steps})
