"""How long a thing takes to cross, measured on pictures of which it is known."""

import numpy as np
import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.plan.crossing import crossing_s

WIDE = 960


def street(at, shaken=0):
    """A still scene with grain and a textured thing whose left edge is at a column."""
    rng = np.random.default_rng(5)
    scene = np.kron(rng.integers(60, 190, (27, 50)), np.ones((20, 20)))[:540]
    thing = np.kron(np.random.default_rng(6).integers(0, 255, (8, 12)), np.ones((15, 15)))
    scene[300:420, at : at + 180] = thing
    return np.roll(scene, shaken, axis=1)[:, 20 : 20 + WIDE].astype(np.uint8)


@pytest.mark.parametrize("pixels", [8, 16])
@pytest.mark.parametrize("apart", [0.5, 2.0])
def test_a_thing_that_moves_so_many_pixels_takes_the_width_as_often(pixels, apart):
    found = crossing_s(street(300), street(300 + pixels), apart)
    assert found == pytest.approx(apart * WIDE / pixels, rel=0.25)


def test_a_camera_that_moves_is_no_movement_of_the_scene():
    found = crossing_s(street(300), street(316, shaken=6), 1.0)
    assert found == pytest.approx(WIDE / 16, rel=0.3)


def test_what_cannot_be_measured_says_why():
    with pytest.raises(Refusal, match="same moment"):
        crossing_s(street(300), street(310), 0)
    with pytest.raises(Refusal, match="different sizes"):
        crossing_s(street(300), street(300)[:-2], 1)
    with pytest.raises(Refusal, match="Nothing moves"):
        crossing_s(street(300), street(300), 1)


def test_colour_and_grey_give_the_same():
    grey = crossing_s(street(300), street(312), 1)
    colour = crossing_s(*(np.repeat(street(at)[..., None], 3, axis=2) for at in (300, 312)), 1)
    assert colour == pytest.approx(grey, rel=0.02)
