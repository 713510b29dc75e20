"""Reading a still's pixels, upright, at the smallest sufficient scale: in sRGB, or as a raw file's camera saw it."""

import io
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from fractions import Fraction
from pathlib import Path
from typing import BinaryIO

import imagecodecs
import numpy as np
import pillow_heif
import simplejpeg
from numpy.typing import NDArray
from PIL import Image

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.safe_open import OpenedFile, safe_open
from yarnkite.core.base.still import Still
from yarnkite.core.image.camera_colour import CameraColour
from yarnkite.core.image.cicp import srgb_of
from yarnkite.core.image.header import Header, damaged, read_header
from yarnkite.core.image.icc import cmyk_to_srgb, to_srgb
from yarnkite.core.image.memory import check_room
from yarnkite.core.image.pixels import EightBit, ImageArray, Pixels, SixteenBit, upright
from yarnkite.core.image.raw import read_camera
from yarnkite.core.image.tiff import read_sixteen

SCALES = (8, 4, 2)
_BAND = 256
_STREAMED_BYTES = 64_000_000
_TIFF_BEGINS = (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+")


def read_still(still: Still, reduction: Fraction = Fraction(1)) -> Pixels:
    """Read a still of a recipe; see ``decode``.

    Parameters
    ----------
    reduction : how many pixels of the still one wanted pixel covers, 1 or more

    Returns
    -------
    upright, RGB, uint8 or uint16, at the wanted reduction or finer; those of a raw file linear camera colour

    Raises
    ------
    UnreadableStill if it cannot be read or is not what was gathered
    """
    with checked_data(still, reduction) as (header, data):
        return decode(data, header, Path(still.path).name, reduction)


@contextmanager
def checked_data(still: Still, reduction: Fraction) -> Iterator[tuple[Header, bytes | BinaryIO]]:
    """Give what a still's file says and its bytes (``header_and_data``), if it is what was gathered.

    Raises ``UnreadableStill`` also if the file is written to until the block ends, or would take too much memory.
    """
    path = Path(still.path)
    with safe_open(path) as file:
        check_same(still, file)
        header, data = header_and_data(file)
        if (header.width, header.height) != (still.width, still.height):
            raise UnreadableStill(
                "still_changed",
                f"“{path.name}” is {header.width} × {header.height} now and was {still.width} × {still.height} when it "
                "was gathered. Put the first file back, or gather the folder again.",
            )
        check_room(header, file.size, reduction, path.name)
        yield header, data
        file.check_unchanged()


def check_same(still: Still, file: OpenedFile) -> None:
    """Raise ``UnreadableStill`` (``still_changed``) if a file is not the one that was gathered.

    It is if its size and times of change are, or, where only a time is another, its bytes.
    """
    if is_as_gathered(still, file.size, file.modified_ns, file.changed_ns):
        return
    if still.bytes != file.size or not file.has(still.fingerprint):
        raise UnreadableStill(
            "still_changed",
            f"“{file.path.name}” was changed since it was gathered. Gather the folder again, then go on.",
        )


def is_as_gathered(still: Still, size: int, modified_ns: int, changed_ns: int) -> bool:
    """Tell whether a file's size and times are those of a still's file when it was gathered, as far as they were
    noted."""
    if still.bytes is None:
        return True
    same = (still.bytes, still.modified_ns) == (size, modified_ns)
    return same and still.changed_ns in (None, changed_ns)


def header_and_data(file: OpenedFile) -> tuple[Header, bytes | BinaryIO]:
    """Return what a file says, and its bytes; of a large TIFF the file itself, which is read as it is decoded."""
    begin = file.handle.read(4)
    if begin in _TIFF_BEGINS and file.size > _STREAMED_BYTES and file.path.suffix.lower() in (".tif", ".tiff"):
        return read_header(file.handle, file.path.name), file.handle
    data = file.read()
    return read_header(data, file.path.name), data


def decode(data: bytes | BinaryIO, header: Header, name: str, reduction: Fraction = Fraction(1)) -> Pixels:
    """Decode upright RGB pixels, with all the depth the file has.

    Parameters
    ----------
    data : the bytes of the file, or the file itself
    reduction : how many still pixels one wanted pixel covers; a JPEG is decoded at 1/2, 1/4 or 1/8 where that is still
        at least as fine as wanted, a raw file at 1/2

    Returns
    -------
    Pixels, uint8 or, of files with more bits, uint16; sRGB, those of a raw file linear camera colour (``developed``)

    Raises
    ------
    UnreadableStill for damaged data
    """
    camera: CameraColour | None = None
    array: ImageArray
    cut = False
    try:
        if header.kind == "JPEG" and header.mode in ("RGB", "L") and isinstance(data, bytes):
            array, divisor = _decode_jpeg(data, header, name, reduction)
        elif header.kind == "RAW" and isinstance(data, bytes):
            seen = read_camera(data, half=reduction >= 2)
            array, divisor, camera = seen.array, seen.reduction, seen.camera
        elif header.kind == "TIFF" and header.bits > 8:
            (array, cut), divisor = read_sixteen(_file(data), name), 1
        elif header.bits > 8:
            array, divisor = _decode_deep(data, header), 1
        else:
            array, divisor = _decode_with_pillow(_file(data), header), 1
    except UnreadableStill:
        raise
    except MemoryError:
        raise UnreadableStill(
            "needs_too_much_memory", f"“{name}” takes more memory to read than it should. Save it as an 8-bit JPEG."
        ) from None
    except Exception as error:
        raise damaged(name, header.kind, error) from None
    if header.code_points is not None:
        array = srgb_of(array, header.code_points)
    elif header.profile is not None and header.mode != "CMYK":
        array = to_srgb(array, header.profile)
    is_high = header.code_points is not None and header.code_points.is_high_range
    return Pixels(upright(array, header.orientation), divisor, camera, high_range=is_high, is_cut=cut)


def _file(data: bytes | BinaryIO) -> BinaryIO:
    file = io.BytesIO(data) if isinstance(data, bytes) else data
    file.seek(0)
    return file


def _decode_jpeg(data: bytes, header: Header, name: str, reduction: Fraction) -> tuple[EightBit, int]:
    divisor = next((scale for scale in SCALES if scale <= reduction), 1)
    stored = (header.height, header.width) if header.orientation < 5 else (header.width, header.height)
    least = {"min_height": -(-stored[0] // divisor), "min_width": -(-stored[1] // divisor)} if divisor > 1 else {}
    try:
        array = simplejpeg.decode_jpeg(data, colorspace="RGB", **least)
    except ValueError as error:
        if "premature" in str(error).lower() or b"\xff\xd9" not in data[-4096:]:
            raise UnreadableStill(
                "truncated", f"“{name}” ends early: part of the picture is missing. Copy it again from the card."
            ) from None
        # Some cameras write markers a strict reader dislikes although the picture is whole.
        array = simplejpeg.decode_jpeg(data, colorspace="RGB", strict=False, **least)
    return array, divisor


def _decode_deep(data: bytes | BinaryIO, header: Header) -> ImageArray:
    """Decode a file other than TIFF with more than eight bits a sample; 16 bits a sample, whatever it has."""
    whole = data if isinstance(data, bytes) else _file(data).read()
    if header.kind == "HEIF":
        image = pillow_heif.open_heif(whole, convert_hdr_to_8bit=False)
        return _opaque_rgb(np.asarray(image), 16)
    if header.kind == "AVIF":
        return _opaque_rgb(imagecodecs.avif_decode(whole), header.bits)
    return _opaque_rgb(imagecodecs.png_decode(whole), 16)


def _opaque_rgb(samples: NDArray[np.generic], bits: int) -> SixteenBit:
    """Return samples of so many bits, grey or RGB, with or without opacity, as RGB of 16 bits, over black."""
    array = np.asarray(samples, np.uint16).reshape(*samples.shape[:2], -1)
    colours = 3 if array.shape[2] >= 3 else 1
    if bits < 16:
        array = ((array.astype(np.uint32) * 65535 + (1 << (bits - 1))) // ((1 << bits) - 1)).astype(np.uint16)
    result = np.empty((*array.shape[:2], 3), np.uint16)
    result[:] = array[:, :, :colours]
    if array.shape[2] > colours:
        for top in range(0, array.shape[0], _BAND):
            rows = slice(top, top + _BAND)
            opacity = array[rows, :, colours:].astype(np.uint32)
            result[rows] = (result[rows] * opacity + 32767) // 65535
    return result


def _decode_with_pillow(file: BinaryIO, header: Header) -> EightBit:
    with Image.open(file, formats=[header.kind]) as image:
        image.load()
        if image.mode == "CMYK" and header.profile is not None:
            return np.asarray(cmyk_to_srgb(image, header.profile))
        result = np.empty((image.height, image.width, 3), np.uint8)
        for top in range(0, image.height, _BAND):
            bottom = min(top + _BAND, image.height)
            result[top:bottom] = _eight_bit_rgb(image.crop((0, top, image.width, bottom)))
        return result


def _eight_bit_rgb(image: Image.Image) -> EightBit:
    if image.mode.startswith("I"):
        samples = np.clip(np.asarray(image), 0, 65535).astype(np.uint32)
        return np.asarray(((samples * 255 + 32767) // 65535).astype(np.uint8)[:, :, None])
    if image.mode == "F":
        light = np.clip(np.nan_to_num(np.asarray(image)), 0, 1)
        return np.asarray((light * 255 + 0.5).astype(np.uint8)[:, :, None])
    if image.mode in ("RGBA", "LA", "PA", "La", "RGBa") or "transparency" in image.info:
        opaque = Image.new("RGBA", image.size, (0, 0, 0, 255))
        opaque.alpha_composite(image.convert("RGBA"))
        return np.asarray(opaque.convert("RGB"))
    return np.asarray(image.convert("RGB"))


Read = Callable[[Still, Fraction], Pixels]
