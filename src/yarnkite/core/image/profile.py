"""Colour profiles of primaries and a curve, written by ourselves, and colours led from one profile to another.

Source: ICC.1:2022, 7 and 8.3.
"""

import struct
from typing import Any

import imagecodecs
import numpy as np
from numpy.typing import NDArray

Primaries = tuple[tuple[float, float, float], tuple[float, float, float], tuple[float, float, float]]
# Of IEC 61966-2-1, adapted to D50 (Bradford): red, green and blue as XYZ.
SRGB_PRIMARIES: Primaries = ((0.43607, 0.22249, 0.01392), (0.38515, 0.71687, 0.09708), (0.14307, 0.06061, 0.71410))
_D50 = (0.9642, 1.0, 0.8249)


def described(name: str, primaries: Primaries, curve: bytes) -> bytes:
    """Return a profile of primaries, as XYZ relative to D50, and a curve that all three share (ICC.1:2022, 8.3)."""
    xyz = [b"XYZ \0\0\0\0" + b"".join(_s15f16(value) for value in one) for one in (_D50, *primaries)]
    names = (b"wtpt", b"rXYZ", b"gXYZ", b"bXYZ", b"desc", b"cprt", b"rTRC", b"gTRC", b"bTRC")
    bodies = [*xyz, _text(name), _text("none"), curve, curve, curve]
    offset, table, data = 128 + 4 + 12 * len(names), b"", b""
    for tag, body in zip(names, bodies, strict=True):
        padded = body + bytes(-len(body) % 4)
        table += tag + struct.pack(">II", offset + len(data), len(body))
        data += padded
    size = offset + len(data)
    header = struct.pack(">I4sI", size, b"none", 0x04200000) + b"mntrRGB XYZ " + bytes(12) + b"acsp" + bytes(28)
    header += b"".join(_s15f16(value) for value in _D50)
    return header + bytes(128 - len(header)) + struct.pack(">I", len(names)) + table + data


def transformed(pixels: NDArray[Any], source: bytes, target: bytes, depth: str, flags: int) -> NDArray[Any]:
    """Return RGB pixels of one profile as those of another, of a depth such as ``uint16``, relative to white.

    Raises ``CmsError`` for a profile that is broken.
    """
    result = imagecodecs.cms_transform(
        np.ascontiguousarray(pixels),
        source,
        target,
        colorspace="rgb",
        outcolorspace="rgb",
        outdtype=depth,
        intent=imagecodecs.CMS.INTENT.RELATIVE_COLORIMETRIC,
        flags=flags,
    )
    return np.asarray(result)


def _text(text: str) -> bytes:
    written = text.encode("utf-16-be")
    return b"mluc\0\0\0\0" + struct.pack(">II2s2sII", 1, 12, b"en", b"US", len(written), 28) + written


def gamma(gamma: int) -> bytes:
    """Return a curve that is a power, given in steps of 1/256."""
    return b"curv\0\0\0\0" + struct.pack(">IH", 1, gamma) + bytes(2)


def with_toe(gamma: float, slope: float, offset: float, toe: float, end: float) -> bytes:
    """Return a curve ``(slope x + offset) ** gamma`` from ``end`` on and ``toe x`` below (parametric type 3)."""
    values = b"".join(_s15f16(value) for value in (gamma, slope, offset, toe, end))
    return b"para\0\0\0\0" + struct.pack(">HH", 3, 0) + values


def _s15f16(value: float) -> bytes:
    return struct.pack(">i", round(value * 65536))
