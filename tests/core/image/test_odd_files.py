"""Whatever a file holds, reading it gives a still or a sentence, in bounded memory."""

import subprocess
import sys
from datetime import datetime
from fractions import Fraction

import numpy as np
import pytest
import tifffile
from PIL import Image, ImageCms, ImageOps

from tests.conftest import exif, scene
from tests.odd_files import mutations, odd_files, png, whole_files
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.still import Still
from yarnkite.core.gather.gathering import Gathered, gather_still
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.decode import decode, read_still
from yarnkite.core.image.header import read_header
from yarnkite.core.image.memory import held_to
from yarnkite.core.image.pixels import as_eight


def gathered(folder, name, data):
    (folder / name).write_bytes(data)
    try:
        return gather_still(folder, name, Proxies(folder / "proxies"))
    except UnreadableStill as error:
        refusal = error
    assert f"“{name}”" in refusal.sentence
    return refusal


def read(path):
    data = path.read_bytes()
    return decode(data, read_header(data, path.name), path.name, Fraction(1)).array


def test_no_mutation_of_any_kind_ends_in_anything_but_a_still_or_a_sentence(tmp_path):
    outcomes = {}
    for name, whole in whole_files(tmp_path).items():
        assert isinstance(gathered(tmp_path, name, whole), Gathered), name
        found = [gathered(tmp_path, f"hurt-{name}", data) for data in mutations(whole, 48, seed=7)]
        outcomes[name] = sum(isinstance(one, Gathered) for one in found)
    # Some damage goes unseen, most does not: a reader that accepted or refused everything would fail here.
    assert all(0 < count < 48 for count in outcomes.values()), outcomes


EXPECTED = {
    "broken-profile.jpg": None,
    "no-profile.jpg": None,
    "short-profile.png": None,
    "print-profile.jpg": None,
    "one-pixel.jpg": "not_the_shape_of_a_still",
    "one-pixel.png": "not_the_shape_of_a_still",
    "one-line.png": "not_the_shape_of_a_still",
    "ribbon.png": "not_the_shape_of_a_still",
    "tower.jpg": "not_the_shape_of_a_still",
    "year-1.jpg": None,
    "year-9999.jpg": None,
    "strange-offset.jpg": None,
    "bomb.png": "needs_too_much_memory",
    "grey-bomb.png": "needs_too_much_memory",
    "text-bomb.png": "damaged",
    "profile-bomb.png": "damaged",
    "empty.jpg": "empty",
    "only-a-marker.jpg": "damaged",
    "page.png": "not_a_still",
    "deep-nonsense.tif": "damaged",
    "endless.tif": "not_the_shape_of_a_still",
}


@pytest.mark.parametrize("name", EXPECTED)
def test_odd_files_cost_at_most_themselves(tmp_path, name):
    found = gathered(tmp_path, name, odd_files()[name])
    assert getattr(found, "code", None) == EXPECTED[name]


@pytest.mark.parametrize("name", ["year-1.jpg", "year-9999.jpg", "strange-offset.jpg"])
def test_a_capture_time_no_calendar_can_shift_is_no_time(name):
    captured = read_header(odd_files()[name], name).captured
    assert captured is None or (captured - (captured.utcoffset() or captured - captured)).year in range(1800, 3000)


def test_a_broken_profile_is_no_profile(tmp_path):
    plain = gathered(tmp_path, "plain.jpg", odd_files()["no-profile.jpg"])
    assert isinstance(plain, Gathered)
    broken = read_header(odd_files()["broken-profile.jpg"], "a.jpg")
    assert broken.profile is None


def linear_srgb():
    """The profile of linear light with the primaries, and the name, of sRGB."""
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    count = int.from_bytes(profile[128:132])
    hurt = bytearray(profile)
    for entry in range(count):
        at = 132 + 12 * entry
        if bytes(profile[at : at + 4]) in (b"rTRC", b"gTRC", b"bTRC"):
            offset = int.from_bytes(profile[at + 4 : at + 8])
            hurt[offset : offset + 12] = b"curv" + bytes(4) + (0).to_bytes(4)
            hurt[at + 8 : at + 12] = (12).to_bytes(4)
    return bytes(hurt)


