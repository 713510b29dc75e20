"""Results made ahead by threads: in order, few at a time, and nothing more once nobody wants them."""

import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

from yarnkite.core.base.result_source import OneByOne
from yarnkite.jobs.ahead import Ahead


@pytest.mark.parametrize("making", [OneByOne(), Ahead(1), Ahead(3)])
def test_results_come_in_the_order_of_the_items(making):
    assert list(making(lambda item: item * item, range(40))) == [item * item for item in range(40)]


def test_as_many_are_made_at_a_time_as_there_are_threads():
    together = threading.Barrier(3)
    assert list(Ahead(3)(lambda item: together.wait(10) >= 0 and item, range(9))) == list(range(9))


def test_no_more_are_begun_than_twice_the_threads_beyond_what_was_taken():
    begun = []
    results = Ahead(2)(lambda item: begun.append(item) or item, range(100))
    for taken in range(1, 20):
        next(results)
        assert len(begun) <= taken + 4
    results.close()


@pytest.mark.parametrize("making", [OneByOne(), Ahead(2)])
def test_a_failure_comes_where_its_result_would_and_the_ones_before_are_there(making):
    results = making(lambda item: 10 // (5 - item), range(20))
    assert [next(results) for _ in range(5)] == [2, 2, 3, 5, 10]
    with pytest.raises(ZeroDivisionError):
        next(results)


def test_nothing_is_begun_once_it_is_closed():
    begun = []
    go_on = threading.Event()

    def make(item: int) -> int:
        begun.append(item)
        if item:
            assert go_on.wait(10)
        return item

    results = Ahead(1)(make, range(50))
    assert next(results) == 0
    with ThreadPoolExecutor(1) as other:
        closed = other.submit(results.close)
        go_on.set()
        closed.result(10)
    assert begun in ([0], [0, 1])
