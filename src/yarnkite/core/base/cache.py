"""Values kept for when they are asked for again, bounded by the bytes they take and not by how many there are."""

from collections.abc import Callable, Hashable
from contextlib import AbstractContextManager, nullcontext, suppress
from typing import Generic, TypeVar

from cachetools import LRUCache

Value = TypeVar("Value")


class Cache(Generic[Value]):
    """Keeps what was used last in at most ``most_bytes``; ``size_of`` says about how many bytes a value takes.

    ``lock`` guards it where more than one thread asks. A value heavier than the whole cache is not kept.
    """

    def __init__(
        self, most_bytes: int, size_of: Callable[[Value], int], lock: AbstractContextManager[object] | None = None
    ) -> None:
        # One thread at a time, unless another lock is given; a worker has one thread only.
        self._lock = lock or nullcontext()
        self._values: LRUCache[Hashable, Value] = LRUCache(most_bytes, size_of)

    @property
    def bytes(self) -> int:
        """About how many bytes all kept values take."""
        return int(self._values.currsize)

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
        with self._lock:
            return self._values.get(key)

    def put(self, key: Hashable, value: Value) -> None:
        """Keep a value, and forget those used longest ago that have no room beside it."""
        with self._lock:
            self._values.pop(key, None)
            # One that is heavier than all there is room for is refused.
            with suppress(ValueError):
                self._values[key] = value
