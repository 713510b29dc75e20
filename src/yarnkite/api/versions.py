"""Versions of a shot, by name."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, StringConstraints

from yarnkite.api.decisions import Seen, revised
from yarnkite.api.services import Needed
from yarnkite.api.views import Revised, VersionView
from yarnkite.store import shots, versions

router = APIRouter(prefix="/api/shots/{shot_id}/versions", tags=["versions"])

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]


class Named(BaseModel):
    name: Name


class NewVersion(Seen):
    name: Name


class Wanted(Seen):
    version: int


@router.post("", status_code=201)
def add_version(needed: Needed, shot_id: int, body: NewVersion) -> Revised:
    """Begin a version from what is decided now, and open it."""
    return revised(needed, shot_id, versions.add(needed.database, shot_id, body.seen, body.name))


@router.post("/open")
def open_version(needed: Needed, shot_id: int, body: Wanted) -> Revised:
    """Go on with another version; order and check are shared."""
    return revised(needed, shot_id, versions.switch(needed.database, shot_id, body.seen, body.version))


@router.put("/{version_id}")
def rename_version(needed: Needed, shot_id: int, version_id: int, body: Named) -> list[VersionView]:
    shots.one(needed.database, shot_id)
    versions.rename(needed.database, shot_id, version_id, body.name)
    return _every(needed, shot_id)


@router.delete("/{version_id}")
def delete_version(needed: Needed, shot_id: int, version_id: int) -> list[VersionView]:
    """Forget a version that is not open."""
    shots.one(needed.database, shot_id)
    versions.delete(needed.database, shot_id, version_id)
    return _every(needed, shot_id)


def _every(needed: Needed, shot_id: int) -> list[VersionView]:
    return [VersionView.model_validate(row) for row in versions.of_shot(needed.database, shot_id)]
