"""Reading a still: its header without decoding, its pixels upright at the smallest sufficient scale."""

import io
from dataclasses import dataclass
from datetime import datetime, timedelta, timezone
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import simplejpeg
import tifffile
from numpy.typing import NDArray
from PIL import Image

from yarnkite.core.errors import UnreadableStill
from yarnkite.core.formats import Kind, description, kind_of
from yarnkite.core.recipe import Still

ImageArray = NDArray[np.uint8]

MOST_PIXELS = 180_000_000
MOST_BYTES = 2_000_000_000
_SCALES = (8, 4, 2)
_EXIF_IFD, _ORIENTATION, _DATE_TIME, _SUB_SECONDS, _OFFSET = 0x8769, 0x0112, 0x9003, 0x9291, 0x9011
# Pillow's own limit would refuse large but honest stills; sizes are checked here before anything is decoded.
Image.MAX_IMAGE_PIXELS = None


@dataclass(frozen=True)
class Header:
    """What a file says about its picture; width and height are upright, in pixels."""

    kind: Kind
    width: int
    height: int
    orientation: int
    mode: str
    bits: int
    captured: datetime | None


@dataclass(frozen=True)
class Pixels:
    """Upright RGB pixels, shape (height, width, 3); each stands for ``reduction``² pixels of the still."""

    array: ImageArray
    reduction: int


def read_still(still: Still, reduction: Fraction = Fraction(1)) -> Pixels:
    """Read a still of a recipe; see ``decode``."""
    path = Path(still.path)
    data = read_bytes(path)
    header = read_header(data, path.name)
    if (header.width, header.height) != (still.width, still.height):
        raise UnreadableStill(
            "still_changed",
            f"“{path.name}” is {header.width} × {header.height} now and was {still.width} × {still.height} when it "
            "was gathered. Put the first file back, or gather the folder again.",
        )
    return decode(data, header, path.name, reduction)


def read_bytes(path: Path) -> bytes:
    """Return a file's bytes; raises ``UnreadableStill`` that says why not and what to do."""
    name = path.name
    try:
        size = path.stat().st_size
        if size == 0:
            raise UnreadableStill("empty", f"“{name}” is empty (0 bytes). Copy it again from the card.")
        if size > MOST_BYTES:
            raise UnreadableStill("too_large", f"“{name}” is {size / 1e9:.1f} GB; a still may have up to 2 GB.")
        return path.read_bytes()
    except FileNotFoundError:
        raise UnreadableStill("lost", f"“{name}” is no longer in {path.parent}. Put it back there.") from None
    except PermissionError:
        raise UnreadableStill(
            "no_permission", f"“{name}” may not be read. Give yourself permission to read it, then gather again."
        ) from None
    except OSError as error:
        raise UnreadableStill("unreadable", f"“{name}” cannot be read: {error.strerror}. Check the disk.") from None


def read_header(data: bytes, name: str) -> Header:
    """Read size, kind, orientation and capture time; raises ``UnreadableStill`` for what is not a usable still."""
    suffix = name[name.rfind(".") :] if "." in name else ""
    kind = kind_of(data[:16], suffix)
    if kind is None:
        raise UnreadableStill("not_a_still", f"“{name}” was left out: it is a {description(name)}.")
    try:
        with Image.open(io.BytesIO(data), formats=[kind]) as image:
            width, height, mode = image.width, image.height, image.mode
            _check_size(width, height, name)
            bits = _bits(image, kind)
            # A PNG without Exif ahead of its pixels would be decoded whole in search of it.
            exif = Image.Exif() if kind == "PNG" and "exif" not in image.info else image.getexif()
            orientation = exif.get(_ORIENTATION, 1)
            captured = _capture_time(exif)
    except UnreadableStill:
        raise
    except Exception as error:
        # Parsers meet hostile bytes here and raise whatever they like; each such file gets its sentence.
        raise _damaged(name, kind, error) from None
    if orientation not in range(1, 9):
        orientation = 1
    if orientation >= 5:
        width, height = height, width
    return Header(kind, width, height, orientation, mode, bits, captured)


def decode(data: bytes, header: Header, name: str, reduction: Fraction = Fraction(1)) -> Pixels:
    """Decode upright RGB pixels.

    ``reduction`` is how many still pixels one wanted pixel covers: a JPEG is decoded at 1/2, 1/4 or 1/8 where that
    is still at least as fine as wanted. Raises ``UnreadableStill`` for damaged data.
    """
    try:
        if header.kind == "JPEG" and header.mode in ("RGB", "L"):
            array, divisor = _decode_jpeg(data, header, name, reduction)
        elif header.kind == "TIFF" and header.bits == 16:
            array, divisor = _eight_bit_rgb(tifffile.imread(io.BytesIO(data), key=0)), 1
        else:
            array, divisor = _decode_with_pillow(data, header), 1
    except UnreadableStill:
        raise
    except Exception as error:
        raise _damaged(name, header.kind, error) from None
    return Pixels(_upright(array, header.orientation), divisor)


