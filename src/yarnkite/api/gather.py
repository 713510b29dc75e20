"""Gathering: a folder on this machine becomes a shot."""

from fastapi import APIRouter
from pydantic import BaseModel

from yarnkite.api.places import InPlace, place_named
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import JobView, job_view
from yarnkite.core.base.errors import NotFound
from yarnkite.store import jobs, projects, shots

router = APIRouter(prefix="/api", tags=["gather"])


class FromFolder(InPlace):
    """A folder of stills; ``copy_files`` brings them into the project instead of using them where they lie."""

    copy_files: bool = False


class ShotStarted(BaseModel):
    shot_id: int
    job: JobView


@router.post("/projects/{project_id}/shots", status_code=201)
def gather_folder(needed: Needed, project_id: int, body: FromFolder) -> ShotStarted:
    """Make a shot of a folder; a folder that is a shot already only gives what is new in it."""
    projects.one(needed.database, project_id)
    folder = place_named(needed, body.place).inside(body.path)
    if not folder.is_dir():
        raise NotFound("no_such_folder", f"“{body.path}” is a file, not a folder. Choose the folder it lies in.")
    known = shots.with_origin(needed.database, project_id, folder)
    if known is not None:
        return gather_again(needed, known)
    name = folder.name or body.place
    if not body.copy_files:
        return begin(needed, shots.add(needed.database, project_id, name, folder, copied=False))
    shot_id = shots.add_copied(needed.database, project_id, name, needed.workspace.copied, source=folder)
    return begin(needed, shot_id)


@router.post("/shots/{shot_id}/gather", status_code=202)
def gather_again(needed: Needed, shot_id: int) -> ShotStarted:
    """Go on with a gathering that was broken off, or add what is new in the folder; the rest is kept as it is."""
    shots.one(needed.database, shot_id)
    return begin(needed, shot_id)


def begin(needed: Services, shot_id: int) -> ShotStarted:
    """Begin to gather a shot."""
    job_id = needed.runner.start("gather", shot_id, 0)
    return ShotStarted(shot_id=shot_id, job=job_view(jobs.one(needed.database, job_id)))
