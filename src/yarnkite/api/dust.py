"""Dust on the sensor, removed from all stills of a shot."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yarnkite.api.bodies import Seen
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import RevisedView, revised_view
from yarnkite.core.image.dust import DustPlace
from yarnkite.services import dust

router = APIRouter(prefix="/api/shots/{shot_id}/dust", tags=["check"])
_Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)]


class SpotPlace(Seen):
    """The middle of a spot in shares of the still's width and height, its width in shares of the still's width."""

    x: _Share
    y: _Share
    width: Annotated[float, Field(ge=0.002, le=0.12, allow_inf_nan=False)]

    @property
    def place(self) -> DustPlace:
        return DustPlace(self.x, self.y, self.width)


class SpotView(BaseModel):
    """A spot that is removed, what it took, and the positions of the stills that showed it most."""

    x: float
    y: float
    width: float
    sentence: str
    worst: list[int]


@router.get("")
def removed_spots(services: ServicesDep, shot_id: int) -> list[SpotView]:
    """Return the spots that are removed."""
    return [
        SpotView(x=one.spot.x, y=one.spot.y, width=one.spot.width, sentence=one.sentence, worst=list(one.worst))
        for one in dust.removed(services, shot_id)
    ]


@router.post("")
def remove_spot(services: ServicesDep, shot_id: int, body: SpotPlace) -> RevisedView:
    """Measure a spot in stills of all of the shot, and remove it from each."""
    return revised_view(dust.remove(services, shot_id, body.seen, body.place))


@router.post("/back")
def bring_spot_back(services: ServicesDep, shot_id: int, body: SpotPlace) -> RevisedView:
    """Leave a spot in the picture again."""
    return revised_view(dust.bring_back(services, shot_id, body.seen, body.place))
