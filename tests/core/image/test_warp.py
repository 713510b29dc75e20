"""Warping: a part of a still that was cut out before lies where it lies in the whole; places are known by hand."""

from fractions import Fraction

import numpy as np
import pytest
from skimage import data

from tests.ideal import detail, taken
from yarnkite.core.base.geometry import Rect
from yarnkite.core.image import warp
from yarnkite.core.image.lens import Lens
from yarnkite.core.image.resample import DRIFTING, resample, taps
from yarnkite.core.image.warp import View, points_of, warped

WIDTH, HEIGHT = 240, 160


@pytest.fixture(scope="module")
def still():
    """A smooth picture, so that where a pixel comes from shows in its value."""
    across, down = np.meshgrid(np.linspace(0, 6, WIDTH), np.linspace(0, 4, HEIGHT))
    picture = np.stack([np.sin(across + down), np.cos(across - down), np.sin(across) * np.cos(down)], 2)
    return ((picture + 1) * 120 + 5).astype(np.uint8)


def rect(*numbers):
    return Rect(*map(int, numbers))


@pytest.mark.parametrize("lens", [Lens(k1=-0.12), Lens(keystone_y=0.2), Lens(keystone_x=-0.15, k2=0.1)])
@pytest.mark.parametrize(("left", "top"), [(0, 30), (40, 0), (40, 30), (-20, -10)])
def test_a_still_of_which_only_a_part_was_read_is_bent_as_the_whole_is(still, lens, left, top):
    shown = rect(60, 50, 120, 80)
    whole = warped(still, View(shown, rect(0, 0, 120, 80), rect(0, 0, WIDTH, HEIGHT), 0.0, lens), range(120), range(80))
    across, down = max(0, left), max(0, top)
    part = still[down:, across:]
    moved = View(
        rect(60 - across, 50 - down, 120, 80), rect(0, 0, 120, 80), rect(-across, -down, WIDTH, HEIGHT), 0.0, lens
    )
    found = warped(part, moved, range(120), range(80))
    assert np.abs(whole.astype(int) - found).max() <= 2 * 257


def test_without_lens_and_turn_points_lie_where_the_frame_was_laid():
    view = View(rect(20, 10, 200, 100), rect(0, 0, 100, 50), rect(0, 0, WIDTH, HEIGHT), 0.0, Lens())
    x, y = points_of(view, 0, 0, 50, 100)
    # Each pixel of the frame covers two of the still: its middle lies at the edge between them.
    assert x[0, 0] == pytest.approx(20.5, abs=1e-3)
    assert y[0, 0] == pytest.approx(10.5, abs=1e-3)
    assert x[0, 99] == pytest.approx(218.5, abs=1e-3)
    assert y[49, 0] == pytest.approx(108.5, abs=1e-3)


def test_a_quarter_turn_leads_right_to_down():
    view = View(rect(70, 30, 100, 100), rect(0, 0, 100, 100), rect(0, 0, WIDTH, HEIGHT), 90.0, Lens())
    x, y = points_of(view, 0, 0, 100, 100)
    corners = {
        (round(float(x[row, column]), 1), round(float(y[row, column]), 1)) for row in (0, 99) for column in (0, 99)
    }
    assert corners == {(70.0, 30.0), (169.0, 30.0), (70.0, 129.0), (169.0, 129.0)}
    assert abs(float(x[0, 99] - x[0, 0])) < 0.01
    assert abs(abs(float(y[0, 99] - y[0, 0])) - 99) < 0.01


GRAIN = np.random.default_rng(3).normal(128, 40, (400, 500)).clip(0, 255).astype(np.uint8)
PICTURES = {"photograph": data.astronaut()[:400, :500], "grain": np.repeat(GRAIN[..., None], 3, axis=2)}


@pytest.mark.parametrize("least", [Fraction(1), pytest.param(DRIFTING, marks=pytest.mark.long)])
@pytest.mark.parametrize("reduction", [0.7, pytest.param(1.0, marks=pytest.mark.long), 1.5625, 3.125])
@pytest.mark.parametrize("image", PICTURES.values(), ids=PICTURES)
def test_a_turned_still_is_the_kernel_at_each_place_and_as_sharp_as_a_shifted_one(image, reduction, least):
    step = Fraction(reduction).limit_denominator(1000)
    columns, rows = int(Fraction(300) / step), int(Fraction(220) / step)
    part = Rect(Fraction(100) + Fraction(1, 3), Fraction(90), columns * step, rows * step)
    frame, whole = Rect(Fraction(0), Fraction(0), Fraction(columns), Fraction(rows)), rect(0, 0, 500, 400)
    view = View(part, frame, whole, 3.7, Lens())
    turned = warped(image, view, range(columns), range(rows), least=least)
    width = max(float(step), float(least))
    x, y = (one.astype(float) for one in points_of(view, 0, 0, rows, columns))
    ideal = taken(image[..., 1].astype(float), x, y, width).clip(0, 255) / 255
    assert detail(turned) == pytest.approx(detail(ideal), rel=0.03)
    assert np.sqrt(np.mean((turned[..., 1] / 65535 - ideal) ** 2)) < 0.012
    across = taps(part.left, part.width, 500, columns, least)
    shifted = resample(image, taps(part.top + Fraction(1, 3), part.height, 400, rows, least), across)
    assert detail(turned) > 0.97 * detail(shifted)


@pytest.mark.parametrize("channels", [(1.0, 1.0), (1.002, 0.998)])
@pytest.mark.parametrize("preview", [False, True])
def test_a_frame_that_is_drawn_in_bands_is_the_one_drawn_at_once(monkeypatch, channels, preview):
    image = PICTURES["photograph"]
    view = View(
        rect(40, 60, 400, 300), rect(0, 0, 520, 390), rect(0, 0, 500, 400), 4.0, Lens(k1=0.05), channels=channels
    )
    drawn = [warped(image, view, range(520), range(390), preview=preview)]
    monkeypatch.setattr(warp, "_MOST_DENSE", 60_000)
    drawn.append(warped(image, view, range(520), range(390), preview=preview))
    assert np.array_equal(*drawn)
