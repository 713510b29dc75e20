from fractions import Fraction
from math import atan2, cos, degrees, hypot, radians, sin

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import (
    corners,
    cost,
    frame_points,
    level_along,
    placement_of,
    shows_the_same_view,
    turned_shape,
)

sides = st.integers(8, 4000)
shares = st.floats(0, 1).map(lambda share: round(share, 4))
fits = st.builds(
    Fit,
    size=st.builds(
        Size, width=st.integers(8, 4000).map(lambda n: 2 * n), height=st.integers(8, 4000).map(lambda n: 2 * n)
    ),
    how=st.sampled_from(["cover", "contain"]),
    x=shares,
    y=shares,
)
zooms = st.floats(0.1, 20).map(lambda zoom: round(zoom, 3))
levels = st.floats(-45, 45).map(lambda angle: round(angle, 2))
turned_fits = st.builds(
    lambda fit, **changes: fit.model_copy(update=changes),
    fits,
    how=st.sampled_from(["cover", "contain", "stretch"]),
    zoom=zooms,
    level=levels,
    quarters=st.integers(0, 3),
    mirror=st.booleans(),
)
FULL_HD = Size(width=1920, height=1080)


@given(width=sides, height=sides, fit=fits)
def test_what_is_shown_lies_inside_the_still_and_the_frame_and_keeps_its_shape(width, height, fit):
    placement = placement_of(width, height, fit)
    source, target = placement.source, placement.target
    assert source.left >= 0
    assert source.top >= 0
    assert source.right <= width
    assert source.bottom <= height
    assert target.left >= 0
    assert target.top >= 0
    assert target.right <= fit.size.width
    assert target.bottom <= fit.size.height
    assert source.width / source.height == target.width / target.height
    assert all(edge.denominator == 1 for edge in (target.left, target.top, target.right, target.bottom))


@given(width=sides, height=sides, fit=fits)
def test_cover_fills_the_frame_and_shows_a_whole_side(width, height, fit):
    placement = placement_of(width, height, fit.model_copy(update={"how": "cover"}))
    assert (placement.target.width, placement.target.height) == (fit.size.width, fit.size.height)
    assert placement.source.width == width or placement.source.height == height


@given(width=sides, height=sides, fit=fits)
def test_contain_touches_two_edges_and_gives_up_less_than_a_frame_pixel(width, height, fit):
    placement = placement_of(width, height, fit.model_copy(update={"how": "contain"}))
    target = placement.target
    assert target.width == fit.size.width or target.height == fit.size.height
    lost = max(width - placement.source.width, height - placement.source.height)
    assert lost * placement.scale < 1 or 1 in (target.width, target.height)


def test_cropping_three_to_two_for_sixteen_to_nine_loses_what_arithmetic_says():
    for down, top in ((0.0, 0.0), (0.5, 0.078125), (1.0, 0.15625)):
        said = cost(6000, 4000, Fit(size=Size(width=1920, height=1080), y=down))
        assert (said.top, said.bottom) == (top, 0.15625 - top)
        assert (said.left, said.right, said.empty) == (0, 0, 0)
        assert said.scale == 0.32


def test_black_edges_beside_a_four_to_three_still():
    fit = Fit(size=Size(width=1920, height=1080), how="contain", x=1.0)
    target = placement_of(4000, 3000, fit).target
    assert (target.left, target.width, target.height) == (480, 1440, 1080)
    assert cost(4000, 3000, fit).empty == float(1 - Fraction(1440, 1920))


@given(width=sides, height=sides, fit=turned_fits)
def test_whatever_the_level_zoom_and_turn_no_corner_of_what_is_shown_lies_outside_the_still(width, height, fit):
    wide, high = turned_shape(width, height, fit)
    placement = placement_of(width, height, fit)
    for across, down in corners(placement):
        assert -1e-6 * wide <= across <= wide * (1 + 1e-6)
        assert -1e-6 * high <= down <= high * (1 + 1e-6)
    target = placement.target
    assert target.left >= 0
    assert target.top >= 0
    assert target.right <= fit.size.width
    assert target.bottom <= fit.size.height
    assert min(placement.source.width, placement.source.height, target.width, target.height) > 0


