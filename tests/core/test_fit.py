from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.fit import cost, place
from yarnkite.core.recipe import Fit, Size

sides = st.integers(8, 4000)
shares = st.floats(0, 1).map(lambda share: round(share, 4))
fits = st.builds(
    Fit,
    size=st.builds(
        Size, width=st.integers(8, 4000).map(lambda n: 2 * n), height=st.integers(8, 4000).map(lambda n: 2 * n)
    ),
    how=st.sampled_from(["cover", "contain"]),
    across=shares,
    down=shares,
)


@given(width=sides, height=sides, fit=fits)
def test_what_is_shown_lies_inside_the_still_and_the_frame_and_keeps_its_shape(width, height, fit):
    placement = place(width, height, fit)
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
    placement = place(width, height, fit.model_copy(update={"how": "cover"}))
    assert (placement.target.width, placement.target.height) == (fit.size.width, fit.size.height)
    assert placement.source.width == width or placement.source.height == height


@given(width=sides, height=sides, fit=fits)
def test_contain_touches_two_edges_and_gives_up_less_than_a_frame_pixel(width, height, fit):
    placement = place(width, height, fit.model_copy(update={"how": "contain"}))
    target = placement.target
    assert target.width == fit.size.width or target.height == fit.size.height
    lost = max(width - placement.source.width, height - placement.source.height)
    assert lost * placement.scale < 1 or 1 in (target.width, target.height)


def test_cropping_three_to_two_for_sixteen_to_nine_loses_what_arithmetic_says():
    for down, top in ((0.0, 0.0), (0.5, 0.078125), (1.0, 0.15625)):
        said = cost(6000, 4000, Fit(size=Size(width=1920, height=1080), down=down))
        assert (said.top, said.bottom) == (top, 0.15625 - top)
        assert (said.left, said.right, said.empty) == (0, 0, 0)
        assert said.scale == 0.32


def test_black_edges_beside_a_four_to_three_still():
    fit = Fit(size=Size(width=1920, height=1080), how="contain", across=1.0)
    target = place(4000, 3000, fit).target
    assert (target.left, target.width, target.height) == (480, 1440, 1080)
    assert cost(4000, 3000, fit).empty == float(1 - Fraction(1440, 1920))
