"""Measures of photographs against scikit-image and NumPy, which know nothing of ours."""

from itertools import pairwise

import cv2
import numpy as np
import pytest
from numpy.typing import NDArray
from scipy import ndimage
from skimage import color, data
from skimage.registration import phase_cross_correlation
from skimage.transform import rotate

from yarnkite.core.check.shift import Edges, shift_between
from yarnkite.core.gather.measures import Measures, measured

Photo = NDArray[np.uint8]
PHOTOS = {"astronaut": data.astronaut, "coffee": data.coffee, "chelsea": data.chelsea, "rocket": data.rocket}


@pytest.fixture(params=PHOTOS)
def photo(request) -> Photo:
    return PHOTOS[request.param]()


def of(photo: Photo) -> Measures:
    return measured(photo, np.asarray(cv2.resize(photo, (160, 160), interpolation=cv2.INTER_AREA)))


def linear(photo: NDArray) -> NDArray[np.float64]:
    values = photo / 255
    return np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)


def encoded(light: NDArray[np.float64]) -> Photo:
    values = np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 1e-9) ** (1 / 2.4) - 0.055)
    return np.clip(np.rint(values * 255), 0, 255).astype(np.uint8)


def test_light_is_that_of_the_standard_observer(photo):
    # Y of CIE XYZ, D65, as scikit-image computes it from all pixels.
    luminance = color.rgb2xyz(photo)[..., 1]
    found = of(photo)
    assert found.mean == pytest.approx(luminance.mean(), rel=0.04)
    assert found.middle == pytest.approx(np.log2(np.median(luminance)), abs=0.15)
    assert found.low < found.middle < found.high


def test_a_stop_more_light_is_a_stop(photo):
    light = linear(photo)
    # What neither end clips, so that a gain is a gain everywhere.
    light = 0.02 + 0.3 * light
    before, after = of(encoded(light)), of(encoded(light * 2))
    assert after.middle - before.middle == pytest.approx(1, abs=0.02)
    assert np.median(after.blocks - before.blocks) == pytest.approx(1, abs=0.02)
    assert after.red - before.red == pytest.approx(0, abs=0.02)
    assert after.sharpness - before.sharpness == pytest.approx(0, abs=0.12)


def test_balance_is_told_in_stops(photo):
    light = 0.02 + 0.4 * linear(photo)
    warmer = light * [2**0.25, 1, 2**-0.5]
    before, after = of(encoded(light)), of(encoded(warmer))
    assert after.red - before.red == pytest.approx(0.25, abs=0.02)
    assert after.blue - before.blue == pytest.approx(-0.5, abs=0.02)
    # So it is in every block of the view.
    assert np.abs(after.colours - before.colours - (0.25, -0.5)).max() < 0.05


def test_a_block_has_its_own_light_and_colour():
    picture = np.full((320, 480, 3), 120, np.uint8)
    picture[:160, 240:] = (200, 120, 60)
    found = of(picture)
    red, green, blue = linear(picture[:1, -1:])[0, 0]
    assert np.allclose(found.colours[:8, 12:], (np.log2(red / green), np.log2(blue / green)), atol=0.02)
    assert np.abs(found.colours[8:]).max() < 0.01
    assert np.allclose(found.blocks[:8, 12:], np.log2(0.2126 * red + 0.7152 * green + 0.0722 * blue), atol=0.02)


def test_clipped_shares_are_counted():
    picture = np.full((320, 480, 3), 120, np.uint8)
    picture[:80] = 255
    picture[-32:] = 0
    found = of(picture)
    assert (found.bright, found.dark) == (pytest.approx(0.25, abs=0.01), pytest.approx(0.1, abs=0.01))


@pytest.mark.parametrize("sigma", [1.5, 3.0, 6.0])
def test_noise_is_measured_and_detail_is_not_noise(photo, sigma):
    grain = np.random.default_rng(3).normal(0, sigma, (640, 640, 1))
    grey = np.clip(np.rint(np.full((640, 640, 3), 120.0) + grain), 0, 255).astype(np.uint8)
    assert of(grey).noise == pytest.approx(sigma, rel=0.1)
    # By differences of four neighbours on the smoothest tenth of the photograph, where no detail hides the grain.
    noisy = np.clip(np.rint(photo + grain[: photo.shape[0], : photo.shape[1]]), 0, 255).astype(np.uint8)
    steps = np.diff(np.diff(cv2.cvtColor(noisy, cv2.COLOR_RGB2GRAY).astype(float), axis=0), axis=1) / 2
    parts = [steps[y : y + 20, x : x + 20].std() for y in range(0, 260, 20) for x in range(0, 400, 20)]
    assert of(noisy).noise >= 0.8 * np.percentile(parts, 10)
    assert of(noisy).noise < sigma + 3


