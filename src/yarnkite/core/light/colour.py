"""White balance and saturation as one matrix on linear light.

Sources: Planckian locus of Kim et al. 2002, chromatic adaptation of Bradford (Lam 1985), matrices of IEC 61966-2-1.
"""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.camera_colour import Matrix as CameraMatrix

Matrix = NDArray[np.float64]

TO_XYZ: Matrix = np.array(
    [[0.4123908, 0.3575843, 0.1804808], [0.2126390, 0.7151687, 0.0721923], [0.0193308, 0.1191948, 0.9505322]]
)
FROM_XYZ: Matrix = np.asarray(np.linalg.inv(TO_XYZ), np.float64)
BRADFORD: Matrix = np.array([[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]])
LUMINANCE: Floats = TO_XYZ[1] / TO_XYZ[1].sum()
# As many digits as decisions keep, so that it is known again.
DAYLIGHT_MIRED = round(1e6 / 6504, 4)
LEAST_MIRED, MOST_MIRED = 1e6 / 25000, 1e6 / 1700
_TINT_UNIT = 1 / 1000


@lru_cache(maxsize=512)
def colour_matrix(warmth: float, tint: float, saturation: float, mired: float = DAYLIGHT_MIRED) -> Matrix:
    """Return the matrix that warms, tints and saturates linear sRGB; grey keeps its luminance.

    Parameters
    ----------
    warmth : mired, -250 … 250; what one warmth does, its negative undoes
    tint : thousandths of the CIE 1960 diagram across the Planckian locus, redder above 0
    saturation : -1 … 1: 0 leaves colours, -1 makes them grey
    mired : the light that the picture is balanced for, which warmth counts from

    Returns
    -------
    shape (3, 3)
    """
    # From daylight's own white warmth leads both ways alike; a measured light is taken for another one, by its numbers.
    relative = mired == DAYLIGHT_MIRED and warmth >= 0
    warmed = _adaptation(warmth, tint, mired) if relative else np.linalg.inv(_adaptation(-warmth, -tint, mired))
    share = 1 + saturation
    saturated = share * np.eye(3) + (1 - share) * np.tile(LUMINANCE, (3, 1))
    return np.asarray(saturated @ (warmed / (LUMINANCE @ warmed @ np.ones(3))))


@lru_cache(maxsize=2048)
def rebalanced(own: float, mired: float, camera: CameraMatrix) -> Matrix:
    """Return the matrix on linear sRGB that shows a still balanced for one light as if for another.

    It is the camera's own balance: red and blue of its colour are raised against green, by what its sensor sees of the
    two lights.

    Parameters
    ----------
    own, mired : the light it was balanced for, and the other one
    camera : from balanced camera colour to linear sRGB
    """
    to_srgb = np.array(camera)
    to_camera = np.linalg.inv(to_srgb)
    there, here = (to_camera @ FROM_XYZ @ _white(0.0, 0.0, one) for one in (own, mired))
    factors = np.maximum(there, 1e-3) / np.maximum(here, 1e-3)
    return np.asarray(to_srgb @ np.diag(factors / factors[1]) @ to_camera)


def neutral_for(colour: Floats, mired: float = DAYLIGHT_MIRED) -> tuple[float, float]:
    """Return the warmth and tint that make a colour grey, as near as they reach.

    Parameters
    ----------
    colour : linear sRGB, above 0, shape (3,)
    mired : as for ``colour_matrix``
    """
    warmth, tint = 0.0, 0.0
    for _ in range(30):
        off = _off_grey(colour, warmth, tint, mired)
        if np.abs(off).max() < 1e-7:
            break
        step = 0.5
        slope = np.column_stack(
            [
                _off_grey(colour, warmth + step, tint, mired) - _off_grey(colour, warmth - step, tint, mired),
                _off_grey(colour, warmth, tint + step, mired) - _off_grey(colour, warmth, tint - step, mired),
            ]
        ) / (2 * step)
        change = np.clip(np.linalg.lstsq(slope, -off, rcond=None)[0], -40, 40)
        warmth, tint = (
            float(np.clip(value, -most, most)) for value, most in ((warmth + change[0], 250), (tint + change[1], 60))
        )
    return round(warmth, 3), round(tint, 3)


