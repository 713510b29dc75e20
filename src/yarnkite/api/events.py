"""Server-sent events: what changed, told to every open page."""

from collections.abc import AsyncIterator

from fastapi import APIRouter
from sse_starlette import EventSourceResponse, ServerSentEvent

from yarnkite.api.dependencies import ServicesDep
from yarnkite.services.events import Events

router = APIRouter(tags=["events"])


@router.get("/api/events", include_in_schema=False)
async def listen(services: ServicesDep) -> EventSourceResponse:
    return EventSourceResponse(_server_sent(services.events), ping=15)


async def _server_sent(events: Events) -> AsyncIterator[ServerSentEvent]:
    async for event in events.listen():
        yield ServerSentEvent(event=event.name, data=event.data)
