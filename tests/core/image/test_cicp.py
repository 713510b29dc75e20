"""Stills whose samples mean something else by code points, against an independent model of the standards."""

import struct
import zlib
from pathlib import Path

import colour
import imagecodecs
import numpy as np
import pytest
from PIL import Image

from yarnkite.core.base.still import Still
from yarnkite.core.gather.gathering import gather_still
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.cicp import CodePoints, code_points_in, srgb_of
from yarnkite.core.image.decode import read_still
from yarnkite.core.image.header import read_header

WHITE_CD = 203.0
# From deep shade to half of white, where nothing rolls off, in cd/m².
DIM = np.array([2.0, 20.0, 60.0, 100.0])


def field(codes: np.ndarray, side: int = 32) -> np.ndarray:
    """A picture with a square of each colour, shape (side, side × colours, 3)."""
    return np.ascontiguousarray(np.repeat(np.repeat(codes[None], side, axis=0), side, axis=1))


def read(path: Path) -> np.ndarray:
    """Read a still as it is rendered; returns the code values 0 … 1 of the middles of its squares."""
    header = read_header(path.read_bytes(), path.name)
    still = Still(path=str(path), fingerprint="x", width=header.width, height=header.height)
    array = read_still(still).array
    assert array.dtype == np.uint16
    return array[16, 16::32] / 65535


def avif(path: Path, signal: np.ndarray, primaries: int, transfer: int) -> Path:
    codes = np.rint(field(signal) * 1023).astype(np.uint16)
    data = imagecodecs.avif_encode(
        codes, level=100, speed=8, bitspersample=10, pixelformat="444", primaries=primaries, transfer=transfer, matrix=0
    )
    path.write_bytes(data)
    return path


def with_code_points(path: Path, codes: np.ndarray, primaries: int, transfer: int) -> Path:
    """Write a PNG of 8 bits with a cICP chunk ahead of its pixels."""
    Image.fromarray(field(codes)).save(path)
    data, said = path.read_bytes(), bytes((primaries, transfer, 0, 1))
    chunk = struct.pack(">I", 4) + b"cICP" + said + struct.pack(">I", zlib.crc32(b"cICP" + said))
    path.write_bytes(data[:33] + chunk + data[33:])
    return path


@pytest.mark.parametrize(
    ("transfer", "signal_of"),
    [
        (16, lambda cd: colour.models.eotf_inverse_ST2084(cd, L_p=10_000)),
        (
            18,
            lambda cd: colour.models.eotf_inverse_BT2100_HLG(np.repeat(cd[:, None], 3, axis=1), L_B=0, L_W=1000)[:, 0],
        ),
    ],
    ids=["PQ", "HLG"],
)
def test_light_below_white_of_a_high_range_is_what_it_is_in_srgb(tmp_path, transfer, signal_of):
    signal = np.repeat(signal_of(DIM)[:, None], 3, axis=1)
    shown = read(avif(tmp_path / "dim.avif", signal, 9, transfer))
    truth = colour.cctf_encoding(DIM / WHITE_CD, function="sRGB")
    assert shown == pytest.approx(np.repeat(truth[:, None], 3, axis=1), abs=0.006)


def test_light_beyond_white_rolls_off_and_keeps_apart(tmp_path):
    cd = np.array([150.0, WHITE_CD, 400.0, 700.0, 1000.0, 4000.0])
    signal = np.repeat(colour.models.eotf_inverse_ST2084(cd, L_p=10_000)[:, None], 3, axis=1)
    shown = read(avif(tmp_path / "sun.avif", signal, 9, 16))[:, 0]
    # Read as sRGB the white of a picture was 148 of 255.
    assert 235 < shown[1] * 255 < 250
    assert (np.diff(shown[:4]) > 0.002).all()
    assert shown[4:] == pytest.approx([1, 1], abs=0.002)


def test_colours_of_wider_primaries_are_those_of_srgb(tmp_path):
    srgb = np.array([[0.6, 0.2, 0.1], [0.1, 0.5, 0.2], [0.2, 0.3, 0.6], [0.5, 0.5, 0.5]])
    light = colour.cctf_decoding(srgb, function="sRGB")
    for name, primaries in (("ITU-R BT.2020", 9), ("Display P3", 12)):
        wide = colour.RGB_to_RGB(light, "sRGB", name, chromatic_adaptation_transform=None)
        codes = np.rint(colour.cctf_encoding(wide, function="sRGB") * 255).astype(np.uint8)
        path = with_code_points(tmp_path / f"{primaries}.png", codes, primaries, 13)
        assert read(path) == pytest.approx(srgb, abs=0.006)


def test_a_colour_of_hlg_is_that_a_screen_shows():
    shown = np.array([[50.0, 30.0, 20.0], [15.0, 60.0, 40.0], [10.0, 20.0, 60.0]])
    signal = colour.models.eotf_inverse_BT2100_HLG(shown, L_B=0, L_W=1000)
    codes = np.rint(signal * 65535).astype(np.uint16)
    light = colour.RGB_to_RGB(shown / WHITE_CD, "ITU-R BT.2020", "sRGB", chromatic_adaptation_transform=None)
    truth = colour.cctf_encoding(np.clip(light, 0, None), function="sRGB")
    found = srgb_of(codes[None], CodePoints(9, 18))[0] / 65535
    beyond = (light < 0).any(axis=1)
    assert found[~beyond] == pytest.approx(truth[~beyond], abs=0.003)
    # A green that sRGB lacks pales to its edge, as bright as it was, where cutting it off would brighten it.
    assert beyond.sum() == 1
    brightness = colour.cctf_decoding(found[beyond], function="sRGB") @ (0.2126, 0.7152, 0.0722)
    assert brightness == pytest.approx(shown[beyond] @ (0.2627, 0.6780, 0.0593) / WHITE_CD, rel=0.005)


def test_a_still_of_high_range_is_gathered_and_measured_by_its_light(tmp_path):
    signal = np.repeat(colour.models.eotf_inverse_ST2084(np.full(4, 40.0), L_p=10_000)[:, None], 3, axis=1)
    avif(tmp_path / "still.avif", signal, 9, 16)
    measures = gather_still(tmp_path, "still.avif", Proxies(tmp_path / "proxies")).measures
    assert float(np.median(measures.blocks)) == pytest.approx(np.log2(40 / WHITE_CD), abs=0.05)


@pytest.mark.parametrize(
    "begin",
    [
        b"", b"\x89PNG\r\n\x1a\n", b"\x89PNG\r\n\x1a\n" + b"cICP", b"\x89PNG\r\n\x1a\n....cICP\x09",
        b"....ftypavif....colrnclx", b"....ftypavif....colrnclx\0\x09\0",
        # Unknown, not said, of video, sRGB itself: samples are what most stills are.
        b"....colrnclx\0\x02\0\x02\0\x02", b"....colrnclx\0\x01\0\x0d\0\x06", b"....colrnclx\0\x01\0\x01\0\x01",
        b"....colrnclx\xff\xff\xff\xff\0\0", b"....colrprofnclx\0\x09\0\x10",
    ],
)  # fmt: skip
def test_what_says_nothing_or_nothing_sensible_is_taken_for_srgb(begin):
    said = code_points_in(begin)
    assert said is None or said.means_srgb


def test_values_nobody_knows_beside_known_ones_change_what_they_can():
    assert code_points_in(b"....colrnclx\0\x63\0\x10\0\0") == CodePoints(99, 16)
    grey = np.full((1, 1, 3), 128, np.uint8)
    assert srgb_of(grey, CodePoints(99, 16)) == pytest.approx(srgb_of(grey, CodePoints(1, 16)))