def _off_grey(colour: Floats, warmth: float, tint: float, mired: float) -> Floats:
    """Return how far red and blue of a colour lie from its green, in natural logarithms, once it is balanced."""
    balanced = np.log(np.maximum(colour_matrix(warmth, tint, 0.0, mired) @ colour, 1e-9))
    return np.asarray(balanced[[0, 2]] - balanced[1])


def _adaptation(warmth: float, tint: float, mired: float) -> Matrix:
    """Return the matrix on linear sRGB from one white to that of a warmer light."""
    source, target = BRADFORD @ _white(0.0, 0.0, mired), BRADFORD @ _white(warmth, tint, mired)
    return np.asarray(FROM_XYZ @ np.linalg.inv(BRADFORD) @ np.diag(target / source) @ BRADFORD @ TO_XYZ)


def _white(warmth: float, tint: float, mired: float) -> Floats:
    """Return the XYZ, Y = 1, of a white moved along the Planckian locus by so many mired, and across it."""
    moved = float(np.clip(mired + warmth, LEAST_MIRED, MOST_MIRED))
    here, there = _locus(mired), _locus(moved)
    along = _locus(moved + 1) - _locus(moved - 1)
    # To the left of the way towards warmer lights lies green.
    across = np.array([along[1], -along[0]]) / np.hypot(*along)
    begin = _uv(TO_XYZ @ np.ones(3)) if mired == DAYLIGHT_MIRED else here
    u, v = begin + there - here + tint * _TINT_UNIT * across
    x, y = 3 * u / (2 * u - 8 * v + 4), 2 * v / (2 * u - 8 * v + 4)
    return np.array([x / y, 1.0, (1 - x - y) / y])


def _uv(xyz: Floats) -> Floats:
    x, y, z = xyz
    return np.asarray(np.array([4 * x, 6 * y]) / (x + 15 * y + 3 * z))


def _locus(mired: float) -> Floats:
    """Return the CIE 1960 coordinates of a black body (Kim et al. 2002), 1667 K to 25,000 K."""
    t = mired / 1000
    if mired > 250:
        x = -0.2661239 * t**3 - 0.2343589 * t**2 + 0.8776956 * t + 0.179910
    else:
        x = -3.0258469 * t**3 + 2.1070379 * t**2 + 0.2226347 * t + 0.240390
    if mired > 1e6 / 2222:
        y = -1.1063814 * x**3 - 1.34811020 * x**2 + 2.18555832 * x - 0.20219683
    elif mired > 250:
        y = -0.9549476 * x**3 - 1.37418593 * x**2 + 2.09137015 * x - 0.16748867
    else:
        y = 3.0817580 * x**3 - 5.87338670 * x**2 + 3.75112997 * x - 0.37001483
    return np.array([4 * x, 6 * y]) / (-2 * x + 12 * y + 3)


def mired_of(white: Floats) -> tuple[float, float]:
    """Return the mired of the black body nearest to a white, and how far that lies off the locus, redder above 0.

    Parameters
    ----------
    white : XYZ, shape (3,)

    Returns
    -------
    mired, 40 … 588; thousandths of the CIE 1960 diagram
    """
    wanted = _uv(white)
    every = np.arange(LEAST_MIRED, MOST_MIRED, 0.25)
    places = np.array([_locus(mired) for mired in every])
    nearest = int(np.argmin(np.hypot(*(places - wanted).T)))
    along = places[min(nearest + 1, len(every) - 1)] - places[max(nearest - 1, 0)]
    across = np.array([along[1], -along[0]]) / np.hypot(*along)
    return float(every[nearest]), float((wanted - places[nearest]) @ across / _TINT_UNIT)
