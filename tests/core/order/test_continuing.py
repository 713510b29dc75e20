"""What only continues an order keeps the places of all before it, whichever of the orders is chosen."""

from datetime import datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.order.analysis import analyse
from yarnkite.core.order.breaks import Taken
from yarnkite.core.order.continuing import continues, is_ascending

BEGINS = datetime(2031, 5, 4, 9, 30)


def taken(name, seconds):
    captured = None if seconds is None else BEGINS + timedelta(seconds=seconds)
    return Taken(name, captured, BEGINS, name)


@given(
    st.lists(st.integers(0, 12_000), min_size=2, max_size=40, unique=True),
    st.lists(st.integers(1, 40), min_size=40, max_size=40),
    st.integers(1, 8),
    st.sampled_from(["MRW_{:04}.JPG", "m{}.jpg", "101 a/2031-05-04 {} b2.jpg"]),
    st.booleans(),
)
def test_places_stay_and_the_new_come_last(numbers, steps, new, pattern, timed):
    seconds = [sum(steps[: place + 1]) for place in range(len(numbers))]
    every = [
        taken(pattern.format(number), at if timed else None)
        for number, at in zip(sorted(numbers), seconds, strict=False)
    ]
    before, after = every[:-new], every[-new:]
    if not before:
        return
    assert is_ascending(before)
    chain = zip([before[-1], *after], after, strict=False)
    # 10 comes after 9 also where zeros lead, but another count of letters is another camera's.
    if not all(continues(*pair) for pair in chain):
        return
    for by in ("recommended", "counter", "time"):
        assert analyse(every).order(by) == tuple(range(len(every)))


@pytest.mark.parametrize(
    ("name", "seconds"),
    [("MRW_8.jpg", 60), ("MRW_9.jpg", 60), ("MRW_10.jpg", 50), ("MRW_10.jpg", None), ("tern_10.jpg", 60)],
    ids=["number", "same number", "same time", "no time", "name"],
)
def test_what_goes_back_or_is_called_otherwise_does_not_continue(name, seconds):
    assert continues(taken("MRW_9.jpg", 50), taken("MRW_10.jpg", 60))
    assert not continues(taken("MRW_9.jpg", 50), taken(name, seconds))


def test_a_clock_that_goes_back_or_a_number_that_does_is_no_rising_order():
    assert is_ascending([taken("a_1.jpg", 1), taken("a_2.jpg", 2), taken("a_10.jpg", 3)])
    assert not is_ascending([taken("a_1.jpg", 2), taken("a_2.jpg", 1)])
    assert not is_ascending([taken("a_2.jpg", 1), taken("a_1.jpg", 2)])
    assert not is_ascending([taken("a_1.jpg", None), taken("a_2.jpg", 2)])
