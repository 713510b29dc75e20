"""Fitting: sizes to choose from, levelling along a line, and what the frame keeps and loses of the whole shot."""

from typing import Annotated

import cv2
import numpy as np
from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from yarnkite.api.check import WholeKind, whole_of
from yarnkite.api.decisions import ChangeText, changed
from yarnkite.api.pictures import STATE, answer, as_shot, encoded, read_from
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import View
from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.cutoff import Edge, cutoffs, worst
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import level_along
from yarnkite.core.fit.sizes import SHAPES, advice
from yarnkite.core.fit.sizes import as_shot as shape_as_shot
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.render.picture import fitted, straightened
from yarnkite.store import checks, revisions, shots, used

router = APIRouter(prefix="/api/shots/{shot_id}/fit", tags=["fit"])

Coordinate = Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]
Side = Annotated[int, Query(ge=0, le=1_000_000)]
_SPOT = 9
_PICKED_FROM = 640


class ShapeView(View):
    """A shape by its name and its sizes, width and height, small to large."""

    name: str
    sizes: list[tuple[int, int]]


class AdviceView(View):
    usable: bool
    sentence: str
    meant: list[Size]


class Line(BaseModel):
    """A line drawn on the frame, from x, y to x, y, in pixels of the clip, under a fit."""

    line: tuple[Coordinate, Coordinate, Coordinate, Coordinate]
    fit: Fit


class Levelled(BaseModel):
    level: float


class CutoffView(View):
    first: int
    last: int
    share: float
    edge: Edge


class CutoffsView(BaseModel):
    """The sentence about the worst stretch is empty where nothing is cut off."""

    sentence: str
    stretches: list[CutoffView]


class Picked(BaseModel):
    colour: str


@router.get("/sizes")
def sizes(needed: Needed, shot_id: int) -> list[ShapeView]:
    """Return the shapes and sizes to choose from, the stills' own shape last."""
    usual = _usual(needed, shot_id)
    shapes = [*SHAPES, shape_as_shot(*usual)] if usual else list(SHAPES)
    return [ShapeView(name=shape.name, sizes=list(shape.sizes)) for shape in shapes]


@router.get("/advice")
def advice_on(needed: Needed, shot_id: int, width: Side, height: Side) -> AdviceView | None:
    """Say whether a size that was typed looks like a slip, and for what; nothing if it does not."""
    said = advice(max(1, width), max(1, height), _usual(needed, shot_id))
    return AdviceView.model_validate(said) if said else None


@router.post("/level")
def level(needed: Needed, shot_id: int, body: Line) -> Levelled:
    """Return the level that makes a drawn line flat, or upright if that is nearer."""
    shots.one(needed.database, shot_id)
    return Levelled(level=level_along(body.line, body.fit))


@router.get("/cutoff")
def cutoff(needed: Needed, shot_id: int, revision: int, change: ChangeText = "{}") -> CutoffsView:
    """Name the stretches of the used stills in which much of what moves lies outside the frame."""
    decided = changed(needed, shot_id, revision, change)
    usual = _usual(needed, shot_id)
    track, _, _ = checks.of_shot(needed.database, shot_id, decided.order)
    if usual is None or not track.ids:
        return CutoffsView(sentence="", stretches=[])
    aside = used.not_in_clip(needed.database, shot_id, decided.check)
    first, last = (track.places.get(one or 0) for one in (decided.check.begin, decided.check.end))
    begin, end = first or 0, len(track.ids) - 1 if last is None else last
    places = [place for place in range(begin, end + 1) if track.ids[place] not in aside]
    found = cutoffs(track.blocks[places], usual, decided.fit)
    views = [
        CutoffView(first=places[one.first], last=places[one.last], share=one.share, edge=one.edge) for one in found
    ]
    return CutoffsView(sentence=worst(found, places), stretches=views)


@router.get("/stills/{position}/around.jpg", response_class=Response)
def around(
    needed: Needed,
    shot_id: int,
    position: int,
    revision: int,
    change: ChangeText = "{}",
    width: int = 1280,
    state: str = STATE,
) -> Response:
    """Return a whole still turned, mirrored and straightened as the clip does, but neither cropped nor levelled."""
    fit = changed(needed, shot_id, revision, change).fit
    return answer(needed, shot_id, state, lambda: _around(needed, shot_id, position, fit, width))


@router.get("/whole/{kind}.jpg", response_class=Response)
def whole_around(
    needed: Needed,
    shot_id: int,
    kind: WholeKind,
    revision: int,
    change: ChangeText = "{}",
    first: Annotated[int, Query(ge=0)] = 0,
    last: Annotated[int | None, Query(ge=0)] = None,
) -> Response:
    """Return the mean, brightest, darkest or activity of a stretch, turned and straightened like the stills."""
    fit = changed(needed, shot_id, revision, change).fit
    image = straightened(getattr(whole_of(needed, shot_id, first, last), kind), fit)
    return Response(encoded(image), media_type="image/jpeg", headers={"Cache-Control": "no-cache"})


@router.get("/stills/{position}/colour")
def colour(
    needed: Needed,
    shot_id: int,
    position: int,
    across: Annotated[float, Query(ge=0, le=1)],
    down: Annotated[float, Query(ge=0, le=1)],
    revision: int,
) -> Picked:
    """Return the colour of a spot of a whole still (shares as ``around`` shows it), the median of a few pixels."""
    image = _around(
        needed, shot_id, position, revisions.decided_by(needed.database, shot_id, revision).fit, _PICKED_FROM
    )
    height, wide = image.shape[:2]
    x, y = min(wide - 1, int(across * wide)), min(height - 1, int(down * height))
    spot = cv2.getRectSubPix(np.ascontiguousarray(image), (_SPOT, _SPOT), (x, y))
    red, green, blue = (int(value) for value in np.median(spot.reshape(-1, 3), axis=0))
    return Picked(colour=f"#{red:02x}{green:02x}{blue:02x}")


def _around(needed: Services, shot_id: int, position: int, fit: Fit, width: int) -> ImageArray:
    _, still = used.original(needed.database, shots.one(needed.database, shot_id), position)
    whole = as_shot(still, width)
    return straightened(fitted(still, whole, whole.size, read=read_from(needed.workspace.proxies)), fit)


def _usual(needed: Needed, shot_id: int) -> tuple[int, int] | None:
    """Return the upright size that most stills of a shot have."""
    shot = shots.one(needed.database, shot_id)
    _, decisions = revisions.latest(needed.database, shot_id)
    made = used.making(needed.database, shot, decisions)
    return made.recipe.usual if made.places else None