@given(width=sides, height=sides, fit=turned_fits)
def test_only_stretching_changes_shapes_and_only_containing_leaves_a_part_empty(width, height, fit):
    placement = placement_of(width, height, fit)
    if fit.how != "stretch":
        assert placement.stretched == 1
    if fit.how != "contain":
        assert (placement.target.width, placement.target.height) == (fit.size.width, fit.size.height)


@given(width=sides, height=sides, fit=turned_fits, level=levels)
def test_a_levelled_frame_is_as_large_as_it_can_be_inside_the_still(width, height, fit, level):
    fit = fit.model_copy(update={"how": "cover", "zoom": 1.0, "level": level, "x": 0.5, "y": 0.5})
    wide, high = turned_shape(width, height, fit)
    reach = max(
        max(abs(across - wide / 2) / (wide / 2), abs(down - high / 2) / (high / 2))
        for across, down in corners(placement_of(width, height, fit))
    )
    assert reach == pytest.approx(1, abs=1e-6)


@given(width=sides, height=sides, fit=turned_fits, closer=st.floats(1.01, 3))
def test_coming_closer_shows_less_in_proportion(width, height, fit, closer):
    fit = fit.model_copy(update={"how": "cover", "zoom": 1.0})
    near = fit.model_copy(update={"zoom": round(closer, 3)})
    assert placement_of(width, height, fit).source.width == placement_of(width, height, near).source.width * Fraction(
        str(near.zoom)
    )


@given(width=sides, height=sides, fit=turned_fits)
def test_the_room_is_how_far_the_frame_goes_from_one_end_to_the_other(width, height, fit):
    ends = [placement_of(width, height, fit.model_copy(update={"x": share, "y": share})).source for share in (0.0, 1.0)]
    room = placement_of(width, height, fit).room
    assert (ends[1].left - ends[0].left, ends[1].top - ends[0].top) == room


def test_stretching_says_by_how_much():
    said = cost(4000, 3000, Fit(size=FULL_HD, how="stretch"))
    assert said.stretched == pytest.approx((16 / 9) / (4 / 3))
    assert (said.left, said.right, said.top, said.bottom, said.empty) == (0, 0, 0, 0, 0)
    assert said.push_in == pytest.approx(3000 / 1080 if 3000 / 1080 < 4000 / 1920 else 4000 / 1920)


def test_a_level_of_three_degrees_costs_what_trigonometry_says():
    angle = radians(3)
    tall = min(6000 / (16 / 9 * cos(angle) + sin(angle)), 4000 / (16 / 9 * sin(angle) + cos(angle)))
    source = placement_of(6000, 4000, Fit(size=FULL_HD, level=3.0)).source
    assert float(source.height) == pytest.approx(tall)
    assert float(source.width) == pytest.approx(tall * 16 / 9)


@given(
    length=st.floats(40, 900),
    slope=st.floats(-44, 44).map(lambda angle: round(angle, 2)),
    upright=st.booleans(),
    backwards=st.booleans(),
)
def test_a_drawn_line_lies_flat_or_stands_upright_once_levelled(length, slope, upright, backwards):
    drawn = slope + (90 if upright else 0) + (180 if backwards else 0)
    line = (900.0, 500.0, 900 + length * cos(radians(drawn)), 500 + length * sin(radians(drawn)))
    level = level_along(line, Fit(size=FULL_HD))
    # Turned clockwise by the level, the line points along an axis.
    after = drawn + level
    assert min(abs(after % 90), 90 - after % 90) < 0.02


def test_levelling_again_adds_to_the_level_there_was():
    drawn = (0.0, 0.0, 1000.0, 1000 * sin(radians(1)))
    assert level_along(drawn, Fit(size=FULL_HD, level=2.0)) == pytest.approx(1.0, abs=0.02)


