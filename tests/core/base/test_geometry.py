"""Rectangles and shapes: what follows from where their edges are."""

from collections import Counter
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.frozen import Size, even_side
from yarnkite.core.base.geometry import Rect, count_shapes, usual_shape
from yarnkite.core.base.still import Still

numbers = st.fractions(-100, 100)
lengths = st.fractions(1, 100)
rects = st.builds(Rect, numbers, numbers, lengths, lengths)


@given(rects)
def test_the_centre_is_as_far_from_each_edge(rect):
    across, down = rect.centre
    assert across - rect.left == rect.right - across == rect.width / 2
    assert down - rect.top == rect.bottom - down == rect.height / 2


@given(rects, lengths, lengths)
def test_on_a_finer_grid_every_edge_is_as_many_times_as_far(rect, across, down):
    fine = rect.scaled(across, down)
    assert (fine.left, fine.right) == (rect.left * across, rect.right * across)
    assert (fine.top, fine.bottom) == (rect.top * down, rect.bottom * down)


@given(rects, numbers, numbers, lengths)
def test_around_another_centre_it_keeps_its_shape(rect, across, down, scale):
    there = rect.around(across, down, scale)
    assert there.centre == (across, down)
    assert there.width == rect.width * scale
    assert there.height == rect.height * scale


def test_the_usual_shape_is_the_one_most_have_and_of_those_alike_the_first():
    stills = [Still(path="x", fingerprint="x", width=w, height=h) for w, h in [(3, 2), (2, 3), (2, 3), (4, 4)]]
    assert count_shapes(stills) == Counter({(3, 2): 1, (2, 3): 2, (4, 4): 1})
    assert usual_shape(count_shapes(stills)) == (2, 3)
    assert usual_shape({(6, 4): 5, (4, 6): 5}) == (6, 4)
    assert usual_shape({}) is None


def test_sides_of_a_video_are_even_and_no_smaller_than_they_can_be():
    assert [even_side(side) for side in (100, 101.2, 100.9, 99.1, Fraction(2001, 10), 3, 16, 17.5)] == [
        *(100, 102, 100, 100, 200),
        *(16, 16, 18),
    ]
    assert Size.as_wide(640, (6000, 4000)) == Size(width=640, height=426)
    assert Size.as_wide(1280, (1920, 1080)) == Size(width=1280, height=720)
