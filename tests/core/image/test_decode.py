"""Reading stills of every kind, and saying clearly why one cannot be read."""

import io
import os
import struct
import subprocess
import sys
import zlib
from datetime import timedelta
from fractions import Fraction

import imagecodecs
import numpy as np
import pillow_heif
import pytest
import tifffile
from PIL import Image, ImageOps

from tests.conftest import BEGINS, exif, scene, write_jpeg
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.safe_open import read_bytes
from yarnkite.core.base.still import Still
from yarnkite.core.image.decode import decode, read_still
from yarnkite.core.image.header import read_header
from yarnkite.core.image.icc import dcf_optional
from yarnkite.core.image.srgb import to_codes


def read(path, reduction=1):
    data = read_bytes(path)
    return decode(data, read_header(data, path.name), path.name, Fraction(reduction))


def close(one, other, most=3.0):
    return one.shape == other.shape and np.abs(one.astype(float) - other).mean() <= most


@pytest.mark.parametrize("orientation", range(1, 9))
@pytest.mark.parametrize("reduction", [1, 2])
def test_every_orientation_comes_out_upright(tmp_path, orientation, reduction):
    path = write_jpeg(tmp_path / "turned.jpg", size=(96, 64), orientation=orientation)
    with Image.open(path) as image:
        upright = np.asarray(ImageOps.exif_transpose(image))
    header = read_header(path.read_bytes(), path.name)
    assert (header.height, header.width) == upright.shape[:2]
    expected = upright.reshape(upright.shape[0] // reduction, reduction, upright.shape[1] // reduction, reduction, 3)
    assert close(read(path, reduction).array, expected.mean(axis=(1, 3)))


def save(path, picture, mode=None, **options):
    image = Image.fromarray(picture)
    (image.convert(mode) if mode else image).save(path, **options)


@pytest.mark.parametrize(
    ("name", "mode", "tolerance"),
    [
        ("grey.jpg", "L", 4),
        ("print.jpg", "CMYK", 6),
        ("plain.png", None, 0),
        ("palette.png", "P", 25),
        ("grey.png", "L", 1),
        ("plain.tif", None, 0),
        ("print.tif", "CMYK", 3),
        ("fax.png", "1", 0),
        ("fax.tif", "1", 0),
    ],
)
def test_kinds_and_colour_modes(tmp_path, name, mode, tolerance):
    path, picture = tmp_path / name, scene(90, 60)
    save(path, picture, mode)
    array = read(path).array
    assert array.shape == (60, 90, 3)
    assert array.dtype == np.uint8
    expected = picture if mode not in ("L", "1") else np.asarray(Image.fromarray(picture).convert(mode).convert("RGB"))
    assert close(array, expected, tolerance)


def test_sixteen_bits_are_kept(tmp_path):
    deep = (scene(90, 60).astype(np.uint16) << 8) + 77
    tifffile.imwrite(tmp_path / "deep.tif", deep, photometric="rgb", compression="lzw")
    tifffile.imwrite(tmp_path / "planes.tif", np.moveaxis(deep, 2, 0), photometric="rgb", planarconfig="separate")
    (tmp_path / "deep.png").write_bytes(imagecodecs.png_encode(deep))
    for name in ("deep.tif", "planes.tif", "deep.png"):
        assert (read(tmp_path / name).array == deep).all(), name
    tifffile.imwrite(tmp_path / "grey.tif", deep[:, :, 0], photometric="minisblack")
    Image.fromarray(deep[:, :, 0]).save(tmp_path / "grey.png")
    for name in ("grey.tif", "grey.png"):
        assert (read(tmp_path / name).array == deep[:, :, :1]).all(), name


@pytest.mark.parametrize(("bits", "most"), [(10, 130), (12, 40)])
def test_high_efficiency_pictures_keep_what_is_beyond_eight_bits(tmp_path, bits, most):
    # A slope of four steps of 8 bits over 256 columns has 16 or 64 levels here, and would have 5 there.
    slope = np.tile(np.linspace(20_000, 21_028, 256)[None, :, None], (64, 1, 3)).astype(np.uint16)
    step = 1 << (16 - bits)
    image = pillow_heif.from_bytes(mode="RGB;16", size=(256, 64), data=slope.tobytes())
    pillow_heif.options.SAVE_HDR_TO_12_BIT = bits == 12
    try:
        image.save(tmp_path / "deep.heif", quality=-1, chroma=444)
    finally:
        pillow_heif.options.SAVE_HDR_TO_12_BIT = False
    data = imagecodecs.avif_encode((slope >> (16 - bits)).copy(), level=100, bitspersample=bits, pixelformat="444")
    (tmp_path / "deep.avif").write_bytes(data)
    for name in ("deep.heif", "deep.avif"):
        header = read_header((tmp_path / name).read_bytes(), name)
        assert header.bits == bits, name
        array = read(tmp_path / name).array
        assert array.dtype == np.uint16
        assert np.abs(array.astype(int) - slope).max() <= most + step, name
        assert len(np.unique(array[:, :, 1])) > 8, name


def test_a_profile_is_applied_with_the_bits_there_are(tmp_path):
    """Against the formulas of the profile: its gamma and primaries, then the sRGB curve; far finer than 8 bits."""
    slope = np.tile(np.linspace(9_000, 10_300, 400)[None, :, None], (32, 1, 3)).astype(np.uint16)
    tifffile.imwrite(tmp_path / "wide.tif", slope, photometric="rgb", iccprofile=dcf_optional())
    array = read(tmp_path / "wide.tif").array
    assert array.dtype == np.uint16
    # A grey stays a grey: only the curve matters.
    expected = to_codes((slope / 65535.0) ** (563 / 256)) * 65535
    assert np.abs(array - expected).max() < 40
    assert len(np.unique(array[0, :, 1])) > 300


def test_what_is_see_through_becomes_black(tmp_path):
    picture = np.dstack([scene(40, 30), np.full((30, 40), 255, np.uint8)])
    picture[:, :20, 3] = 0
    save(tmp_path / "cut-out.png", picture)
    array = read(tmp_path / "cut-out.png").array
    assert (array[:, :20] == 0).all()
    assert (array[:, 20:] == picture[:, 20:, :3]).all()


def test_capture_time_has_its_fraction_and_its_offset(tmp_path):
    header = read_header(write_jpeg(tmp_path / "a.jpg", 3).read_bytes(), "a.jpg")
    assert header.captured is not None
    assert header.captured.replace(tzinfo=None) == BEGINS + timedelta(seconds=15, milliseconds=250)
    assert header.captured.utcoffset() == timedelta(hours=2)


@pytest.mark.parametrize("text", ["0000:00:00 00:00:00", "not a time", "2031:13:40 99:00:00", ""])
def test_a_senseless_capture_time_is_no_time(text):
    tags = exif()
    tags.get_ifd(0x8769)[0x9003] = text
    file = io.BytesIO()
    Image.fromarray(scene(40, 30)).save(file, "JPEG", exif=tags)
    assert read_header(file.getvalue(), "a.jpg").captured is None


def png_of(width, height):
    def box(name, data):
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + box(b"IHDR", header) + box(b"IDAT", zlib.compress(bytes(1000))) + box(b"IEND", b"")


def whole_jpeg():
    file = io.BytesIO()
    Image.fromarray(scene(480, 320)).save(file, "JPEG")
    return file.getvalue()


@pytest.mark.parametrize(
    ("name", "data", "code"),
    [
        ("empty.jpg", b"", "empty"),
        ("notes.jpg", b"these are notes, not a picture", "not_a_still"),
        ("cut.jpg", whole_jpeg()[:6000], "truncated"),
        ("stub.jpg", whole_jpeg()[:200], "truncated"),
        ("bomb.png", png_of(30_000, 30_000), "too_many_pixels"),
        ("short.png", png_of(900, 900), "truncated"),
        ("stub.tif", b"II*\0" + bytes(40), "damaged"),
        ("film.mov", b"\0\0\0\x14ftypqt  ", "not_a_still"),
        ("raw.dng", b"II*\0" + bytes(400), "damaged"),
        ("sea.heic", b"\0\0\0\x18ftypheic" + bytes(400), "damaged"),
    ],
    ids=lambda value: value if isinstance(value, str) and "." in value else "",
)
def test_a_file_that_cannot_be_a_still_is_named_with_the_reason(tmp_path, name, data, code):
    (tmp_path / name).write_bytes(data)
    with pytest.raises(UnreadableStill) as refusal:
        read(tmp_path / name)
    assert refusal.value.code == code
    assert f"“{name}”" in refusal.value.sentence


@pytest.mark.parametrize("cut", range(20, 700, 13))
def test_no_damage_to_the_first_bytes_ends_in_anything_but_a_sentence(tmp_path, cut):
    data = bytearray(whole_jpeg())
    data[cut : cut + 6] = b"\xff\x00\xfe\x10\xa5\x5a"
    path = tmp_path / "hurt.jpg"
    path.write_bytes(data)
    try:
        said = f"“hurt.jpg” {read(path).array.shape[2]}"
    except UnreadableStill as refusal:
        said = refusal.sentence
    assert "“hurt.jpg”" in said


def test_a_still_that_changed_or_vanished_is_named(tmp_path):
    path = write_jpeg(tmp_path / "a.jpg")
    with pytest.raises(UnreadableStill, match="was 500 × 320 when it was gathered"):
        read_still(Still(path=str(path), fingerprint="x", width=500, height=320))
    path.unlink()
    with pytest.raises(UnreadableStill, match="no longer in"):
        read_still(Still(path=str(path), fingerprint="x", width=480, height=320))


def test_a_file_without_permission_is_named(tmp_path):
    path = write_jpeg(tmp_path / "secret.jpg")
    path.chmod(0)
    tmp_path.chmod(0o755)
    code = (
        "import os, sys, pathlib\n"
        "from yarnkite.core.base.safe_open import read_bytes\n"
        "from yarnkite.core.base.errors import UnreadableStill\n"
        "os.setuid(65534) if os.getuid() == 0 else None\n"
        "try: read_bytes(pathlib.Path(sys.argv[1]))\n"
        "except UnreadableStill as refusal: print(refusal.code)\n"
    )
    for parent in tmp_path.parents:
        if (
            parent.owner() == path.owner()
            and parent != parent.parent
            and os.access(parent, os.W_OK)
            and len(parent.parts) > 2
        ):
            parent.chmod(parent.stat().st_mode | 0o055)
    said = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True, check=True)
    assert said.stdout.strip() == "no_permission"