def test_what_a_profile_does_counts_and_not_what_it_is_called(tmp_path):
    srgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    picture = np.full((40, 60, 3), 64, np.uint8)
    for name, profile in (("srgb.png", srgb), ("linear.png", linear_srgb())):
        Image.fromarray(picture).save(tmp_path / name, icc_profile=profile)
    assert (read(tmp_path / "srgb.png") == 64).all()
    # 64/255 of the light is 137 in sRGB (IEC 61966-2-1).
    assert np.abs(read(tmp_path / "linear.png").astype(int) - 137).max() <= 1


@pytest.mark.parametrize("layout", ["strips", "one strip", "tiles", "planes", "packed"])
@pytest.mark.parametrize("kind", ["uint16", "float32", "uint32", "int16"])
def test_deep_tiffs_of_every_layout_come_out_right_and_whole(tmp_path, layout, kind):
    truth = (scene(96, 64).astype(np.uint16) << 7) + 40
    samples = {
        "uint16": truth,
        "float32": (truth / 65535).astype(np.float32),
        "uint32": truth.astype(np.uint32) << 16,
        "int16": (truth >> 1).astype(np.int16),
    }[kind]
    options = {
        "strips": {"rowsperstrip": 7},
        "one strip": {"rowsperstrip": 64, "byteorder": ">"},
        "tiles": {"tile": (32, 32)},
        "planes": {"planarconfig": "separate"},
        "packed": {"compression": "zlib", "predictor": True, "rowsperstrip": 9},
    }[layout]
    path = tmp_path / "deep.tif"
    data = np.moveaxis(samples, 2, 0) if layout == "planes" else samples
    tifffile.imwrite(path, data, photometric="rgb", **options)
    array = read(path)
    assert array.dtype == np.uint16
    assert array.flags["C_CONTIGUOUS"]
    assert np.abs(array.astype(int) - truth).max() <= 2


def test_light_beyond_white_and_what_is_no_number_is_clipped(tmp_path):
    light = np.tile(np.linspace(-1, 3, 64, dtype=np.float32)[None, :, None], (32, 1, 3))
    light[0, 0] = np.nan
    light[0, 1] = np.inf
    tifffile.imwrite(tmp_path / "light.tif", light, photometric="rgb")
    array = read(tmp_path / "light.tif")
    assert (array[0, 0] == 0).all()
    assert (array[0, 1] == 65535).all()
    assert (array[1] == np.clip(np.rint(light[1] * 65535), 0, 65535)).all()


def test_a_tiff_in_colours_of_print_with_sixteen_bits_says_what_to_do(tmp_path):
    tifffile.imwrite(tmp_path / "print.tif", np.zeros((40, 60, 4), np.uint16), photometric="separated")
    found = gathered(tmp_path, "print.tif", (tmp_path / "print.tif").read_bytes())
    assert (found.code, "Save it as RGB" in found.sentence) == ("kind_not_read", True)


@pytest.mark.parametrize("orientation", [1, 3, 6, 8])
@pytest.mark.parametrize("bits", [8, 16])
def test_a_turned_tiff_comes_out_upright_once(tmp_path, orientation, bits):
    picture = scene(96, 64)
    stored = picture if bits == 8 else picture.astype(np.uint16) * 257
    path = tmp_path / "turned.tif"
    tifffile.imwrite(path, stored, photometric="rgb", extratags=[(274, 3, 1, orientation, True)])
    upright = np.asarray(ImageOps.exif_transpose(_with(picture, orientation)))
    header = read_header(path.read_bytes(), path.name)
    assert (header.height, header.width) == upright.shape[:2]
    assert np.abs(as_eight(read(path)).astype(int) - upright).max() <= 1


def _with(picture, orientation):
    image = Image.fromarray(picture)
    image.getexif()[0x0112] = orientation
    return image


