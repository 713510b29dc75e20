"""A few results kept for who asks for them again, made once even when several threads ask at a time."""

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Generic, TypeVar

Key = TypeVar("Key")
Result = TypeVar("Result")


class OnceCache(Generic[Key, Result]):
    """The ``most`` results that were last asked for the first time."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._lock = Lock()
        self._places: OrderedDict[Key, _Place[Result]] = OrderedDict()

    def take(self, key: Key, make: Callable[[], Result]) -> Result:
        """Return a kept result, or make it; who asks while another thread makes it waits. Raises what ``make`` does."""
        with self._lock:
            place = self._places.setdefault(key, _Place())
            while len(self._places) > self._most:
                self._places.popitem(last=False)
        with place.lock:
            if not place.made:
                place.made.append(make())
        return place.made[0]


class _Place(Generic[Result]):
    """Where a result is put: nothing, or the one."""

    def __init__(self) -> None:
        self.lock = Lock()
        self.made: list[Result] = []
