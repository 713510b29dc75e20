"""Light: how it is made even, what the shot's light is like, and what makes a spot grey."""

from typing import Annotated

import imagecodecs
import numpy as np
from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from yarnkite.api.bodies import ChangeText, Share, read_change
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.pictures import ASK_AGAIN
from yarnkite.api.views import View
from yarnkite.core.light.areas import Stroke
from yarnkite.core.light.circle import ColourSpot
from yarnkite.core.light.evening import Step
from yarnkite.services import light
from yarnkite.services.decisions import Change
from yarnkite.services.light import Camera, Clipping, Laid, Neutral, Tone

Finite = Annotated[float, Field(ge=-4, le=5, allow_inf_nan=False)]

router = APIRouter(prefix="/api/shots/{shot_id}/light", tags=["light"])


class CourseView(View):
    """Stops, one a still in order: the light there is, the light there will be, and what leads there.

    ``changing`` has what each setting that changes over the shot is at each still, ``ways`` the course for each way
    that what the camera did by steps can be laid over the shot, at a few places.
    """

    measured: list[float]
    planned: list[float]
    gains: list[float]
    changing: dict[str, list[float]]
    steps: list[Step]
    flicker_before: float
    flicker_after: float
    ways: dict[str, list[float]]
    sentence: str


class HueView(BaseModel):
    """A hue in degrees of Oklab."""

    hue: float


class CircleView(View):
    spots: list[ColourSpot]
    rim: list[str]


class StrokeBody(BaseModel):
    """A stroke over the frame that shows a still, and the brush; in shares of the frame."""

    revision: int
    change: Change = Change()
    points: Annotated[list[tuple[Finite, Finite]], Field(min_length=1, max_length=4000)]
    width: Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)]
    softness: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.5
    erases: bool = False


class KnownLensView(View):
    """A lens: maker and model, and its focal lengths in mm."""

    name: str
    shortest_mm: float
    longest_mm: float


@router.get("/course")
def course(services: ServicesDep, shot_id: int, revision: int, change: ChangeText = "{}") -> CourseView:
    """Return how decisions make the light of a shot even."""
    return CourseView.model_validate(light.course(services, shot_id, revision, read_change(change)))


@router.get("/stills/{position}/tone")
def tone(
    services: ServicesDep,
    shot_id: int,
    position: int,
    revision: int,
    change: ChangeText = "{}",
    area: Annotated[int | None, Query(ge=0)] = None,
) -> Tone:
    """Return what decisions make of each brightness at a still, beside how the light of the shot is spread."""
    return light.tone(services, shot_id, position, revision, read_change(change), area)


@router.get("/stills/{position}/hue")
def hue(
    services: ServicesDep,
    shot_id: int,
    position: int,
    x: Share,
    y: Share,
    revision: int,
    change: ChangeText = "{}",
) -> HueView:
    """Return the hue of a spot of the frame (shares of it) that shows a still."""
    return HueView(hue=light.hue_at(services, shot_id, position, (x, y), revision, read_change(change)))


@router.get("/stills/{position}/clipping")
def clipping(services: ServicesDep, shot_id: int, position: int, revision: int, change: ChangeText = "{}") -> Clipping:
    """Return what is clipped in a still, and in the stills of the shot that are worst."""
    return light.clipping(services, shot_id, position, revision, read_change(change))


@router.get("/stills/{position}/circle")
def circle(services: ServicesDep, shot_id: int, position: int, revision: int, change: ChangeText = "{}") -> CircleView:
    """Return the colours of a still, around the circle of hues."""
    return CircleView.model_validate(light.circle(services, shot_id, position, revision, read_change(change)))


@router.get("/camera")
def camera(services: ServicesDep, shot_id: int) -> Camera:
    """Return what the stills say of the light they were taken in, and of their lens."""
    return light.camera(services, shot_id)


@router.get("/lenses")
def lenses(
    services: ServicesDep, shot_id: int, words: Annotated[str, Query(min_length=2, max_length=100)]
) -> list[KnownLensView]:
    """Return lenses whose maker and model hold all of some words, for a shot whose stills do not name theirs."""
    return [KnownLensView.model_validate(one) for one in light.lenses(services, shot_id, words)]


@router.get("/stills/{position}/laid")
def laid(services: ServicesDep, shot_id: int, position: int, revision: int, change: ChangeText = "{}") -> Laid:
    """Return how a frame that shows a still lies on it."""
    return light.laid(services, shot_id, position, revision, read_change(change))


@router.post("/stills/{position}/stroke")
def stroke(services: ServicesDep, shot_id: int, position: int, body: StrokeBody) -> Stroke:
    """Return where a stroke over a frame lies in the still."""
    brush = light.Brushing(body.width, body.softness, body.erases)
    points = np.array(body.points, float)
    return light.stroke(services, shot_id, position, body.revision, body.change, points, brush)


@router.get("/stills/{position}/overlay-mask.png", response_class=Response)
def overlay_mask(
    services: ServicesDep,
    shot_id: int,
    position: int,
    revision: int,
    kind: Annotated[str, Query(pattern=r"^(clipped|sharpening|\d{1,2})$")],
    change: ChangeText = "{}",
    width: Annotated[int, Query(ge=16, le=3840)] = 960,
) -> Response:
    """Return what is laid over the stage: where an area is, what is clipped, where sharpening works."""
    made = light.overlay_mask(services, shot_id, position, revision, read_change(change), width, kind)
    return Response(bytes(imagecodecs.png_encode(made, level=1)), media_type="image/png", headers=ASK_AGAIN)


@router.get("/stills/{position}/neutral")
def neutral(
    services: ServicesDep,
    shot_id: int,
    position: int,
    x: Share,
    y: Share,
    revision: int,
    change: ChangeText = "{}",
) -> Neutral:
    """Return what makes a spot of the frame (shares of it) that shows a still grey."""
    return light.neutral_at(services, shot_id, position, (x, y), revision, read_change(change))
