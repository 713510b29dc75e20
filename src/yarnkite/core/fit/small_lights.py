"""What stars, lamps and glitter lose where a still is made smaller by averaging code values instead of light.

Code values grow slower than light, so that the mean of one bright pixel and its dark surroundings is too dark.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.pixels import ImageArray, peak
from yarnkite.core.image.srgb import to_codes, to_light

# A small light is so many times as bright as what lies around it, once it is made smaller, and this far above black.
_STANDS_OUT, _LEAST_LIGHT = 4.0, 0.002
_AROUND = 15
# So many a million frame pixels are a sky full of stars or a town at night, not the odd spark.
_LEAST_MANY, _LEAST_LOSS = 25.0, 0.25


@dataclass(frozen=True)
class SmallLights:
    """How many small lights there are in a million pixels of the frame, and what half of them lose at least, in
    stops."""

    many: float
    loss: float

    @property
    def are_worth_keeping(self) -> bool:
        """Whether a person would see what they lose."""
        return self.many >= _LEAST_MANY and self.loss >= _LEAST_LOSS


def small_lights(array: ImageArray, reduction: int) -> SmallLights:
    """Measure what small lights lose when a still is made ``reduction`` times smaller.

    Parameters
    ----------
    array : RGB, sRGB, shape (height, width, 3), uint8 or uint16
    reduction : how many pixels of the still one of the frame covers along each side, 1 or more
    """
    if reduction < 2:
        return SmallLights(0.0, 0.0)
    codes = array.max(axis=2).astype(np.float32) / peak(array)
    right, wrong = _smaller(to_light(codes), reduction), to_light(_smaller(codes, reduction).astype(float))
    around = cv2.medianBlur(np.rint(to_codes(np.clip(right, 0, 1)) * 255).astype(np.uint8), _AROUND)
    stands = right > np.maximum(_STANDS_OUT * to_light(around / 255), _LEAST_LIGHT)
    # One light is one, however many pixels it has.
    lights = stands & (right >= cv2.dilate(right, np.ones((3, 3), np.uint8)))
    if not lights.any():
        return SmallLights(0.0, 0.0)
    lost = np.log2(right[lights] / np.maximum(wrong[lights], 1e-9))
    return SmallLights(float(lights.sum()) / right.size * 1e6, float(np.median(lost)))


def _smaller(samples: Floats, reduction: int) -> Floats:
    height, width = (side // reduction * reduction for side in samples.shape)
    whole = np.asarray(samples[:height, :width], np.float32)
    size = (width // reduction, height // reduction)
    return np.asarray(cv2.resize(whole, size, interpolation=cv2.INTER_AREA), np.float32)
