"""Courses: what a setting is at each still, smoothly between its keyframes and never beyond them."""

from collections.abc import Mapping

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.monotone import monotone
from yarnkite.core.light.decisions import Setting


def values_of(setting: Setting, positions: Mapping[int, int], at: Floats) -> Floats:
    """Return what a setting is at positions of a shot.

    Parameters
    ----------
    setting : with keyframes by still; one whose still the shot has not counts for nothing until it is back
    positions : where in the shot each still lies, by id
    at : positions, any, shape (n,)

    Returns
    -------
    in the setting's unit, shape (n,); before the first and after the last keyframe what they say
    """
    known = sorted((positions[one.still], one.value) for one in setting.keyframes if one.still in positions)
    if not known:
        alone = setting.keyframes[0].value if setting.keyframes else setting.value
        return np.full(len(at), alone)
    # Between two stills that follow each other there is nothing: what is held before a jump is held to its end.
    return monotone([place for place, _ in known], [value for _, value in known], at, jump=1.0)
