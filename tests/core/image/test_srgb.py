"""The sRGB curve and adding up light, against the standard's own formula in double precision."""

from fractions import Fraction

import numpy as np
import pytest

from yarnkite.core.image.srgb import codes_of, dissolved, faded, mean_of_light, to_codes, to_light


def exact_codes(light):
    """IEC 61966-2-1, 0 … 1."""
    light = np.clip(light, 0, 1)
    return np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)


def exact_light(codes):
    return np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)


@pytest.fixture(scope="module")
def light():
    """Light from nothing to white and beyond, and as much of it where the curve is straight."""
    rng = np.random.default_rng(1)
    return np.concatenate([rng.random(20_000), rng.random(20_000) * 0.006, [-0.5, 0, 0.0031308, 1, 1.5]])


def test_curve_and_back_are_the_standard_s(light):
    assert np.abs(to_codes(np.clip(light, 0, 1)) - exact_codes(light)).max() < 1e-6
    codes = exact_codes(light)
    assert np.abs(to_light(codes) - exact_light(codes)).max() < 1e-6


@pytest.mark.parametrize(("deep", "white", "within"), [(False, 255, 0.6), (True, 65535, 1.0)])
def test_light_becomes_the_nearest_code_value_and_never_leaves_the_range(light, deep, white, within):
    found = codes_of(light.astype(np.float32), deep=deep).astype(np.float64)
    assert np.abs(found - exact_codes(light) * white).max() <= within
    assert (found[-5], found[-1]) == (0, white)


def test_the_mean_of_two_pictures_is_that_of_their_light():
    rng = np.random.default_rng(2)
    first, second = (rng.integers(0, 256, (30, 40, 3)).astype(np.uint8) for _ in range(2))
    wanted = exact_codes(0.25 * exact_light(first / 255) + 0.75 * exact_light(second / 255)) * 255
    found = mean_of_light([first, second], [Fraction(1, 4), Fraction(3, 4)])
    assert np.abs(found - wanted).max() <= 1
    assert np.abs(dissolved(first, second, 0.75).astype(float) - wanted).max() <= 1


def test_a_fade_ends_at_its_colour_and_begins_at_the_picture():
    image = np.random.default_rng(3).integers(0, 256, (20, 30, 3)).astype(np.uint8)
    assert (faded(image, (10, 20, 30), 0.0) == image).all()
    assert (faded(image, (10, 20, 30), 1.0) == (10, 20, 30)).all()
    half = exact_codes((exact_light(image / 255) + exact_light(np.array([10, 20, 30]) / 255)) / 2) * 255
    assert np.abs(faded(image, (10, 20, 30), 0.5) - half).max() <= 0.51