def _check_size(width: int, height: int, name: str) -> None:
    if width * height > MOST_PIXELS:
        raise UnreadableStill(
            "too_many_pixels",
            f"“{name}” says it has {width} × {height} pixels; up to {MOST_PIXELS // 1_000_000} million are read. "
            "Make it smaller, or leave it out.",
        )


def _bits(image: Image.Image, kind: Kind) -> int:
    if kind == "TIFF":
        samples = getattr(image, "tag_v2", {}).get(258, (8,))
        return int(max(samples) if isinstance(samples, tuple) else samples)
    return 16 if image.mode.startswith("I") else 8


def _capture_time(exif: Image.Exif) -> datetime | None:
    detail = exif.get_ifd(_EXIF_IFD)
    text = str(detail.get(_DATE_TIME, "")).strip("\0 ")
    try:
        captured = datetime.strptime(text, "%Y:%m:%d %H:%M:%S")
        digits = str(detail.get(_SUB_SECONDS, "")).strip("\0 ")
        if digits.isdecimal():
            captured += timedelta(microseconds=round(float(f"0.{digits}") * 1e6))
        offset = str(detail.get(_OFFSET, "")).strip("\0 ")
        if len(offset) == 6 and offset[0] in "+-":
            minutes = int(offset[1:3]) * 60 + int(offset[4:6])
            captured = captured.replace(tzinfo=timezone(timedelta(minutes=-minutes if offset[0] == "-" else minutes)))
    except (ValueError, OverflowError):
        return None
    return captured


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


def _decode_with_pillow(data: bytes, header: Header) -> ImageArray:
    with Image.open(io.BytesIO(data), formats=[header.kind]) as image:
        image.load()
        if image.mode.startswith("I") or image.mode == "F":
            return _eight_bit_rgb(np.asarray(image))
        if image.mode in ("RGBA", "LA", "PA", "La", "RGBa") or "transparency" in image.info:
            opaque = Image.new("RGBA", image.size, (0, 0, 0, 255))
            opaque.alpha_composite(image.convert("RGBA"))
            return np.asarray(opaque.convert("RGB"))
        return np.asarray(image.convert("RGB"))


def _eight_bit_rgb(array: NDArray[np.generic]) -> ImageArray:
    """Turn grey, RGB or RGBA samples of any integer depth into (height, width, 3), uint8."""
    if array.ndim == 3 and array.shape[0] in (3, 4) and array.shape[2] not in (3, 4):
        array = np.moveaxis(array, 0, 2)
    if array.ndim == 2:
        array = np.repeat(array[:, :, None], 3, axis=2)
    if array.ndim != 3 or array.shape[2] < 3:
        raise ValueError(f"samples of shape {array.shape}")
    array = array[:, :, :3]
    if array.dtype == np.uint8:
        return np.ascontiguousarray(array, dtype=np.uint8)
    if array.dtype.kind == "f":
        return (np.clip(np.nan_to_num(array.astype(np.float32)), 0, 1) * 255 + 0.5).astype(np.uint8)
    return ((np.clip(array.astype(np.int64), 0, 65535) * 255 + 32767) // 65535).astype(np.uint8)


_TURNS = {3: cv2.ROTATE_180, 6: cv2.ROTATE_90_CLOCKWISE, 8: cv2.ROTATE_90_COUNTERCLOCKWISE}


def _upright(array: ImageArray, orientation: int) -> ImageArray:
    """Turn stored pixels upright after the Exif orientation tag (1–8, Exif 2.32 §4.6.4)."""
    if orientation == 1:
        return array
    if orientation in _TURNS:
        return np.asarray(cv2.rotate(array, _TURNS[orientation]), dtype=np.uint8)
    if orientation in (5, 7):
        array = np.asarray(cv2.transpose(array), dtype=np.uint8)
        return array if orientation == 5 else np.asarray(cv2.flip(array, -1), dtype=np.uint8)
    return np.asarray(cv2.flip(array, 1 if orientation == 2 else 0), dtype=np.uint8)


def _damaged(name: str, kind: Kind, error: Exception) -> UnreadableStill:
    if "truncated" in str(error).lower():
        return UnreadableStill(
            "truncated", f"“{name}” ends early: part of the picture is missing. Copy it again from the card."
        )
    return UnreadableStill(
        "damaged", f"“{name}” begins like a {kind} but cannot be decoded. Copy it again from the card."
    )
