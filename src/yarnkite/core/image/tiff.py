"""TIFF files with more than eight bits a sample: what they say, and their samples, read strip by strip or tile by
tile."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, BinaryIO

import numpy as np
import tifffile
from numpy.typing import NDArray

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.image.pixels import SixteenBit

_GREY_WHITE, _GREY_BLACK, _RGB = 0, 1, 2
_ICC, _ORIENTATION = 34675, 274
_BAND = 256
_BUFFER = 2**24
# Half floats written from 8 bits are off by this much.
_ROUNDING = 0.001
Samples = NDArray[np.generic]


@dataclass(frozen=True)
class TiffSays:
    """What a TIFF says of its first picture, as stored: size in pixels, bits a sample, the rest of Exif's tags.

    ``segment_bytes`` is how much its largest strip or tile takes once it is read.
    """

    width: int
    height: int
    bits: int
    orientation: int
    profile: bytes | None
    tags: dict[int, Any]
    segment_bytes: int


def tiff_says(file: BinaryIO) -> TiffSays:
    """Return what a TIFF says; raises whatever the reader does on broken files."""
    with tifffile.TiffFile(file) as tiff:
        page: Any = tiff.pages[0]
        tags = {tag.code: tag.value for tag in page.tags.values()}
        exif = tags.get(34665)
        bits = page.bitspersample if isinstance(page.bitspersample, int) else max(page.bitspersample)
        return TiffSays(
            width=page.imagewidth,
            height=page.imagelength,
            bits=bits,
            orientation=int(tags.get(_ORIENTATION, 1)) if isinstance(tags.get(_ORIENTATION, 1), int) else 1,
            profile=tags.get(_ICC) if isinstance(tags.get(_ICC), bytes) else None,
            tags=tags | (_by_number(exif) if isinstance(exif, dict) else {}),
            segment_bytes=0
            if _lies_plain(page)
            else int(np.prod(page.chunks)) * (page.dtype.itemsize if page.dtype else 1),
        )


def read_sixteen(file: BinaryIO, name: str) -> tuple[SixteenBit, bool]:
    """Return the first picture of a TIFF as stored, its samples of whatever depth as 16 bits.

    Returns
    -------
    uint16, RGB, shape (height, width, 3); and whether light in floating point went beyond 0 … 1, where it is cut off

    Raises
    ------
    UnreadableStill for a picture that is neither RGB nor grey
    """
    with tifffile.TiffFile(file) as tiff:
        page: Any = tiff.pages[0]
        bits = page.bitspersample if isinstance(page.bitspersample, int) else max(page.bitspersample)
        if page.photometric not in (_GREY_WHITE, _GREY_BLACK, _RGB) or page.imagedepth != 1:
            raise UnreadableStill(
                "kind_not_read",
                f"“{name}” is a {bits}-bit TIFF of a kind that is not read: neither RGB nor grey. Save it as RGB.",
            )
        colours = 3 if page.photometric == _RGB and page.samplesperpixel >= 3 else 1
        result = np.zeros((page.imagelength, page.imagewidth, 3), np.uint16)
        apart = page.planarconfig == tifffile.PLANARCONFIG.SEPARATE and colours == 3
        cut = False
        for plane, top, left, part in _parts(tiff, page):
            if plane >= colours:
                continue
            cut = cut or _goes_beyond(part)
            where = result[top : top + part.shape[0], left : left + part.shape[1]]
            if apart:
                where[:, :, plane] = _sixteen(part[:, :, 0], bits)
            else:
                where[:] = _sixteen(part[:, :, :colours], bits)
        if page.photometric == _GREY_WHITE:
            np.invert(result, out=result)
        return result, cut


def _goes_beyond(samples: Samples) -> bool:
    """Tell whether light in floating point is darker than black, brighter than white, or no number."""
    if samples.dtype.kind != "f" or not samples.size:
        return False
    # A comparison with what is no number is false.
    return not (float(samples.min()) >= -_ROUNDING and float(samples.max()) <= 1 + _ROUNDING)


def _parts(tiff: tifffile.TiffFile, page: Any) -> Iterator[tuple[int, int, int, Samples]]:
    """Yield the plane, top, left and samples, shape (height, width, samples), of one part of a picture after
    another."""
    if _lies_plain(page):
        yield from _bands(tiff, page)
        return
    for decoded, index, shape in page.segments(maxworkers=1, buffersize=_BUFFER):
        if decoded is None:
            continue
        plane, _, top, left, _ = index
        height, width = min(shape[1], page.imagelength - top), min(shape[2], page.imagewidth - left)
        yield plane, top, left, decoded.reshape(decoded.shape[-4:])[0, :height, :width]


def _lies_plain(page: Any) -> bool:
    """Tell whether a picture's samples lie in the file one after another as they are, so that a few rows can be
    read."""
    return bool(page.is_contiguous and page.predictor == 1 and page.fillorder == 1 and not page.is_tiled)


def _bands(tiff: tifffile.TiffFile, page: Any) -> Iterator[tuple[int, int, int, Samples]]:
    planes = page.samplesperpixel if page.planarconfig == tifffile.PLANARCONFIG.SEPARATE else 1
    samples = 1 if planes > 1 else page.samplesperpixel
    kind = page.dtype.newbyteorder(tiff.byteorder)
    row = page.imagewidth * samples * kind.itemsize
    for plane in range(planes):
        for top in range(0, page.imagelength, _BAND):
            rows = min(_BAND, page.imagelength - top)
            tiff.filehandle.seek(page.dataoffsets[0] + (plane * page.imagelength + top) * row)
            data = tiff.filehandle.read(rows * row)
            if len(data) != rows * row:
                raise ValueError("image file is truncated")
            yield plane, top, 0, np.frombuffer(data, kind).reshape(rows, page.imagewidth, samples)


def _sixteen(samples: Samples, bits: int) -> NDArray[np.uint16]:
    """Return samples of any kind and depth as 16 bits; light in floating point is 0 … 1."""
    if samples.dtype.kind == "f":
        light = np.nan_to_num(samples.astype(np.float32), nan=0.0, posinf=1.0, neginf=0.0)
        return np.asarray(np.rint(np.clip(light, 0, 1) * 65535), np.uint16)
    if samples.dtype.kind == "i":
        samples = np.clip(samples, 0, None)
        bits -= 1
    if bits == 16:
        return np.asarray(samples, np.uint16)
    if bits > 16:
        return np.asarray(samples >> (bits - 16), np.uint16)  # type: ignore[operator]
    return np.asarray((samples.astype(np.uint32) * 65535 + (1 << (bits - 1))) // ((1 << bits) - 1), np.uint16)


def _by_number(exif: dict[Any, Any]) -> dict[int, Any]:
    """Return Exif tags, which the reader gives by name, by their numbers."""
    names = tifffile.TIFF.EXIF_TAGS
    result: dict[int, Any] = {}
    for name, value in exif.items():
        code = name if isinstance(name, int) else names.get(str(name), 0)
        if code:
            result[code] = value
    return result
