"""Footage: a video file becomes a shot."""

from datetime import datetime
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import ShotStarted, shot_started
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import duration_text
from yarnkite.core.gather.footage import Taking, moments, read_footage, remarks
from yarnkite.services import gather, uploads
from yarnkite.services.locations import file_in
from yarnkite.services.running import Services

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


class FromFootage(BaseModel):
    """A video file in a location, or one that was ``sent``, by its upload; and which stills are taken from it."""

    location: Annotated[str | None, Field(max_length=200)] = None
    path: Annotated[str | None, Field(max_length=4096)] = None
    sent: Annotated[int | None, Field(ge=1)] = None
    taking: Taking

    def file(self, services: Services) -> Path:
        """Return the file; raises ``NotFound`` or ``Refusal``."""
        return (
            uploads.film(services, self.sent) if self.sent else file_in(services, self.location or "", self.path or "")
        )


@router.post("/footage")
def footage_in_file(services: ServicesDep, body: FromFootage) -> FootageView:
    """Return what a video file holds, and how many stills would be taken from it."""
    path = body.file(services)
    footage = read_footage(path)
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
    return shot_started(gather.gather_footage(services, project_id, body.file(services), body.taking))
