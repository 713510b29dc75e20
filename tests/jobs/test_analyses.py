"""An analysis is computed once however many jobs want it, and a wish to end is heard while waiting."""

import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

from yarnkite.jobs.analyses import Analyses


def test_who_waited_finds_what_the_other_kept():
    analyses, kept, computed = Analyses(), set(), []
    begun, go_on = threading.Event(), threading.Event()

    def work(number: int) -> None:
        with analyses.alone("pairs of shot 1", lambda: None):
            if "pairs" not in kept:
                begun.set()
                assert go_on.wait(10)
                computed.append(number)
                kept.add("pairs")

    with ThreadPoolExecutor(3) as pool:
        first = pool.submit(work, 1)
        assert begun.wait(10)
        others = [pool.submit(work, number) for number in (2, 3)]
        # Another shot's does not wait.
        with analyses.alone("pairs of shot 2", pytest.fail):
            go_on.set()
        for one in (first, *others):
            one.result(10)
    assert computed == [1]


def test_waiting_ends_when_the_job_is_to_end():
    class Cancelled(Exception):
        pass

    def cancel() -> None:
        raise Cancelled

    analyses = Analyses()
    with analyses.alone("pairs", pytest.fail), pytest.raises(Cancelled), analyses.alone("pairs", cancel):
        pytest.fail("two at a time")
    with analyses.alone("pairs", pytest.fail):
        pass


def test_one_that_failed_lets_the_next_go_on():
    analyses = Analyses()
    with pytest.raises(ZeroDivisionError), analyses.alone("pairs", pytest.fail):
        raise ZeroDivisionError
    with analyses.alone("pairs", pytest.fail):
        pass
