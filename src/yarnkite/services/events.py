"""Events: what changed, told to every open page."""

import asyncio
import json
from collections.abc import AsyncIterator
from dataclasses import dataclass
from typing import Any

WAITING_MOST = 1000


@dataclass(frozen=True)
class Event:
    """What happened, by a name, with what it concerns as JSON."""

    name: str
    data: str


class Events:
    """Passes events from any thread to all open pages."""

    def __init__(self) -> None:
        self._loop: asyncio.AbstractEventLoop | None = None
        self._pages: set[asyncio.Queue[Event]] = set()

    def attach(self, loop: asyncio.AbstractEventLoop) -> None:
        self._loop = loop

    def publish(self, name: str, data: dict[str, Any]) -> None:
        """Send an event to every page that listens; may be called from any thread."""
        if self._loop is not None and not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._send, Event(name, json.dumps(data, default=str)))

    async def listen(self) -> AsyncIterator[Event]:
        """Yield events as they come, for one page."""
        queue: asyncio.Queue[Event] = asyncio.Queue(WAITING_MOST)
        self._pages.add(queue)
        try:
            yield Event("hello", "{}")
            while True:
                yield await queue.get()
        finally:
            self._pages.discard(queue)

    def _send(self, event: Event) -> None:
        for queue in self._pages:
            # A page that stopped reading misses events; it asks for everything again when it comes back.
            if not queue.full():
                queue.put_nowait(event)
