"""Server-sent events: what changed, told to every open page."""

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Any

from fastapi import APIRouter, Request
from sse_starlette import EventSourceResponse, ServerSentEvent

router = APIRouter(tags=["events"])

WAITING_MOST = 1000


class Events:
    """Passes events from any thread to all open pages."""

    def __init__(self) -> None:
        self._loop: asyncio.AbstractEventLoop | None = None
        self._pages: set[asyncio.Queue[ServerSentEvent]] = set()

    def attach(self, loop: asyncio.AbstractEventLoop) -> None:
        self._loop = loop

    def publish(self, name: str, data: dict[str, Any]) -> None:
        """Send an event to every page that listens; may be called from any thread."""
        if self._loop is not None and not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._send, ServerSentEvent(event=name, data=json.dumps(data, default=str)))

    async def listen(self) -> AsyncIterator[ServerSentEvent]:
        """Yield events as they come, for one page."""
        queue: asyncio.Queue[ServerSentEvent] = asyncio.Queue(WAITING_MOST)
        self._pages.add(queue)
        try:
            yield ServerSentEvent(event="hello", data="{}")
            while True:
                yield await queue.get()
        finally:
            self._pages.discard(queue)

    def _send(self, event: ServerSentEvent) -> None:
        for queue in self._pages:
            # A page that stopped reading misses events; it asks for everything again when it comes back.
            if not queue.full():
                queue.put_nowait(event)


@router.get("/api/events", include_in_schema=False)
async def events(request: Request) -> EventSourceResponse:
    hub: Events = request.app.state.services.events
    return EventSourceResponse(hub.listen(), ping=15)
