"""Raw files, read as linear camera colour; what becomes of that is said in ``scene``."""

import io
from collections.abc import Sequence

import numpy as np
import rawpy

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.camera_colour import CameraColour, camera_colour
from yarnkite.core.image.pixels import Pixels

# From linear sRGB (D65) to CIE XYZ: IEC 61966-2-1, annex F.
_SRGB_TO_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])


def read_camera(data: bytes, *, half: bool = False) -> Pixels:
    """Read a raw file as linear camera colour, upright, with the camera's own white balance and nothing clipped by it.

    Parameters
    ----------
    data : the bytes of the file
    half : one pixel for each block of 2 × 2 of the sensor, without interpolation

    Returns
    -------
    Pixels with ``camera``; uint16, shape (height, width, 3); a sensor without colours gives equal ones

    Raises
    ------
    rawpy.LibRawError
    """
    with rawpy.imread(io.BytesIO(data)) as raw:
        array = raw.postprocess(
            half_size=half,
            use_camera_wb=True,
            no_auto_bright=True,
            # Else what is brightest in one still would decide how bright all of it is, and the shot would flicker.
            adjust_maximum_thr=0.0,
            output_bps=16,
            gamma=(1, 1),
            output_color=rawpy.ColorSpace.raw,
            highlight_mode=rawpy.HighlightMode.Ignore,
        )
        matrix = _matrix(raw)
        colour = camera_colour(_balance(raw.camera_whitebalance), np.eye(3) if matrix is None else matrix)
    if array.ndim == 2 or array.shape[2] == 1:
        grey = np.repeat(array.reshape(*array.shape[:2], 1), 3, axis=2)
        return Pixels(grey, 2 if half else 1, CameraColour())
    return Pixels(np.ascontiguousarray(array[:, :, :3]), 2 if half else 1, colour)


def has_matrix(raw: rawpy.RawPy) -> bool:
    """Tell whether it is known what colours a camera's are: also of one that sees none."""
    return raw.num_colors < 3 or _matrix(raw) is not None


def _balance(factors: Sequence[float]) -> Floats:
    """Return the camera's factors for red, green and blue, 1 the largest; equal ones where it says none."""
    three = np.array(factors[:3], float)
    return three / three.max() if len(three) == 3 and three.min() > 0 else np.ones(3)


def _matrix(raw: rawpy.RawPy) -> Floats | None:
    """Return the matrix from balanced camera colour to linear sRGB, its rows summing to 1 (as in DNG 1.4, chapter 6).

    The reader gives it for some cameras, for others the one from XYZ to camera colour, and for some neither.
    """
    given, xyz_to_camera = np.asarray(raw.color_matrix, float)[:3, :3], np.asarray(raw.rgb_xyz_matrix, float)
    if given.shape == (3, 3) and np.allclose(given.sum(axis=1), 1, atol=0.01):
        return given
    if xyz_to_camera.shape[0] < 3 or not np.any(xyz_to_camera[:3]):
        return None
    srgb_to_camera = xyz_to_camera[:3] @ _SRGB_TO_XYZ
    sums = srgb_to_camera.sum(axis=1, keepdims=True)
    if np.any(np.abs(sums) < 1e-6):
        return None
    try:
        return np.asarray(np.linalg.inv(srgb_to_camera / sums))
    except np.linalg.LinAlgError:
        return None
