"""Levels of H.264: what players say they decode, by the standard's own table."""

from fractions import Fraction

import pytest

from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.levels import COMMON, OLD, is_above, level_of


@pytest.mark.parametrize(
    ("width", "height", "rate", "level"),
    [
        (720, 576, 25, "3.0"),
        (1280, 720, 30, "3.1"),
        (1280, 720, 60, "4.0"),
        (1920, 1080, 30, "4.0"),
        (1920, 1088, Fraction(30_000, 1001), "4.0"),
        # A column of blocks more than 1920 has.
        (1922, 1080, 25, "4.2"),
        (1920, 1080, 60, "4.2"),
        (3840, 2160, 30, "5.1"),
        (3840, 2160, 60, "5.2"),
        (4096, 2160, 60, "5.2"),
        (7680, 4320, 30, "6.0"),
        (7680, 4320, 60, "6.1"),
        (7680, 4320, 120, "6.2"),
        (7680, 4320, 240, None),
    ],
)
def test_the_lowest_level_that_has_it_is_said(width, height, rate, level):
    assert level_of(Size(width=width, height=height), Fraction(rate)) == level


def test_what_old_and_common_players_decode_is_told():
    hd, uhd = (Size(width=width, height=height) for width, height in ((1920, 1080), (3840, 2160)))
    assert not is_above(level_of(hd, Fraction(30)), OLD)
    assert is_above(level_of(hd, Fraction(50)), OLD)
    assert not is_above(level_of(uhd, Fraction(60)), COMMON)
    assert is_above(level_of(uhd, Fraction(120)), COMMON)
    assert is_above(None, COMMON)
