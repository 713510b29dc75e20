"""Numbered PNG files (ISO/IEC 15948), of 8 or 16 bits, lossless."""

import zlib
from functools import partial

import imagecodecs
import numpy as np

from yarnkite.core.encode.formats.format import Format
from yarnkite.core.encode.formats.still import StillFacts
from yarnkite.core.encode.samples import Samples
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.image.png import png_chunk

_HEADER_END = 8 + 25
_INCHES_A_METRE = 1 / 0.0254


def png(image: ImageArray, facts: StillFacts = StillFacts()) -> bytes:
    """Return a picture, sRGB, as a PNG of its depth with its capture time, profile and resolution."""
    bare = bytes(imagecodecs.png_encode(np.ascontiguousarray(facts.coloured(image)), level=2))
    return with_chunks(bare, facts)


def with_chunks(bare: bytes, facts: StillFacts) -> bytes:
    """Put what is said beside the pixels into a bare PNG, ahead of them (ISO/IEC 15948, 11.3)."""
    written = png_chunk(b"iCCP", facts.profile.encode("latin-1") + b"\0\0" + zlib.compress(facts.icc))
    if facts.ppi is not None:
        a_metre = round(facts.ppi * _INCHES_A_METRE).to_bytes(4)
        written += png_chunk(b"pHYs", a_metre + a_metre + b"\x01")
    written += png_chunk(b"eXIf", facts.exif().tobytes().removeprefix(b"Exif\0\0"))
    return bare[:_HEADER_END] + written + bare[_HEADER_END:]


_png = partial(
    Format,
    takers="every program that opens pictures",
    containers=("zip",),
    encoder="png",
    codec="png",
    way="numbered",
    intra=True,
    psnr_floor_db=99.0,
)
PNG = _png(name="png", title="PNG files, numbered", bits_a_pixel=13.0, fps=8.0)
PNG_16 = _png(
    name="png-16", title="PNG files of 16 bits, numbered", samples=Samples("444", 16), bits_a_pixel=38.0, fps=3.0
)
FORMATS = (PNG, PNG_16)
