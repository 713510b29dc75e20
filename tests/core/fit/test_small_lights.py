"""What small lights lose: stars and far lamps are told, with how much; lamps near by, texture and grain are not."""

import numpy as np
import pytest
from skimage import data

from yarnkite.core.fit.small_lights import small_lights


def night(stars, size=1, level=6, peak=255, seed=5):
    rng = np.random.default_rng(seed)
    picture = np.clip(rng.normal(level, level / 3, (900, 1200, 1)), 0, 255).astype(np.uint8).repeat(3, axis=2)
    for x, y in zip(rng.integers(9, 1180, stars), rng.integers(9, 880, stars), strict=True):
        picture[y : y + size, x : x + size] = peak
    return picture


@pytest.mark.parametrize("reduction", [2, 3, 4])
def test_a_sky_of_stars_loses_what_the_curve_says(reduction):
    """One pixel of light among dark ones: its share of light against the light of its share of the code value."""
    found = small_lights(night(400, level=0), reduction)
    assert found.are_worth_keeping
    share = 1 / reduction**2
    said = np.log2(share / (((share + 0.055) / 1.055) ** 2.4))
    assert found.loss == pytest.approx(said, abs=0.05)
    assert found.many == pytest.approx(400 / (900 * 1200 / reduction**2) * 1e6, rel=0.15)


def test_what_is_large_loses_nothing_and_few_sparks_are_not_a_sky():
    assert not small_lights(night(60, size=40), 3).are_worth_keeping
    assert not small_lights(night(2), 3).are_worth_keeping
    assert not small_lights(night(0), 3).are_worth_keeping
    assert small_lights(night(400), 1).loss == 0


@pytest.mark.parametrize("name", ["astronaut", "coffee", "chelsea", "brick", "grass", "gravel"])
def test_photographs_of_the_day_have_none(name):
    picture = getattr(data, name)()
    picture = picture if picture.ndim == 3 else picture[..., None].repeat(3, axis=2)
    for reduction in (2, 3):
        assert not small_lights(np.ascontiguousarray(picture[..., :3]), reduction).are_worth_keeping, name


@pytest.mark.parametrize("name", ["hubble_deep_field", "rocket"])
def test_a_field_of_stars_and_floodlights_in_the_night_have_them(name):
    assert small_lights(getattr(data, name)(), 3).are_worth_keeping
