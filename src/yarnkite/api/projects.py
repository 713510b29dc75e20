"""Projects and their shots."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, StringConstraints

from yarnkite.api.services import Needed, Services
from yarnkite.api.views import ProjectDetail, ProjectView, ShotSummary
from yarnkite.core.brief import brief
from yarnkite.store import projects, shots, stills
from yarnkite.store.database import Row

router = APIRouter(prefix="/api/projects", tags=["projects"])


class ProjectName(BaseModel):
    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]


@router.get("")
def list_projects(needed: Needed) -> list[ProjectView]:
    return [ProjectView.model_validate(row) for row in projects.every(needed.database)]


@router.post("", status_code=201)
def add_project(needed: Needed, body: ProjectName) -> ProjectView:
    return ProjectView.model_validate(projects.one(needed.database, projects.add(needed.database, body.name)))


@router.get("/{project_id}")
def get_project(needed: Needed, project_id: int) -> ProjectDetail:
    project = projects.one(needed.database, project_id)
    of_project = shots.of_project(needed.database, project_id)
    return ProjectDetail(id=project["id"], name=project["name"], shots=[_summary(needed, shot) for shot in of_project])


@router.put("/{project_id}")
def rename_project(needed: Needed, project_id: int, body: ProjectName) -> ProjectView:
    projects.rename(needed.database, project_id, body.name)
    return ProjectView.model_validate(projects.one(needed.database, project_id))


def _summary(needed: Services, shot: Row) -> ShotSummary:
    _, decisions = shots.latest(needed.database, shot["id"])
    whole = shots.one(needed.database, shot["id"])
    said = brief(stills.shapes(needed.database, shot["id"]), decisions, shots.weight_of(whole))
    return ShotSummary.model_validate(shot | {"brief": str(said)})
