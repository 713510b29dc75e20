"""Reading a still's pixels, upright and in sRGB, at the smallest sufficient scale."""

import io
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import BinaryIO

import numpy as np
import rawpy
import simplejpeg
from numpy.typing import NDArray
from PIL import Image

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.opened import OpenedFile, opened
from yarnkite.core.base.still import Still
from yarnkite.core.image.header import Header, damaged, read_header
from yarnkite.core.image.icc import cmyk_to_srgb, to_srgb
from yarnkite.core.image.memory import check_room
from yarnkite.core.image.pixels import ImageArray, Pixels, upright
from yarnkite.core.image.tiff import read_eight

_SCALES = (8, 4, 2)
_BAND = 256
_STREAMED_BYTES = 64_000_000
_TIFF_BEGINS = (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+")


def read_still(still: Still, reduction: Fraction = Fraction(1)) -> Pixels:
    """Read a still of a recipe; see ``decode``. Raises ``UnreadableStill`` if the file is not what was gathered."""
    path = Path(still.path)
    with opened(path) as file:
        check_same(still, file)
        header, data = header_and_data(file)
        if (header.width, header.height) != (still.width, still.height):
            raise UnreadableStill(
                "still_changed",
                f"“{path.name}” is {header.width} × {header.height} now and was {still.width} × {still.height} when it "
                "was gathered. Put the first file back, or gather the folder again.",
            )
        check_room(header, file.size, reduction, path.name)
        pixels = decode(data, header, path.name, reduction)
        file.check_unchanged()
    return pixels


def check_same(still: Still, file: OpenedFile) -> None:
    """Raise ``UnreadableStill`` (``still_changed``) if a file is not the one that was gathered.

    It is if its size and time of change are, or, where only the time is another, its bytes.
    """
    if still.bytes is None or (still.bytes, still.modified_ns) == (file.size, file.modified_ns):
        return
    if still.bytes != file.size or file.fingerprint() != still.fingerprint:
        raise UnreadableStill(
            "still_changed",
            f"“{file.path.name}” was changed since it was gathered. Gather the folder again, then go on.",
        )


def header_and_data(file: OpenedFile) -> tuple[Header, bytes | BinaryIO]:
    """Return what a file says, and its bytes; of a large TIFF the file itself, which is read as it is decoded."""
    begin = file.handle.read(4)
    if begin in _TIFF_BEGINS and file.size > _STREAMED_BYTES and file.path.suffix.lower() in (".tif", ".tiff"):
        return read_header(file.handle, file.path.name), file.handle
    data = file.read()
    return read_header(data, file.path.name), data


def decode(data: bytes | BinaryIO, header: Header, name: str, reduction: Fraction = Fraction(1)) -> Pixels:
    """Decode upright RGB pixels in sRGB.

    ``reduction`` is how many still pixels one wanted pixel covers: a JPEG is decoded at 1/2, 1/4 or 1/8 where that
    is still at least as fine as wanted, a raw file at 1/2. Raises ``UnreadableStill`` for damaged data.
    """
    try:
        if header.kind == "JPEG" and header.mode in ("RGB", "L") and isinstance(data, bytes):
            array, divisor = _decode_jpeg(data, header, name, reduction)
        elif header.kind == "RAW" and isinstance(data, bytes):
            array, divisor = _decode_raw(data, reduction)
        elif header.kind == "TIFF" and header.bits > 8:
            array, divisor = read_eight(_file(data), name), 1
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
    if header.profile is not None and header.mode != "CMYK":
        array = to_srgb(array, header.profile)
    return Pixels(upright(array, header.orientation), divisor)


def _file(data: bytes | BinaryIO) -> BinaryIO:
    file = io.BytesIO(data) if isinstance(data, bytes) else data
    file.seek(0)
    return file


def _decode_jpeg(data: bytes, header: Header, name: str, reduction: Fraction) -> tuple[ImageArray, int]:
    divisor = next((scale for scale in _SCALES if scale <= reduction), 1)
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


def _decode_raw(data: bytes, reduction: Fraction) -> tuple[ImageArray, int]:
    """Develop a raw file with the camera's own white balance and no brightening, so that stills stay comparable."""
    half = reduction >= 2
    return np.asarray(developed(data, bits=8, half=half), dtype=np.uint8), 2 if half else 1


def developed(data: bytes, *, bits: int, half: bool = False) -> NDArray[np.generic]:
    """Return a raw file developed, upright, RGB, shape (height, width, 3); a sensor without colours gives equal ones."""
    with rawpy.imread(io.BytesIO(data)) as raw:
        array = raw.postprocess(
            half_size=half, use_camera_wb=True, no_auto_bright=True, output_bps=bits, gamma=(2.4, 12.92)
        )
    if array.ndim == 2 or array.shape[2] == 1:
        return np.repeat(array.reshape(*array.shape[:2], 1), 3, axis=2)
    return np.asarray(array)


def _decode_with_pillow(file: BinaryIO, header: Header) -> ImageArray:
    with Image.open(file, formats=[header.kind]) as image:
        image.load()
        if image.mode == "CMYK" and header.profile is not None:
            return np.asarray(cmyk_to_srgb(image, header.profile))
        result = np.empty((image.height, image.width, 3), np.uint8)
        for top in range(0, image.height, _BAND):
            bottom = min(top + _BAND, image.height)
            result[top:bottom] = _eight_bit_rgb(image.crop((0, top, image.width, bottom)))
        return result


def _eight_bit_rgb(image: Image.Image) -> ImageArray:
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
