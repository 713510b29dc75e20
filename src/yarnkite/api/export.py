"""Writing a shot's stills into a new folder, under new names."""

import shutil
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yarnkite.api.places import place_named
from yarnkite.api.rename import LineView, PatternBody
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import JobView, job_view
from yarnkite.core.encode.numbered import Format, Writing
from yarnkite.core.gather.roots import Place, safe_relative
from yarnkite.jobs import export
from yarnkite.store import jobs, revisions

router = APIRouter(prefix="/api/shots/{shot_id}/export", tags=["order"])


class Wanted(PatternBody):
    """What to write: copies of the files, or pictures as they were shot or as the clip shows them."""

    what: Annotated[str, Field(pattern="^(files|shot|fitted)$")] = "files"
    format: Format = "JPEG"
    quality: Annotated[int, Field(ge=50, le=100)] = 95


class Into(Wanted):
    """``folder`` is a new folder below ``path`` in a place."""

    place: str
    path: Annotated[str, Field(max_length=4096)]
    folder: Annotated[str, Field(min_length=1, max_length=200)]


class ExportPlan(BaseModel):
    """What would be written, and whether there is room; ``needed`` is exact for copies and about right else."""

    lines: list[LineView]
    problems: int
    needed: int
    free: int


@router.post("/plan")
def plan_export(needed: Needed, shot_id: int, body: Wanted) -> ExportPlan:
    writing = _writing(needed, shot_id, body)
    lines = export.lines_for(needed.database, shot_id, tuple(body.parts), writing)
    return ExportPlan(
        lines=[LineView.model_validate(line) for line in lines],
        problems=sum(bool(line.problem) for line in lines),
        needed=export.needed_bytes(needed.database, shot_id, lines, writing),
        free=shutil.disk_usage(needed.workspace.folder).free,
    )


@router.post("", status_code=202)
def begin_export(needed: Needed, shot_id: int, body: Into) -> JobView:
    """Begin to write the files into a folder that is new or empty."""
    place, target = _target(needed, body)
    writing = _writing(needed, shot_id, body)
    lines = export.lines_for(needed.database, shot_id, tuple(body.parts), writing)
    export.prepare(needed.database, shot_id, lines, writing, target)
    wanted = {
        "folder": str(target),
        "place": str(place.folder),
        "writing": writing.model_dump(mode="json") if writing else None,
        "names": [(line.old, line.new) for line in lines],
    }
    return job_view(jobs.one(needed.database, needed.runner.start("export", shot_id, len(lines), wanted=wanted)))


def _writing(needed: Services, shot_id: int, body: Wanted) -> Writing | None:
    if body.what == "files":
        return None
    _, decisions = revisions.latest(needed.database, shot_id)
    return Writing(format=body.format, quality=body.quality, fit=decisions.fit if body.what == "fitted" else None)


def _target(needed: Services, body: Into) -> tuple[Place, Path]:
    place = place_named(needed, body.place)
    return place, place.new_inside(str(place.inside(body.path) / safe_relative(body.folder)))
