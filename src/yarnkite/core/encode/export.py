"""Numbered export: pictures written as files of a sequence, with their time and a colour profile."""

import io
import zlib
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Annotated, Literal

import imagecodecs
import numpy as np
import simplejpeg
import tifffile
from PIL import Image
from pydantic import Field

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.capture_time import local_time
from yarnkite.core.base.frozen import Frozen
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.decode import read_still
from yarnkite.core.image.icc import srgb
from yarnkite.core.image.pixels import ImageArray, as_eight, as_sixteen, is_deep
from yarnkite.core.image.png import png_chunk
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, SharedLight
from yarnkite.core.light.noise import over_time
from yarnkite.core.move.travel import Sides
from yarnkite.core.render.picture import fitted
from yarnkite.core.render.recipe import NO_CORRECTION, Correction

Format = Literal["JPEG", "PNG", "TIFF"]
ENDINGS: dict[Format, str] = {"JPEG": "jpg", "PNG": "png", "TIFF": "tif"}
# Bytes a pixel takes at the most likely, for asking whether there is room.
BYTES_A_PIXEL: dict[Format, float] = {"JPEG": 0.9, "PNG": 2.4, "TIFF": 6.0}


class Writing(Frozen):
    """How pictures are written; ``fit`` is ``None`` for pictures as they were shot."""

    format: Format = "JPEG"
    quality: Annotated[int, Field(ge=50, le=100)] = 95
    fit: Fit | None = None


@dataclass(frozen=True)
class ExportCorrection:
    """What a fitted still gets, what it shares with the others, and the stills it is averaged with.

    ``region`` is the part of the turned still that all steadied ones cover.
    """

    own: Correction = NO_CORRECTION
    shared: SharedLight = NO_SHARED_LIGHT
    beside: tuple[tuple[Still, Correction], ...] = ()
    region: Sides | None = None


AS_SHOT = ExportCorrection()


def export_still(
    still: Still, writing: Writing, captured: datetime | None, path: Path, correction: ExportCorrection = AS_SHOT
) -> int:
    """Write one still into a new file; returns its bytes. ``correction`` is for one that is fitted.

    A PNG keeps the depth a still has, a TIFF has 16 bits a channel, a JPEG 8. Raises ``UnreadableStill`` or ``NoRoom``.
    """
    image = read_still(still).array if writing.fit is None else _fitted(still, writing.fit, correction)
    data = _encoded(image, writing, captured)
    modified_ns = None if captured is None else round(captured.timestamp() * 1e9)
    write_completed(path, data, exclusive=True, modified_ns=modified_ns)
    return len(data)


def _fitted(still: Still, fit: Fit, correction: ExportCorrection) -> ImageArray:
    every = ((still, correction.own), *correction.beside)
    own, *others = (
        fitted(one, fit, fit.size, correction=alone, light=correction.shared, region=correction.region)
        for one, alone in every
    )
    return over_time(own, others) if others else own


def with_time(jpeg: bytes, captured: datetime | None) -> bytes:
    """Put the capture time (Exif 2.32 §4.5.4) and the sRGB profile (ICC.1 annex B.4) into a bare JPEG."""
    segments = ((b"\xff\xe1", _exif(captured).tobytes()), (b"\xff\xe2", b"ICC_PROFILE\0\x01\x01" + srgb()))
    written = b"".join(marker + (len(data) + 2).to_bytes(2) + data for marker, data in segments)
    return jpeg[:2] + written + jpeg[2:]


def _encoded(image: ImageArray, writing: Writing, captured: datetime | None) -> bytes:
    exif = _exif(captured)
    file = io.BytesIO()
    if writing.format == "JPEG":
        jpeg = simplejpeg.encode_jpeg(
            np.ascontiguousarray(as_eight(image)),
            quality=writing.quality,
            colorsubsampling="444" if writing.quality > 90 else "420",
        )
        return with_time(jpeg, captured)
    if writing.format == "PNG":
        if is_deep(image):
            return with_chunks(bytes(imagecodecs.png_encode(np.ascontiguousarray(image), level=2)), exif, srgb())
        Image.fromarray(as_eight(image)).save(file, "PNG", exif=exif, icc_profile=srgb(), compress_level=2)
        return file.getvalue()
    sixteen = as_sixteen(image)
    when = exif.get(0x0132)
    tags = [(36867, 2, 20, when, True)] if when else []
    tifffile.imwrite(
        file,
        sixteen,
        photometric="rgb",
        compression="zlib",
        compressionargs={"level": 1},
        predictor=True,
        iccprofile=srgb(),
        datetime=when,
        metadata=None,
        software=False,
        extratags=tags,
    )
    return file.getvalue()


def with_chunks(png: bytes, exif: Image.Exif, profile: bytes) -> bytes:
    """Put Exif data and a colour profile into a bare PNG, ahead of its pixels (ISO/IEC 15948, 11.3.3.3 and 11.3.2)."""
    header_end = 8 + 25
    written = png_chunk(b"iCCP", b"sRGB\0\0" + zlib.compress(profile))
    written += png_chunk(b"eXIf", exif.tobytes().removeprefix(b"Exif\0\0"))
    return png[:header_end] + written + png[header_end:]


def _exif(captured: datetime | None) -> Image.Exif:
    exif = Image.Exif()
    exif[0x0112] = 1
    if captured is None:
        return exif
    when = f"{captured:%Y:%m:%d %H:%M:%S}"
    exif[0x0132] = when
    detail = exif.get_ifd(0x8769)
    detail[0x9003] = detail[0x9004] = when
    detail[0xA001] = 1
    if captured.microsecond:
        detail[0x9291] = f"{captured.microsecond // 1000:03}"
    _, minutes = local_time(captured)
    if minutes is not None:
        detail[0x9011] = f"{'-' if minutes < 0 else '+'}{abs(minutes) // 60:02}:{abs(minutes) % 60:02}"
    return exif
