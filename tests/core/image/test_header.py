"""What files say about themselves, and colours brought to sRGB whatever space they were written in."""

import io
from datetime import datetime, timedelta, timezone

import numpy as np
import pytest
from PIL import Image, ImageCms

from tests.conftest import scene
from yarnkite.core.image.decode import decode
from yarnkite.core.image.header import read_header
from yarnkite.core.image.icc import dcf_optional, needs_conversion, srgb, to_srgb
from yarnkite.core.image.pixels import as_eight
from yarnkite.core.image.scene import developed
from yarnkite.core.image.srgb import to_codes
from yarnkite.demo.dng import shown_of, write_dng

CAPTURED = datetime(2031, 5, 4, 9, 30, 5, 250_000, timezone(timedelta(hours=2)))


def tags() -> Image.Exif:
    exif = Image.Exif()
    exif[0x010F], exif[0x0110], exif[0x0131] = "Marrow Optical", "Lantern 3", "Lantern 1.2"
    detail = exif.get_ifd(0x8769)
    detail[0x9003], detail[0x9291], detail[0x9011] = "2031:05:04 09:30:05", "250", "+02:00"
    detail[0x829A], detail[0x829D], detail[0x8827], detail[0x920A] = 0.004, 5.6, 400, 35.0
    detail[0xA431], detail[0xA434] = "00417", "Marrow 35/2"
    return exif


def written(kind: str, picture: np.ndarray, **more) -> bytes:
    file = io.BytesIO()
    Image.fromarray(picture).save(file, kind, exif=tags(), **more)
    return file.getvalue()


@pytest.mark.parametrize(
    ("kind", "ending", "most"),
    [("JPEG", "jpg", 6), ("WEBP", "webp", 8), ("HEIF", "heic", 8), ("AVIF", "avif", 8), ("PNG", "png", 0)],
)
def test_every_kind_gives_its_time_its_camera_and_its_pixels(kind, ending, most):
    picture = scene(320, 240)
    data = written(kind, picture, quality=92) if kind != "PNG" else written(kind, picture)
    header = read_header(data, f"a.{ending}")
    assert (header.kind, header.width, header.height, header.captured) == (kind, 320, 240, CAPTURED)
    assert (header.camera, header.lens, header.software) == (
        *("Marrow Optical Lantern 3 no. 00417", "Marrow 35/2", "Lantern 1.2"),
    )
    assert (header.exposure_s, header.aperture, header.sensitivity, header.focal_length_mm) == (0.004, 5.6, 400, 35.0)
    pixels = decode(data, header, f"a.{ending}").array
    assert np.abs(pixels.astype(int) - picture).mean() <= most


@pytest.mark.parametrize("kind", ["AVIF", "WEBP"])
def test_a_turned_still_is_shown_upright(kind):
    exif = tags()
    exif[0x0112] = 6
    file = io.BytesIO()
    lying = np.ascontiguousarray(np.rot90(scene(320, 240)))
    Image.fromarray(lying).save(file, kind, exif=exif, quality=92)
    header = read_header(file.getvalue(), "a")
    assert (header.width, header.height) == (320, 240)
    assert np.abs(decode(file.getvalue(), header, "a").array.astype(int) - scene(320, 240)).mean() < 8


def test_a_raw_file_is_developed_to_the_colours_the_sensor_saw(tmp_path):
    picture = np.zeros((240, 322, 3), np.uint8)
    picture[:, :160], picture[:120, 160:], picture[120:, 160:] = (200, 60, 30), (40, 120, 220), 128
    write_dng(tmp_path / "a.dng", picture, "Marrow Optical Lantern 3", CAPTURED)
    data = (tmp_path / "a.dng").read_bytes()
    header = read_header(data, "a.dng")
    assert (header.kind, header.width, header.height, header.bits) == ("RAW", 322, 240, 16)
    assert header.captured == CAPTURED.replace(tzinfo=None, microsecond=0)
    assert header.camera == "Marrow Optical Lantern 3"
    for reduction in (1, 2):
        pixels = decode(data, header, "a.dng", reduction)
        assert pixels.reduction == reduction
        for x, y in ((60, 60), (240, 60), (240, 180)):
            shown = as_eight(developed(pixels).array)[y // reduction, x // reduction].astype(int)
            wanted = to_codes(shown_of(picture[y, x] / 255).astype(float)) * 255
            assert np.abs(shown - wanted).max() <= 2


def wide_by_hand(picture: np.ndarray) -> np.ndarray:
    """The same colours as numbers of the wide space: linear light, a matrix by its primaries, its gamma."""
    encoded = picture / 255
    linear = np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)
    to_xyz = [[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]]
    from_xyz = [[2.04159, -0.56501, -0.34473], [-0.96924, 1.87597, 0.04156], [0.01344, -0.11836, 1.01517]]
    wide_linear = np.clip(linear @ np.array(to_xyz).T @ np.array(from_xyz).T, 0, 1)
    return np.rint(wide_linear ** (256 / 563) * 255).astype(np.uint8)


def test_wide_colours_come_out_as_they_were_seen():
    picture = scene(200, 120)
    shown = to_srgb(wide_by_hand(picture), dcf_optional())
    difference = np.abs(shown.astype(int) - picture)
    # Colours at the very edge of sRGB pale a little, so that those beyond it find room.
    at_edge = picture.min(axis=2) < 0.25 * picture.max(axis=2)
    assert difference[~at_edge].max() <= 8
    assert difference.max() <= 20
    assert difference.mean() <= 0.6
    data = written("JPEG", wide_by_hand(picture), quality=98, subsampling=0, icc_profile=dcf_optional())
    header = read_header(data, "a.jpg")
    assert header.profile == dcf_optional()
    assert np.abs(decode(data, header, "a.jpg").array.astype(int) - picture).mean() < 2


def test_a_camera_that_only_names_its_wide_space_is_understood():
    exif = tags()
    exif.get_ifd(0x8769)[0xA005] = {1: "R03", 2: b"0100"}
    file = io.BytesIO()
    Image.fromarray(wide_by_hand(scene(200, 120))).save(file, "JPEG", quality=98, subsampling=0, exif=exif)
    header = read_header(file.getvalue(), "_A.JPG")
    assert header.profile == dcf_optional()


def test_profiles_that_need_nothing_are_left_alone():
    grey = ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB")).tobytes()
    assert [needs_conversion(profile) for profile in (None, b"", b"no profile", srgb(), grey)] == [False] * 5
    assert needs_conversion(dcf_optional())


@pytest.mark.parametrize("value", [b"\xff\xfe", "a" * 500, 7, (0, 0), "\x07\x1b[31m"])
def test_odd_tags_do_no_harm(value):
    exif = Image.Exif()
    exif[0x0110] = value if isinstance(value, str | bytes) else str(value)
    file = io.BytesIO()
    Image.fromarray(scene(32, 32)).save(file, "JPEG", exif=exif)
    camera = read_header(file.getvalue(), "a.jpg").camera
    assert len(camera) <= 120
    assert camera.isprintable()
