"""Where the evened light of a shot is white.

A still that is blown out says nothing of what lay beyond; made darker, what was white in it would be grey, and in the
next still white again. So the stills around share one white: the light up to which each of them has something to show.
Up to it light rolls off in the same way in all, and what is blown out in any of them is white in all.
"""

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.high_range import rolled_off

Values = NDArray[np.float32] | NDArray[np.float64]

# Stills so far apart share their white; it goes over into that of those further on as slowly.
_REACH = 25
# A still that is darkened so many times as far as others usually are, and by so much, is one by itself.
_STRAYS, _OF_NORMAL, _LEAST_STRAY = 3.5, 1.4826, 0.1
# It is brought no further down, and rolls off from no further above, in stops.
_LOWEST, _HIGHEST = -1.5, 1.5
# From such a share of its pixels on a still counts as blown out.
_LEAST_BLOWN = 2e-4
# Light is raised to white from here on, so that it is nowhere much steeper than it was: a step of 8 bits stays small.
# What is brought down from beyond white begins to bend where it must.
_KNEE, _KNEE_SLOPE = 0.25, 3.0


def shared_white(gains: Floats, blown: Floats) -> Floats:
    """Return the light at which each still of a shot is white once it is evened, in stops against white.

    Parameters
    ----------
    gains : by how much each still is raised, the least of its colours, in stops, shape (stills,)
    blown : which share of each still that can be gone by is blown out, shape (stills,)

    Returns
    -------
    for each still no more than its gain, and hardly more than that of any around, which goes its way smoothly; a still
    that is darkened far more than the others does not pull these along
    """
    if not len(gains):
        return np.zeros(0)
    # At its ends a shot is taken to go on as it came.
    reach = min(_REACH, len(gains) - 1)
    around = sliding_window_view(np.pad(gains, reach, mode="reflect"), 2 * reach + 1)
    middle = np.median(around, axis=1, keepdims=True)
    spread = _OF_NORMAL * np.median(np.abs(around - middle), axis=1, keepdims=True)
    least = np.maximum(around, middle - np.maximum(_STRAYS * spread, _LEAST_STRAY)).min(axis=1)
    smooth = sliding_window_view(np.pad(least, reach, mode="reflect"), 2 * reach + 1).mean(axis=1)
    # Where nothing is blown out, white needs no bringing down.
    lowest = _LOWEST if np.max(blown, initial=0.0) > _LEAST_BLOWN else 0.0
    return np.asarray(np.clip(np.minimum(smooth, gains), lowest, _HIGHEST))


def up_to_white(light: Values, white: float) -> Floats:
    """Return linear light that reaches 1 at ``white`` stops above it, and stays there.

    Up to where it begins to bend light stays as it is (``rolled_off``). At 0 it is cut at 1.
    """
    top = 2.0**white
    if top == 1.0:
        return np.asarray(np.minimum(light, 1.0), np.float64)
    knee = min(_KNEE, top / 2) if top < 1 else max(_KNEE, 1 - _KNEE_SLOPE * (top - 1))
    return rolled_off(light, knee, top)
