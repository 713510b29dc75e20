"""Ratings of stills, and writing them into sidecars."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yarnkite.api.bodies import Chosen
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import RevisedView, revised_view
from yarnkite.services import ratings

router = APIRouter(prefix="/api/shots/{shot_id}/ratings", tags=["check"])


class Rating(Chosen):
    """How good stills are: 1 to 5, 0 for not rated, -1 for rejected; nothing for what their files say."""

    rating: Annotated[int, Field(ge=-1, le=5)] | None


class ToWrite(BaseModel):
    """How many sidecars would be written, in a sentence, and why others cannot be; ``digest`` names just this."""

    digest: str
    files: int
    sentence: str
    refused: list[str]


class ConfirmedRatings(BaseModel):
    """The digest of what the person saw and confirmed."""

    digest: str


class WrittenRatings(BaseModel):
    files: int


@router.post("")
def rate_stills(services: ServicesDep, shot_id: int, body: Rating) -> RevisedView:
    """Rate stills; that they are rated changes no clip."""
    return revised_view(ratings.rate(services, shot_id, body.seen, body.stills, body.rating))


@router.get("/sidecars")
def ratings_to_write(services: ServicesDep, shot_id: int) -> ToWrite:
    """Return what would be written so that sidecars say what was rated here; nothing is changed."""
    found = ratings.to_write(services, shot_id)
    return ToWrite(
        digest=found.digest, files=len(found.ratings), sentence=found.sentence, refused=list(found.refused[:20])
    )


@router.post("/sidecars")
def write_ratings(services: ServicesDep, shot_id: int, body: ConfirmedRatings) -> WrittenRatings:
    """Write the ratings into sidecars as shown, all else in them as it was."""
    return WrittenRatings(files=ratings.write(services, shot_id, body.digest))
