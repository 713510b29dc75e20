"""Where each pixel of a picture lies in its still, and where a point of the still lies in the picture."""

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.geometry import Rect
from yarnkite.core.image.lens import Lens
from yarnkite.core.image.warp import View, points_of

Plane = NDArray[np.float32]
Floats = NDArray[np.float64]
Values = TypeVar("Values", Plane, Floats)

_ROUNDS = 12
_STRAIGHT = Lens()
_SLOPE_STEP = 1e-3


@dataclass(frozen=True)
class StillMap:
    """Where the pixels of a grid, in some columns and rows, lie in an upright still, in shares of its sides.

    ``view`` shows the still once it is turned by ``quarters`` with the clock, and then mirrored; ``scale`` is how many
    pixels the grid has for each of the clip.
    """

    view: View
    columns: tuple[int, int]
    rows: tuple[int, int]
    quarters: int = 0
    mirror: bool = False
    scale: float = 1.0

    @classmethod
    def whole(
        cls,
        width: int,
        height: int,
        scale: float = 1.0,
        *,
        lens: Lens = _STRAIGHT,
        quarters: int = 0,
        mirror: bool = False,
    ) -> "StillMap":
        """Return the map of a picture that is a whole still, so large once it is turned, mirrored and straightened."""
        all_of_it = Rect(Fraction(0), Fraction(0), Fraction(width), Fraction(height))
        view = View(all_of_it, all_of_it, all_of_it, 0.0, lens)
        return cls(view, (0, width), (0, height), quarters, mirror, scale)

    @property
    def shape(self) -> tuple[int, int]:
        """How many rows and columns it has."""
        return self.rows[1] - self.rows[0], self.columns[1] - self.columns[0]

    @property
    def aspect(self) -> float:
        """The width of the upright still over its height."""
        aspect = float(self.view.whole.width / self.view.whole.height)
        return 1 / aspect if self.quarters % 2 else aspect

    def shares(self) -> tuple[Plane, Plane]:
        """Return x and y of each pixel's middle in shares of the upright still, each of ``shape``."""
        return _shares(self)

    def coarser(self, columns: int, rows: int) -> "StillMap":
        """Return the same map with so many columns and rows, for what changes slowly."""
        height, width = self.shape
        across, down = Fraction(columns, width), Fraction(rows, height)
        target = self.view.target
        moved = Rect(target.left - self.columns[0], target.top - self.rows[0], target.width, target.height)
        view = replace(self.view, target=moved.scaled(across, down))
        return replace(self, view=view, columns=(0, columns), rows=(0, rows))

    def of_points(self, x: Floats, y: Floats) -> tuple[Floats, Floats]:
        """Return where points of the grid, in its pixels, lie in the upright still, in shares."""
        grid_x, grid_y = (np.asarray(one, np.float64).reshape(-1) for one in (x, y))
        found = [
            points_of(self.view, float(one) - 0.5, float(other) - 0.5, 1, 1).reshape(2)
            for one, other in zip(grid_x, grid_y, strict=True)
        ]
        across, down = np.array(found, np.float64).reshape(-1, 2).T
        return self._upright(across, down)

    def to_points(self, x: Floats, y: Floats) -> tuple[Floats, Floats]:
        """Return where points of the upright still, in shares, lie on the grid, in its pixels: by Newton's method.

        A lens that bends much may lead points far outside to no place at all; they stay where they were led last.
        """
        wanted = np.stack([np.asarray(x, float).reshape(-1), np.asarray(y, float).reshape(-1)])
        target = self.view.target
        middle_x, middle_y = (float(side) for side in target.centre)
        width, height = float(target.width), float(target.height)
        at = np.stack([np.full(wanted.shape[1], middle_x), np.full(wanted.shape[1], middle_y)])
        for _ in range(_ROUNDS):
            here = np.array(self.of_points(at[0], at[1]), float)
            right = (np.array(self.of_points(at[0] + _SLOPE_STEP * width, at[1]), float) - here) / (_SLOPE_STEP * width)
            below = (np.array(self.of_points(at[0], at[1] + _SLOPE_STEP * height), float) - here) / (
                _SLOPE_STEP * height
            )
            off = wanted - here
            determinant = right[0] * below[1] - below[0] * right[1]
            safe = np.where(np.abs(determinant) < 1e-15, 1e-15, determinant)
            at[0] += (off[0] * below[1] - below[0] * off[1]) / safe
            at[1] += (right[0] * off[1] - off[0] * right[1]) / safe
            at = np.clip(at, [[-20 * width], [-20 * height]], [[20 * width], [20 * height]])
        return at[0], at[1]

    def _upright(self, x: Values, y: Values) -> tuple[Values, Values]:
        """Return pixels of the array, their middles on whole numbers, as shares of the upright still."""
        whole = self.view.whole
        kind = x.dtype.type
        across = (x + kind(0.5 - float(whole.left))) / kind(float(whole.width))
        down = (y + kind(0.5 - float(whole.top))) / kind(float(whole.height))
        if self.mirror:
            across = 1 - across
        for _ in range(self.quarters):
            across, down = down, 1 - across
        return across, down


@lru_cache(maxsize=1)
def _shares(still_map: StillMap) -> tuple[Plane, Plane]:
    height, width = still_map.shape
    points = points_of(still_map.view, still_map.columns[0], still_map.rows[0], height, width)
    return still_map._upright(points[0], points[1])
