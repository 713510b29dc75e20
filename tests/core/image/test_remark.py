"""Files that are odd and used all the same: what is told of each, and that it gives a sensible picture."""

import imagecodecs
import numpy as np
import pytest
import tifffile
from PIL import Image

from tests.conftest import BEGINS, scene
from tests.core.image.test_cicp import avif, read, with_code_points
from yarnkite.core.gather.gathering import gather_still
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.header import read_header
from yarnkite.core.image.icc import named_profile, srgb
from yarnkite.demo import dng

GREY = np.array([[40, 40, 40], [128, 128, 128], [220, 220, 220]], np.uint8)


def remark(path):
    return read_header(path.read_bytes(), path.name).remark


def with_both(path, profile, primaries, transfer):
    """Write a PNG with a profile and code points."""
    with_code_points(path, GREY, primaries, transfer)
    points = path.read_bytes()
    at = points.index(b"cICP") - 4
    Image.open(path).save(path, icc_profile=profile)
    data = path.read_bytes()
    path.write_bytes(data[:33] + points[at : at + 16] + data[33:])
    return path


def test_a_map_of_gains_is_told_and_the_picture_is_what_it_is_without(tmp_path):
    kinds = imagecodecs.ULTRAHDR
    light = np.ones((64, 96, 4), np.float16)
    light[..., :3] = np.linspace(0, 3, 96)[None, :, None]
    path = tmp_path / "bright.jpg"
    path.write_bytes(
        imagecodecs.ultrahdr_encode(light, gamut=kinds.CG.BT_709, transfer=kinds.CT.LINEAR, crange=kinds.CR.FULL_RANGE)
    )
    still = gather_still(tmp_path, path.name, Proxies(tmp_path / "proxies"))
    assert (still.header.remark, still.header.width, still.header.height) == ("gain map", 96, 64)
    assert 0.1 < still.measures.mean < 0.9
    # As it was announced before there was a standard.
    said = b'<x:xmpmeta xmlns:x="http://example.org/meta/" xmlns:g="http://example.org/hdr-gain-map/1.0/"/>'
    Image.fromarray(scene(96, 64)).save(tmp_path / "before.jpg", xmp=said)
    assert remark(tmp_path / "before.jpg") == "gain map"
    Image.fromarray(scene(96, 64)).save(tmp_path / "plain.jpg")
    assert remark(tmp_path / "plain.jpg") is None


def test_numbers_nobody_knows_are_told_and_what_is_known_of_them_counts(tmp_path):
    unknown = with_code_points(tmp_path / "a.png", GREY, 99, 13)
    assert remark(unknown) == "code points"
    header = read_header(unknown.read_bytes(), "a.png")
    assert header.code_points is None
    signal = np.full((3, 3), 0.4)
    half = avif(tmp_path / "b.avif", signal, 3, 16)
    assert remark(half) == "code points"
    assert read(half) == pytest.approx(read(avif(tmp_path / "c.avif", signal, 1, 16)), abs=0.002)
    for primaries, transfer in ((1, 13), (9, 16), (12, 13), (2, 2)):
        assert remark(with_code_points(tmp_path / "known.png", GREY, primaries, transfer)) is None


def test_a_profile_and_code_points_that_contradict_each_other_are_told(tmp_path):
    path = with_both(tmp_path / "a.png", named_profile("ROMM RGB"), 1, 13)
    header = read_header(path.read_bytes(), path.name)
    # A PNG's code points come first: they say sRGB, and nothing is converted (PNG, third edition, 11.3.2.6).
    assert (header.remark, header.profile, header.code_points) == ("two colours", None, None)
    of_one_mind = with_both(tmp_path / "b.png", named_profile("Display P3"), 12, 13)
    assert remark(of_one_mind) is None
    assert remark(with_both(tmp_path / "c.png", srgb(), 1, 13)) is None
    left_open = with_both(tmp_path / "d.png", named_profile("ROMM RGB"), 2, 2)
    header = read_header(left_open.read_bytes(), left_open.name)
    assert (header.remark, header.profile) == (None, named_profile("ROMM RGB"))


def test_a_broken_profile_is_told(tmp_path):
    path = tmp_path / "a.jpg"
    Image.fromarray(scene(96, 64)).save(path, icc_profile=srgb()[:200])
    assert remark(path) == "profile"
    Image.fromarray(scene(96, 64)).save(path, icc_profile=srgb())
    assert remark(path) is None


@pytest.mark.parametrize(
    ("light", "told"),
    [
        (np.linspace(0, 1, 96), None),
        (np.linspace(0, 1.0004, 96), None),
        (np.linspace(-0.1, 1, 96), "cut light"),
        (np.linspace(0, 3, 96), "cut light"),
        (np.r_[np.linspace(0, 1, 95), np.inf], "cut light"),
        (np.r_[np.nan, np.linspace(0, 1, 95)], "cut light"),
    ],
)
def test_light_in_floating_point_that_is_cut_off_is_told(tmp_path, light, told):
    picture = np.repeat(np.tile(light, (64, 1))[..., None], 3, axis=2).astype(np.float32)
    tifffile.imwrite(tmp_path / "a.tif", picture, photometric="rgb")
    still = gather_still(tmp_path, "a.tif", Proxies(tmp_path / "proxies"))
    assert still.header.remark == told
    assert np.isfinite(still.measures.mean)


def test_a_raw_file_of_a_camera_nobody_knows_is_told(tmp_path, monkeypatch):
    dng.write_dng(tmp_path / "a.dng", scene(96, 64), "Marrow Lantern", BEGINS)
    assert remark(tmp_path / "a.dng") is None
    monkeypatch.setattr(dng, "_COLOR_MATRIX", (0,) * 9)
    dng.write_dng(tmp_path / "b.dng", scene(96, 64), "Marrow Lantern", BEGINS)
    assert remark(tmp_path / "b.dng") == "no matrix"
    still = gather_still(tmp_path, "b.dng", Proxies(tmp_path / "proxies"))
    assert 0.05 < still.measures.mean < 0.95
