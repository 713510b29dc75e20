"""Versions of a shot, by name."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, StringConstraints

from yarnkite.api.bodies import Seen
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import RevisedView, VersionView, revised_view
from yarnkite.services import decisions

router = APIRouter(prefix="/api/shots/{shot_id}/versions", tags=["versions"])

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]


class Named(BaseModel):
    name: Name


class NewVersion(Seen):
    name: Name


class Wanted(Seen):
    version: int


@router.post("", status_code=201)
def add_version(services: ServicesDep, shot_id: int, body: NewVersion) -> RevisedView:
    """Begin a version from what is decided now, and open it."""
    return revised_view(decisions.add_version(services, shot_id, body.seen, body.name))


@router.post("/open")
def open_version(services: ServicesDep, shot_id: int, body: Wanted) -> RevisedView:
    """Go on with another version; order and check are shared."""
    return revised_view(decisions.open_version(services, shot_id, body.seen, body.version))


@router.put("/{version_id}")
def rename_version(services: ServicesDep, shot_id: int, version_id: int, body: Named) -> list[VersionView]:
    every = decisions.rename_version(services, shot_id, version_id, body.name)
    return [VersionView.model_validate(row) for row in every]


@router.delete("/{version_id}")
def delete_version(services: ServicesDep, shot_id: int, version_id: int) -> list[VersionView]:
    """Forget a version that is not open."""
    return [VersionView.model_validate(row) for row in decisions.delete_version(services, shot_id, version_id)]
