"""Fitting: sizes to choose from, levelling along a line, and what the frame keeps and loses of the whole shot."""

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from yarnkite.api.bodies import ChangeText, LastPosition, Position, Share, read_change
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.pictures import ASK_AGAIN, State, answer, jpeg_of
from yarnkite.api.views import View
from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.decisions import Fit
from yarnkite.services import fit
from yarnkite.services.check import StackKind
from yarnkite.services.fit import CutoffResult

router = APIRouter(prefix="/api/shots/{shot_id}/fit", tags=["fit"])

Coordinate = Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]
Side = Annotated[int, Query(ge=0, le=1_000_000)]


class ShapeView(View):
    """A shape by its name and its sizes, width and height, small to large."""

    name: str
    sizes: list[tuple[int, int]]


class AdviceView(View):
    usable: bool
    sentence: str
    meant: list[Size]


class SmallLightsView(BaseModel):
    """What small lights lose, in a sentence; empty for nothing."""

    sentence: str


class Line(BaseModel):
    """A line drawn on the frame, from x, y to x, y, in pixels of the clip, under a fit."""

    line: tuple[Coordinate, Coordinate, Coordinate, Coordinate]
    fit: Fit


class Levelled(BaseModel):
    level: float


class Picked(BaseModel):
    colour: str


@router.get("/sizes")
def sizes(services: ServicesDep, shot_id: int) -> list[ShapeView]:
    """Return the shapes and sizes to choose from, the stills' own shape last."""
    return [ShapeView.model_validate(one) for one in fit.aspect_ratios(services, shot_id)]


@router.get("/advice")
def advice_on(services: ServicesDep, shot_id: int, width: Side, height: Side) -> AdviceView | None:
    """Say whether a size that was typed looks like a slip, and for what; nothing if it does not."""
    found = fit.advice_on(services, shot_id, width, height)
    return AdviceView.model_validate(found) if found else None


@router.post("/level")
def level(services: ServicesDep, shot_id: int, body: Line) -> Levelled:
    """Return the level that makes a drawn line flat, or upright if that is nearer."""
    return Levelled(level=fit.level(services, shot_id, body.line, body.fit))


@router.get("/cutoff")
def cutoff(services: ServicesDep, shot_id: int, revision: int, change: ChangeText = "{}") -> CutoffResult:
    """Name the stretches of the used stills in which much of what moves lies outside the frame."""
    return fit.cutoff(services, shot_id, revision, read_change(change))


@router.get("/small-lights")
def small_lights(services: ServicesDep, shot_id: int, revision: int, change: ChangeText = "{}") -> SmallLightsView:
    """Say what stars, lamps and glitter lose by being made so small; an empty sentence for nothing."""
    return SmallLightsView(sentence=fit.small_lights_of(services, shot_id, revision, read_change(change)))


@router.get("/stills/{position}/around.jpg", response_class=Response)
def around(
    services: ServicesDep,
    shot_id: int,
    position: int,
    revision: int,
    change: ChangeText = "{}",
    width: int = 1280,
    state: str = State,
) -> Response:
    """Return a whole still turned, mirrored and straightened as the clip does, but neither cropped nor levelled."""
    tried = read_change(change)
    return answer(services, shot_id, state, lambda: fit.around(services, shot_id, position, revision, tried, width))


@router.get("/stack/{kind}.jpg", response_class=Response)
def stack_around(
    services: ServicesDep,
    shot_id: int,
    kind: StackKind,
    revision: int,
    change: ChangeText = "{}",
    first: Position = 0,
    last: LastPosition = None,
) -> Response:
    """Return the mean, brightest, darkest or activity of a stretch, turned and straightened like the stills."""
    image = fit.stack_around(services, shot_id, kind, revision, read_change(change), first, last)
    return Response(jpeg_of(image), media_type="image/jpeg", headers=ASK_AGAIN)


@router.get("/stills/{position}/colour")
def colour(services: ServicesDep, shot_id: int, position: int, x: Share, y: Share, revision: int) -> Picked:
    """Return the colour of a spot of a whole still (shares as ``around`` shows it), the median of a few pixels."""
    return Picked(colour=fit.colour_at(services, shot_id, position, (x, y), revision))
