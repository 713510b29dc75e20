"""Values along a shot without those of stills that are spoiled."""

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats


def mended(values: Floats, spoiled: Flags) -> Floats:
    """Return values with those of spoiled stills taken from the line between the sound ones beside them."""
    sound = np.flatnonzero(~spoiled)
    if not len(sound) or not spoiled.any():
        return np.asarray(values, float)
    return np.asarray(np.interp(np.arange(len(values)), sound, np.asarray(values, float)[sound]))
