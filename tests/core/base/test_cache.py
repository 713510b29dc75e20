"""Caches and reading are bounded by the bytes they take, however many ask."""

import threading
import time

from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.cache import Cache
from yarnkite.services.pictures import Room


@given(st.lists(st.tuples(st.integers(0, 30), st.integers(0, 400)), max_size=200))
def test_a_cache_never_takes_more_bytes_than_it_may_and_knows_how_many_it_takes(puts):
    cache = Cache(1000, len, threading.Lock())
    kept = {}
    for key, size in puts:
        cache.put(key, bytes(size))
        kept[key] = size
        assert cache.bytes <= 1000
    found = {key: len(value) for key in kept if (value := cache.peek(key)) is not None}
    assert sum(found.values()) == cache.bytes
    assert all(kept[key] == size for key, size in found.items())


def test_what_was_used_last_is_kept_and_what_is_too_large_is_not():
    cache = Cache(100, len)
    for key in "abc":
        cache.put(key, bytes(30))
    assert cache.peek("a") is not None
    cache.put("d", bytes(40))
    assert [key for key in "abcd" if cache.peek(key) is not None] == ["a", "c", "d"]
    cache.put("huge", bytes(101))
    assert cache.peek("huge") is None
    assert cache.peek("a") is not None


def test_a_value_is_made_once_as_long_as_it_is_kept():
    cache, made = Cache(100, len), []

    def make():
        made.append(1)
        return bytes(60)

    assert cache.get("a", make) is cache.get("a", make)
    cache.get("b", make)
    cache.get("a", make)
    assert len(made) == 3


def test_reading_waits_for_room_and_what_is_too_large_goes_on_alone():
    room = Room(100)
    at_once, most, lock = [0], [0], threading.Lock()

    def read(wanted):
        taken = room.take(wanted)
        with lock:
            at_once[0] += taken
            most[0] = max(most[0], at_once[0])
        time.sleep(0.005)
        with lock:
            at_once[0] -= taken
        room.give_back(taken)

    threads = [threading.Thread(target=read, args=(wanted,)) for wanted in (30, 50, 70, 250, 20, 60, 100, 40) * 3]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(20)
    assert not any(thread.is_alive() for thread in threads)
    assert 60 < most[0] <= 100
    assert at_once[0] == 0
