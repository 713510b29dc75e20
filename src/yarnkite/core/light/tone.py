"""Tone: one curve from light to code values, as a table that is looked up by the square root of light."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import SixteenBit
from yarnkite.core.image.srgb import to_codes
from yarnkite.core.light.course import monotone

Values = NDArray[np.float64]

# The table has so many steps for light up to 1, and goes on to the root of 64: six stops beyond white.
STEPS = 16384
MOST_ROOT = 8
_PULL = 0.2
_CONTRAST = 0.09
_PULLED = (0.25, 0.5, 0.75)
# The curve itself is computed at fewer places, close together where it is dark; between them a line is near enough.
_PLACES = np.union1d(np.linspace(0, 0.06, 480), np.geomspace(0.06, 1, 1000))
_PLACES = np.concatenate([_PLACES, np.geomspace(1, MOST_ROOT, 700)[1:]])


@lru_cache(maxsize=256)
def tone_table(contrast: float, dark: float, middle: float, bright: float, soften: float) -> SixteenBit:
    """Return the code value of 16 bits of each root of light: entry n is for light (n / ``STEPS``)².

    Parameters
    ----------
    contrast, dark, middle, bright : -1 … 1, see ``Light``
    soften : 0 … 1, how far down highlights begin to roll off
    """
    codes = curve(to_codes(softened(_PLACES**2, soften)), contrast, dark, middle, bright)
    roots = np.arange(MOST_ROOT * STEPS + 1) / STEPS
    return np.rint(np.interp(roots, _PLACES, codes) * 65535).astype(np.uint16)


def softened(light: Values, soften: float) -> Values:
    """Return light that rolls off towards 1 instead of being cut there; 0 cuts, 1 begins at a quarter.

    Up to where it begins light stays as it is, and beyond it goes on without a corner.
    """
    if not soften:
        return np.minimum(light, 1.0)
    knee = 1 - 0.75 * soften
    beyond = np.maximum(light - knee, 0) / (1 - knee)
    return np.where(light <= knee, light, knee + (1 - knee) * (1 - np.exp(-beyond)))


def curve(codes: Values, contrast: float, dark: float, middle: float, bright: float) -> Values:
    """Return code values 0 … 1 pulled at a quarter, half and three quarters; black and white stay, and none turn back."""
    if not (contrast or dark or middle or bright):
        return codes
    pulls = (dark * _PULL - contrast * _CONTRAST, middle * _PULL, bright * _PULL + contrast * _CONTRAST)
    values = np.clip(np.array(_PULLED) + pulls, 0, 1)
    return np.asarray(
        monotone((0.0, *_PULLED, 1.0), (0.0, *np.maximum.accumulate(values), 1.0), codes, level_ends=False)
    )