def test_blur_takes_sharpness(photo):
    levels = [of(np.asarray(cv2.GaussianBlur(photo, (0, 0), sigma))).sharpness for sigma in (0.01, 1, 2)]
    assert all(after < before - 0.1 for before, after in pairwise(levels)), levels


def test_the_same_picture_looks_the_same_in_other_light_and_others_do_not():
    prints = {name: of(load()).dhash for name, load in PHOTOS.items()}
    for name, load in PHOTOS.items():
        darker = of(encoded(linear(load()) * 0.5)).dhash
        assert (prints[name] ^ darker).bit_count() <= 6
        for other, mark in prints.items():
            assert other == name or (prints[name] ^ mark).bit_count() > 12


@pytest.mark.parametrize("moved", [(3.0, -2.0), (0.4, 0.7), (-6.3, 4.6), (0.0, 0.0)])
def test_a_shift_is_found_to_a_fraction_of_a_pixel(photo, moved):
    across, down = moved
    small = np.asarray(cv2.resize(photo, (320, 320 * photo.shape[0] // photo.shape[1]), interpolation=cv2.INTER_AREA))
    other = ndimage.shift(small.astype(float), (down, across, 0), order=3, mode="reflect").clip(0, 255).astype(np.uint8)
    # Less light in the second one must not matter.
    other = encoded(linear(other) * 0.7)
    found = shift_between(Edges(small), Edges(other))
    grey = [cv2.cvtColor(image, cv2.COLOR_RGB2GRAY) for image in (small, other)]
    independent, _, _ = phase_cross_correlation(grey[0], grey[1], upsample_factor=20, normalization=None)
    assert (found.x * 320, found.y * 320) == (pytest.approx(across, abs=0.3), pytest.approx(down, abs=0.3))
    assert (found.x * 320, found.y * 320) == pytest.approx((-independent[1], -independent[0]), abs=0.5)
    assert found.rotation_deg == pytest.approx(0, abs=0.15)


@pytest.mark.parametrize("degrees", [0.8, -1.5])
def test_a_turn_is_told_from_a_shift(degrees):
    photo = data.coffee()
    turned = (rotate(photo, degrees, mode="reflect") * 255).astype(np.uint8)
    small, other = (np.asarray(cv2.resize(one, (320, 213), interpolation=cv2.INTER_AREA)) for one in (photo, turned))
    found = shift_between(Edges(small), Edges(other))
    # scikit-image turns counter-clockwise, ours counts clockwise as rows run downwards.
    assert abs(found.rotation_deg) == pytest.approx(abs(degrees), rel=0.35)


def test_different_pictures_have_no_shift_to_trust():
    one, other = (
        np.asarray(cv2.resize(load(), (320, 213), interpolation=cv2.INTER_AREA)) for load in (data.coffee, data.rocket)
    )
    same = shift_between(Edges(one), Edges(one))
    assert same.trust > 0.9
    assert shift_between(Edges(one), Edges(other)).trust < 0.12


def test_the_ground_outvotes_clouds_and_pictures_are_left_as_they_are():
    photo = np.asarray(cv2.resize(data.coffee(), (320, 213), interpolation=cv2.INTER_AREA))
    drifted = photo.copy()
    # Two thirds of the view drift by four pixels, the rest stands.
    drifted[:140] = np.roll(photo, 4, axis=1)[:140]
    before, after = Edges(photo), Edges(drifted)
    pictures = before.picture.copy(), after.picture.copy()
    found = shift_between(before, after)
    assert (found.x, found.y, found.rotation_deg) == (0, 0, 0)
    assert np.array_equal(before.picture, pictures[0])
    assert np.array_equal(after.picture, pictures[1])
    # A knock moves the ground as well.
    knocked = np.roll(drifted, 6, axis=1)
    assert shift_between(before, Edges(knocked)).x * 320 == pytest.approx(6, abs=4.2)


@pytest.mark.parametrize("degrees", [0.5, -0.7, -1.0])
def test_small_turns_are_measured_not_only_noticed(degrees):
    turned = (rotate(data.coffee(), degrees, mode="reflect") * 255).astype(np.uint8)
    small, other = (
        np.asarray(cv2.resize(one, (321, 214), interpolation=cv2.INTER_AREA)) for one in (data.coffee(), turned)
    )
    assert shift_between(Edges(small), Edges(other)).rotation_deg == pytest.approx(-degrees, abs=0.05)


def test_shifts_add_up_along_a_slide_by_parts_of_a_pixel():
    photo = data.coffee().astype(float)
    frames = [ndimage.shift(photo, (0, 1.1 * step, 0), order=3, mode="reflect").clip(0, 255) for step in range(8)]
    edges = [
        Edges(np.asarray(cv2.resize(one.astype(np.uint8), (320, 213), interpolation=cv2.INTER_AREA))) for one in frames
    ]
    moved = sum(shift_between(one, other).x for one, other in pairwise(edges)) * photo.shape[1]
    assert moved == pytest.approx(7 * 1.1, rel=0.05)
