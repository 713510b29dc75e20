"""Raw files: read as linear camera colour, and made into sRGB by rules of our own, so that these can be changed."""

import io
from collections.abc import Sequence

import numpy as np
import rawpy
from numba import njit

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.camera_colour import CameraColour, camera_colour
from yarnkite.core.image.pixels import Pixels, SixteenBit, as_sixteen
from yarnkite.core.image.srgb import LINEAR_TO_SRGB_DEEP

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
            output_bps=16,
            gamma=(1, 1),
            output_color=rawpy.ColorSpace.raw,
            highlight_mode=rawpy.HighlightMode.Ignore,
        )
        matrix = _matrix(np.asarray(raw.color_matrix, float), np.asarray(raw.rgb_xyz_matrix, float))
        colour = camera_colour(_balance(raw.camera_whitebalance), matrix)
    if array.ndim == 2 or array.shape[2] == 1:
        grey = np.repeat(array.reshape(*array.shape[:2], 1), 3, axis=2)
        return Pixels(grey, 2 if half else 1, CameraColour())
    return Pixels(np.ascontiguousarray(array[:, :, :3]), 2 if half else 1, colour)


def developed(pixels: Pixels) -> Pixels:
    """Return pixels as sRGB; those that are camera colour are balanced, led through its matrix and given the curve.

    What the sensor could not tell from white is white: samples are clipped after balancing, and after the matrix.

    Parameters
    ----------
    pixels : of any depth, or uint16 camera colour

    Returns
    -------
    Pixels without ``camera``, the same shape
    """
    if pixels.camera is None:
        return pixels
    # Balanced by the least factor instead of the largest, so that what is white in every channel is white.
    gain = np.float32(1 / min(pixels.camera.balance))
    matrix = np.array(pixels.camera.matrix, np.float32)
    array = np.ascontiguousarray(as_sixteen(pixels.array))
    result: SixteenBit = np.empty_like(array)
    _develop(array.reshape(-1, 3), gain, matrix, LINEAR_TO_SRGB_DEEP, result.reshape(-1, 3))
    return Pixels(result, pixels.reduction)


def _balance(factors: Sequence[float]) -> Floats:
    """Return the camera's factors for red, green and blue, 1 the largest; equal ones where it says none."""
    three = np.array(factors[:3], float)
    return three / three.max() if len(three) == 3 and three.min() > 0 else np.ones(3)


def _matrix(camera_to_srgb: Floats, xyz_to_camera: Floats) -> Floats:
    """Return the matrix from balanced camera colour to linear sRGB, its rows summing to 1 (as in DNG 1.4, chapter 6).

    The reader gives it for some cameras, for others the one from XYZ to camera colour, and for some neither.
    """
    given = camera_to_srgb[:3, :3]
    if given.shape == (3, 3) and np.allclose(given.sum(axis=1), 1, atol=0.01):
        return given
    if xyz_to_camera.shape[0] < 3 or not np.any(xyz_to_camera[:3]):
        return np.eye(3)
    srgb_to_camera = xyz_to_camera[:3] @ _SRGB_TO_XYZ
    sums = srgb_to_camera.sum(axis=1, keepdims=True)
    if np.any(np.abs(sums) < 1e-6):
        return np.eye(3)
    try:
        return np.asarray(np.linalg.inv(srgb_to_camera / sums))
    except np.linalg.LinAlgError:
        return np.eye(3)


@njit(nogil=True, cache=True)
def _develop(camera, gain, matrix, codes, result):  # type: ignore[no-untyped-def]
    white, half = np.float32(65535), np.float32(0.5)
    for i in range(camera.shape[0]):
        red = min(np.float32(camera[i, 0]) * gain, white)
        green = min(np.float32(camera[i, 1]) * gain, white)
        blue = min(np.float32(camera[i, 2]) * gain, white)
        for channel in range(3):
            value = matrix[channel, 0] * red + matrix[channel, 1] * green + matrix[channel, 2] * blue
            result[i, channel] = codes[np.int64(min(max(value, np.float32(0)), white) + half)]
