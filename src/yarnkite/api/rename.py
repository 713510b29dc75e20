"""Renaming a shot's files: the table, carrying it out, taking it back."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field, StringConstraints

from yarnkite.api.bodies import PatternBody
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import View
from yarnkite.core.order.renaming import PatternPart, RenameLine
from yarnkite.services import rename

router = APIRouter(prefix="/api", tags=["order"])
_RENAME = "/shots/{shot_id}/rename"


class NamedPattern(BaseModel):
    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
    parts: Annotated[list[PatternPart], Field(max_length=20)]


class Confirmed(PatternBody):
    """The pattern again, and the digest of the ``table`` the person saw and confirmed."""

    table: str


class RenameTableView(BaseModel):
    table: str
    lines: list[RenameLine]
    problems: int
    changes: int


class LastRename(View):
    files: int
    created_at: datetime


class Renamed(BaseModel):
    files: int


@router.post(f"{_RENAME}/table")
def rename_table(services: ServicesDep, shot_id: int, body: PatternBody) -> RenameTableView:
    """Return old and new names of all files, with everything that could go wrong; nothing is changed."""
    found = rename.shown(services, shot_id, tuple(body.parts), aside=body.aside)
    lines = found.lines
    return RenameTableView(table=found.digest, lines=lines, problems=found.problems, changes=found.changes)


@router.post(f"{_RENAME}/table.csv", response_class=Response)
def rename_table_as_csv(services: ServicesDep, shot_id: int, body: PatternBody) -> Response:
    """Return the table as CSV (RFC 4180): old name, new name."""
    found = rename.shown(services, shot_id, tuple(body.parts), aside=body.aside)
    return Response(found.as_csv(), media_type="text/csv; charset=utf-8")


@router.post(_RENAME)
def rename_files(services: ServicesDep, shot_id: int, body: Confirmed) -> Renamed:
    """Rename the files in their folder, if the table is still the one that was confirmed."""
    return Renamed(files=rename.carry_out(services, shot_id, tuple(body.parts), body.table, aside=body.aside))


@router.get(_RENAME)
def last_rename(services: ServicesDep, shot_id: int) -> LastRename | None:
    """Return the newest rename that can be taken back, or nothing."""
    last = rename.latest(services, shot_id)
    return None if last is None else LastRename.model_validate(last)


@router.post(f"{_RENAME}/undo")
def undo_rename(services: ServicesDep, shot_id: int) -> Renamed:
    """Give the files of the newest rename their old names back, all or none."""
    return Renamed(files=rename.take_back(services, shot_id))


@router.get("/patterns")
def list_patterns(services: ServicesDep) -> list[NamedPattern]:
    """Return the patterns that were saved under a name."""
    return [NamedPattern(name=name, parts=list(parts)) for name, parts in rename.patterns(services).items()]


@router.put("/patterns")
def save_pattern(services: ServicesDep, body: NamedPattern) -> NamedPattern:
    """Save a pattern under a name; one that had the name before is replaced."""
    rename.save_pattern(services, body.name, tuple(body.parts))
    return body


@router.delete("/patterns/{name}")
def forget_pattern(services: ServicesDep, name: str) -> Response:
    rename.forget_pattern(services, name)
    return Response(status_code=204)
