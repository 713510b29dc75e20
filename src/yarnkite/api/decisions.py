"""What was decided about a shot: its revisions, the brief, and the frame it makes."""

from typing import Annotated

from fastapi import APIRouter, Query, Response
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, ConfigDict, ValidationError

from yarnkite.api.pictures import STATE, answer, frame_jpeg, on_screen
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import BriefView, Revised, RevisionView, ShotDetail, VersionsSaid, VersionView, brief_view
from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.timecode import timecode
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.pace.schedule import Shown, alone_shown
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe, schedule_of
from yarnkite.store import projects, revisions, shots, stills, used, versions

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["decisions"])


class Revision(BaseModel):
    """New decisions, and the number of the revision they were made from."""

    seen: int
    decisions: Decisions


class Seen(BaseModel):
    """The number of the revision the person was looking at."""

    seen: int


class Change(BaseModel):
    """Decisions that are being tried, over those of a revision; which stills there are is not among them."""

    model_config = ConfigDict(extra="forbid")

    fit: Fit | None = None
    pace: Pace | None = None
    encode: Encode | None = None


_LISTED = 60

ChangeText = Annotated[str, Query(max_length=40_000)]


@router.get("")
def get_shot(needed: Needed, shot_id: int) -> ShotDetail:
    shot = shots.one(needed.database, shot_id)
    number, decisions = revisions.latest(needed.database, shot_id)
    can_undo, can_redo = revisions.steps(needed.database, shot_id)
    return ShotDetail(
        **{name: shot[name] for name in ("id", "project_id", "name", "copied", "gathered", "raws")},
        project_name=projects.one(needed.database, shot["project_id"])["name"],
        folder=str(shots.folder_of(shot)).encode("utf-8", "replace").decode(),
        revision=number,
        decisions=decisions,
        brief=_brief(needed, shot_id, decisions),
        can_undo=can_undo,
        can_redo=can_redo,
        notice=_notice(revisions.unreadable_since(needed.database, shot_id)),
        **_versions(needed, shot_id),
    )


def _notice(unreadable: int) -> str:
    if not unreadable:
        return ""
    many = "The newest decision" if unreadable == 1 else f"The newest {unreadable:,} decisions"
    return (
        f"{many} cannot be read: kept by another edition, or damaged. What was decided before counts, and is kept anew "
        "with your next change."
    )


@router.put("/decisions")
def decide(needed: Needed, shot_id: int, body: Revision) -> Revised:
    """Keep decisions as a new revision; a 409 says what another window changed meanwhile."""
    return kept(needed, shot_id, body.seen, body.decisions)


@router.post("/undo")
def undo(needed: Needed, shot_id: int, body: Seen) -> Revised:
    """Take the newest change back, as a new revision."""
    return revised(needed, shot_id, revisions.step_back(needed.database, shot_id, body.seen))


@router.post("/redo")
def redo(needed: Needed, shot_id: int, body: Seen) -> Revised:
    """Make the change again that was undone last, as a new revision."""
    return revised(needed, shot_id, revisions.step_forth(needed.database, shot_id, body.seen))


@router.get("/revisions")
def list_revisions(needed: Needed, shot_id: int) -> list[RevisionView]:
    """Return the newest revisions, the newest first, each with what it changed."""
    found = revisions.listed(needed.database, shot_id, _LISTED + 1)
    before = [row["decisions"] for row in found[1:]] + [None] * (len(found) <= _LISTED)
    return [
        RevisionView.model_validate(row | {"changed": _difference(older, row["decisions"])})
        for row, older in zip(found, before, strict=False)
    ]


def _difference(before: Decisions | None, after: Decisions) -> str:
    if before is None:
        return "as it began"
    return " and ".join(name for name, value in after if value != getattr(before, name)) or "nothing"


def kept(needed: Services, shot_id: int, seen: int, decisions: Decisions) -> Revised:
    """Keep decisions as a new revision made from the one that was seen."""
    return revised(needed, shot_id, revisions.revise(needed.database, shot_id, seen, decisions))


def revised(needed: Services, shot_id: int, number: int) -> Revised:
    """Return what a revision decides and makes."""
    decisions = revisions.decided_by(needed.database, shot_id, number)
    can_undo, can_redo = revisions.steps(needed.database, shot_id)
    brief_of = _brief(needed, shot_id, decisions)
    return Revised(
        revision=number,
        decisions=decisions,
        brief=brief_of,
        can_undo=can_undo,
        can_redo=can_redo,
        **_versions(needed, shot_id),
    )


