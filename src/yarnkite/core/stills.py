"""Reading a still's pixels, upright and in sRGB, at the smallest sufficient scale."""

import io
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any, TypeVar, cast

import cv2
import numpy as np
import rawpy
import simplejpeg
import tifffile
from numpy.typing import NDArray
from PIL import Image

from yarnkite.core.errors import UnreadableStill
from yarnkite.core.header import Header, damaged, read_header
from yarnkite.core.profile import cmyk_to_srgb, to_srgb
from yarnkite.core.recipe import Still

ImageArray = NDArray[np.uint8]
Samples = TypeVar("Samples", bound=NDArray[np.generic])

MOST_BYTES = 2_000_000_000
_SCALES = (8, 4, 2)


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


def decode(data: bytes, header: Header, name: str, reduction: Fraction = Fraction(1)) -> Pixels:
    """Decode upright RGB pixels in sRGB.

    ``reduction`` is how many still pixels one wanted pixel covers: a JPEG is decoded at 1/2, 1/4 or 1/8 where that
    is still at least as fine as wanted, a raw file at 1/2. Raises ``UnreadableStill`` for damaged data.
    """
    try:
        if header.kind == "JPEG" and header.mode in ("RGB", "L"):
            array, divisor = _decode_jpeg(data, header, name, reduction)
        elif header.kind == "RAW":
            array, divisor = _decode_raw(data, reduction)
        elif header.kind == "TIFF" and header.bits == 16:
            array, divisor = _eight_bit_rgb(tifffile.imread(io.BytesIO(data), key=0)), 1
        else:
            array, divisor = _decode_with_pillow(data, header), 1
    except UnreadableStill:
        raise
    except Exception as error:
        raise damaged(name, header.kind, error) from None
    if header.profile is not None and header.mode != "CMYK":
        array = to_srgb(array, header.profile)
    return Pixels(upright(array, header.orientation), divisor)


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
    with rawpy.imread(io.BytesIO(data)) as raw:
        array = raw.postprocess(
            half_size=half, use_camera_wb=True, no_auto_bright=True, output_bps=8, gamma=(2.4, 12.92)
        )
    return np.asarray(array, dtype=np.uint8), 2 if half else 1


def _decode_with_pillow(data: bytes, header: Header) -> ImageArray:
    with Image.open(io.BytesIO(data), formats=[header.kind]) as image:
        image.load()
        if image.mode == "CMYK" and header.profile is not None:
            return np.asarray(cmyk_to_srgb(image, header.profile))
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


def upright(array: Samples, orientation: int) -> Samples:
    """Turn stored pixels upright after the Exif orientation tag (1–8, Exif 2.32 §4.6.4)."""
    turned: Any = array
    if orientation in _TURNS:
        turned = cv2.rotate(turned, _TURNS[orientation])
    elif orientation in (5, 7):
        turned = cv2.transpose(turned)
        turned = turned if orientation == 5 else cv2.flip(turned, -1)
    elif orientation != 1:
        turned = cv2.flip(turned, 1 if orientation == 2 else 0)
    return cast(Samples, turned)
