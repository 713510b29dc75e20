"""Writing a raw file, as the simulated camera keeps one beside its JPEG: DNG 1.4, uncompressed, one colour a pixel."""

from datetime import datetime
from pathlib import Path

import numpy as np
import tifffile
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.scene import base_curve

BLACK, WHITE = 512, 16383
# From XYZ to the camera's own colours, times 10 000; near to sRGB's own primaries, so that the picture comes out alike.
_COLOR_MATRIX = (32405, -15371, -4985, -9693, 18760, 416, 556, -2040, 10572)
# What the camera takes for neutral: numerators and denominators of red, green and blue.
_NEUTRAL = (1, 1, 1, 1, 1, 1)
_SHORT, _LONG, _ASCII, _BYTE, _RATIONAL, _SRATIONAL = 3, 4, 2, 1, 5, 10


def shown_of(codes: Floats) -> Floats:
    """Return the light, 0 … 1, that developing shows of code values 0 … 1 of a picture that was written as raw."""
    light = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)
    # White lies where the sensor clips, and a little below the white of the curve.
    return np.asarray(light * base_curve(np.ones(1))[0])


def write_dng(
    path: Path,
    image: NDArray[np.uint8],
    model: str,
    captured: datetime,
    light: tuple[float, float, float] = (1.0, 1.0, 1.0),
) -> None:
    """Write an RGB picture, shape (height, width, 3), sRGB, as the sensor of ``model`` would have seen it.

    ``light`` is how strong red, green and blue of what is white were, 1 the strongest: the camera balances them.

    Follows the DNG specification 1.4: CFA data in RGGB order, 14 bits, with black and white levels.
    """
    # The camera's own pictures have a curve: what its sensor saw is found by going back along it.
    seen = np.linspace(0, 1, 4096)
    linear = np.interp(shown_of(image.astype(np.float32) / 255), base_curve(seen), seen) * np.array(light, np.float32)
    sensor = np.empty(image.shape[:2], np.float32)
    for row, column, channel in ((0, 0, 0), (0, 1, 1), (1, 0, 1), (1, 1, 2)):
        sensor[row::2, column::2] = linear[row::2, column::2, channel]
    values = np.rint(sensor * (WHITE - BLACK) + BLACK).astype(np.uint16)
    when = f"{captured:%Y:%m:%d %H:%M:%S}"
    tags = [
        (33421, _SHORT, 2, (2, 2), True),
        (33422, _BYTE, 4, bytes((0, 1, 1, 2)), True),
        (36867, _ASCII, 20, when, True),
        (50706, _BYTE, 4, bytes((1, 4, 0, 0)), True),
        (50707, _BYTE, 4, bytes((1, 1, 0, 0)), True),
        (50708, _ASCII, len(model) + 1, model, True),
        (50714, _SHORT, 1, BLACK, True),
        (50717, _LONG, 1, WHITE, True),
        (50721, _SRATIONAL, 9, tuple(value for number in _COLOR_MATRIX for value in (number, 10_000)), True),
        (50728, _RATIONAL, 3, _neutral(light), True),
        (50778, _SHORT, 1, 21, True),
        (271, _ASCII, len(model.rpartition(" ")[0]) + 1, model.rpartition(" ")[0], True),
        (272, _ASCII, len(model) + 1, model, True),
    ]
    tifffile.imwrite(
        path, values, photometric=32803, planarconfig=1, metadata=None, datetime=when, software=False, extratags=tags
    )


def _neutral(light: tuple[float, float, float]) -> tuple[int, ...]:
    """Return the numerators and denominators of what the camera takes for neutral."""
    if light == (1.0, 1.0, 1.0):
        return _NEUTRAL
    return tuple(value for strength in light for value in (round(strength * 10_000), 10_000))
