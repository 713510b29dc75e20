"""Exif data put into a JPEG that has none."""

from PIL import Image


def with_exif(data: bytes, exif: Image.Exif) -> bytes:
    """Return a JPEG with Exif data as its first segment; ``data`` is a whole JPEG without any (Exif 2.32 §4.5.4)."""
    segment = exif.tobytes()
    return data[:2] + b"\xff\xe1" + (len(segment) + 2).to_bytes(2) + segment + data[2:]
