"""Analyses of whole shots: kept by content in the database, computed by one job, and waited for by the others."""

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

LOOK_EVERY_S = 0.2


class Analyses:
    """Which analyses are being computed; each is a name that says of what it is."""

    def __init__(self) -> None:
        self._under_way: set[str] = set()
        self._changed = threading.Condition()

    @contextmanager
    def alone(self, name: str, while_waiting: Callable[[], None]) -> Iterator[None]:
        """Compute an analysis while no other job does; who had to wait finds what the other one kept.

        ``while_waiting`` is called several times a second; what it raises ends the waiting. Should the other job end
        before its time, whoever comes next goes on with what is missing.
        """
        with self._changed:
            while name in self._under_way:
                self._changed.wait(LOOK_EVERY_S)
                while_waiting()
            self._under_way.add(name)
        try:
            yield
        finally:
            with self._changed:
                self._under_way.discard(name)
                self._changed.notify_all()