@given(fit=turned_fits, across=st.floats(0.02, 0.98), down=st.floats(0.02, 0.98))
def test_points_of_the_still_come_where_the_corners_say(fit, across, down):
    fit = fit.model_copy(update={"mirror": False, "quarters": 0})
    found = corners(placement_of(1200, 800, fit))
    right, below = frame_points(np.array([across]), np.array([down]), (1200, 800), fit)
    # From the shares of the frame back to the still, by its corners.
    (left, top), (far, level), _, (low_x, low_y) = found
    u, v = float(right[0]) + 0.5, float(below[0]) + 0.5
    assert left + u * (far - left) + v * (low_x - left) == pytest.approx(across * 1200, abs=1e-3)
    assert top + u * (level - top) + v * (low_y - top) == pytest.approx(down * 800, abs=1e-3)


def test_a_smaller_still_of_the_same_shape_shows_the_same_field_of_view():
    for fit in (Fit(size=FULL_HD, y=0.2), Fit(size=FULL_HD, level=2.5, zoom=1.3, x=0.1)):
        usual = placement_of(6000, 4000, fit)
        small = placement_of(3000, 2000, fit, usual=(6000, 4000))
        assert (small.source.left, small.source.width) == (usual.source.left / 2, usual.source.width / 2)
        assert small.target == usual.target


def test_a_still_with_more_at_top_and_bottom_is_cut_like_the_others():
    fit = Fit(size=FULL_HD, y=0.0)
    usual, taller = placement_of(6000, 3376, fit), placement_of(6000, 4000, fit, usual=(6000, 3376))
    assert shows_the_same_view((6000, 4000), fit, (6000, 3376))
    assert taller.source.top == usual.source.top + Fraction(4000 - 3376, 2)
    assert taller.source.height == usual.source.height


def test_an_upright_still_among_level_ones_is_fitted_alone():
    fit = Fit(size=FULL_HD)
    assert not shows_the_same_view((4000, 6000), fit, (6000, 4000))
    assert placement_of(4000, 6000, fit, usual=(6000, 4000)) == placement_of(4000, 6000, fit)


def test_the_corners_go_round_clockwise_and_lean_against_the_level():
    (left, top), (right, level), *_ = corners(placement_of(6000, 4000, Fit(size=FULL_HD, level=5.0)))
    assert right > left
    assert degrees(atan2(level - top, right - left)) == pytest.approx(-5)
    assert hypot(right - left, level - top) == pytest.approx(
        float(placement_of(6000, 4000, Fit(size=FULL_HD, level=5.0)).source.width)
    )


@pytest.mark.parametrize("level", [-4.0, 0.0, 3.0])
def test_the_loss_at_an_edge_is_how_far_its_middle_lies_inside(level):
    fit = Fit(size=FULL_HD, level=level, zoom=1.4, x=0.3, y=0.8)
    found, (first, second, third, fourth) = cost(6000, 4000, fit), corners(placement_of(6000, 4000, fit))
    assert found.left == pytest.approx((first[0] + fourth[0]) / 2 / 6000)
    assert found.right == pytest.approx(1 - (second[0] + third[0]) / 2 / 6000)
    assert found.top == pytest.approx((first[1] + second[1]) / 2 / 4000)
    assert found.bottom == pytest.approx(1 - (third[1] + fourth[1]) / 2 / 4000)
    assert (found.empty, found.stretched) == (0, 1)


@pytest.mark.parametrize(
    ("zoom", "width", "height"), [(1.0, 1440, 1080), (0.5, 720, 540), (1.2, 1728, 1080), (2.0, 1920, 1080)]
)
def test_a_contained_still_is_shown_as_many_times_as_large(zoom, width, height):
    placement = placement_of(4000, 3000, Fit(size=FULL_HD, how="contain", zoom=zoom))
    assert (placement.target.width, placement.target.height) == (width, height)
    assert float(placement.scale) == pytest.approx(0.36 * zoom, rel=2e-3)
    assert (placement.target.left, placement.target.top) == ((1920 - width) / 2, (1080 - height) / 2)


def test_a_turned_and_mirrored_still_loses_where_that_leads():
    fit = Fit(size=FULL_HD, quarters=1, y=0.0)
    assert turned_shape(6000, 4000, fit) == (4000, 6000)
    found = cost(6000, 4000, fit)
    assert (found.left, found.right, found.top) == (0, 0, 0)
    assert found.bottom == pytest.approx(1 - 4000 * 9 / 16 / 6000)
