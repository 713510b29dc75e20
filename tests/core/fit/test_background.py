"""What fills the rest of the frame."""

from fractions import Fraction

import numpy as np
import pytest

from tests.conftest import scene
from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.background import background
from yarnkite.core.fit.decisions import Surround

SIZE = Size(width=640, height=360)


def test_a_colour_fills_the_frame():
    frame = background(scene(200, 300), Surround(colour="#1f5f7a"), SIZE, Fraction(16, 9))
    assert frame.shape == (360, 640, 3)
    assert (frame == (0x1F, 0x5F, 0x7A)).all()


def test_a_blurred_surround_has_the_pictures_light_but_none_of_its_edges():
    frame = background(scene(200, 300), Surround(kind="blurred"), SIZE, Fraction(16, 9)).astype(float)
    assert np.abs(np.diff(frame, axis=1)).max() < 6
    assert 0.5 < frame.mean() / scene(200, 300).mean() < 0.95


def test_a_blurred_surround_is_the_same_at_every_size_and_from_any_scale():
    chosen = Surround(kind="blurred")
    large = background(scene(1600, 1200), chosen, Size(width=1280, height=720), Fraction(16, 9))
    small = background(scene(400, 300), chosen, SIZE, Fraction(16, 9))
    reduced = large.reshape(360, 2, 640, 2, 3).mean(axis=(1, 3))
    assert np.abs(reduced - small).mean() < 1.5


def test_a_blurred_surround_is_made_of_the_middle_of_the_still():
    chosen = Surround(kind="blurred")
    wide = np.zeros((90, 480, 3), np.uint8)
    wide[:, :160, 0], wide[:, 160:320, 1], wide[:, 320:, 2] = 200, 200, 200
    shown = background(wide, chosen, SIZE, Fraction(16, 9)).reshape(-1, 3).mean(axis=0)
    assert shown == pytest.approx([0, 200 * 0.72, 0], abs=1.5)
    # Of one 90 wide a frame of 16:9 takes 51 rows.
    high = np.zeros((480, 90, 3), np.uint8)
    high[:214, :, 0], high[214:266, :, 1], high[266:, :, 2] = 200, 200, 200
    shown = background(high, chosen, SIZE, Fraction(16, 9)).reshape(-1, 3).mean(axis=0)
    assert shown == pytest.approx([0, 200 * 0.72, 0], abs=1.5)


def test_a_surround_is_as_deep_as_the_still():
    deep = np.full((90, 160, 3), 40_000, np.uint16)
    assert background(deep, Surround(colour="#ff8000"), SIZE, Fraction(16, 9))[5, 5].tolist() == [65535, 0x80 * 257, 0]
    blurred = background(deep, Surround(kind="blurred"), SIZE, Fraction(16, 9))
    assert blurred.dtype == np.uint16
    assert blurred.mean() == pytest.approx(40_000 * 0.72, abs=2)
