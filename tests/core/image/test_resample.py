"""One kernel for every size: against its definition in double precision, and by what a viewer would see of it."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from skimage import data

from tests.conftest import scene
from tests.ideal import detail, kernel, resampled
from yarnkite.core.image.pixels import as_sixteen
from yarnkite.core.image.resample import DRIFTING, WEIGHT_BITS, area_taps, resample, taps

GRAIN = np.random.default_rng(5).normal(128, 40, (300, 420)).clip(0, 255).astype(np.uint8)
PICTURES = {"photograph": data.astronaut()[60:360, 40:460], "grain": np.repeat(GRAIN[..., None], 3, axis=2)}
pictures = pytest.mark.parametrize("image", PICTURES.values(), ids=PICTURES)


def shown(image, part, size, least=1):
    """A part of an image (left, top, width, height) on a grid of (columns, rows)."""
    left, top, width, height = (Fraction(one).limit_denominator(10_000) for one in part)
    rows = taps(top, height, image.shape[0], size[1], least)
    return resample(image, rows, taps(left, width, image.shape[1], size[0], least))


@pytest.mark.parametrize("least", [Fraction(1), DRIFTING])
@pytest.mark.parametrize(
    ("part", "size"),
    [
        ((10 / 3, 6.75, 390, 280), (97, 61)),
        ((20.5, 10.25, 360, 240), (230, 154)),
        ((33.3, 41.7, 200, 150), (200, 150)),
        ((33.3, 41.7, 60, 50), (200, 150)),
        ((0, 0, 420, 300), (420, 200)),
    ],
    ids=str,
)
@pictures
def test_it_is_the_kernel_and_keeps_what_lies_between_two_codes(image, part, size, least):
    wanted = resampled(image, part, size, float(least)).clip(0, 255)
    plain, deep = shown(image, part, size, least), shown(as_sixteen(image), part, size, least)
    assert plain.dtype == deep.dtype == np.uint16
    assert np.abs(plain / 257 - wanted).max() < 0.1
    assert np.abs(deep / 257 - wanted).max() < 0.1
    assert np.sqrt(np.mean((plain / 257 - wanted) ** 2)) < 0.02


@pytest.mark.parametrize("reduction", [1.5625, 3.125])
def test_of_what_the_grid_cannot_hold_no_more_is_left_as_moire_than_by_the_kernel_itself(reduction):
    """Stripes of 0.1 and more a pixel of the frame, up to what the still can hold: how much of them is seen, against
    the kernel's own transform."""
    places = np.linspace(-3, 3, 60_001)
    for stripes in np.arange(0.1, min(1.21, 0.47 * reduction), 0.05):
        wave = 127.5 + 100 * np.cos(2 * np.pi * stripes / reduction * (np.arange(900) + 0.5))
        image = np.repeat(np.repeat(np.rint(wave)[None, :, None], 16, axis=0), 3, axis=2).astype(np.uint8)
        count = int(900 / reduction)
        row = shown(image, (0, 0, count * reduction, 16), (count, 16))[8, 20:-20, 1] / 257 - 127.5
        left = np.sqrt(2) * row.std() / 100
        ideal = abs(np.trapezoid(kernel(places) * np.cos(2 * np.pi * stripes * places), places))
        # Stripes as wide as a pixel have one height where they are seen: neither root nor mean of it is theirs.
        if min(abs(stripes - 0.5), abs(stripes - 1.0)) > 0.01:
            assert left == pytest.approx(ideal, abs=0.03), stripes


@pictures
def test_nothing_pulses_while_a_view_drifts_or_comes_nearer_through_one_to_one(image):
    drifted = [detail(shown(image, (20 + by, 20 + by, 360, 240), (360, 240), DRIFTING)) for by in np.arange(0, 1, 0.1)]
    assert max(drifted) < 1.01 * min(drifted)
    nearer = [
        detail(shown(image, (210 - 180 * one, 150 - 120 * one, 360 * one, 240 * one), (360, 240), DRIFTING))
        for one in np.linspace(1.06, 0.94, 25)
    ]
    assert np.abs(np.diff(np.log(nearer))).max() < 0.01
    still = [detail(shown(image, (20 + by, 20 + by, 360, 240), (360, 240))) for by in (0, 0.5)]
    assert still[0] > 1.05 * still[1], "the kernel of a view that stands would do as well: nothing is shown here"


@given(
    count=st.integers(1, 40),
    target=st.integers(1, 90),
    start=st.fractions(0, 1, max_denominator=9),
    share=st.fractions(Fraction(1, 9), 1, max_denominator=9),
    value=st.integers(0, 255),
    least=st.sampled_from([Fraction(1), DRIFTING]),
)
def test_a_flat_picture_stays_flat_at_any_size(count, target, start, share, value, least):
    length = count * share * (1 - start) or Fraction(count)
    begin = count * start if start < 1 else Fraction(0)
    for one in (taps(begin, length, count, target, least), area_taps(begin, length, count, target)):
        assert (one.weights.sum(axis=1) == 1 << WEIGHT_BITS).all()
        flat = np.full((count, count, 3), value, np.uint8)
        assert (as_sixteen(resample(flat, one, one)) == 257 * value).all()


def test_the_same_grid_gives_the_same_picture_as_deep_as_it_is():
    image = scene(64, 48)
    rows, columns = taps(Fraction(0), Fraction(48), 48, 48), taps(Fraction(0), Fraction(64), 64, 64)
    for one in (image, as_sixteen(image)):
        assert np.array_equal(resample(one, rows, columns), one)
        assert resample(one, rows, columns).dtype == one.dtype
    part = resample(image, taps(Fraction(5), Fraction(20), 48, 20), taps(Fraction(9), Fraction(30), 64, 30))
    assert np.array_equal(part, image[5:25, 9:39])


def test_light_is_summed_as_light():
    image = np.zeros((40, 40, 3), np.uint8)
    image[:, ::2] = 255
    for one in (image, as_sixteen(image)):
        rows, columns = taps(Fraction(0), Fraction(40), 40, 40), taps(Fraction(0), Fraction(40), 40, 10)
        grey = resample(one, rows, columns, linear=True)[20, 3:-3]
        # Half of the light is written as 188 of 255 (IEC 61966-2-1).
        assert np.abs(grey / 257 - 187.52).max() < 0.2


def box_average(image, top, height, left, width, rows, columns):
    """Average exact areas the slow way: integrate, then take differences of the integral."""

    def axis(array, start, length, count):
        total = np.concatenate([np.zeros((1, *array.shape[1:])), np.cumsum(array, axis=0)])
        edges = start + np.arange(count + 1) * length / count
        low = np.clip(np.floor(edges).astype(int), 0, array.shape[0] - 1)
        at = total[low] + (edges - low).reshape(-1, *[1] * (array.ndim - 1)) * array[low]
        return np.diff(at, axis=0) / (length / count)

    down = axis(image.astype(float), top, height, rows)
    return axis(down.transpose(1, 0, 2), left, width, columns).transpose(1, 0, 2)


def test_what_is_measured_is_the_mean_of_the_exact_area_each_pixel_covers():
    image = np.random.default_rng(1).integers(0, 256, (180, 271, 3), dtype=np.uint8)
    rows = area_taps(Fraction(27, 4), Fraction(160), 180, 61)
    columns = area_taps(Fraction(10, 3), Fraction(260), 271, 97)
    expected = box_average(image, 6.75, 160, 10 / 3, 260, 61, 97)
    assert np.abs(resample(image, rows, columns) / 257 - expected).max() < 0.2
