"""Tone: one curve from light to code values, as a table that is looked up by the square root of light."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.monotone import monotone
from yarnkite.core.image.pixels import SixteenBit
from yarnkite.core.image.scene import base_curve
from yarnkite.core.image.srgb import to_codes

Values = NDArray[np.float64]

# The table has so many steps for light up to 1, and goes on to the root of 64: six stops beyond white.
STEPS = 16384
MOST_ROOT = 8
_PULL = 0.2
_CONTRAST = 0.09
# Places of the curve that are pulled lie at least so far apart.
_NEAREST = 0.015
Pulls = tuple[tuple[float, float], ...]
# The curve itself is computed at fewer places, close together where it is dark; between them a line is near enough.
_PLACES = np.union1d(np.linspace(0, 0.06, 480), np.geomspace(0.06, 1, 1000))
_PLACES = np.concatenate([_PLACES, np.geomspace(1, MOST_ROOT, 700)[1:]])


@lru_cache(maxsize=256)
def tone_table(
    contrast: float, pulls: Pulls, black: float, white: float, soften: float, *, of_scene: bool = False
) -> SixteenBit:
    """Return the code value of 16 bits of each root of light: entry n is for light (n / ``STEPS``)².

    Parameters
    ----------
    contrast, black, white : see ``Grade``
    pulls : places of the curve, code values 0 … 1, and by how much each is pulled, -1 … 1
    soften : 0 … 1, how far down highlights begin to roll off
    of_scene : whether it is light of the scene, which gets the base curve first
    """
    light = base_curve(_PLACES**2) if of_scene else _PLACES**2
    codes = curve(between_ends(to_codes(softened(light, soften)), black, white), contrast, pulls)
    roots = np.arange(MOST_ROOT * STEPS + 1) / STEPS
    return np.rint(np.interp(roots, _PLACES, codes) * 65535).astype(np.uint16)


def between_ends(codes: Values, black: float, white: float) -> Values:
    """Return code values 0 … 1 with other ends: what is as dark as ``black`` is 0, what is as bright as 1 - ``white``
    1.

    Below 0 they draw the ends in instead: black becomes as bright, white as dark.
    """
    if not black and not white:
        return codes
    low, high = max(black, 0.0), 1 - max(white, 0.0)
    least, most = max(-black, 0.0), 1 - max(-white, 0.0)
    return np.clip((codes - low) / (high - low), 0, 1) * (most - least) + least


def softened(light: Values, soften: float) -> Values:
    """Return light that rolls off towards 1 instead of being cut there; 0 cuts, 1 begins at a quarter.

    Up to where it begins light stays as it is, and beyond it goes on without a corner.
    """
    if not soften:
        return np.minimum(light, 1.0)
    knee = 1 - 0.75 * soften
    beyond = np.maximum(light - knee, 0) / (1 - knee)
    return np.where(light <= knee, light, knee + (1 - knee) * (1 - np.exp(-beyond)))


def curve(codes: Values, contrast: float, pulls: Pulls) -> Values:
    """Return code values 0 … 1 pulled at some places; black and white stay, and none turn back.

    ``contrast`` pulls at a quarter and at three quarters, each away from the middle. Two pulls at one place add up.
    """
    moves: dict[float, float] = {0.25: -contrast * _CONTRAST, 0.5: 0.0, 0.75: contrast * _CONTRAST}
    for at, by in pulls:
        near = min(moves, key=lambda place: abs(place - at))
        place = near if abs(near - at) < _NEAREST else at
        moves[place] = moves.get(place, 0.0) + by * _PULL
    if not any(moves.values()):
        return codes
    places = sorted(moves)
    values = np.clip([place + moves[place] for place in places], 0, 1)
    return np.asarray(
        monotone((0.0, *places, 1.0), (0.0, *np.maximum.accumulate(values), 1.0), codes, level_ends=False)
    )