def _versions(needed: Services, shot_id: int) -> VersionsSaid:
    now = versions.current(needed.database, shot_id)
    every = [VersionView.model_validate(row) for row in versions.of_shot(needed.database, shot_id)]
    return {"versions": every, "version": now["id"] if now else None}


@router.post("/brief")
def say(needed: Needed, shot_id: int, decisions: Decisions) -> BriefView:
    """Say what decisions would make, without keeping them."""
    return _brief(needed, shot_id, decisions)


@router.get("/frames/{frame}.jpg", response_class=Response)
def frame_picture(
    needed: Needed,
    shot_id: int,
    frame: int,
    revision: int,
    change: ChangeText = "{}",
    width: int = 1280,
    quickly: bool = False,
    state: str = STATE,
) -> Response:
    """Return a frame of the clip as a revision, with a change (as JSON) on top, makes it."""
    made = tried(needed, shot_id, revision, change)
    schedule = schedule_of(made.recipe)
    if not 0 <= frame < len(schedule):
        raise NotFound("no_such_frame", f"The clip has {len(schedule)} frames; there is no frame {frame}.")
    said = {"Yarnkite-Timecode": timecode(frame, made.recipe.decisions.pace.written_rate)}
    return _shown(needed, made.recipe, schedule.shown(frame), width, said, shot_id, state, quickly=quickly)


@router.get("/stills/{position}/frame.jpg", response_class=Response)
def still_as_frame(
    needed: Needed,
    shot_id: int,
    position: int,
    revision: int,
    change: ChangeText = "{}",
    width: int = 1280,
    quickly: bool = False,
    state: str = STATE,
) -> Response:
    """Return a still as the clip shows it; one that is set aside comes without the timecode of its first frame."""
    made = tried(needed, shot_id, revision, change)
    number, still = used.original(needed.database, shots.one(needed.database, shot_id), position)
    place = next((place for place, one in enumerate(made.places) if one.still == number), None)
    if place is None:
        alone = made.recipe.model_copy(update={"stills": (still,)})
        return _shown(needed, alone, alone_shown(0), width, {}, shot_id, state, quickly=quickly)
    frame = schedule_of(made.recipe).frame_of(place)
    said = {"Yarnkite-Timecode": timecode(frame, made.recipe.decisions.pace.written_rate)}
    return _shown(needed, made.recipe, alone_shown(place), width, said, shot_id, state, quickly=quickly)


def tried(needed: Services, shot_id: int, revision: int, change: str) -> used.Making:
    """Return what a revision, with a change (as JSON) on top, makes."""
    decided = changed(needed, shot_id, revision, change)
    return used.making(needed.database, shots.one(needed.database, shot_id), decided)


def changed(needed: Services, shot_id: int, revision: int, change: str) -> Decisions:
    """Return the decisions of a revision with a change (as JSON) on top."""
    try:
        wanted = Change.model_validate_json(change)
    except ValidationError as error:
        raise RequestValidationError(error.errors()) from None
    decisions = revisions.decided_by(needed.database, shot_id, revision)
    return decisions.model_copy(update={name: value for name, value in wanted if value is not None})


def _shown(
    needed: Services,
    recipe: Recipe,
    what: Shown,
    width: int,
    said: dict[str, str],
    shot_id: int,
    state: str,
    *,
    quickly: bool,
) -> Response:
    stills = tuple(recipe.stills[place] for place, _ in what.parts)
    among = Shown(tuple((index, weight) for index, (_, weight) in enumerate(what.parts)), what.moving)
    fit = recipe.decisions.fit
    size = on_screen(fit.size, width)

    def made() -> bytes:
        return frame_jpeg(stills, among, recipe.usual, fit, size, needed.workspace.proxies, quickly)

    return answer(needed, shot_id, state, made, **said)


def _brief(needed: Services, shot_id: int, decisions: Decisions) -> BriefView:
    shot = shots.one(needed.database, shot_id)
    every = stills.count(needed.database, shot_id)
    return brief_view(used.making(needed.database, shot, decisions).said(shots.weight_of(shot), every), decisions)
