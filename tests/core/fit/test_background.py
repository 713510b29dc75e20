"""What fills the rest of the frame."""

from fractions import Fraction

import numpy as np

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
