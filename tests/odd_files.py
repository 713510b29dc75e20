"""Broken and odd files of each kind, made by mutating whole ones: what a folder may hold after an accident or an
attack."""

import io
import os
import random
import struct
import zlib
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pillow_heif
import tifffile
from PIL import Image, ImageCms

from tests.conftest import BEGINS, exif, scene
from yarnkite.demo.dng import write_dng

pillow_heif.register_heif_opener()


def whole_files(folder: Path) -> dict[str, bytes]:
    """One sound file of each kind that is read, by a name with its ending."""
    picture = scene(96, 64)
    image = Image.fromarray(picture)
    tags = exif(BEGINS)
    made: dict[str, bytes] = {}

    def keep(name: str, **options: object) -> None:
        file = io.BytesIO()
        image.save(file, **options)
        made[name] = file.getvalue()

    keep("plain.jpg", format="JPEG", exif=tags)
    keep("progressive.jpg", format="JPEG", progressive=True, exif=tags)
    keep("plain.png", format="PNG", exif=tags)
    keep("plain.webp", format="WEBP", exif=tags)
    keep("plain.tif", format="TIFF", compression="tiff_lzw")
    keep("plain.heic", format="HEIF")
    keep("plain.avif", format="AVIF")
    deep = (picture.astype(np.uint16) << 8) + 77
    for name, options in {
        "deep.tif": {"compression": "zlib", "predictor": True},
        "planes.tif": {"planarconfig": "separate"},
        "tiles.tif": {"tile": (32, 32), "compression": "lzw"},
        "float.tif": {},
    }.items():
        file = io.BytesIO()
        data = np.moveaxis(deep, 2, 0) if name == "planes.tif" else deep
        tifffile.imwrite(
            file, data.astype(np.float32) / 65535 if name == "float.tif" else data, photometric="rgb", **options
        )
        made[name] = file.getvalue()
    write_dng(folder / "raw.dng", picture, "Marrow Lantern", BEGINS)
    made["raw.dng"] = (folder / "raw.dng").read_bytes()
    (folder / "raw.dng").unlink()
    return made


def mutations(data: bytes, count: int, seed: int) -> Iterator[bytes]:
    """Damage a file in ways disks, cables and ill will do: cut, flipped, overwritten, doubled, with lying numbers."""
    chance = random.Random(seed)
    for number in range(count):
        hurt = bytearray(data)
        match number % 6:
            case 0:
                hurt = hurt[: chance.randrange(1, len(hurt))]
            case 1:
                for _ in range(chance.randrange(1, 12)):
                    hurt[chance.randrange(len(hurt))] ^= 1 << chance.randrange(8)
            case 2:
                at = chance.randrange(min(400, len(hurt)))
                hurt[at : at + 4] = struct.pack(
                    chance.choice("<>") + "I", chance.choice((0, 1, 65535, 2**31 - 1, 2**32 - 1))
                )
            case 3:
                at, length = chance.randrange(len(hurt)), chance.randrange(1, 600)
                hurt[at : at + length] = bytes(min(length, len(hurt) - at))
            case 4:
                at = chance.randrange(len(hurt))
                hurt[at:at] = hurt[at : at + chance.randrange(1, 300)]
            case _:
                at = chance.randrange(min(300, len(hurt)))
                hurt[at] = chance.randrange(256)
        yield bytes(hurt)


def png(
    width: int, height: int, *extra: tuple[bytes, bytes], depth: int = 8, colour: int = 2, data: bytes = b""
) -> bytes:
    """A PNG with any header and further chunks before its pixels."""

    def box(name: bytes, body: bytes) -> bytes:
        return struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body))

    header = struct.pack(">IIBBBBB", width, height, depth, colour, 0, 0, 0)
    middle = b"".join(box(name, body) for name, body in extra)
    pixels = zlib.compress(data or bytes(1000))
    return b"\x89PNG\r\n\x1a\n" + box(b"IHDR", header) + middle + box(b"IDAT", pixels) + box(b"IEND", b"")


def _saved(image: Image.Image, kind: str, **options: object) -> bytes:
    file = io.BytesIO()
    image.save(file, kind, **options)
    return file.getvalue()


def _dated(text: str, offset: str) -> bytes:
    tags = Image.Exif()
    detail = tags.get_ifd(0x8769)
    detail[0x9003], detail[0x9011] = text, offset
    return _saved(Image.fromarray(scene(96, 64)), "JPEG", exif=tags)


def odd_files() -> dict[str, bytes]:
    """Files that are whole, or nearly, and still not what a still is; each took a shot down once."""
    small = Image.fromarray(scene(96, 64))
    srgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    broken = bytearray(srgb)
    broken[300:420] = b"\xff" * 120
    bomb = zlib.compress(bytes(40_000_000))
    return {
        "broken-profile.jpg": _saved(small, "JPEG", icc_profile=bytes(broken)),
        "no-profile.jpg": _saved(small, "JPEG", icc_profile=b"this is no profile at all"),
        "short-profile.png": _saved(small, "PNG", icc_profile=srgb[:200]),
        "print-profile.jpg": _saved(small.convert("CMYK"), "JPEG", icc_profile=bytes(broken)),
        "one-pixel.jpg": _saved(Image.new("RGB", (1, 1)), "JPEG"),
        "one-pixel.png": _saved(Image.new("RGB", (1, 1)), "PNG"),
        "one-line.png": _saved(Image.new("RGB", (3000, 1)), "PNG"),
        "ribbon.png": _saved(Image.new("RGB", (70_000, 20)), "PNG"),
        "tower.jpg": _saved(Image.new("RGB", (17, 20_000)), "JPEG"),
        "year-1.jpg": _dated("0001:01:01 00:00:00", "+14:00"),
        "year-9999.jpg": _dated("9999:12:31 23:59:59", "-12:00"),
        "strange-offset.jpg": _dated("2031:05:04 09:30:00", "+99:99"),
        "bomb.png": png(30_000, 5_900, depth=16, colour=6),
        "grey-bomb.png": png(17_000, 10_000, depth=16, colour=0),
        "text-bomb.png": png(96, 64, (b"zTXt", b"note\0\0" + bomb)),
        "profile-bomb.png": png(96, 64, (b"iCCP", b"icc\0\0" + bomb)),
        "empty.jpg": b"",
        "only-a-marker.jpg": b"\xff\xd8\xff",
        "page.png": b"<!doctype html><title>404</title>",
        "deep-nonsense.tif": b"II*\0" + os.urandom(0) + bytes(range(256)) * 8,
        "endless.tif": b"II*\0\x08\0\0\0\x01\0\x00\x01\x04\0\x01\0\0\0\x10\0\0\0\x08\0\0\0",
    }
