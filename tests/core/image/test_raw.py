"""Raw files: linear camera colour made into sRGB by our own rules, held against the reader's own development."""

import io

import numpy as np
import pytest
import rawpy

from tests.conftest import BEGINS, scene
from yarnkite.core.image.camera_colour import CameraColour, camera_colour
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.image.raw import read_camera
from yarnkite.core.image.scene import base_curve, developed
from yarnkite.core.image.srgb import to_codes, to_light
from yarnkite.demo import dng

# A camera whose colours are far from sRGB, and a light that is not white: what it divides red and blue by.
MATRIX = (7000, -2000, -800, -4500, 12500, 2200, -900, 1800, 6500)
NEUTRAL = (1, 2, 1, 1, 7, 10)


@pytest.fixture
def raw_file(tmp_path, monkeypatch):
    """A raw file of such a camera."""

    def raw_file(picture):
        monkeypatch.setattr(dng, "_COLOR_MATRIX", MATRIX)
        monkeypatch.setattr(dng, "_NEUTRAL", NEUTRAL)
        dng.write_dng(tmp_path / "a.dng", picture, "Marrow Lantern", BEGINS)
        return (tmp_path / "a.dng").read_bytes()

    return raw_file


def test_developing_agrees_with_the_readers_own_development(raw_file):
    data = raw_file(np.clip(scene(480, 320), 20, 200))
    with rawpy.imread(io.BytesIO(data)) as raw:
        expected = raw.postprocess(
            half_size=True, use_camera_wb=True, no_auto_bright=True, output_bps=16, gamma=(2.4, 12.92)
        )
    pixels = read_camera(data, half=True)
    assert pixels.camera is not None
    assert pixels.camera.balance == pytest.approx((1, 0.5, 10 / 14), abs=1e-4)
    light = to_light(expected / 65535)
    # Where the reader clips, ours goes on; its curve has steps of its own: a quarter of a step of 8 bits.
    seen = pixels.array / (65535 * min(pixels.camera.balance))
    # At the very edge of sRGB the reader cuts off, and ours pales.
    within = light.min(axis=2) > 0.03 * (light @ [0.2126, 0.7152, 0.0722])
    inner = within & (expected > 0).all(axis=2) & (seen < 0.9 / 1).all(axis=2) & (expected < 65000).all(axis=2)
    shown = to_codes(base_curve(light)) * 65535
    assert inner.mean() > 0.25
    assert np.abs(developed(pixels).array - shown)[inner].max() <= 80


def test_nothing_is_clipped_before_it_is_developed(raw_file):
    slope = np.tile(np.linspace(0, 236, 256).astype(np.uint8)[None, :, None], (64, 1, 3))
    data = raw_file(slope)
    pixels = read_camera(data, half=True)
    # Of red, which is doubled, the brighter half is beyond white once it is developed, but still told apart before.
    reds = pixels.array[16, :, 0].astype(int)
    assert (np.diff(reds) >= 0).all()
    assert len(np.unique(reds[-20:])) > 15
    # Red that is beyond what is white for all three still grows towards white, and never turns back.
    shown = developed(pixels).array[16].astype(int)
    assert (np.diff(shown[:, 0]) >= 0).all()
    assert shown[-1, 0] > 0.93 * 65535


def test_another_balance_needs_no_other_reading():
    """Twice the gain on linear light is one stop, wherever the picture is not clipped."""
    linear = np.tile(np.linspace(0, 20_000, 500)[None, :, None], (8, 1, 3)).astype(np.uint16)
    once = developed(Pixels(linear, 1, CameraColour(balance=(1.0, 1.0, 1.0)))).array
    twice = developed(Pixels(linear, 1, CameraColour(balance=(1.0, 0.5, 1.0)))).array
    light = linear[0, :, 0] / 65535
    assert np.abs(once[0, :, 0] - to_codes(base_curve(light)) * 65535).max() <= 12
    assert np.abs(twice[0, :, 0] - to_codes(base_curve(2 * light)) * 65535).max() <= 12


def test_a_cloud_whose_green_clipped_is_white_and_keeps_its_shape():
    """Green clips first, as it does in daylight; red and blue say how bright the cloud is."""
    camera = CameraColour(balance=(1.0, 0.5, 0.8))
    light = np.linspace(0.5, 1.9, 200)
    sensor = np.minimum(light[:, None] / (1.0, 0.5, 0.8) * 0.5, 1.0)
    samples = np.rint(sensor * (1.0, 0.5, 0.8) * 65535).astype(np.uint16)[None]
    shown = developed(Pixels(samples, 1, camera)).array[0].astype(int)
    bright = shown[light < 1.55]
    assert np.ptp(bright, axis=1).max() < 65535 * 0.012
    assert (np.diff(shown.min(axis=1)) >= -40).all()
    assert shown[130].mean() - shown[80].mean() > 65535 * 0.01


def test_a_raw_file_and_the_cameras_own_picture_begin_alike(tmp_path):
    picture = np.clip(scene(480, 320), 8, 235)
    dng.write_dng(tmp_path / "a.dng", picture, "Marrow Lantern", BEGINS, (1.0, 0.8, 0.5))
    shown = developed(read_camera((tmp_path / "a.dng").read_bytes(), half=True)).array / 257
    own = picture.reshape(160, 2, 240, 2, 3).mean(axis=(1, 3))
    assert abs(np.median(shown.mean(axis=2)) - np.median(own.mean(axis=2))) < 12


def test_colours_a_matrix_leads_out_of_range_pale_to_its_edge_and_greys_stay_grey():
    matrix = np.array([[1.6, -0.4, -0.2], [-0.3, 1.5, -0.2], [0.1, -0.7, 1.6]])
    colour = camera_colour(np.ones(3), matrix)
    samples = np.array([[[60_000, 0, 0], [0, 60_000, 0], [30_000, 30_000, 30_000]]], np.uint16)
    shown = developed(Pixels(samples, 1, colour)).array
    # Each at the edge of sRGB, where its least channel is all but black, and plainly of its own colour.
    for own in range(2):
        found = shown[0, own] / 65535
        assert found.min() < 0.02
        assert found.argmax() == own
        assert found[own] > 1.5 * np.sort(found)[1]
    assert np.ptp(shown[0, 2].astype(int)) <= 1


def test_what_is_brightest_in_a_still_does_not_decide_how_bright_the_rest_is(tmp_path):
    shown = []
    for brightest in (200, 228):
        picture = np.full((64, 96, 3), 90, np.uint8)
        picture[:16] = brightest
        dng.write_dng(tmp_path / f"{brightest}.dng", picture, "Marrow Lantern", BEGINS)
        shown.append(developed(read_camera((tmp_path / f"{brightest}.dng").read_bytes(), half=True)).array[24, 24])
    assert np.abs(shown[0].astype(int) - shown[1]).max() <= 4


def test_a_camera_colour_has_three_rows():
    with pytest.raises(ValueError, match="three rows"):
        camera_colour(np.ones(3), np.eye(3)[:2])
