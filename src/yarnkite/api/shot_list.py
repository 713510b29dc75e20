"""Shot lists that other programs read and write."""

from typing import Annotated, Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from yarnkite.api.bodies import Seen
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import RevisedView, revised_view
from yarnkite.core.order.shot_list import MissingFrames
from yarnkite.services import shot_list

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["order"])


class ShotListText(Seen):
    """A shot list to open, as text."""

    format: Literal["csv", "otio"]
    text: Annotated[str, Field(max_length=40_000_000)]


class Opened(BaseModel):
    """What a list did: stills it placed, stills it set aside or did not name, and names the shot does not have."""

    revised: RevisedView
    placed: int
    aside: int
    unknown: list[str]


@router.get("/list.csv", response_class=Response)
def list_as_csv(services: ServicesDep, shot_id: int) -> Response:
    """Return the shot list as CSV (RFC 4180): position, name, capture time, set aside."""
    return Response(shot_list.as_csv(services, shot_id), media_type="text/csv; charset=utf-8")


@router.get("/list.otio", response_class=Response)
def list_as_otio(services: ServicesDep, shot_id: int, missing: MissingFrames = "error") -> Response:
    """Return the shot list as an OpenTimelineIO document with image sequences."""
    return Response(shot_list.as_otio(services, shot_id, missing), media_type="application/json")


@router.post("/list")
def open_list(services: ServicesDep, shot_id: int, body: ShotListText) -> Opened:
    """Put the shot's stills in the order of a list; those it sets aside or does not name are set aside."""
    opened = shot_list.open_list(services, shot_id, body.seen, body.format, body.text)
    return Opened(
        revised=revised_view(opened.revised), placed=opened.placed, aside=opened.aside, unknown=opened.unknown
    )
