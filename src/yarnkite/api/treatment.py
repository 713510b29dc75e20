"""Treating shots like another, and the clips of several shots at once."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, View, job_view
from yarnkite.core.brief.treatment import TreatedPart
from yarnkite.services import treatment

router = APIRouter(prefix="/api/projects/{project_id}", tags=["treatment"])

_MOST_SHOTS = 500


class ShotSeen(BaseModel):
    """A shot, and the revision of it the person saw."""

    shot: int
    seen: int


class Ticked(BaseModel):
    """Shots that were ticked."""

    shots: Annotated[list[int], Field(min_length=1, max_length=_MOST_SHOTS)]


class TreatmentWish(Ticked):
    """Which shots are to be like which, and in what."""

    model: int
    parts: Annotated[list[TreatedPart], Field(min_length=1, max_length=5)]


class Treat(BaseModel):
    """Which shots are to be like which, each by the revision the person saw, and in what."""

    model: ShotSeen
    shots: Annotated[list[ShotSeen], Field(min_length=1, max_length=_MOST_SHOTS)]
    parts: Annotated[list[TreatedPart], Field(min_length=1, max_length=5)]


class Clips(BaseModel):
    shots: Annotated[list[ShotSeen], Field(min_length=1, max_length=_MOST_SHOTS)]


class TriedView(View):
    """What a shot would be like: in a sentence, with what it keeps of its own, and what its clip is expected to
    take."""

    shot_id: int
    name: str
    seen: int
    sentence: str
    exceptions: list[str]
    changes: bool
    bytes: int
    seconds: float
    cannot: str


class TriedShots(BaseModel):
    """What all would be like; ``model_seen`` is the revision of the model."""

    shots: list[TriedView]
    model_seen: int


class TreatmentView(View):
    """A treatment that stands; ``is_behind`` says that the model was changed since."""

    id: int
    model_id: int
    model: str
    parts: list[TreatedPart]
    shots: list[int]
    names: list[str]
    is_behind: bool


class TakenBackView(View):
    """Shots that are as they were, and the names of those that were changed since and stay."""

    shots: list[int]
    changed: list[str]


class ClipUnderWay(BaseModel):
    """How far a shot's clip is: its job, or why there is none."""

    shot_id: int
    name: str
    job: JobView | None
    sentence: str
    is_made: bool


@router.post("/treatments/try")
def try_treatment(services: ServicesDep, project_id: int, body: TreatmentWish) -> TriedShots:
    """Say what shots would be, treated like another; nothing is changed."""
    seen, found = treatment.tried(services, project_id, body.model, body.shots, body.parts)
    return TriedShots(shots=[TriedView.model_validate(one) for one in found], model_seen=seen)


@router.post("/treatments", status_code=201)
def treat(services: ServicesDep, project_id: int, body: Treat) -> TreatmentView | None:
    """Treat shots like another, all or none; nothing where that changes nothing."""
    seen = [(one.shot, one.seen) for one in body.shots]
    made = treatment.treat(services, project_id, (body.model.shot, body.model.seen), seen, body.parts)
    return TreatmentView.model_validate(made) if made else None


@router.get("/treatments")
def list_treatments(services: ServicesDep, project_id: int) -> list[TreatmentView]:
    """Return the treatments that stand, the newest first."""
    return [TreatmentView.model_validate(one) for one in treatment.listed(services, project_id)]


@router.post("/treatments/{treatment_id}/undo")
def undo_treatment(services: ServicesDep, project_id: int, treatment_id: int) -> TakenBackView:
    """Take a treatment back from all shots that were not changed since."""
    return TakenBackView.model_validate(treatment.take_back(services, project_id, treatment_id))


@router.post("/clips/try")
def try_clips(services: ServicesDep, project_id: int, body: Ticked) -> list[TriedView]:
    """Say what shots are decided to be, and what their clips are expected to take."""
    return [TriedView.model_validate(one) for one in treatment.as_they_are(services, project_id, body.shots)]


@router.post("/clips", status_code=202)
def make_clips(services: ServicesDep, project_id: int, body: Clips) -> list[ClipUnderWay]:
    """Put the clips of several shots into the queue; asked again, nothing is begun a second time."""
    made = treatment.make_clips(services, project_id, [(one.shot, one.seen) for one in body.shots])
    return [
        ClipUnderWay(
            shot_id=one.shot_id,
            name=one.name,
            job=job_view(one.job) if one.job else None,
            sentence=one.sentence,
            is_made=one.is_made,
        )
        for one in made
    ]
