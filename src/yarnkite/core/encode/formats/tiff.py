"""Numbered TIFF files (TIFF 6.0 with supplements) of 16 bits, lossless."""

import io

import tifffile

from yarnkite.core.encode.formats.format import Format
from yarnkite.core.encode.formats.still import StillFacts
from yarnkite.core.encode.samples import Samples
from yarnkite.core.image.pixels import ImageArray, as_sixteen


def tiff(image: ImageArray, facts: StillFacts = StillFacts()) -> bytes:
    """Return a picture, sRGB, as a TIFF of 16 bits with its capture time, profile and resolution."""
    file = io.BytesIO()
    when = facts.exif().get(0x0132)
    tifffile.imwrite(
        file,
        facts.coloured(as_sixteen(image)),
        photometric="rgb",
        compression="zlib",
        compressionargs={"level": 1},
        predictor=True,
        iccprofile=facts.icc,
        datetime=when,
        metadata=None,
        software=False,
        resolution=None if facts.ppi is None else (facts.ppi, facts.ppi),
        resolutionunit=None if facts.ppi is None else "INCH",
        extratags=[(36867, 2, 20, when, True)] if when else [],
    )
    return file.getvalue()


TIFF = Format(
    name="tiff",
    title="TIFF files of 16 bits, numbered",
    takers="programs for photographs and for compositing",
    containers=("zip",),
    encoder="tiff",
    codec="tif",
    samples=Samples("444", 16),
    way="numbered",
    bits_a_pixel=36.0,
    fps=3.0,
    intra=True,
    psnr_floor_db=99.0,
)
FORMATS = (TIFF,)
