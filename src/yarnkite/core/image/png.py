"""Chunks of PNG files, for what a library does not write or writes slowly."""

import struct
import zlib


def png_chunk(name: bytes, data: bytes) -> bytes:
    """Return a chunk of a PNG file: length, name, data and check sum (ISO/IEC 15948, 5.3)."""
    return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))
