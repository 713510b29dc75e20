"""Segments of clips that are being played: made when a page asks for them, and kept for when it asks again."""

import threading
from collections import OrderedDict
from collections.abc import Iterable
from concurrent.futures import Future
from itertools import count

from yarnkite.core.base.errors import NotFound
from yarnkite.core.encode.preview import Segment, render_segment
from yarnkite.core.gather.proxies import Proxies

# Segments are made by threads of the server, which the workers' long segments of work do not hold up.
_AT_ONCE = 2
_KEPT_BYTES = 250_000_000
# A frame that is known takes about half a kilobyte.
_KNOWN_FRAMES = 400_000

_Waiter = tuple[int, int]


class PrioritySemaphore:
    """Lets a few segments be worked on at a time, those of the newest plan first; older ones wait between two
    frames."""

    def __init__(self, at_once: int = _AT_ONCE) -> None:
        self._at_once = at_once
        self._every: list[_Waiter] = []
        self._numbers = count()
        self._changed = threading.Condition()

    def join(self, plan: int) -> _Waiter:
        """Ask to be let on; plans are numbered from old to new."""
        with self._changed:
            waiter = (-plan, next(self._numbers))
            self._every.append(waiter)
            self._every.sort()
            return waiter

    def wait(self, waiter: _Waiter) -> None:
        """Return once there is room."""
        with self._changed:
            self._changed.wait_for(lambda: self._every.index(waiter) < self._at_once)

    def leave(self, waiter: _Waiter) -> None:
        with self._changed:
            self._every.remove(waiter)
            self._changed.notify_all()


class Segments:
    """Knows which segments were offered, makes each once however many ask for it, and keeps the newest."""

    def __init__(self, proxies: Proxies) -> None:
        self._read = proxies.read_quickly
        self._known: OrderedDict[str, tuple[Segment, int]] = OrderedDict()
        self._made: OrderedDict[str, bytes] = OrderedDict()
        self._coming: dict[str, Future[bytes]] = {}
        self._bytes = 0
        self._known_frames = 0
        self._plans = 0
        self._lock = threading.Lock()
        self._semaphore = PrioritySemaphore()

    def offer(self, segments: Iterable[Segment]) -> None:
        """Note the segments of a plan, which may be asked for from now on."""
        with self._lock:
            self._plans += 1
            for segment in segments:
                before = self._known.pop(segment.key, None)
                self._known[segment.key] = segment, self._plans
                self._known_frames += len(segment.specs) - (len(before[0].specs) if before else 0)
            while self._known_frames > _KNOWN_FRAMES:
                _, (old, _) = self._known.popitem(last=False)
                self._known_frames -= len(old.specs)

    def get(self, key: str) -> bytes:
        """Return a segment; raises ``NotFound`` if it was never offered, or too long ago, and ``UnreadableStill``."""
        with self._lock:
            if key in self._made:
                self._made.move_to_end(key)
                return self._made[key]
            if key not in self._known:
                raise NotFound(
                    "no_such_segment", "This segment of the clip is not known any more. Start playing again."
                )
            segment, plan = self._known[key]
            mine = key not in self._coming
            coming = self._coming.setdefault(key, Future())
        if mine:
            self._make(segment, plan, coming)
        return coming.result()

    def _make(self, segment: Segment, plan: int, coming: "Future[bytes]") -> None:
        waiter = self._semaphore.join(plan)
        try:
            data = render_segment(segment, self._read, lambda: self._semaphore.wait(waiter))
            with self._lock:
                self._keep(segment.key, data)
            coming.set_result(data)
        except BaseException as error:
            coming.set_exception(error)
        finally:
            self._semaphore.leave(waiter)
            with self._lock:
                self._coming.pop(segment.key, None)

    def _keep(self, key: str, data: bytes) -> None:
        self._made[key] = data
        self._bytes += len(data)
        while self._bytes > _KEPT_BYTES and len(self._made) > 1:
            _, old = self._made.popitem(last=False)
            self._bytes -= len(old)
