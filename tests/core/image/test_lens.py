"""Straightening: planted distortion is undone, and nothing empty ever shows."""

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.lens import Lens, Profile, Straightening, straightening
from yarnkite.core.image.pixels import as_eight
from yarnkite.core.render.picture import straightened

bends = st.floats(-0.5, 0.5).map(lambda value: round(value, 4))
leans = st.floats(-0.4, 0.4).map(lambda value: round(value, 4))
lenses = st.builds(Lens, k1=bends, k2=bends, keystone_y=leans, keystone_x=leans)


@given(lens=lenses, width=st.integers(200, 8000), height=st.integers(200, 8000))
def test_every_point_of_a_straightened_still_lies_in_the_still(lens, width, height):
    straight = straightening(width, height, lens)
    across, down = width / np.hypot(width, height), height / np.hypot(width, height)
    grid = np.meshgrid(np.linspace(-across, across, 41), np.linspace(-down, down, 41))
    bent = straight.bent(*grid)
    assert np.abs(bent[0]).max() <= across * 1.001
    assert np.abs(bent[1]).max() <= down * 1.001


def test_a_straight_lens_changes_nothing():
    straight = straightening(6000, 4000, Lens())
    points = np.array([0.1, -0.4]), np.array([0.3, 0.2])
    assert np.array_equal(straight.bent(*points), points)


def bent_picture(bend: float):
    """Dark lines on white, as a lens with a known coefficient draws them; only the standard's formula is used."""
    width, height = 900, 600
    half = np.hypot(width, height) / 2
    across, down = np.meshgrid(np.arange(width) + 0.5 - width / 2, np.arange(height) + 0.5 - height / 2)
    # A picture taken by this lens shows at p what really lies at q with p = q (1 + bend |q|²): found by iteration.
    px, py = across / half, down / half
    qx, qy = px.copy(), py.copy()
    for _ in range(30):
        radius = qx**2 + qy**2
        qx, qy = px / (1 + bend * radius), py / (1 + bend * radius)
    line = np.minimum(np.abs(qy * half - 220), np.abs(qy * half + 220))
    grey = np.clip(line / 3, 0, 1) * 225 + 15
    return np.repeat(grey[:, :, None], 3, axis=2).astype(np.uint8)


def sag(image) -> float:
    """How far the upper line is from straight, in pixels."""
    upper = 255 - image[: image.shape[0] // 2, :, 0].astype(float)
    upper[upper < 100] = 0
    columns = slice(60, -60)
    rows = (upper * np.arange(len(upper))[:, None]).sum(axis=0)[columns] / upper.sum(axis=0)[columns]
    return float(np.ptp(rows))


def test_a_bent_horizon_is_straight_again():
    for bend in (-0.12, 0.1):
        taken = bent_picture(bend)
        assert sag(taken) > 8
        assert sag(as_eight(straightened(taken, Fit(lens=Lens(k1=bend))))) < 1.0


def test_leaning_uprights_stand_parallel_again():
    """A wall photographed from below, made by OpenCV's perspective from four points, and the lean that undoes it."""
    width, height, lean = 900, 600, 0.2
    half = np.hypot(width, height) / 2
    wall = np.full((height, width, 3), 240, np.uint8)
    wall[:, 150:156] = 20
    wall[:, 744:750] = 20
    corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    centred = (corners - (width / 2, height / 2)) / half
    taken_at = centred / (1 + lean * centred[:, 1:2]) * half + (width / 2, height / 2)
    taken = cv2.warpPerspective(
        wall, cv2.getPerspectiveTransform(corners, taken_at.astype(np.float32)), (width, height), borderValue=(240,) * 3
    )

    def lean_of(image) -> float:
        dark = [np.flatnonzero(image[row, : width // 2, 0] < 128).mean() for row in (150, 450)]
        return float(dark[1] - dark[0])

    assert abs(lean_of(taken)) > 15
    upright = as_eight(straightened(taken, Fit(size=Size(width=900, height=600), lens=Lens(keystone_y=lean))))
    assert abs(lean_of(upright)) < 1.0


profiles = st.builds(
    lambda *bends: Profile(name="some lens", bends=(1.0, *bends)),
    *[st.floats(-0.1, 0.1).map(lambda one: round(one, 4))] * 4,
)


@given(lens=lenses, profile=profiles)
def test_a_lens_is_straightened_by_hand_and_then_by_its_profile(lens, profile):
    points = np.random.default_rng(3).uniform(-0.7, 0.7, (2, 30))
    by_hand = Straightening(lens, 1.0).bent(*points)
    both = Straightening(lens, 1.0, profile).bent(*points)
    assert np.allclose(both, Straightening(Lens(), 1.0, profile).bent(*by_hand), atol=1e-12)


@given(profile=profiles)
def test_a_profile_moves_points_out_along_their_radius_by_its_polynomial(profile):
    across, down = np.array([0.3, -0.4, 0.0]), np.array([0.4, 0.3, 0.9])
    bent = Straightening(Lens(), 1.0, profile).bent(across, down)
    radius = np.hypot(across, down)
    assert np.allclose(np.hypot(*bent), radius * np.polyval(profile.bends[::-1], radius))
    assert np.allclose(bent[0] * down, bent[1] * across)


@pytest.mark.parametrize("lens", [Lens(k1=0.2), Lens(k1=-0.2), Lens(keystone_y=0.3), Lens(k2=0.1, keystone_x=-0.2)])
def test_the_straightened_still_is_as_large_as_it_can_be(lens):
    straight = straightening(900, 600, lens)
    across, down = 900 / np.hypot(900, 600), 600 / np.hypot(900, 600)
    along = np.linspace(-1, 1, 65)
    edges = np.concatenate([[along * across, 0 * along - down], [along * across, 0 * along + down]], axis=1)
    sides = np.concatenate([[0 * along - across, along * down], [0 * along + across, along * down]], axis=1)
    bent = np.abs(straight.bent(*np.concatenate([edges, sides], axis=1)))
    assert max(bent[0].max() / across, bent[1].max() / down) == pytest.approx(1, abs=1e-6)
    assert straight.spread == pytest.approx(straightening(9000, 6000, lens).spread)
