"""Colours outside sRGB, led to its edge: what must stay of them, and which are left alone."""

import colour
import numpy as np
import pytest

from yarnkite.core.image.camera_colour import CameraColour
from yarnkite.core.image.gamut import BEGINS, led_in
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.image.scene import base_curve, developed, scene_of
from yarnkite.core.image.srgb import to_codes, to_light

LUMINANCE = colour.RGB_COLOURSPACES["sRGB"].matrix_RGB_to_XYZ[1]
# Saturated lights of the wide space, at half of white: some of them no sRGB has.
WIDE = np.random.default_rng(8).dirichlet([0.4, 0.4, 0.4], 300) * 0.5
UNLED = np.eye(3, dtype=np.float32)
OF_SRGB = colour.RGB_to_RGB(WIDE, "ITU-R BT.2020", "sRGB", chromatic_adaptation_transform=None)


def paled(light):
    return np.array([led_in(UNLED, *one) for one in np.asarray(light, np.float32)])


def test_what_comes_out_is_of_srgb_and_as_bright_as_before():
    assert (OF_SRGB.min(axis=1) < -0.01).sum() > 100
    found = paled(OF_SRGB)
    assert found.min() > -1e-6
    assert found @ LUMINANCE == pytest.approx(OF_SRGB @ LUMINANCE, rel=1e-3, abs=1e-5)


def test_the_direction_from_grey_stays_so_hues_do_not_turn():
    found = paled(OF_SRGB)
    before, after = (one - (one @ LUMINANCE)[:, None] for one in (OF_SRGB, found))
    along = (
        (before * after).sum(axis=1) / np.linalg.norm(before, axis=1) / np.maximum(np.linalg.norm(after, axis=1), 1e-9)
    )
    assert along.min() > 0.9999


def test_colours_well_inside_stay_and_those_outside_are_told_apart():
    grey = 0.3
    axis = np.array([0.5, -0.1486, -0.1486])
    axis -= axis @ LUMINANCE
    far = np.linspace(0, 2, 41)
    light = grey + far[:, None] * axis / -axis.min() * grey
    found = paled(light)
    inside = far <= BEGINS
    assert found[inside] == pytest.approx(light[inside], abs=1e-6)
    assert (np.diff((grey - found.min(axis=1)) / grey) > 0).all()


def test_a_lamp_of_a_colour_srgb_lacks_keeps_its_luminance_when_it_is_developed():
    """Against cutting channels off, which makes it brighter."""
    matrix = ((1.5, -0.4, -0.1), (-0.2, 1.4, -0.2), (0.0, -0.5, 1.5))
    samples = np.array([[[3_300, 14_700, 4_900], [12_000, 12_000, 12_000]]], np.uint16)
    pixels = Pixels(samples, 1, CameraColour(matrix=matrix))
    linear = np.array(matrix) @ (samples[0, 0] / 65535)
    assert linear.min() < 0
    # The base curve works on each channel: what it makes of a colour within sRGB of this luminance.
    found = to_light(developed(pixels).array[0] / 65535.0)
    wanted = base_curve(paled(linear[None])[0])
    assert found[0] == pytest.approx(wanted, abs=0.004)
    assert np.ptp(to_codes(found[1])) < 0.001
    assert scene_of(pixels).scene is not None
