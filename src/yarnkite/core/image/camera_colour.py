"""Camera colour: how the linear colours a sensor saw become sRGB, apart from reading them, so that it can be
changed."""

from dataclasses import dataclass

from yarnkite.core.base.arrays import Floats

Matrix = tuple[tuple[float, float, float], tuple[float, float, float], tuple[float, float, float]]

IDENTITY: Matrix = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


@dataclass(frozen=True)
class CameraColour:
    """What linear camera colour needs to become linear sRGB.

    ``balance`` are the factors for red, green and blue by which the samples were multiplied already, 1 the largest, so
    that none is clipped; ``matrix`` leads from balanced camera colour to linear sRGB, its rows sum to 1.
    """

    balance: tuple[float, float, float] = (1.0, 1.0, 1.0)
    matrix: Matrix = IDENTITY


@dataclass(frozen=True)
class Scene:
    """What is known of light of the scene: ``blown`` is how bright it is where the sensor could tell nothing brighter,
    ``matrix`` leads from the camera's balanced colour to linear sRGB."""

    blown: float
    matrix: Matrix = IDENTITY


def camera_colour(balance: Floats, matrix: Floats) -> CameraColour:
    """Return the colour of a camera.

    Parameters
    ----------
    balance : factors by which red, green and blue were multiplied, shape (3,)
    matrix : from balanced camera colour to linear sRGB, shape (3, 3)

    Raises
    ------
    ValueError for other shapes
    """
    red, green, blue = (float(factor) for factor in balance)
    rows = [(float(row[0]), float(row[1]), float(row[2])) for row in matrix]
    if len(rows) != 3:
        raise ValueError("a matrix of camera colour has three rows")
    return CameraColour((red, green, blue), (rows[0], rows[1], rows[2]))
