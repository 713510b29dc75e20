"""Numbered JPEG files (ISO/IEC 10918-1 and -5)."""

import numpy as np
import simplejpeg

from yarnkite.core.encode.formats.format import Format
from yarnkite.core.encode.formats.still import StillFacts
from yarnkite.core.image.dither import dithered
from yarnkite.core.image.pixels import ImageArray

_LEAST_FULL_COLOUR = 90


def jpeg(image: ImageArray, facts: StillFacts = StillFacts()) -> bytes:
    """Return a picture, sRGB, as a JPEG with its capture time, profile and resolution."""
    bare = simplejpeg.encode_jpeg(
        np.ascontiguousarray(dithered(facts.coloured(image))),
        quality=facts.quality,
        colorsubsampling="444" if facts.quality > _LEAST_FULL_COLOUR else "420",
    )
    return with_facts(bare, facts)


def with_facts(bare: bytes, facts: StillFacts) -> bytes:
    """Put the capture time (Exif 2.32 §4.5.4), the profile (ICC.1 annex B.4) and the resolution (JFIF) into a bare
    JPEG."""
    segments = ((b"\xff\xe1", facts.exif().tobytes()), (b"\xff\xe2", b"ICC_PROFILE\0\x01\x01" + facts.icc))
    written = b"".join(marker + (len(data) + 2).to_bytes(2) + data for marker, data in segments)
    head, rest = bare[:2], bare[2:]
    if facts.ppi is not None and rest[:2] == b"\xff\xe0" and rest[4:9] == b"JFIF\0":
        density = min(facts.ppi, 0xFFFF).to_bytes(2)
        rest = rest[:11] + b"\x01" + density + density + rest[16:]
        length = 2 + int.from_bytes(rest[2:4])
        return head + rest[:length] + written + rest[length:]
    return head + written + rest


def quality_of(crf: float) -> float:
    """Return the quality of a JPEG that looks like a constant rate factor of H.264."""
    return float(round(min(100.0, max(50.0, 95 - 1.5 * (crf - 18)))))


JPEG = Format(
    name="jpeg",
    title="JPEG files, numbered",
    takers="everything",
    containers=("zip",),
    encoder="jpeg",
    codec="jpg",
    number=quality_of,
    number_name="JPEG quality",
    way="numbered",
    bits_a_pixel=3.6,
    fps=60.0,
    intra=True,
    psnr_floor_db=38.0,
)
FORMATS = (JPEG,)
