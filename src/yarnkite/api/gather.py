"""Gathering: a folder on this machine becomes a shot."""

from fastapi import APIRouter

from yarnkite.api.bodies import InLocation
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import ShotStarted, shot_started
from yarnkite.services import gather

router = APIRouter(prefix="/api", tags=["gather"])


class FromFolder(InLocation):
    """A folder of stills; ``copy_files`` brings them into the project instead of using them where they lie."""

    copy_files: bool = False


@router.post("/projects/{project_id}/shots", status_code=201)
def gather_folder(services: ServicesDep, project_id: int, body: FromFolder) -> ShotStarted:
    """Make a shot of a folder; a folder that is a shot already only gives what is new in it."""
    begun = gather.gather_folder(services, project_id, body.location, body.path, copy_files=body.copy_files)
    return shot_started(begun)


@router.post("/projects/{project_id}/shots/each", status_code=201)
def gather_each(services: ServicesDep, project_id: int, body: FromFolder) -> list[ShotStarted]:
    """Make a shot of each folder in a folder that has stills in it."""
    begun = gather.gather_each(services, project_id, body.location, body.path, copy_files=body.copy_files)
    return [shot_started(one) for one in begun]


@router.post("/shots/{shot_id}/gather", status_code=202)
def gather_again(services: ServicesDep, shot_id: int) -> ShotStarted:
    """Go on with a gathering that was broken off, or add what is new in the folder; the rest is kept as it is."""
    return shot_started(gather.gather_again(services, shot_id))
