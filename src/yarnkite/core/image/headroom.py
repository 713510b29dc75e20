"""Pictures with headroom: samples that go beyond white, for clips of high range.

They are code values of sRGB's curve for light against the peak of the screen such clips are made for, so that light
adds up in them as in any picture. White, that of a title too, is ``WHITE`` of the largest light.
"""

from collections.abc import Callable
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.cicp import light_of_shown
from yarnkite.core.image.high_range import PEAK, rolled_off
from yarnkite.core.image.pixels import ImageArray, SixteenBit, as_sixteen
from yarnkite.core.image.scene import BRIGHTEST, RAISED, light_before
from yarnkite.core.image.srgb import SRGB_TO_LINEAR_DEEP, to_codes

WHITE = 1 / PEAK
# What is brighter than three times white bends, so that the brightest a sensor can tell meets the peak.
_KNEE = 0.6
_LARGEST = 65_535


Origin = Literal["picture", "scene", "high range"]


def with_headroom(image: ImageArray, origin: Origin = "picture") -> SixteenBit:
    """Return a picture with headroom.

    Parameters
    ----------
    image : RGB, sRGB, any shape, uint8 or uint16
    origin : what it shows: light of the scene through the base curve, which ``beyond_white`` goes back on; a still of
        high range, rolled off (``cicp``); any other picture has nothing brighter than white
    """
    return np.asarray(_codes(origin)[as_sixteen(image)], np.uint16)


def beyond_white(shown: Floats) -> NDArray[np.float64]:
    """Return the light, against white, of what the base curve shows as ``shown`` (linear, 0 … 1).

    Up to where that curve begins to roll off it is the same; from there on it stays the light of the scene, raised as
    that curve raises it, which reaches the peak where the sensor could tell nothing brighter.
    """
    raised = light_before(shown) * RAISED
    return PEAK * rolled_off(raised / PEAK, _KNEE, BRIGHTEST * RAISED / PEAK)


def _unchanged(shown: Floats) -> NDArray[np.float64]:
    return np.asarray(shown, np.float64)


_LIGHT_OF: dict[Origin, Callable[[Floats], NDArray[np.float64]]] = {
    "picture": _unchanged,
    "scene": beyond_white,
    "high range": light_of_shown,
}


@lru_cache(maxsize=3)
def _codes(origin: Origin) -> SixteenBit:
    against_white = _LIGHT_OF[origin](SRGB_TO_LINEAR_DEEP.astype(np.float64))
    return np.asarray(np.rint(to_codes(against_white * WHITE) * _LARGEST), np.uint16)
