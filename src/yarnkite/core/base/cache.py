"""Values kept for when they are asked for again, bounded by the bytes they take and not by how many there are."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from contextlib import AbstractContextManager
from typing import Generic, TypeVar

Value = TypeVar("Value")


class Cache(Generic[Value]):
    """Keeps what was used last in at most ``most_bytes``; ``size_of`` says about how many bytes a value takes.

    ``lock`` guards it where more than one thread asks. A value heavier than the whole cache is not kept.
    """

    def __init__(
        self, most_bytes: int, size_of: Callable[[Value], int], lock: AbstractContextManager[object] | None = None
    ) -> None:
        self._most_bytes, self._weigh = most_bytes, size_of
        # One thread at a time, unless another lock is given; a worker has one thread only.
        self._lock = lock
        self._values: OrderedDict[Hashable, tuple[Value, int]] = OrderedDict()
        self._bytes = 0

    @property
    def bytes(self) -> int:
        """About how many bytes all kept values take."""
        return self._bytes

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """Return the value of a key, or have it made; two who ask at once may both make it, to the same effect."""
        found = self.peek(key)
        if found is not None:
            return found
        made = make()
        self.put(key, made)
        return made

    def peek(self, key: Hashable) -> Value | None:
        """Return the value of a key if it is kept."""
        with self._guarded():
            entry = self._values.get(key)
            if entry is None:
                return None
            self._values.move_to_end(key)
            return entry[0]

    def put(self, key: Hashable, value: Value) -> None:
        """Keep a value, and forget those used longest ago that have no room beside it."""
        weight = self._weigh(value)
        with self._guarded():
            _, before = self._values.pop(key, (None, 0))
            self._bytes -= before
            if weight > self._most_bytes:
                return
            self._values[key] = value, weight
            self._bytes += weight
            while self._bytes > self._most_bytes:
                _, (_, gone) = self._values.popitem(last=False)
                self._bytes -= gone

    def _guarded(self) -> AbstractContextManager[object]:
        return self._lock if self._lock is not None else _NOTHING


class _Nothing(AbstractContextManager[None]):
    def __exit__(self, *_: object) -> None:
        return None


_NOTHING = _Nothing()
