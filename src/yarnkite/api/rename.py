"""Renaming a shot's files: the plan, carrying it out, taking it back."""

import csv
import io
from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field, StringConstraints

from yarnkite.api.services import Needed
from yarnkite.api.views import View
from yarnkite.core.base.errors import Conflict
from yarnkite.core.base.frozen import digest
from yarnkite.core.order.rename import Line, PatternPart
from yarnkite.jobs import rename
from yarnkite.store import renames, shots

router = APIRouter(prefix="/api", tags=["order"])
_RENAME = "/shots/{shot_id}/rename"


class PatternBody(BaseModel):
    """``aside`` includes the stills that are set aside; without it they keep their names."""

    parts: Annotated[list[PatternPart], Field(max_length=20)]
    aside: bool = True


class NamedPattern(BaseModel):
    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
    parts: Annotated[list[PatternPart], Field(max_length=20)]


class Confirmed(PatternBody):
    """The pattern again, and the ``plan`` digest of the table the person saw and confirmed."""

    plan: str


class LineView(View):
    old: str
    new: str
    problem: str
    look: str
    still: int | None


class PlanView(BaseModel):
    plan: str
    lines: list[LineView]
    problems: int
    changes: int


class LastRename(BaseModel):
    files: int
    created_at: datetime


class Renamed(BaseModel):
    files: int


@router.post(f"{_RENAME}/plan")
def plan_names(needed: Needed, shot_id: int, body: PatternBody) -> PlanView:
    """Return old and new names of all files, with everything that could go wrong; nothing is changed."""
    lines = rename.plan_of(needed.database, shot_id, tuple(body.parts), aside=body.aside)
    return PlanView(
        plan=_digest(lines),
        lines=[LineView.model_validate(line) for line in lines],
        problems=sum(bool(line.problem) for line in lines),
        changes=sum(line.old != line.new for line in lines),
    )


@router.post(f"{_RENAME}/plan.csv", response_class=Response)
def plan_as_csv(needed: Needed, shot_id: int, body: PatternBody) -> Response:
    """Return the plan as CSV (RFC 4180): old name, new name."""
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(["old name", "new name"])
    writer.writerows(
        (line.old, line.new) for line in rename.plan_of(needed.database, shot_id, tuple(body.parts), aside=body.aside)
    )
    return Response(text.getvalue(), media_type="text/csv; charset=utf-8")


@router.post(_RENAME)
def rename_files(needed: Needed, shot_id: int, body: Confirmed) -> Renamed:
    """Rename the files in their folder, if the plan is still the one that was confirmed."""
    lines = rename.plan_of(needed.database, shot_id, tuple(body.parts), aside=body.aside)
    if _digest(lines) != body.plan:
        raise Conflict("plan_changed", "The folder or the shot changed since this table was made. Look at it again.")
    return Renamed(files=rename.carry_out(needed.database, shot_id, lines))


@router.get(_RENAME)
def last_rename(needed: Needed, shot_id: int) -> LastRename | None:
    """Return the newest rename that can be taken back, or nothing."""
    shots.one(needed.database, shot_id)
    last = renames.latest(needed.database, shot_id)
    return None if last is None else LastRename(files=last["files"], created_at=last["created_at"])


@router.post(f"{_RENAME}/undo")
def undo_rename(needed: Needed, shot_id: int) -> Renamed:
    """Give the files of the newest rename their old names back, all or none."""
    return Renamed(files=rename.take_back(needed.database, shot_id))


@router.get("/patterns")
def list_patterns(needed: Needed) -> list[NamedPattern]:
    """Return the patterns that were kept under a name."""
    return [NamedPattern(name=name, parts=list(parts)) for name, parts in renames.patterns(needed.database).items()]


@router.put("/patterns")
def keep_pattern(needed: Needed, body: NamedPattern) -> NamedPattern:
    """Keep a pattern under a name; one that had the name before is replaced."""
    renames.keep_pattern(needed.database, body.name, tuple(body.parts))
    return body


@router.delete("/patterns/{name}")
def forget_pattern(needed: Needed, name: str) -> Response:
    renames.forget_pattern(needed.database, name)
    return Response(status_code=204)


def _digest(lines: list[Line]) -> str:
    return digest(*(f"{line.old}\0{line.new}" for line in lines))
