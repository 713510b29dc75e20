"""Space: what takes how much of it, freeing it, and taking back what was deleted."""

from fastapi import APIRouter, Response
from pydantic import BaseModel

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import View
from yarnkite.services import projects, space
from yarnkite.services.space import Deleted, Freeable, ProjectSpace

router = APIRouter(prefix="/api", tags=["space"])


class SpaceView(View):
    """What takes how many bytes of the data folder, and what was deleted."""

    projects: list[ProjectSpace]
    chunks: int
    proxies: int
    unneeded: int
    together: int
    arriving: int
    deleted: int
    free: int
    deleted_projects: list[Deleted]
    deleted_shots: list[Deleted]
    deleted_reels: list[Deleted]


_MEASURED = tuple(name for name in SpaceView.model_fields if not name.startswith("deleted_"))

_DELETED = ("deleted_projects", "deleted_shots", "deleted_reels")


class Freed(BaseModel):
    what: Freeable


@router.get("/space")
def space_of_all(services: ServicesDep) -> SpaceView:
    """Return what takes how much space, and what was deleted and can be taken back."""
    measured = space.measured(services.database, services.workspace)
    fields = {name: getattr(measured, name) for name in _MEASURED}
    deleted = dict(zip(_DELETED, space.deleted(services.database), strict=True))
    return SpaceView.model_validate(fields | deleted)


@router.post("/space/free")
def free_space(services: ServicesDep, body: Freed) -> SpaceView:
    """Free what can be made again, or what was deleted, for good."""
    space.free(services.database, services.workspace, body.what)
    return space_of_all(services)


@router.delete("/projects/{project_id}")
def delete_project(services: ServicesDep, project_id: int) -> Response:
    """Put a project away for 30 days; files outside the data folder are never touched."""
    projects.delete(services, project_id)
    return Response(status_code=204)


@router.post("/projects/{project_id}/take-back")
def take_project_back(services: ServicesDep, project_id: int) -> Response:
    """Take a deleted project back, with all its shots, decisions and clips."""
    projects.take_back(services, project_id)
    return Response(status_code=204)


@router.delete("/shots/{shot_id}")
def delete_shot(services: ServicesDep, shot_id: int) -> Response:
    """Put a shot away for 30 days; files outside the data folder are never touched."""
    projects.delete_shot(services, shot_id)
    return Response(status_code=204)


@router.post("/shots/{shot_id}/take-back")
def take_shot_back(services: ServicesDep, shot_id: int) -> Response:
    """Take a deleted shot back, with all its decisions and clips."""
    projects.take_shot_back(services, shot_id)
    return Response(status_code=204)
