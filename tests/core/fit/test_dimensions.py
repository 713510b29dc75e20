"""Sizes to choose from, and sizes that look like a slip."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.dimensions import SHAPES, advice, as_shot


def test_every_offered_size_is_usable_and_has_the_shape_it_is_under():
    for shape in SHAPES:
        across, down = (Fraction(part) for part in shape.name.split(":"))
        for width, height in shape.sizes:
            Size(width=width, height=height)
            assert abs(Fraction(width, height) / (across / down) - 1) < Fraction(1, 100), shape.name
            assert advice(width, height) is None
    every = {size for shape in SHAPES for size in shape.sizes}
    assert {(7680, 4320), (4096, 2160), (1080, 1920), (1080, 1350)} <= every


@pytest.mark.parametrize(
    ("typed", "meant"),
    [
        ((1918, 1080), (1920, 1080)),
        ((1940, 1080), (1920, 1080)),
        ((1920, 1088), (1920, 1080)),
        ((1921, 1081), (1920, 1080)),
        ((3840, 2176), (3840, 2160)),
        ((1082, 1920), (1080, 1920)),
    ],
)
def test_a_slip_is_pointed_out_with_what_was_probably_meant(typed, meant):
    said = advice(*typed)
    assert said is not None
    assert (said.meant[0].width, said.meant[0].height) == meant
    assert said.usable == (typed[0] % 2 == 0 and typed[1] % 2 == 0)


def test_padded_sides_are_explained():
    assert "1088 is 1080 filled up to whole blocks" in advice(1920, 1088).sentence


@given(width=st.integers(1, 20_000), height=st.integers(1, 20_000))
def test_whatever_is_not_usable_is_never_called_usable(width, height):
    said = advice(width, height)
    good = width % 2 == height % 2 == 0 and min(width, height) >= 16 and max(width, height) <= 8192
    assert (said is None or said.usable) == good
    for one in said.meant if said else ():
        assert advice(one.width, one.height) is None or not good or one != Size(width=width, height=height)


def test_a_size_of_ones_own_is_left_alone():
    assert advice(1500, 900) is None
    assert advice(160, 90) is not None


def test_as_shot_offers_the_stills_own_shape_up_to_their_size():
    shape = as_shot(6016, 4016)
    assert shape.sizes[-1] == (6016, 4016)
    assert all(width <= 6016 and width % 2 == height % 2 == 0 for width, height in shape.sizes)
    assert all(abs(width / height - 6016 / 4016) < 0.003 for width, height in shape.sizes)
    assert advice(6016, 4016, (6016, 4016)) is None


def test_as_shot_is_offered_in_usual_sizes_up_to_the_stills_own():
    assert as_shot(6000, 4000).sizes == ((1080, 720), (1620, 1080), (2160, 1440), (3240, 2160), (6000, 4000))
    assert as_shot(4000, 6000).sizes == ((720, 1080), (1080, 1620), (1440, 2160), (2160, 3240), (4000, 6000))
    assert as_shot(1000, 600).sizes == ((1000, 600),)
    assert as_shot(1920, 1080).sizes == ((1280, 720), (1920, 1080))
    # None is larger than a video's side may be.
    assert as_shot(12_000, 3000).sizes == ((2880, 720), (4320, 1080), (5760, 1440))


def test_what_is_too_large_or_too_small_is_said_with_what_fits():
    large = advice(10_000, 5000)
    assert (large.usable, large.sentence) == (False, "A side may have up to 8,192 pixels.")
    assert large.meant == (Size(width=8192, height=4096),)
    assert advice(8192, 4096) is None
    assert advice(14, 400).sentence == "A side needs at least 16 pixels."
    assert advice(16, 400).usable
    assert "very small" in advice(238, 400).sentence
    assert advice(240, 400) is None
