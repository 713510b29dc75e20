"""Space: what takes how much of it, freeing it, and taking back what was deleted."""

from datetime import datetime, timedelta

from fastapi import APIRouter, Response
from pydantic import BaseModel

from yarnkite.api.services import Needed
from yarnkite.api.views import View
from yarnkite.core.base.errors import Refusal
from yarnkite.services import space
from yarnkite.services.space import Freeable
from yarnkite.store import removal

router = APIRouter(prefix="/api", tags=["space"])


class ProjectSpaceView(View):
    id: int
    name: str
    stills: int
    clips: int


class DeletedView(BaseModel):
    """Something that was deleted and can be taken back until a day; ``inside`` is the project of a shot."""

    id: int
    name: str
    inside: str
    until: datetime


class SpaceView(View):
    """What takes how many bytes of the data folder, and what was deleted."""

    projects: list[ProjectSpaceView]
    chunks: int
    proxies: int
    unneeded: int
    together: int
    arriving: int
    deleted: int
    free: int
    deleted_projects: list[DeletedView]
    deleted_shots: list[DeletedView]


class Freed(BaseModel):
    what: Freeable


@router.get("/space")
def space_of_all(needed: Needed) -> SpaceView:
    """Return what takes how much space, and what was deleted and can be taken back."""
    found = space.measured(needed.database, needed.workspace)
    projects, shots = removal.put_away(needed.database)
    kept = timedelta(days=removal.KEPT_DAYS)
    names = ("projects", "chunks", "proxies", "unneeded", "together", "arriving", "deleted", "free")
    return SpaceView.model_validate(
        {name: getattr(found, name) for name in names}
        | {
            "deleted_projects": [
                DeletedView(id=row["id"], name=row["name"], inside="", until=row["deleted_at"] + kept)
                for row in projects
            ],
            "deleted_shots": [
                DeletedView(id=row["id"], name=row["name"], inside=row["project"], until=row["deleted_at"] + kept)
                for row in shots
            ],
        }
    )


@router.post("/space/free")
def free_space(needed: Needed, body: Freed) -> SpaceView:
    """Free what can be made again, or what was deleted, for good."""
    space.free(needed.database, needed.workspace, body.what)
    return space_of_all(needed)


@router.delete("/projects/{project_id}")
def delete_project(needed: Needed, project_id: int) -> Response:
    """Put a project away for 30 days; files outside the data folder are never touched."""
    removal.delete_project(needed.database, project_id)
    return Response(status_code=204)


@router.post("/projects/{project_id}/take-back")
def take_project_back(needed: Needed, project_id: int) -> Response:
    """Take a deleted project back, with all its shots, decisions and clips."""
    removal.take_project_back(needed.database, project_id)
    return Response(status_code=204)


@router.delete("/shots/{shot_id}")
def delete_shot(needed: Needed, shot_id: int) -> Response:
    """Put a shot away for 30 days; files outside the data folder are never touched."""
    removal.delete_shot(needed.database, shot_id)
    return Response(status_code=204)


@router.post("/shots/{shot_id}/take-back")
def take_shot_back(needed: Needed, shot_id: int) -> Response:
    """Take a deleted shot back, with all its decisions and clips."""
    removal.take_shot_back(needed.database, shot_id)
    return Response(status_code=204)


@router.delete("/clips/{clip_id}")
def delete_clip(needed: Needed, clip_id: int) -> Response:
    """Delete a clip and its file; the shot and its decisions stay, so that it can be encoded again."""
    job_id = removal.delete_clip(needed.database, clip_id)
    try:
        needed.workspace.clip(job_id).unlink(missing_ok=True)
    except OSError as error:
        raise Refusal("cannot_delete", f"The file of this clip cannot be deleted: {error.strerror}.") from None
    return Response(status_code=204)
