"""Reduced copies: the smallest that is fine enough is read, and each is as large as it says."""

from fractions import Fraction

import numpy as np
import pytest
import simplejpeg
from PIL import Image

from yarnkite.core.base.still import Still
from yarnkite.core.gather.proxies import Proxies, proxy_reduction

GREY = {"original": 30, "large": 110, "small": 200}


@pytest.fixture
def proxies(tmp_path):
    """A still of 2600 × 1740 and copies of it, each of a grey of its own, so that what was read is known."""
    path = tmp_path / "A.jpg"
    Image.new("RGB", (2600, 1740), (GREY["original"],) * 3).save(path, quality=95)
    still = Still(path=str(path), fingerprint="ab" * 16, width=2600, height=1740)
    made = Proxies(tmp_path / "proxies")
    made.path(still.fingerprint).parent.mkdir(parents=True)
    for where, name, by in ((made.path, "large", 2), (made.thumbnail, "small", 8)):
        size = (2600 // by, 1740 // by)
        Image.new("RGB", size, (GREY[name],) * 3).save(where(still.fingerprint), quality=95)
    return made, still


@pytest.mark.parametrize(
    ("width", "height", "large", "small"),
    [
        (2559, 100, 1, 4),
        (2560, 100, 2, 8),
        (100, 2560, 2, 8),
        (10_240, 7000, 8, 32),
        (60_000, 10, 8, 32),
        (639, 400, 1, 1),
        (640, 400, 1, 2),
    ],
)
def test_a_copy_keeps_its_long_side(width, height, large, small):
    assert proxy_reduction(width, height) == large
    assert proxy_reduction(width, height, 320) == small


@pytest.mark.parametrize(
    ("reduction", "read"),
    [
        (1, "original"),
        (Fraction(19, 10), "original"),
        (2, "large"),
        (Fraction(79, 10), "large"),
        (8, "small"),
        (100, "small"),
    ],
)
def test_the_smallest_copy_that_is_fine_enough_is_read(proxies, reduction, read):
    made, still = proxies
    pixels = made.read(still, Fraction(reduction))
    assert abs(int(pixels.array[5, 5, 0]) - GREY[read]) <= 2
    assert pixels.array.shape[1] * pixels.reduction == pytest.approx(2600, abs=8)


def test_what_is_wanted_quickly_comes_from_the_larger_copy_at_most(proxies):
    made, still = proxies
    assert made.quick_reduction(still, Fraction(1)) == 2
    assert made.quick_reduction(still, Fraction(5)) == 5
    assert abs(int(made.read_quickly(still, Fraction(1)).array[5, 5, 0]) - GREY["large"]) <= 2


def test_a_lost_copy_is_made_up_for_by_the_next_finer_one(proxies):
    made, still = proxies
    made.thumbnail(still.fingerprint).unlink()
    assert abs(int(made.read(still, Fraction(8)).array[5, 5, 0]) - GREY["large"]) <= 2
    made.path(still.fingerprint).write_bytes(b"not a picture")
    assert abs(int(made.read(still, Fraction(8)).array[5, 5, 0]) - GREY["original"]) <= 2
    assert made.read_copy(still, Fraction(8)) is None


@pytest.mark.parametrize("has_small", [True, False])
def test_a_thumbnail_is_as_large_whatever_it_is_made_of(proxies, has_small):
    made, still = proxies
    if not has_small:
        made.thumbnail(still.fingerprint).unlink()
    found = made.thumbnail_of(still)
    assert found.dtype == np.uint8
    assert found.shape == (217, 325, 3)
    assert abs(int(found[5, 5, 0]) - GREY["small" if has_small else "large"]) <= 2


@pytest.mark.parametrize("has_copy", [True, False])
def test_a_still_s_brightness_is_about_as_large_as_asked_for_or_larger(proxies, has_copy):
    made, still = proxies
    if not has_copy:
        made.path(still.fingerprint).unlink()
        made.thumbnail(still.fingerprint).unlink()
    found = made.grey(still, 640)
    assert found.ndim == 2
    # Half of the copy, a quarter of the original: no more is read than is asked for.
    assert found.shape[1] == 650
    assert found.shape[1] / found.shape[0] == pytest.approx(2600 / 1740, abs=0.01)
    assert abs(int(found[5, 5]) - GREY["large" if has_copy else "original"]) <= 2


def test_an_upright_still_is_asked_for_by_its_longer_side(tmp_path):
    path = tmp_path / "U.jpg"
    path.write_bytes(simplejpeg.encode_jpeg(np.full((2600, 1740, 3), 90, np.uint8)))
    still = Still(path=str(path), fingerprint="cd" * 16, width=1740, height=2600)
    assert max(Proxies(tmp_path / "none").grey(still, 640).shape) in range(640, 1301)
