"""Deep copies: reduced stills of 16 bits, near-lossless, with what camera colour needs to become sRGB.

A file of ours, made again when it is missing: four letters, the length of a line of JSON, the line, and a picture in
JPEG XL (ISO/IEC 18181).
"""

import json
import struct
from dataclasses import asdict

import imagecodecs
import numpy as np

from yarnkite.core.image.camera_colour import camera_colour
from yarnkite.core.image.pixels import Pixels, SixteenBit, as_sixteen
from yarnkite.core.image.srgb import LINEAR_TO_SRGB_DEEP, SRGB_TO_LINEAR_SIXTEEN

_BEGINS = b"YKD1"
# How far the copy may be from the still, as the codec counts it: 1 is where a trained eye begins to see it.
_DISTANCE = 0.1
_EFFORT = 1


def packed(pixels: Pixels) -> bytes:
    """Return a reduced still as bytes; off by about a tenth of a step of 8 bits in the mean, less where it is dark.

    Parameters
    ----------
    pixels : uint16, RGB, sRGB or linear camera colour
    """
    line = json.dumps({"reduction": pixels.reduction, "camera": asdict(pixels.camera) if pixels.camera else None})
    array = as_sixteen(pixels.array)
    # Light is kept by the same curve as code values: the codec spreads its error as eyes see it.
    codes = LINEAR_TO_SRGB_DEEP[array] if pixels.camera else np.ascontiguousarray(array)
    picture = imagecodecs.jpegxl_encode(codes, effort=_EFFORT, distance=_DISTANCE, lossless=False, numthreads=1)
    return _BEGINS + struct.pack("<I", len(line)) + line.encode() + bytes(picture)


def unpacked(data: bytes) -> Pixels:
    """Return what ``packed`` was given; raises ``ValueError`` for other bytes."""
    if data[:4] != _BEGINS:
        raise ValueError("these are not the bytes of a deep copy")
    try:
        (length,) = struct.unpack_from("<I", data, 4)
        said = json.loads(data[8 : 8 + length])
        codes = np.asarray(imagecodecs.jpegxl_decode(data[8 + length :], numthreads=1))
        reduction, camera = int(said["reduction"]), said["camera"]
        colour = camera_colour(np.asarray(camera["balance"]), np.asarray(camera["matrix"])) if camera else None
    except (ValueError, struct.error, KeyError, TypeError, IndexError, imagecodecs.JpegxlError) as error:
        raise ValueError(f"this deep copy is damaged: {error}") from error
    if codes.dtype != np.uint16 or codes.ndim != 3:
        raise ValueError("this deep copy is no picture of 16 bits")
    array: SixteenBit = SRGB_TO_LINEAR_SIXTEEN[codes] if colour else codes
    return Pixels(array, reduction, colour)
