"""Projects and their shots."""

import logging
from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, StringConstraints

from yarnkite.api.places import InPlace, place_named
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import JobView, ProjectDetail, ProjectView, ShotSummary, job_view
from yarnkite.core.base.errors import Refusal
from yarnkite.jobs.find import lost
from yarnkite.store import jobs, projects, revisions, shots, used
from yarnkite.store.database import Row

log = logging.getLogger(__name__)

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
    try:
        _, decisions = revisions.latest(needed.database, shot["id"])
        whole = shots.one(needed.database, shot["id"])
        said = str(used.making(needed.database, whole, decisions).said(shots.weight_of(whole), shot["stills"]))
    except Refusal as refusal:
        said = refusal.sentence
    except Exception:
        # Whatever is wrong with one shot, the project opens and shows the others.
        log.exception("shot %s cannot be summed up", shot["id"])
        said = "This shot cannot be summed up; the log tells more. Its stills and decisions are kept."
    return ShotSummary.model_validate(shot | {"brief": said})


class LostView(BaseModel):
    """Stills of a shot whose files are not where they were; ``first`` is one of them."""

    shot_id: int
    name: str
    folder: str
    lost: int
    first: str


class Found(BaseModel):
    jobs: list[JobView]


@router.get("/{project_id}/lost")
def lost_stills(needed: Needed, project_id: int) -> list[LostView]:
    """Return the shots that have lost stills, for example because their folder was moved."""
    projects.one(needed.database, project_id)
    return [
        LostView(
            shot_id=shot["id"],
            name=shot["name"],
            folder=str(shots.folder_of(shot)).encode("utf-8", "replace").decode(),
            lost=len(names),
            first=names[0],
        )
        for shot, names in _lost(needed, project_id)
    ]


@router.post("/{project_id}/find", status_code=202)
def find_stills(needed: Needed, project_id: int, body: InPlace) -> Found:
    """Look for all lost stills of a project below a folder, by name and fingerprint."""
    folder = place_named(needed, body.place).inside(body.path)
    started = [
        needed.runner.start("find", shot["id"], len(names), wanted={"folder": str(folder)})
        for shot, names in _lost(needed, project_id)
    ]
    return Found(jobs=[job_view(jobs.one(needed.database, job)) for job in started])


def _lost(needed: Services, project_id: int) -> list[tuple[Row, list[str]]]:
    whole = [shots.one(needed.database, shot["id"]) for shot in shots.of_project(needed.database, project_id)]
    found = [(shot, lost(needed.database, shot)) for shot in whole if not jobs.busy(needed.database, shot["id"])]
    return [(shot, names) for shot, names in found if names]
