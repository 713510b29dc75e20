"""Footage: a video file becomes a shot."""

from datetime import datetime
from pathlib import Path

from fastapi import APIRouter
from pydantic import BaseModel

from yarnkite.api.gather import ShotStarted
from yarnkite.api.places import InPlace, place_named
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import job_view
from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.gather.footage import Taking, look_at, moments
from yarnkite.store import jobs, projects, shots

router = APIRouter(prefix="/api", tags=["gather"])


class FootageView(BaseModel):
    """What a video file holds; ``stills`` is how many a way of taking them would give."""

    name: str
    frames: int
    rate: str
    seconds: float
    length: str
    width: int
    height: int
    sound: bool
    began: datetime | None
    stills: int


class FromFootage(InPlace):
    taking: Taking


@router.post("/footage")
def look_at_footage(needed: Needed, body: FromFootage) -> FootageView:
    """Return what a video file holds, and how many stills would be taken from it."""
    path = _file(needed, body)
    footage = look_at(path)
    return FootageView(
        name=path.name,
        rate=rate_label(footage.rate),
        seconds=float(footage.seconds),
        length=duration_text(footage.seconds),
        stills=len(moments(footage, body.taking)),
        **{field: getattr(footage, field) for field in ("frames", "width", "height", "sound", "began")},
    )


@router.post("/projects/{project_id}/footage", status_code=201)
def gather_footage(needed: Needed, project_id: int, body: FromFootage) -> ShotStarted:
    """Take stills from a video file into the project, and gather them as a shot."""
    projects.one(needed.database, project_id)
    path = _file(needed, body)
    count = len(moments(look_at(path), body.taking))
    shot_id = shots.add_copied(needed.database, project_id, path.stem, needed.workspace.copied)
    wanted = {"file": str(path), "taking": body.taking.model_dump()}
    job_id = needed.runner.start("footage", shot_id, count, wanted=wanted)
    return ShotStarted(shot_id=shot_id, job=job_view(jobs.one(needed.database, job_id)))


def _file(needed: Services, body: InPlace) -> Path:
    path = place_named(needed, body.place).inside(body.path)
    if not path.is_file():
        raise NotFound("no_such_file", f"“{body.path}” is a folder. Choose the video file in it.")
    return path
