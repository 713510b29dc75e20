"""Measures of pictures whose light, colour and noise are known by arithmetic."""

import cv2
import numpy as np
import pytest

from yarnkite.core.gather.measures import GRID, measured

# Relative luminance of the primaries of sRGB, from the chromaticities of ITU-R BT.709.
PRIMARIES = {(255, 0, 0): 0.2126, (0, 255, 0): 0.7152, (0, 0, 255): 0.0722, (255, 255, 255): 1.0}


def flat(colour, height=160, width=160):
    return np.full((height, width, 3), colour, np.uint8)


def of(small, image=None):
    return measured(small if image is None else image, small)


@pytest.mark.parametrize(("colour", "luminance"), PRIMARIES.items())
def test_each_colour_has_its_share_of_luminance(colour, luminance):
    found = of(flat(colour))
    assert found.mean == pytest.approx(luminance, abs=1e-4)
    for value in (found.low, found.middle, found.high):
        assert value == pytest.approx(np.log2(luminance), abs=1e-3)
    # Each colour of a block has at least the least light there is, so that its balance is a number.
    assert found.blocks[3, 5] == pytest.approx(np.log2(luminance), abs=0.006)


def test_balance_and_blocks_tell_colours_against_green_at_their_place():
    small = flat((128, 128, 128))
    # A code of 188 is twice the light of 137; 128 has 0.2158, 176 has 0.4342.
    small[:80, :80] = (176, 128, 128)
    found = of(small)
    red = np.log2((((176 / 255) + 0.055) / 1.055) ** 2.4 / (((128 / 255) + 0.055) / 1.055) ** 2.4)
    assert found.blocks.shape == GRID
    assert found.colours.shape == (*GRID, 2)
    assert found.colours[2, 3] == pytest.approx([red, 0], abs=1e-3)
    assert found.colours[2, 20] == pytest.approx([0, 0], abs=1e-3)
    assert found.colours[13, 3] == pytest.approx([0, 0], abs=1e-3)
    # By the median over the view: a quarter of it counts as little as who walks past.
    assert (found.red, found.blue) == (pytest.approx(0, abs=1e-3), pytest.approx(0, abs=1e-3))
    assert of(flat((176, 128, 128))).red == pytest.approx(red, abs=1e-3)
    assert of(flat((128, 128, 176))).blue == pytest.approx(red, abs=1e-3)
    assert of(flat((128, 128, 176))).red == pytest.approx(0, abs=1e-3)


def test_percentiles_and_ends_are_shares_of_the_picture():
    small = flat((128, 128, 128))
    small[:, :16] = 0
    small[:, 144:152] = 2
    small[:, 152:] = (253, 10, 10)
    found = of(small)
    assert found.dark == pytest.approx(0.15)
    assert found.bright == pytest.approx(0.05)
    assert found.low == -12.0
    assert found.middle == pytest.approx(np.log2(0.2158), abs=0.01)
    small[:, 152:] = 3
    assert (of(small).dark, of(small).bright) == (pytest.approx(0.15), 0.0)
    small[:, 152:] = 252
    assert of(small).bright == 0.0


@pytest.mark.parametrize("sigma", [2.0, 4.0, 8.0])
def test_noise_is_its_standard_deviation_and_no_slope_or_edge(sigma):
    slope = np.repeat(np.linspace(60, 180, 480)[None, :, None], 320, axis=0) * np.ones(3)
    slope[:, 200:] += 20
    rng = np.random.default_rng(5)
    grey = rng.normal(0, sigma, (320, 480, 1))
    noisy = np.clip(np.rint(slope + grey), 0, 255).astype(np.uint8)
    small = np.asarray(cv2.resize(noisy, (160, 160), interpolation=cv2.INTER_AREA))
    assert of(small, noisy).noise == pytest.approx(sigma, rel=0.12)
    still = np.rint(slope).astype(np.uint8)
    assert of(np.asarray(cv2.resize(still, (160, 160))), still).noise < 0.5


def test_what_is_softer_has_less_fine_detail_at_the_same_light():
    rng = np.random.default_rng(6)
    fine = np.repeat(rng.integers(40, 200, (160, 240, 1)), 3, axis=2).astype(np.uint8)
    image = np.asarray(cv2.resize(fine, (960, 640), interpolation=cv2.INTER_CUBIC))
    found = []
    for softness in (0.1, 2.0, 4.0):
        soft = np.asarray(cv2.GaussianBlur(image, (0, 0), softness))
        found.append(of(np.asarray(cv2.resize(soft, (160, 160), interpolation=cv2.INTER_AREA)), soft).sharpness)
    assert found[0] > found[1] + 0.3
    assert found[1] > found[2] + 0.3


def test_the_difference_hash_says_where_it_gets_brighter_to_the_right():
    rising = np.repeat(np.linspace(10, 240, 160)[None, :, None], 160, axis=0).repeat(3, axis=2).astype(np.uint8)
    assert of(rising).dhash == 2**64 - 1
    assert of(rising[:, ::-1].copy()).dhash == 0
    half = rising.copy()
    half[80:] = half[80:, ::-1]
    assert of(half).dhash == (2**32 - 1) << 32
