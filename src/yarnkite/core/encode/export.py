"""Numbered export: pictures written as files of a sequence, with their time and a colour profile."""

import io
from datetime import datetime
from fractions import Fraction
from pathlib import Path
from typing import Annotated, Literal

import numpy as np
import simplejpeg
import tifffile
from numpy.typing import NDArray
from PIL import Image
from pydantic import Field

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.capture_time import local_time
from yarnkite.core.base.frozen import Frozen
from yarnkite.core.base.opened import opened
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.decode import check_same, decode, developed, header_and_data, read_still
from yarnkite.core.image.icc import srgb
from yarnkite.core.image.memory import check_room
from yarnkite.core.image.pixels import upright
from yarnkite.core.image.tiff import read_sixteen
from yarnkite.core.render.picture import fitted

Format = Literal["JPEG", "PNG", "TIFF"]
ENDINGS: dict[Format, str] = {"JPEG": "jpg", "PNG": "png", "TIFF": "tif"}
# Bytes a pixel takes at the most likely, for asking whether there is room.
BYTES_A_PIXEL: dict[Format, float] = {"JPEG": 0.9, "PNG": 2.4, "TIFF": 6.0}


class Writing(Frozen):
    """How pictures are written; ``fit`` is ``None`` for pictures as they were shot."""

    format: Format = "JPEG"
    quality: Annotated[int, Field(ge=50, le=100)] = 95
    fit: Fit | None = None


def export_still(still: Still, writing: Writing, captured: datetime | None, path: Path) -> int:
    """Write one still into a new file; returns its bytes.

    A TIFF has 16 bits a channel, and keeps what a raw file or a 16-bit still holds if it is not fitted. Raises
    ``UnreadableStill`` or ``NoRoom``.
    """
    if writing.fit is not None:
        image: NDArray[np.generic] = fitted(still, writing.fit, writing.fit.size)
    elif writing.format == "TIFF":
        image = deep(still)
    else:
        image = read_still(still).array
    data = _encoded(image, writing, captured)
    modified_ns = None if captured is None else round(captured.timestamp() * 1e9)
    write_completed(path, data, exclusive=True, modified_ns=modified_ns)
    return len(data)


def deep(still: Still) -> NDArray[np.generic]:
    """Return a still with all the depth it has, upright: 16 bits from raw files and 16-bit TIFFs, else 8."""
    path = Path(still.path)
    with opened(path) as file:
        check_same(still, file)
        header, data = header_and_data(file)
        check_room(header, file.size, Fraction(1), path.name)
        if header.kind == "RAW" and isinstance(data, bytes):
            return developed(data, bits=16)
        if header.kind == "TIFF" and header.bits > 8 and header.profile is None:
            stream = io.BytesIO(data) if isinstance(data, bytes) else data
            stream.seek(0)
            return upright(read_sixteen(stream, path.name), header.orientation)
        return decode(data, header, path.name).array


def with_time(jpeg: bytes, captured: datetime | None) -> bytes:
    """Put the capture time (Exif 2.32 §4.5.4) and the sRGB profile (ICC.1 annex B.4) into a bare JPEG."""
    segments = ((b"\xff\xe1", _exif(captured).tobytes()), (b"\xff\xe2", b"ICC_PROFILE\0\x01\x01" + srgb()))
    written = b"".join(marker + (len(data) + 2).to_bytes(2) + data for marker, data in segments)
    return jpeg[:2] + written + jpeg[2:]


def _encoded(image: NDArray[np.generic], writing: Writing, captured: datetime | None) -> bytes:
    exif = _exif(captured)
    file = io.BytesIO()
    if writing.format == "JPEG":
        jpeg = simplejpeg.encode_jpeg(
            np.ascontiguousarray(image),
            quality=writing.quality,
            colorsubsampling="444" if writing.quality > 90 else "420",
        )
        return with_time(jpeg, captured)
    if writing.format == "PNG":
        Image.fromarray(np.asarray(image, np.uint8)).save(file, "PNG", exif=exif, icc_profile=srgb(), compress_level=2)
        return file.getvalue()
    sixteen = image.astype(np.uint16) * 257 if image.dtype == np.uint8 else image.astype(np.uint16)
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
