"""The model look: discs against plain sums, a band that keeps every pixel, and the same picture at any size."""

import cv2
import numpy as np
import pytest

from yarnkite.core.image.srgb import SRGB_TO_LINEAR
from yarnkite.core.move.decisions import BandAt, ModelLook
from yarnkite.core.move.model_look import LARGEST, Band, modelled, radii
from yarnkite.core.move.travel import band_at

WIDTH, HEIGHT = 480, 320


def band(**more):
    return Band(**({"x": 0.5, "y": 0.5, "angle_deg": 0.0, "width": 0.2, "softness": 0.2, "strength": 1.0} | more))


def lamps():
    picture = np.full((HEIGHT, WIDTH, 3), 12, np.uint8)
    picture[20, 60::60] = 255
    return picture


def test_the_band_keeps_every_pixel_and_no_strength_keeps_all():
    picture = np.random.default_rng(1).integers(0, 255, (HEIGHT, WIDTH, 3)).astype(np.uint8)
    found = modelled(picture, band())
    sharp = radii(band(), WIDTH, HEIGHT)[:, 0] == 0
    assert sharp.sum() == pytest.approx(0.2 * HEIGHT, abs=2)
    assert np.array_equal(found[sharp], picture[sharp])
    assert not np.array_equal(found[0], picture[0])
    assert modelled(picture, band(strength=0.0)) is picture


def test_a_lamp_becomes_a_disc_of_even_light():
    found = SRGB_TO_LINEAR[modelled(lamps(), band(strength=1.0))][..., 1]
    radius = LARGEST * HEIGHT
    spot = found[4:37, 104:137] - found[100, 30]
    down, across = np.mgrid[-16:17, -16:17]
    away = np.hypot(down, across)
    inner, outer = spot[away < radius - 2.5], spot[away > radius + 3]
    assert outer.max() < 0.12 * inner.mean()
    assert inner.std() < 0.2 * inner.mean()
    # No light is lost: what a point had, its disc has.
    assert spot[away < radius + 3].sum() == pytest.approx(1 - found[100, 30], rel=0.1)


def test_discs_are_those_of_plain_sums():
    picture = np.random.default_rng(2).integers(0, 255, (90, 120, 3)).astype(np.uint8)
    # Everywhere the same radius, below that from which on they are averaged at half the size.
    wide = band(y=-3.0, width=0.0, softness=0.02, strength=0.8)
    radius = float(radii(wide, 120, 90)[0, 0])
    light = SRGB_TO_LINEAR[picture]
    down, across = np.mgrid[-6:7, -6:7]
    fine = 16
    kernel = np.zeros((13, 13))
    for x in (np.arange(fine) + 0.5) / fine - 0.5:
        for y in (np.arange(fine) + 0.5) / fine - 0.5:
            kernel += np.hypot(across + x, down + y) < radius
    wanted = cv2.filter2D(light, -1, kernel / kernel.sum())
    found = SRGB_TO_LINEAR[modelled(picture, wide)]
    assert np.abs(found - wanted)[10:-10, 10:-10].mean() < 0.012


def test_it_looks_the_same_at_half_the_size():
    picture = cv2.resize(
        np.random.default_rng(3).integers(0, 255, (20, 30, 3)).astype(np.uint8),
        (1200, 800),
        interpolation=cv2.INTER_CUBIC,
    )
    large = cv2.resize(modelled(picture, band()), (600, 400), interpolation=cv2.INTER_AREA)
    small = modelled(cv2.resize(picture, (600, 400), interpolation=cv2.INTER_AREA), band())
    assert np.abs(large.astype(int) - small).mean() < 1.0


def test_sixteen_bits_stay_sixteen():
    deep = lamps().astype(np.uint16) * 257
    found = modelled(deep, band())
    assert found.dtype == np.uint16
    assert np.abs(found / 257 - modelled(lamps(), band())).max() < 1.5


def test_a_turned_band_follows_its_line():
    radius = radii(band(angle_deg=30.0, width=0.1), WIDTH, HEIGHT)
    along = [(HEIGHT // 2 + round(np.tan(np.radians(30)) * x), WIDTH // 2 + x) for x in (-120, 0, 120)]
    assert all(radius[y, x] == 0 for y, x in along)
    assert radius[10, WIDTH // 2] > 0
    assert radius[HEIGHT // 2, WIDTH // 2 + 200] > 0


def test_it_travels_between_its_keyframes():
    look = ModelLook(strength=0.5, bands=(BandAt(at=0, y=0.3), BandAt(at=1, y=0.7, angle_deg=10)))
    assert band_at(ModelLook(), 0.5) is None
    first, middle, last = (band_at(look, at) for at in (0, 0.5, 1))
    assert (first.y, middle.y, last.y) == pytest.approx((0.3, 0.5, 0.7))
    assert middle.angle_deg == pytest.approx(5)
