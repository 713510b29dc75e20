"""The order of a shot: its stills, its tail, and each still as it was shot."""

import json
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import Field

from yarnkite.api.bodies import Chosen
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.pictures import ASK_AGAIN, State, answer, png_of_rows
from yarnkite.api.views import OrderView, RevisedView, StillsView, StillView, revised_view
from yarnkite.services import order, pictures

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["order"])
_STILL = tuple(StillView.model_fields)


class Reordering(Chosen):
    """``to`` is the position, from 0, among the stills that stay."""

    to: Annotated[int, Field(ge=0)]


@router.get("/stills", response_model=StillsView)
def list_stills(services: ServicesDep, shot_id: int, since: Annotated[int, Query(ge=0, le=2**32)] = 0) -> Response:
    """Return a shot's stills in order; with ``since`` only those with ids above it, for a shot that is being
    gathered."""
    listed = order.listed(services, shot_id, since)
    view = {
        "stills": [{field: row[field] for field in _STILL} for row in listed.stills],
        **{name: getattr(listed, name) for name in ("left_out", "found", "state", "away")},
    }
    # Written out here: the framework would make ten thousand models of them first.
    return Response(json.dumps(view, default=datetime.isoformat, ensure_ascii=False), media_type="application/json")


@router.get("/order")
def order_of_shot(services: ServicesDep, shot_id: int) -> OrderView:
    """Return the orders a shot's stills could have, the recommended one with the reason, and what breaks the order."""
    return OrderView.model_validate(order.order_of_shot(services, shot_id))


@router.post("/order/move")
def move_stills(services: ServicesDep, shot_id: int, body: Reordering) -> RevisedView:
    """Put stills together at another position; the order is by hand from then on."""
    return revised_view(order.move(services, shot_id, body.seen, body.stills, body.to))


@router.post("/order/reverse")
def reverse_stills(services: ServicesDep, shot_id: int, body: Chosen) -> RevisedView:
    """Let stills change places, the first with the last and so on; none means all."""
    return revised_view(order.reverse(services, shot_id, body.seen, body.stills))


@router.get("/tail.png", response_class=Response)
def tail(services: ServicesDep, shot_id: int) -> Response:
    """Return the whole shot as one picture: a row per still, 160 pixels wide, top of the still at the left."""
    rows = order.tail_rows(services, shot_id)
    return Response(png_of_rows(rows), media_type="image/png", headers={"Cache-Control": "no-store"})


@router.get("/stills/{position}.jpg", response_class=Response)
def still(services: ServicesDep, shot_id: int, position: int, width: int = 1280, state: str = State) -> Response:
    """Return a still as it was shot, upright, at most ``width`` pixels wide."""
    return answer(services, shot_id, state, lambda: pictures.as_it_was_shot(services, shot_id, position, width))


@router.get("/stills/{position}/thumbnail.jpg", response_class=Response)
def thumbnail(services: ServicesDep, shot_id: int, position: int, state: str = State) -> Response:
    """Return a still as it was shot, upright, about 320 pixels on its longer side."""
    return answer(services, shot_id, state, lambda: pictures.thumbnail(services, shot_id, position))


@router.get("/middle.jpg", response_class=Response)
def middle(services: ServicesDep, shot_id: int, width: int = 480) -> Response:
    """Return the still in the middle of the shot, to know the shot by."""
    return Response(pictures.middle(services, shot_id, width), media_type="image/jpeg", headers=ASK_AGAIN)
