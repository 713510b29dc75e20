"""Footage: a video file becomes a shot."""

from datetime import datetime

from fastapi import APIRouter
from pydantic import BaseModel

from yarnkite.api.bodies import InLocation
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import ShotStarted, shot_started
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.gather.footage import Taking, moments, remarks
from yarnkite.services import gather

router = APIRouter(prefix="/api", tags=["gather"])


class FootageView(BaseModel):
    """What a video file holds; ``stills`` is how many would be taken, ``remarks`` what becomes of it."""

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
    remarks: list[str]


class FromFootage(InLocation):
    taking: Taking


@router.post("/footage")
def footage_in_file(services: ServicesDep, body: FromFootage) -> FootageView:
    """Return what a video file holds, and how many stills would be taken from it."""
    path, footage = gather.footage_in(services, body.location, body.path)
    return FootageView(
        name=path.name,
        rate=rate_label(footage.rate),
        seconds=float(footage.seconds),
        length=duration_text(footage.seconds),
        stills=len(moments(footage, body.taking)),
        remarks=remarks(footage),
        **{field: getattr(footage, field) for field in ("frames", "width", "height", "sound", "began")},
    )


@router.post("/projects/{project_id}/footage", status_code=201)
def gather_footage(services: ServicesDep, project_id: int, body: FromFootage) -> ShotStarted:
    """Take stills from a video file into the project, and gather them as a shot."""
    return shot_started(gather.gather_footage(services, project_id, body.location, body.path, body.taking))
