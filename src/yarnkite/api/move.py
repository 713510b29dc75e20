"""Move: how the view travels, what that costs, and the usual ways to begin with."""

from typing import Annotated

from fastapi import APIRouter, Query

from yarnkite.api.bodies import ChangeText, read_change
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import View
from yarnkite.core.move.decisions import Move
from yarnkite.core.move.travel import Usual
from yarnkite.services import move

router = APIRouter(prefix="/api/shots/{shot_id}/move", tags=["move"])


class TravelView(View):
    """How a view travels, in shares of the turned still; ``enlarges`` in times, ``fastest`` in widths a second."""

    outlines: list[list[tuple[float, float]]]
    path: list[tuple[float, float]]
    held: int
    enlarges: float
    fastest: float
    sentence: str


@router.get("/travel")
def travel(services: ServicesDep, shot_id: int, revision: int, change: ChangeText = "{}") -> TravelView:
    """Return how decisions let the view travel."""
    return TravelView.model_validate(move.travel(services, shot_id, revision, read_change(change)))


@router.get("/usual")
def usual(
    services: ServicesDep,
    shot_id: int,
    revision: int,
    name: Usual,
    amount: Annotated[float, Query(ge=0.01, le=1)] = 0.2,
    change: ChangeText = "{}",
) -> Move:
    """Return one of the usual ways for this shot."""
    return move.usual(services, shot_id, revision, read_change(change), name, amount)
