"""Capture times: put in universal time by one rule, whoever knows the offset."""

from datetime import datetime, timedelta, timezone

from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.capture_time import local_time, universal_time, with_offset

BEGINS = datetime(2031, 5, 4, 9, 30)
offsets = st.integers(-14 * 60, 14 * 60)


def test_a_time_that_carries_its_offset_is_put_in_universal_time():
    assert universal_time(BEGINS.replace(tzinfo=timezone(timedelta(hours=2)))) == BEGINS - timedelta(hours=2)


def test_a_time_without_an_offset_stays_as_the_clock_said_it():
    assert universal_time(BEGINS) == BEGINS
    assert universal_time(None) is None
    assert with_offset(BEGINS, None) == BEGINS


@given(offsets)
def test_an_offset_apart_from_its_time_means_the_same(minutes):
    carried = with_offset(BEGINS, minutes)
    assert universal_time(BEGINS, minutes) == universal_time(carried)
    assert local_time(carried) == (BEGINS, minutes)
