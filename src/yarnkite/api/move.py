"""Move: how the view travels, what that costs, and the usual ways to begin with."""

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Path, Query
from pydantic import Field

from yarnkite.api.bodies import ChangeText, Seen, read_change
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, RevisedView, View, job_view, revised_view
from yarnkite.core.move.decisions import Move, PlaceAt
from yarnkite.core.move.travel import Usual
from yarnkite.services import move, steadying
from yarnkite.services.steadying import LocatedObservation, TradeOff

Position = Annotated[int, Path(ge=0)]
ShareOf = Annotated[float, Query(ge=0, le=1, allow_inf_nan=False)]
router = APIRouter(prefix="/api/shots/{shot_id}/move", tags=["move"])


class Pick(Seen):
    """Of how many stills one is to be used."""

    every: Annotated[int, Field(ge=2, le=20)]


class SteadiedView(View):
    """How stills are laid; courses in shares of the width, ``region`` in shares of the turned still, ``left_px`` of the
    clip."""

    is_complete: bool
    job: JobView | None
    as_shot: list[float]
    steadied: list[float]
    sure: list[list[float]]
    region: tuple[float, float, float, float]
    closer: float
    left_px: float
    proposed: int
    lean_deg: float | None
    sentence: str


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


@router.get("/steady")
def steady(services: ServicesDep, shot_id: int, revision: int, change: ChangeText = "{}") -> SteadiedView:
    """Return how decisions lay stills against each other."""
    found = steadying.steadied(services, shot_id, revision, read_change(change))
    view = SteadiedView.model_validate(replace(found, job=None))
    return view.model_copy(update={"job": job_view(found.job) if found.job else None})


@router.get("/stills/{position}/observations")
def observations(
    services: ServicesDep, shot_id: int, position: Position, revision: int, change: ChangeText = "{}"
) -> list[LocatedObservation]:
    """Return where the anchored points are in a still."""
    return steadying.observations(services, shot_id, position, revision, read_change(change))


@router.get("/stills/{position}/pointed")
def pointed(
    services: ServicesDep,
    shot_id: int,
    position: Position,
    revision: int,
    x: ShareOf,
    y: ShareOf,
    change: ChangeText = "{}",
) -> PlaceAt:
    """Return what is pointed at in a still that is shown whole, in shares of it."""
    return steadying.pointed(services, shot_id, position, revision, read_change(change), x, y)


@router.get("/trade-offs")
def trade_offs(services: ServicesDep, shot_id: int, revision: int, change: ChangeText = "{}") -> list[TradeOff]:
    """Return what more or less steadying would cost."""
    return steadying.trade_offs(services, shot_id, revision, read_change(change))


@router.post("/pick")
def pick(services: ServicesDep, shot_id: int, body: Pick) -> RevisedView:
    """Use of every few stills the one that continues the camera's path best."""
    return revised_view(steadying.pick(services, shot_id, body.seen, body.every))


@router.post("/measure")
def measure(services: ServicesDep, shot_id: int) -> JobView | None:
    """Begin to measure how a shot moves, unless that is known or under way; returns the job."""
    job = steadying.measure(services, shot_id)
    return None if job is None else job_view(job)
