"""The short way from a folder to a clip."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yarnkite.api.bodies import InLocation
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, ShotStarted, job_view, shot_started
from yarnkite.services import clip_now
from yarnkite.services.clip_now import Answers, Shape
from yarnkite.services.decisions import Change

router = APIRouter(prefix="/api", tags=["the short way"])


class MusicOffer(BaseModel):
    kind: str
    name: str


class ProposalsView(BaseModel):
    """Sensible answers, and what they rest on; ``checked`` says that all neighbours were compared by now."""

    answers: Answers
    length: str
    shapes: list[Shape]
    music: list[MusicOffer]
    about_light: str
    about_movement: str
    checked: bool


class TriedAnswers(BaseModel):
    """What answers would make: a change to try pictures with, and the sentence."""

    change: Change
    sentence: str
    seconds: float
    length: str


class FolderName(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=120)]


class ProjectForClip(BaseModel):
    project_id: int


class MakeClip(BaseModel):
    answers: Answers
    reel: Annotated[int | None, Field(ge=1)] = None


class MakingView(BaseModel):
    """How far the making is; asked again once ``job`` is done, with the ``reel`` there is.

    Without a job a piece of music is to be sent to the reel.
    """

    stage: str
    job: JobView | None
    reel: int | None


@router.post("/clip-now/project", status_code=201)
def project_for_clip(services: ServicesDep, body: FolderName) -> ProjectForClip:
    """Return the project a folder goes into whose files are sent; a copy that broke off goes on in the one it has."""
    return ProjectForClip(project_id=clip_now.project_for(services, body.name))


@router.post("/clip-now", status_code=202)
def begin_clip(services: ServicesDep, body: InLocation) -> ShotStarted:
    """Make a project of a folder, and gather it."""
    return shot_started(clip_now.begin(services, body.location, body.path))


@router.post("/clip-now/each", status_code=202)
def begin_clips(services: ServicesDep, body: InLocation) -> list[ShotStarted]:
    """Make a project of a folder, and gather each folder in it into a shot of its own."""
    return [shot_started(begun) for begun in clip_now.begin_each(services, body.location, body.path)]


@router.get("/shots/{shot_id}/clip-now")
def propose_answers(services: ServicesDep, shot_id: int) -> ProposalsView:
    found = clip_now.propose(services, shot_id)
    return ProposalsView(
        answers=found.answers,
        length=found.length,
        shapes=found.shapes,
        music=[MusicOffer(kind=kind, name=name) for kind, name in found.music.items()],
        about_light=found.about_light,
        about_movement=found.about_movement,
        checked=found.checked,
    )


@router.post("/shots/{shot_id}/clip-now/try")
def try_answers(services: ServicesDep, shot_id: int, body: Answers) -> TriedAnswers:
    """Say what answers would make, without keeping anything."""
    tried = clip_now.try_answers(services, shot_id, body)
    brief = tried.brief
    return TriedAnswers(change=tried.change, sentence=str(brief), seconds=brief.seconds, length=brief.length)


@router.post("/shots/{shot_id}/clip-now", status_code=202)
def make_clip(services: ServicesDep, shot_id: int, body: MakeClip) -> MakingView:
    """Do the next thing on the way to the clip."""
    step = clip_now.make(services, shot_id, body.answers, body.reel)
    return MakingView(stage=step.stage, job=job_view(step.job) if step.job else None, reel=step.reel_id)
