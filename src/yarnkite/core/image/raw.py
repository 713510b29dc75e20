"""Raw files: read as linear camera colour, and made into sRGB by rules of our own, so that these can be changed."""

import io
from collections.abc import Sequence

import numpy as np
import rawpy
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.camera_colour import CameraColour, camera_colour
from yarnkite.core.image.pixels import Pixels, SixteenBit, as_sixteen
from yarnkite.core.image.srgb import to_codes

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
        matrix = _matrix(np.asarray(raw.color_matrix, float), np.asarray(raw.rgb_xyz_matrix, float))
        colour = camera_colour(_balance(raw.camera_whitebalance), matrix)
    if array.ndim == 2 or array.shape[2] == 1:
        grey = np.repeat(array.reshape(*array.shape[:2], 1), 3, axis=2)
        return Pixels(grey, 2 if half else 1, CameraColour())
    return Pixels(np.ascontiguousarray(array[:, :, :3]), 2 if half else 1, colour)


def developed(pixels: Pixels) -> Pixels:
    """Return pixels as sRGB; those that are camera colour are balanced, led through its matrix and given a base curve.

    Where the sensor clipped a colour it is made up from those that did not clip; what lies beyond white then rolls off
    (``base_curve``), so that bright clouds keep their shape and do not turn pink.

    Parameters
    ----------
    pixels : of any depth, or uint16 camera colour

    Returns
    -------
    Pixels without ``camera``, the same shape
    """
    if pixels.camera is None:
        return pixels
    balance = np.array(pixels.camera.balance, np.float32)
    # Where each colour clips, in shares of what is white in every one of them.
    clips = (balance / balance.min()).astype(np.float32)
    matrix = np.array(pixels.camera.matrix, np.float32)
    array = np.ascontiguousarray(as_sixteen(pixels.array))
    result: SixteenBit = np.empty_like(array)
    _develop(array.reshape(-1, 3), np.float32(1 / (65535 * balance.min())), clips, matrix, _BASE, result.reshape(-1, 3))
    return Pixels(result, pixels.reduction)


def base_curve(light: Floats) -> NDArray[np.float64]:
    """Return the light that is shown for a sensor's light, 1 where its least sensitive colour clips.

    A sensor leaves room for highlights that a camera's own pictures do not show: mid greys are raised by two thirds of
    a stop, what is brighter rolls off towards white, which is reached four times beyond 1.
    """
    raised = np.asarray(light, float) * _RAISED
    over = np.maximum(raised - _KNEE, 0) / (1 - _KNEE)
    most = (_BRIGHTEST * _RAISED - _KNEE) / (1 - _KNEE)
    rolled = _KNEE + (1 - _KNEE) * (1 - np.exp(-over)) / (1 - np.exp(-most))
    return np.asarray(np.where(raised <= _KNEE, raised, np.minimum(rolled, 1.0)), np.float64)


_RAISED, _KNEE, _BRIGHTEST = 2 ** (2 / 3), 0.35, 4.0
# Looked up by the root of light, so that steps are alike to the eye from black on.
_STEPS = 16384
_BASE: SixteenBit = np.rint(to_codes(base_curve((np.arange(2 * _STEPS + 1) / _STEPS) ** 2)) * 65535).astype(np.uint16)


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


@njit(nogil=True, cache=True, fastmath=True)
def _develop(camera, unit, clips, matrix, base, result):  # type: ignore[no-untyped-def]
    one, black, half = np.float32(1), np.float32(0), np.float32(0.5)
    steps, brightest = np.float32(_STEPS), np.float32(_BRIGHTEST)
    near = np.float32(0.93)
    colours = np.empty(3, np.float32)
    shares = np.empty(3, np.float32)
    for i in range(camera.shape[0]):
        clipped = black
        for channel in range(3):
            colours[channel] = np.float32(camera[i, channel]) * unit
            # How far a colour has come into the last few hundredths before the sensor clips it.
            share = (colours[channel] / clips[channel] - near) / (np.float32(0.99) - near)
            shares[channel] = min(max(share, black), one)
            clipped = max(clipped, shares[channel])
        if clipped > black:
            weight, total, most = black, black, max(colours[0], colours[1], colours[2])
            for channel in range(3):
                sound = one - shares[channel]
                weight += sound
                total += sound * colours[channel]
            # Of colours that all clipped nothing is known but that they are at least so bright: white.
            known = min(weight, one)
            wanted = known * (total / max(weight, np.float32(1e-6))) + (one - known) * most
            for channel in range(3):
                colours[channel] += shares[channel] * (max(wanted, colours[channel]) - colours[channel])
        for channel in range(3):
            value = matrix[channel, 0] * colours[0] + matrix[channel, 1] * colours[1] + matrix[channel, 2] * colours[2]
            root = np.sqrt(min(max(value, black), brightest)) * steps + half
            result[i, channel] = base[np.int64(root)]
