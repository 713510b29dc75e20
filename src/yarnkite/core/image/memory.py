"""How much memory reading a file may take: estimated before it is decoded, and held to while it is."""

import contextlib
import resource
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.image.header import Header

MOST_BYTES = 1_400_000_000
# Bytes a pixel of the still that decoders take at their highest, the result included; measured.
_PILLOW, _HEIF, _TIFF, _PNG_DEEP = 8, 14, 6, 10
_RAW, _RAW_HALF = 17, 6
_PROGRESSIVE = 6


def needed_bytes(header: Header, file_bytes: int, reduction: Fraction) -> int:
    """Return about how many bytes it takes to read a still whose file has ``file_bytes``, at a reduction."""
    pixels = header.width * header.height
    a_pixel = 6 if header.bits > 8 else 3
    turned = a_pixel * pixels if header.orientation in range(2, 9) else 0
    match header.kind:
        case "JPEG" if header.mode in ("RGB", "L"):
            divisor = max((scale for scale in (1, 2, 4, 8) if scale <= reduction), default=1)
            held = _PROGRESSIVE * pixels if header.progressive else 0
            return file_bytes + held + 2 * 3 * pixels // divisor**2
        case "RAW":
            return file_bytes + pixels * (_RAW_HALF if reduction >= 2 else _RAW)
        case "TIFF" if header.bits > 8:
            return _TIFF * pixels + header.segment_bytes + min(file_bytes, header.segment_bytes) + turned
        case "PNG" if header.bits > 8:
            return file_bytes + _PNG_DEEP * pixels + turned
        case "HEIF" | "AVIF":
            return file_bytes + _HEIF * pixels + turned
        case _:
            return file_bytes + _PILLOW * pixels + turned


def check_room(header: Header, file_bytes: int, reduction: Fraction, name: str) -> None:
    """Raise ``UnreadableStill`` (``needs_too_much_memory``) for a still that takes more than 1.4 GB to read."""
    needed = needed_bytes(header, file_bytes, reduction)
    if needed > MOST_BYTES:
        raise UnreadableStill(
            "needs_too_much_memory",
            f"“{name}” ({header.width} × {header.height}) would take {needed / 1e9:.1f} GB of memory to read; up to "
            f"{MOST_BYTES / 1e9:.1f} GB are used for one file. Save it as an 8-bit JPEG, or make it smaller.",
        )


@contextlib.contextmanager
def held_to(most_bytes: int) -> Iterator[None]:
    """Let this process take at most so many bytes more; what asks for more fails by itself (``MemoryError``).

    A decoder that trusts what a broken file says about itself is stopped by this and by nothing else.
    """
    soft, hard = resource.getrlimit(resource.RLIMIT_DATA)
    limit = _data_bytes() + most_bytes
    if hard != resource.RLIM_INFINITY:
        limit = min(limit, hard)
    resource.setrlimit(resource.RLIMIT_DATA, (limit, hard))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_DATA, (soft, hard))


def _data_bytes() -> int:
    for line in Path("/proc/self/status").read_text().splitlines():
        if line.startswith("VmData:"):
            return int(line.split()[1]) * 1024
    return 0
