"""Surface: what is flat stays, edges keep their place, noise goes and what moves leaves no ghost."""

import cv2
import numpy as np
import pytest
from skimage.metrics import peak_signal_noise_ratio

from tests.conftest import scene
from yarnkite.core.image.still_map import StillMap
from yarnkite.core.light.adjustment import Adjustment, adjusted
from yarnkite.core.light.field import field_of
from yarnkite.core.light.noise import denoised, noise_of, over_time
from yarnkite.core.light.sharpening import edges, sharpened
from yarnkite.core.light.surface import with_contrast, without_fringes, without_haze


def textured(width=480, height=320, seed=3):
    random = np.random.default_rng(seed)
    coarse = cv2.resize(random.uniform(0.35, 0.6, (8, 12, 3)), (width, height), interpolation=cv2.INTER_CUBIC)
    fine = cv2.GaussianBlur(random.normal(0, 1, (height, width)), (0, 0), 2.0)[..., None] * 0.05
    return np.rint(np.clip(coarse + fine, 0, 1) * 65535).astype(np.uint16)


def detail(image, sigma):
    luma = cv2.cvtColor(image, cv2.COLOR_RGB2GRAY).astype(float)
    return float((luma - cv2.GaussianBlur(luma, (0, 0), sigma)).std())


def noisy(picture, sigma, seed):
    random = np.random.default_rng(seed)
    return np.clip(picture + random.normal(0, sigma, picture.shape), 0, 255).round().astype(np.uint8)


@pytest.mark.parametrize(
    "work",
    [
        lambda image: with_contrast(image, 0.8, 0.8),
        lambda image: without_fringes(image, 1.0, 1.0),
        lambda image: sharpened(image, 1.5, 1.0),
    ],
    ids=["contrast", "fringes", "sharpening"],
)
def test_a_flat_picture_has_no_surface(work):
    flat = np.full((120, 180, 3), (20000, 30000, 25000), np.uint16)
    assert np.abs(work(flat).astype(int) - flat).max() <= 2


def test_contrast_near_and_far_each_do_their_own_part():
    image = textured()
    assert detail(with_contrast(image, 0.8, 0), 3) > 1.3 * detail(image, 3)
    assert detail(with_contrast(image, -0.8, 0), 3) < 0.8 * detail(image, 3)
    assert detail(with_contrast(image, 0, 0.8), 40) > 1.15 * detail(image, 40)
    assert with_contrast(image, 0, 0) is image


def test_halos_beside_a_hard_edge_are_a_fraction_of_those_of_a_plain_blur():
    image = np.full((200, 300, 3), 16000, np.uint16)
    image[:, 150:] = 48000
    row = image[100, :, 1].astype(float)
    for fine, coarse, most, sigma in ((0.6, 0, 1.6, 2.0), (0, 0.6, 0.9, 12.0)):
        shown = with_contrast(image, fine, coarse)[100, :, 1]
        blurred = cv2.GaussianBlur(image.astype(np.float32), (0, 0), sigma)[100, :, 1]
        plain = 0.6 * most * np.abs(row - blurred).max()
        assert 0 < np.abs(shown - row).max() < 0.3 * plain


def test_haze_goes_where_it_is_thick_and_comes_back():
    image = scene(240, 160).astype(np.uint16) * 257
    thick = np.linspace(0.1, 0.6, 160)[:, None, None]
    hazy = np.rint(image * (1 - thick) + 65535 * thick).astype(np.uint16)
    clear = without_haze(hazy, 0.8)
    before, after = (np.abs(one.astype(float) - image).mean() for one in (hazy, clear))
    assert after < 0.55 * before
    assert without_haze(image, -0.5).mean() > image.mean()


def test_purple_beside_an_edge_pales_and_a_purple_field_does_not():
    image = np.full((80, 160, 3), 8000, np.uint16)
    image[:, 80:] = 60000
    image[:, 78:80] = (40000, 12000, 52000)
    image[20:60, 10:40] = (30000, 12000, 36000)
    shown = without_fringes(image, 1.0, 1.0)
    assert np.ptp(shown[70, 79].astype(int)) < 0.25 * np.ptp(image[70, 79].astype(int))
    assert np.array_equal(shown[40, 25], image[40, 25])


def test_sharpening_leaves_grain_in_flat_parts_alone():
    image = np.full((160, 240, 3), 120.0)
    image[:, 120:] = 180
    grainy = noisy(cv2.GaussianBlur(image, (0, 0), 1.2), 1.5, 5).astype(np.uint16) * 257
    shown = sharpened(grainy, 1.0, 1.0).astype(float)
    assert shown[:, :80].std() < 1.05 * grainy[:, :80].std()
    assert np.gradient(shown[80, :, 1]).max() > 1.15 * np.gradient(grainy[80, :, 1].astype(float)).max()
    found = edges(grainy, 1.0)
    assert found[:, :80].mean() < 0.05
    assert found[80, 120] > 0.5


def test_sharpening_keeps_to_a_code_what_is_flat_and_is_cut_off_at_black_and_white():
    step = np.zeros((60, 90, 3), np.uint16)
    step[:, 45:] = 65535
    step[20:40] = 31_007
    shown = sharpened(step, 2.0, 1.0)
    assert np.array_equal(shown[2:14], step[2:14])
    assert np.array_equal(shown[26:34, 30:60], step[26:34, 30:60])
    assert (shown[20:22, 5:40].astype(int) - 31_007).min() > 0
    assert (shown[20:22, 50:85].astype(int) - 31_007).max() < 0


