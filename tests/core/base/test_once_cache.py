"""Results kept for several threads: made once, few held, and a failure is no result."""

import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

from yarnkite.core.base.once_cache import OnceCache


def test_who_asks_while_it_is_made_gets_the_same_and_it_is_made_once():
    kept: OnceCache[str, object] = OnceCache(3)
    begun, go_on = threading.Event(), threading.Event()
    made = []

    def make() -> object:
        begun.set()
        assert go_on.wait(10)
        made.append(object())
        return made[-1]

    with ThreadPoolExecutor(4) as pool:
        first = pool.submit(kept.take, "a", make)
        assert begun.wait(10)
        others = [pool.submit(kept.take, "a", make) for _ in range(3)]
        # Another key does not wait for this one.
        assert kept.take("b", lambda: "other") == "other"
        go_on.set()
        results = [one.result(10) for one in (first, *others)]
    assert len(made) == 1
    assert all(result is made[0] for result in results)


def test_only_the_newest_are_held():
    kept: OnceCache[int, int] = OnceCache(2)
    made = []
    for key in (1, 2, 3, 2, 3, 1):
        assert kept.take(key, lambda key=key: made.append(key) or key) == key
    assert made == [1, 2, 3, 1]


def test_what_could_not_be_made_is_tried_again():
    kept: OnceCache[int, str] = OnceCache(2)
    with pytest.raises(ZeroDivisionError):
        kept.take(1, lambda: str(1 // 0))
    assert kept.take(1, lambda: "made") == "made"
