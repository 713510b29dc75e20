"""Light: how it is made even, what the shot's light is like, and what makes a spot grey."""

from fastapi import APIRouter

from yarnkite.api.bodies import ChangeText, Share, read_change
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import View
from yarnkite.services import light

router = APIRouter(prefix="/api/shots/{shot_id}/light", tags=["light"])


class StepView(View):
    """A change of the camera's exposure: the position of the first still after it, and by how many stops."""

    position: int
    stops: float


class CourseView(View):
    """Stops, one a still in order: the light there is, the light there will be, and what leads there.

    ``changing`` has what each setting that changes over the shot is at each still.
    """

    measured: list[float]
    planned: list[float]
    gains: list[float]
    changing: dict[str, list[float]]
    steps: list[StepView]
    flicker_before: float
    flicker_after: float
    sentence: str


class ToneView(View):
    """How the light of all stills is spread from black to white, the most 1, and what greys become, 0 … 1."""

    spread: list[float]
    curve: list[float]


class NeutralView(View):
    """``reached`` is false where the settings do not go far enough to make the spot grey."""

    warmth: float
    tint: float
    reached: bool


@router.get("/course")
def course(services: ServicesDep, shot_id: int, revision: int, change: ChangeText = "{}") -> CourseView:
    """Return how decisions make the light of a shot even."""
    return CourseView.model_validate(light.course(services, shot_id, revision, read_change(change)))


@router.get("/stills/{position}/tone")
def tone(services: ServicesDep, shot_id: int, position: int, revision: int, change: ChangeText = "{}") -> ToneView:
    """Return what decisions make of each brightness at a still, beside how the light of the shot is spread."""
    return ToneView.model_validate(light.tone(services, shot_id, position, revision, read_change(change)))


@router.get("/stills/{position}/neutral")
def neutral(
    services: ServicesDep,
    shot_id: int,
    position: int,
    x: Share,
    y: Share,
    revision: int,
    change: ChangeText = "{}",
) -> NeutralView:
    """Return what makes a spot of the frame (shares of it) that shows a still grey."""
    found = light.neutral_at(services, shot_id, position, (x, y), revision, read_change(change))
    return NeutralView.model_validate(found)