@pytest.mark.parametrize("sigma", [1.5, 4.0, 8.0])
def test_noise_is_measured_as_it_is(sigma):
    grainy = noisy(scene(480, 320).astype(float), sigma, 7)
    luma = grainy[..., 1].astype(np.float32) / 255
    assert noise_of(luma) * 255 == pytest.approx(sigma, rel=0.25)


def test_noise_of_one_still_goes_and_edges_stay():
    clean = scene(480, 320)
    grainy = noisy(clean.astype(float), 6, 11)
    shown = denoised(grainy, 1.0, 1.0) / 257
    assert peak_signal_noise_ratio(clean, shown, data_range=255) > 6 + peak_signal_noise_ratio(clean, grainy)
    across = shown[130, 50:70].mean(axis=1)
    assert np.abs(np.diff(across)).max() > 0.7 * np.abs(np.diff(clean[130, 50:70].mean(axis=1).astype(float))).max()
    assert denoised(grainy, 0, 0) is grainy


def test_what_stands_still_is_averaged_over_time():
    clean = scene(480, 320)
    own, *others = (noisy(clean.astype(float), 6, seed) for seed in range(7))
    shown = over_time(own, others) / 257
    gained = peak_signal_noise_ratio(clean, shown, data_range=255) - peak_signal_noise_ratio(clean, own)
    assert gained >= 5


@pytest.mark.parametrize("contrast", [20, 60, 130])
def test_what_moves_leaves_no_ghost(contrast):
    """A bright bar at another place in each still: beside it there is nothing of where it was."""

    def at(left, seed):
        picture = np.full((160, 320, 3), 90.0)
        picture[40:120, left : left + 30] += contrast
        return noisy(picture, 6, seed)

    own = at(150, 0)
    others = [at(left, seed) for seed, left in enumerate((30, 70, 110, 190, 230, 270), 1)]
    shown = over_time(own, others).astype(float) / 257
    for left in (30, 70, 110, 190, 230, 270):
        ghost = shown[50:110, left + 6 : left + 24].mean() - 90
        assert abs(ghost) < 2
    assert shown[50:110, 156:174].mean() == pytest.approx(90 + contrast, abs=2)


def test_corners_are_brightened_by_the_stops_that_are_said():
    found = field_of(1.0, (), (), StillMap.whole(300, 200))
    assert np.log2(found[0, 0]) == pytest.approx(1.0, abs=0.03)
    assert np.log2(found[100, 150]) == pytest.approx(0.0, abs=0.01)
    assert field_of(0.0, (0.0,), (), StillMap.whole(300, 200)) is None
    shown = adjusted(np.full((200, 300, 3), 90, np.uint8), Adjustment(vignette=-1.0))
    assert shown[0, 0, 0] < shown[100, 150, 0]


def test_waves_run_down_and_across_the_still():
    found = np.log2(field_of(0.0, (0.2,), (0.0, -0.1), StillMap.whole(300, 200)))
    assert found[0, 150] - found[-1, 150] == pytest.approx(0.4, abs=0.02)
    assert found[100, 0] - found[100, 150] == pytest.approx(-0.2, abs=0.02)


@pytest.mark.parametrize("size", [(161, 121), (160, 120)])
def test_over_time_the_last_row_and_column_are_averaged_like_the_rest(size):
    width, height = size
    taken = [noisy(np.full((height, width, 3), 120.0), 6, seed) for seed in range(9)]
    found = over_time(taken[0], taken[1:]) / 257
    assert found.shape == (height, width, 3)
    # Nine stills of the same grey: a third of the grain is left, at the edges as inside.
    for part in (found[:, -1], found[-1], found[:, -2], found[:-1, :-1]):
        assert part.mean() == pytest.approx(120, abs=1.2)
        assert part.std() < 4


@pytest.mark.parametrize("turned", [False, True])
def test_haze_is_thinned_by_what_it_covers_evenly(turned):
    # Dark detail of different colours, veiled by a light grey: what is left is nearer to what was there.
    rng = np.random.default_rng(2)
    clear = rng.uniform(0, 1, (60, 90, 3)).repeat(4, 0).repeat(4, 1) ** 2
    hazy = 0.5 * clear + 0.5 * 0.9
    picture = np.ascontiguousarray(np.rint(hazy * 65535).astype(np.uint16))
    picture = np.ascontiguousarray(picture.swapaxes(0, 1)) if turned else picture
    thinned, thickened = without_haze(picture, 1.0), without_haze(picture, -1.0)
    assert thinned.std() > 1.15 * picture.std() > 1.3 * thickened.std()
    assert thinned.min() < 0.6 * picture.min()
    assert np.array_equal(without_haze(picture, 0.0), picture)


def test_what_is_brighter_by_less_than_the_grain_is_still_told_from_it_where_it_is_large():
    """A thin cloud: no pixel of it says so, a window does."""
    own = noisy(np.full((120, 180, 3), 110.0), 8, 1)
    cloud = np.full((120, 180, 3), 110.0)
    cloud[30:90, 40:140] += 3
    shown = over_time(own, [noisy(cloud, 8, seed) for seed in range(2, 8)]) / 257
    assert shown[36:84, 46:134].mean() == pytest.approx(own[36:84, 46:134].mean(), abs=0.8)
    assert shown[:20].std() < 0.6 * own[:20].std()
