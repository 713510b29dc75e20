"""Lens: straightening what the lens bent and what leaning the camera made converge."""

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, StringConstraints

from yarnkite.core.base.frozen import Frozen, rounded

Coefficient = Annotated[float, Field(ge=-0.5, le=0.5, allow_inf_nan=False), rounded(4)]
Lean = Annotated[float, Field(ge=-0.4, le=0.4, allow_inf_nan=False), rounded(4)]


class Lens(Frozen):
    """Straightens what the lens bent and what leaning the camera made converge.

    ``k1`` and ``k2`` are the radial coefficients of Brown (1966), radii in half diagonals; ``keystone_y`` and
    ``keystone_x`` are by how much lines converge towards the top or bottom, the left or right.
    """

    k1: Coefficient = 0.0
    k2: Coefficient = 0.0
    keystone_y: Lean = 0.0
    keystone_x: Lean = 0.0


class Profile(Frozen):
    """What a lens is known to do at a focal length and an aperture: how it bends, shifts colours and darkens corners.

    ``bends`` are the factors of 1, r, r², r³ and r⁴ by which a point at radius r of the straight picture lies further
    out in the still, radii in half diagonals; ``red`` and ``blue`` by what these colours lie further out than green;
    ``darkens`` the factors of r², r⁴ and r⁶ by which light falls off.
    """

    name: Annotated[str, StringConstraints(max_length=200)]
    bends: tuple[float, float, float, float, float] = (1.0, 0.0, 0.0, 0.0, 0.0)
    red: float = 1.0
    blue: float = 1.0
    darkens: tuple[float, float, float] = (0.0, 0.0, 0.0)


NO_PROFILE = Profile(name="")
Points = NDArray[np.float64]
_ALONG_AN_EDGE = 65
_HALVINGS = 50
_LEAST_DIVISOR = 0.05
_WIDEST = 4.0


@dataclass(frozen=True)
class Straightening:
    """Where each point of a straightened still lies in the still as it was shot.

    Points are measured from the middle in half diagonals; ``spread`` is by how much they are spread first, as far as
    keeps every point of the straightened still inside the still: nothing empty ever shows.
    """

    lens: Lens
    spread: float
    profile: Profile = NO_PROFILE

    def bent(self, across: Points, down: Points) -> tuple[Points, Points]:
        """Return where points of the straightened still lie in the still (Brown 1966, radial terms)."""
        return _bent(across * self.spread, down * self.spread, self.lens, self.profile)


@lru_cache(maxsize=64)
def straightening(width: float, height: float, lens: Lens, profile: Profile = NO_PROFILE) -> Straightening:
    """Return how a still of a size (pixels) is straightened: by hand, and then by what is known of the lens."""
    if lens == Lens() and profile.bends == NO_PROFILE.bends:
        return Straightening(lens, 1.0)
    diagonal = math.hypot(width, height)
    across, down = width / diagonal, height / diagonal
    edge_across, edge_down = _edge(across, down)

    def is_inside(spread: float) -> bool:
        divisor = 1 + spread * (lens.keystone_x * edge_across + lens.keystone_y * edge_down)
        if divisor.min() < _LEAST_DIVISOR:
            return False
        bent_across, bent_down = _bent(edge_across * spread, edge_down * spread, lens, profile)
        return bool(np.abs(bent_across).max() <= across and np.abs(bent_down).max() <= down)

    low, high = 0.0, _WIDEST
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        low, high = (middle, high) if is_inside(middle) else (low, middle)
    return Straightening(lens, low, profile)


def _bent(across: Points, down: Points, lens: Lens, profile: Profile) -> tuple[Points, Points]:
    divisor = 1 + lens.keystone_x * across + lens.keystone_y * down
    across, down = across / divisor, down / divisor
    radius2 = across**2 + down**2
    factor = 1 + lens.k1 * radius2 + lens.k2 * radius2**2
    radius = np.sqrt(radius2) * factor
    one, two, three, four, five = profile.bends
    factor = factor * (one + two * radius + three * radius**2 + four * radius**3 + five * radius**4)
    return across * factor, down * factor


def _edge(across: float, down: float) -> tuple[Points, Points]:
    along = np.linspace(-1, 1, _ALONG_AN_EDGE)
    ones = np.ones_like(along)
    return (
        np.concatenate([along, along, -ones, ones]) * across,
        np.concatenate([-ones, ones, along, along]) * down,
    )