MEASURED = """
import sys
from pathlib import Path
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.gather.gathering import gather_still
from yarnkite.core.gather.proxies import Proxies

def highest():
    line = next(line for line in open("/proc/self/status") if line.startswith("VmHWM"))
    return int(line.split()[1]) * 1024

path, before = Path(sys.argv[1]), highest()
try:
    said = gather_still(path.parent, path.name, Proxies(path.parent / "proxies")).header.kind
except UnreadableStill as refusal:
    said = refusal.code
print(said, highest() - before)
"""


def taken(path):
    """Gather a file in a process of its own; returns what came of it and how many bytes that took at most."""
    ended = subprocess.run([sys.executable, "-c", MEASURED, str(path)], capture_output=True, text=True, check=True)
    said, count = ended.stdout.split()
    return said, int(count)


def test_a_deep_tiff_takes_little_more_memory_than_its_pixels_have_bytes(tmp_path):
    path = tmp_path / "large.tif"
    # One strip of 40 megapixels, as many programs write it: 240 MB.
    tifffile.imwrite(path, shape=(5000, 8000, 3), dtype=np.uint16, photometric="rgb", rowsperstrip=5000)
    said, count = taken(path)
    assert said == "TIFF"
    assert count < 360_000_000
    path.unlink()


def test_a_large_png_takes_a_few_bytes_a_pixel(tmp_path):
    path = tmp_path / "large.png"
    Image.new("RGB", (8000, 5000), (90, 80, 70)).save(path, compress_level=1)
    said, count = taken(path)
    assert said == "PNG"
    assert count < 9 * 40_000_000


def test_a_tiny_file_of_a_huge_picture_takes_no_more_than_any_other(tmp_path):
    path = tmp_path / "bomb.png"
    # 50 megapixels of 16 bits in a file of 100 kB, all there.
    path.write_bytes(png(10_000, 5_000, depth=16, colour=0, data=bytes(5_000 * (1 + 2 * 10_000))))
    said, count = taken(path)
    assert said == "PNG"
    assert count < 10 * 50_000_000


def test_what_asks_for_more_memory_than_it_may_have_fails_by_itself():
    code = (
        "from yarnkite.core.image.memory import held_to\n"
        "with held_to(200_000_000):\n"
        "    half = bytearray(100_000_000)\n"
        "    try: bytearray(300_000_000); print('had it')\n"
        "    except MemoryError: print('refused')\n"
        "print(len(bytearray(300_000_000)))\n"
    )
    said = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.split()
    assert said == ["refused", "300000000"]
    with held_to(10**9):
        pass


def test_a_file_that_is_written_to_while_it_is_read_is_not_taken_for_a_still(tmp_path, monkeypatch):
    from yarnkite.core.gather import gathering

    path = tmp_path / "growing.jpg"
    Image.fromarray(scene(96, 64)).save(path, "JPEG", exif=exif(datetime(2031, 5, 4)))
    real = gathering.decode

    def written_meanwhile(*arguments):
        with path.open("ab") as file:
            file.write(b"more")
        return real(*arguments)

    monkeypatch.setattr(gathering, "decode", written_meanwhile)
    with pytest.raises(UnreadableStill, match="written to while it was read") as refusal:
        gather_still(tmp_path, path.name, Proxies(tmp_path / "proxies"))
    assert refusal.value.code == "changing"


def test_a_still_is_read_only_from_the_file_that_was_gathered(tmp_path):
    path = tmp_path / "a.jpg"
    Image.fromarray(scene(96, 64)).save(path, "JPEG")
    found = gather_still(tmp_path, "a.jpg", Proxies(tmp_path / "proxies"))
    still = Still(
        path=str(path),
        fingerprint=found.fingerprint,
        width=96,
        height=64,
        bytes=found.size,
        modified_ns=found.modified_ns,
    )
    assert read_still(still).array.shape == (64, 96, 3)
    hurt = bytearray(path.read_bytes())
    hurt[-200] ^= 1
    path.write_bytes(hurt)
    with pytest.raises(UnreadableStill, match="was changed since") as refusal:
        read_still(still)
    assert refusal.value.code == "still_changed"
