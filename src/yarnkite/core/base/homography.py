"""Maps of a picture onto another by shift, turn, size and perspective, as matrices and as the eight numbers of their
logarithm.

Points are measured from the middle of a picture in half diagonals, y downwards, so that a map holds at any size.
"""

from typing import Annotated

import numpy as np
from pydantic import Field

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.frozen import rounded

# How many of the eight numbers a model has: each contains the one before.
SHIFT, SIMILARITY, AFFINE, PERSPECTIVE = 2, 4, 6, 8

_TERMS = 12
_NEAR = 0.2
_ROOT_ROUNDS = 8
_SAME = 1e-6

Number = Annotated[float, Field(ge=-1e3, le=1e3, allow_inf_nan=False), rounded(9)]
# A matrix by rows without its last number, which is 1.
Homography = tuple[Number, Number, Number, Number, Number, Number, Number, Number]


def matrix(numbers: Homography) -> Floats:
    """Return a homography's matrix, shape (3, 3)."""
    return np.array([*numbers, 1.0]).reshape(3, 3)


def homography(matrix: Floats) -> Homography:
    """Return the eight numbers, rounded, of a matrix of shape (3, 3)."""
    a, b, c, d, e, f, g, h = (round(float(one), 9) + 0.0 for one in (matrix / matrix[2, 2]).reshape(-1)[:8])
    return a, b, c, d, e, f, g, h


def exponential(numbers: Floats) -> Floats:
    """Return the matrices whose logarithms have these numbers.

    Parameters
    ----------
    numbers : shift right and down, turn with the clock (radians), logarithm of the size, stretch, shear, and how lines
        converge to the right and downwards, shape (…, 8)

    Returns
    -------
    shape (…, 3, 3), of determinant 1
    """
    x, y, turn, size, stretch, shear, right, down = np.moveaxis(np.asarray(numbers, float), -1, 0)
    small = np.empty((*np.shape(x), 3, 3))
    small[..., 0, 0], small[..., 0, 1], small[..., 0, 2] = size / 3 + stretch, shear - turn, x
    small[..., 1, 0], small[..., 1, 1], small[..., 1, 2] = shear + turn, size / 3 - stretch, y
    small[..., 2, 0], small[..., 2, 1], small[..., 2, 2] = right, down, -2 * size / 3
    largest = float(np.nanmax(np.abs(small).sum(axis=-1), initial=0.0))
    halvings = max(0, int(np.ceil(np.log2(largest / _NEAR)))) if largest > _NEAR else 0
    small = small / 2**halvings
    result = term = np.broadcast_to(np.eye(3), small.shape)
    for count in range(1, _TERMS + 1):
        term = term @ small / count
        result = result + term
    for _ in range(halvings):
        result = result @ result
    return np.asarray(result)


def inverse(matrices: Floats) -> Floats:
    """Return the maps that lead back, shape (…, 3, 3); where there is none, numbers that are not finite."""
    (a, b, c), (d, e, f), (g, h, i) = np.moveaxis(np.asarray(matrices, float), (-2, -1), (0, 1))
    result = np.empty(np.shape(matrices))
    result[..., 0, 0], result[..., 0, 1], result[..., 0, 2] = e * i - f * h, c * h - b * i, b * f - c * e
    result[..., 1, 0], result[..., 1, 1], result[..., 1, 2] = f * g - d * i, a * i - c * g, c * d - a * f
    result[..., 2, 0], result[..., 2, 1], result[..., 2, 2] = d * h - e * g, b * g - a * h, a * e - b * d
    determinant = a * result[..., 0, 0] + b * result[..., 1, 0] + c * result[..., 2, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(result / np.asarray(determinant)[..., None, None])


def logarithm(matrices: Floats) -> Floats:
    """Return the numbers of maps that turn by less than half a circle, shape (…, 8); see ``exponential``.

    The numbers of other maps are not finite.
    """
    given = np.asarray(matrices, float)
    with np.errstate(all="ignore"):
        found = _logarithm(given)
        again = exponential(found)
        same = np.abs(again / again[..., 2:, 2:] - given / given[..., 2:, 2:]).max(axis=(-2, -1)) < _SAME
    return np.asarray(np.where(same[..., None], found, np.nan))


def _logarithm(matrices: Floats) -> Floats:
    root = matrices / np.cbrt(np.linalg.det(matrices))[..., None, None]
    halvings = 0
    while root.size and np.nanmax(np.abs(root - np.eye(3)).sum(axis=-1), initial=0.0) > _NEAR and halvings < 30:
        root, halvings = _square_root(root), halvings + 1
    # log(1 + x) = 2 artanh(x / (2 + x)), which converges faster than the series of the logarithm.
    off = root - np.eye(3)
    share = off @ inverse(2 * np.eye(3) + off)
    square, term = share @ share, share
    total = share.copy()
    for count in range(3, 2 * _TERMS, 2):
        term = term @ square
        total = total + term / count
    found = total * 2 * 2**halvings
    return np.stack(
        [
            found[..., 0, 2],
            found[..., 1, 2],
            (found[..., 1, 0] - found[..., 0, 1]) / 2,
            -1.5 * found[..., 2, 2],
            (found[..., 0, 0] - found[..., 1, 1]) / 2,
            (found[..., 0, 1] + found[..., 1, 0]) / 2,
            found[..., 2, 0],
            found[..., 2, 1],
        ],
        axis=-1,
    )


def _square_root(matrices: Floats) -> Floats:
    """Return square roots by the iteration of Denman and Beavers (1976)."""
    root, back = matrices, np.broadcast_to(np.eye(3), matrices.shape)
    for _ in range(_ROOT_ROUNDS):
        root, back = (root + inverse(back)) / 2, (back + inverse(root)) / 2
    return np.asarray(root)


def mapped(matrices: Floats, points: Floats) -> Floats:
    """Return where maps lead points: matrices of shape (…, 3, 3), points (…, 2), of shapes that broadcast."""
    led = np.einsum("...ij,...j->...i", matrices[..., :2], points) + matrices[..., 2]
    return np.asarray(led[..., :2] / led[..., 2:])


def slopes(points: Floats) -> Floats:
    """Return how points move with each of the eight numbers, near a map that leaves all as it is, shape (…, 2, 8)."""
    x, y = points[..., 0], points[..., 1]
    one, none = np.ones_like(x), np.zeros_like(x)
    across = [one, none, -y, x, x, y, -x * x, -x * y]
    down = [none, one, x, y, -y, x, -x * y, -y * y]
    return np.stack([np.stack(across, axis=-1), np.stack(down, axis=-1)], axis=-2)
