from fractions import Fraction

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import scene
from yarnkite.core.image.resample import WEIGHT_BITS, resample, taps


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


def test_reducing_averages_the_exact_area_each_pixel_covers():
    image = np.random.default_rng(1).integers(0, 256, (180, 271, 3), dtype=np.uint8)
    rows = taps(Fraction(27, 4), Fraction(160), 180, 61)
    columns = taps(Fraction(10, 3), Fraction(260), 271, 97)
    expected = box_average(image, 6.75, 160, 10 / 3, 260, 61, 97)
    assert np.abs(resample(image, rows, columns).astype(float) - expected).max() <= 1


@given(
    count=st.integers(1, 40),
    target=st.integers(1, 90),
    start=st.fractions(0, 1, max_denominator=9),
    share=st.fractions(Fraction(1, 9), 1, max_denominator=9),
    value=st.integers(0, 255),
)
def test_a_flat_picture_stays_flat_at_any_size(count, target, start, share, value):
    length = count * share * (1 - start) or Fraction(count)
    one = taps(count * start, length, count, target) if start < 1 else taps(Fraction(0), Fraction(count), count, target)
    assert (one.weights.sum(axis=1) == 1 << WEIGHT_BITS).all()
    flat = np.full((count, count, 3), value, np.uint8)
    assert (resample(flat, one, one) == value).all()


def test_the_same_grid_gives_the_same_picture():
    image = scene(64, 48)
    rows, columns = taps(Fraction(0), Fraction(48), 48, 48), taps(Fraction(0), Fraction(64), 64, 64)
    assert (resample(image, rows, columns) == image).all()


def test_enlarging_keeps_a_straight_ramp_straight():
    ramp = np.repeat(np.arange(10, 250, 10, dtype=np.uint8)[None, :, None], 3, axis=2)
    image = np.repeat(ramp, 8, axis=0)
    columns = taps(Fraction(0), Fraction(24), 24, 96)
    wide = resample(image, taps(Fraction(0), Fraction(8), 8, 8), columns)[4, :, 0].astype(float)
    expected = 10 + ((np.arange(96) + 0.5) / 4 - 0.5) * 10
    assert np.abs(wide - expected)[8:-8].max() <= 1
