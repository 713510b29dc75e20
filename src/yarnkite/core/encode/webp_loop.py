"""A loop as an animated WebP (RFC 9649), every frame encoded by itself.

An encoder that sends only what changed shows again what changed by a few steps: slow light would go in jumps, and stay
off by six steps over whole parts of a frame.
"""

import io
import struct
from collections.abc import Iterable
from fractions import Fraction
from pathlib import Path

from PIL import Image

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.image.pixels import EightBit

_ANIMATED, _FOR_EVER, _PUT_IN_PLACE = 0x02, 0, 0x02
# What a file of this kind may hold, and what one frame may last.
_MOST_BYTES, _LONGEST_MS = 2**32 - 2, 2**24 - 1
_EFFORT = 4


def write_webp(target: Path, size: Size, rate: Fraction, pictures: Iterable[EightBit], quality: float) -> None:
    """Write pictures, sRGB, uint8, shape (height, width, 3), as a loop that never ends; ``quality`` is 0 … 100.

    Pictures that are equal are one that lasts longer. Raises ``Refusal`` (``loop_too_large``).
    """
    with target.open("wb") as file:
        file.write(b"RIFF\0\0\0\0WEBP")
        file.write(_chunk(b"VP8X", struct.pack("<I", _ANIMATED) + _three(size.width - 1) + _three(size.height - 1)))
        file.write(_chunk(b"ANIM", struct.pack("<IH", 0, _FOR_EVER)))
        kept, since, count = b"", 0, 0
        for count, picture in enumerate(pictures, 1):
            packed, now = _packed(picture, quality), _ms(count - 1, rate)
            if kept and (packed != kept or now - since > _LONGEST_MS):
                file.write(_frame(size, now - since, kept))
                since = now
            kept = packed
        file.write(_frame(size, _ms(count, rate) - since, kept))
        if (length := file.tell() - 8) > _MOST_BYTES:
            raise Refusal("loop_too_large", "A WebP holds at most 4 GB. Choose a smaller size, or another format.")
        file.seek(4)
        file.write(struct.pack("<I", length))


def _ms(frame: int, rate: Fraction) -> int:
    return round(frame / rate * 1000)


def _packed(picture: EightBit, quality: float) -> bytes:
    """Return the bitstream of a picture, without the file around it."""
    packed = io.BytesIO()
    Image.fromarray(picture).save(packed, "WEBP", quality=round(quality), method=_EFFORT)
    return packed.getvalue()[12:]


def _frame(size: Size, lasts_ms: int, packed: bytes) -> bytes:
    place = _three(0) + _three(0) + _three(size.width - 1) + _three(size.height - 1)
    return _chunk(b"ANMF", place + _three(lasts_ms) + bytes([_PUT_IN_PLACE]) + packed)


def _three(number: int) -> bytes:
    return number.to_bytes(3, "little")


def _chunk(name: bytes, data: bytes) -> bytes:
    return name + struct.pack("<I", len(data)) + data + b"\0" * (len(data) % 2)
