"""Oklab (Ottosson 2020): a space in which lightness, colourfulness and hue are alike to the eye everywhere."""

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.srgb import to_codes, to_light

Values = NDArray[np.float64]

_TO_CONES = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)
_FROM_CONES = np.linalg.inv(_TO_CONES)
_FROM_LAB = np.linalg.inv(_TO_LAB)
_HALVINGS = 12


def to_oklab(codes: Values) -> Values:
    """Return sRGB code values 0 … 1, shape (…, 3), as Oklab: lightness, and colour towards red and towards yellow."""
    return np.asarray(np.cbrt(to_light(codes) @ _TO_CONES.T) @ _TO_LAB.T)


def from_oklab(lab: Values) -> Values:
    """Return Oklab, shape (…, 3), as sRGB code values 0 … 1; what no sRGB colour is keeps its hue and loses colour.

    Lightness is cut at 0 and 1.
    """
    within = np.concatenate([np.clip(lab[..., :1], 0, 1), lab[..., 1:]], axis=-1)
    light = _light(within)
    outside = (light.min(axis=-1) < -1e-6) | (light.max(axis=-1) > 1 + 1e-6)
    if outside.any():
        light[outside] = _light(_paler(within[outside]))
    return to_codes(np.clip(light, 0, 1))


def _paler(lab: Values) -> Values:
    """Return colours with as much of their colour as sRGB has, by halving."""
    low, high = np.zeros(len(lab)), np.ones(len(lab))
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        light = _light(_with_colour(lab, middle))
        fits = (light.min(axis=-1) >= -1e-6) & (light.max(axis=-1) <= 1 + 1e-6)
        low, high = np.where(fits, middle, low), np.where(fits, high, middle)
    return _with_colour(lab, low)


def _with_colour(lab: Values, share: Values) -> Values:
    return np.concatenate([lab[..., :1], lab[..., 1:] * share[..., None]], axis=-1)


def _light(lab: Values) -> Values:
    return np.asarray((lab @ _FROM_LAB.T) ** 3 @ _FROM_CONES.T)


def hue_of(lab: Values) -> Values:
    """Return the hue of Oklab colours in degrees, 0 … 360."""
    return np.asarray(np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360)


def hue_distance(hues: Values, hue: float) -> Values:
    """Return how far hues lie from one, in degrees, 0 … 180."""
    return np.abs((hues - hue + 180) % 360 - 180)
