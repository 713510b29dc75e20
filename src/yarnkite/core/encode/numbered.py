"""Frames that are files each: encoded one by one, packed into one archive or put into a folder under numbers."""

import io
import zipfile
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import IO

import cv2
import imagecodecs
import numpy as np
import tifffile

from yarnkite.core.base.atomic import completed
from yarnkite.core.encode.decisions import Encode, FormatName
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.formats.exr import exr, read_exr
from yarnkite.core.encode.formats.jpeg import jpeg
from yarnkite.core.encode.formats.png import png
from yarnkite.core.encode.formats.still import StillFacts
from yarnkite.core.encode.formats.tiff import tiff
from yarnkite.core.image.dither import dithered
from yarnkite.core.image.icc import named_profile, to_srgb
from yarnkite.core.image.pixels import ImageArray

_FEWEST_DIGITS = 4


def encoded_still(picture: ImageArray, encode: Encode) -> bytes:
    """Return a frame as a picture file of the format that is decided."""
    format = format_of(encode)
    facts = StillFacts(round(format.number_of(encode)), None, encode.profile, encode.ppi)
    if format.name == "jpeg":
        return jpeg(picture, facts)
    if format.name == "exr":
        return exr(picture)
    if format.name == "tiff":
        return tiff(picture, facts)
    return png(picture if format.is_deep else dithered(picture), facts)


def names(stem: str, count: int, ending: str) -> list[str]:
    """Return the names of so many frames, numbered from 1 with as many digits as the last one needs, at least 4."""
    digits = max(_FEWEST_DIGITS, len(str(count)))
    return [f"{stem}_{number:0{digits}}.{ending}" for number in range(1, count + 1)]


def pack(parts: Sequence[Path], target: Path, wanted: Sequence[str]) -> Path:
    """Copy all frames of rendered chunks into one archive (ZIP, stored) under their names; raises ``DiskFull``."""
    with completed(target, durable=True) as unfinished, zipfile.ZipFile(unfinished, "w") as archive:
        for name, data in zip(wanted, frames_in(parts), strict=True):
            archive.writestr(zipfile.ZipInfo(name), data)
    return target


def frames_in(parts: Sequence[Path | IO[bytes]]) -> Iterator[bytes]:
    """Yield the files in archives, one after another, in the order they were written."""
    for part in parts:
        with zipfile.ZipFile(part) as archive:
            for name in archive.namelist():
                yield archive.read(name)


def read_frame(data: bytes, encode: Encode) -> ImageArray:
    """Read a written frame as a program would: its pixels in sRGB, 8 or 16 bits.

    Raises
    ------
    ValueError if it is not what was written
    """
    name: FormatName = encode.format
    if name == "exr":
        return read_exr(data)
    if name == "tiff":
        array = np.asarray(tifffile.imread(io.BytesIO(data)), np.uint16)
    elif name == "jpeg":
        decoded = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR | cv2.IMREAD_IGNORE_ORIENTATION)
        if decoded is None:
            raise ValueError("not a JPEG")
        array = np.asarray(decoded[..., ::-1], np.uint8)
    else:
        array = np.asarray(imagecodecs.png_decode(data))
    return array if encode.profile == "sRGB" else to_srgb(array, named_profile(encode.profile))
