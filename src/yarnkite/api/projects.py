"""Projects and their shots."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, StringConstraints

from yarnkite.api.bodies import InLocation
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, ProjectDetail, ProjectView, job_view
from yarnkite.services import projects
from yarnkite.services.projects import LostStills

router = APIRouter(prefix="/api/projects", tags=["projects"])


class ProjectName(BaseModel):
    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]


class Found(BaseModel):
    jobs: list[JobView]


@router.get("")
def list_projects(services: ServicesDep) -> list[ProjectView]:
    return [ProjectView.model_validate(row) for row in projects.every(services)]


@router.post("", status_code=201)
def add_project(services: ServicesDep, body: ProjectName) -> ProjectView:
    return ProjectView.model_validate(projects.add(services, body.name))


@router.get("/{project_id}")
def get_project(services: ServicesDep, project_id: int) -> ProjectDetail:
    return ProjectDetail.model_validate(projects.opened(services, project_id))


@router.put("/{project_id}")
def rename_project(services: ServicesDep, project_id: int, body: ProjectName) -> ProjectView:
    return ProjectView.model_validate(projects.rename(services, project_id, body.name))


@router.get("/{project_id}/lost")
def lost_stills(services: ServicesDep, project_id: int) -> list[LostStills]:
    """Return the shots that have lost stills, for example because their folder was moved."""
    return projects.lost_stills(services, project_id)


@router.post("/{project_id}/find", status_code=202)
def find_stills(services: ServicesDep, project_id: int, body: InLocation) -> Found:
    """Look for all lost stills of a project below a folder, by name and fingerprint."""
    return Found(jobs=[job_view(row) for row in projects.find_stills(services, project_id, body.location, body.path)])
