"""What was decided about a shot: its revisions, the brief, and the frame it makes."""

from typing import Annotated

from fastapi import APIRouter, Query, Response
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, ConfigDict, ValidationError

from yarnkite.api.pictures import CACHE_FOREVER, jpeg, on_screen
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import BriefView, Revised, ShotDetail, brief_view
from yarnkite.core.brief import brief
from yarnkite.core.errors import NotFound
from yarnkite.core.pace import Schedule
from yarnkite.core.recipe import Decisions, Encode, Fit, Pace, Picture
from yarnkite.core.timecode import timecode
from yarnkite.store import projects, shots, stills, used

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


ChangeText = Annotated[str, Query(max_length=4000)]


@router.get("")
def get_shot(needed: Needed, shot_id: int) -> ShotDetail:
    shot = shots.one(needed.database, shot_id)
    number, decisions = shots.latest(needed.database, shot_id)
    can_undo, can_redo = shots.steps(needed.database, shot_id)
    return ShotDetail(
        **{name: shot[name] for name in ("id", "project_id", "name", "copied", "gathered", "raws")},
        project_name=projects.one(needed.database, shot["project_id"])["name"],
        folder=str(shots.folder_of(shot)).encode("utf-8", "replace").decode(),
        revision=number,
        decisions=decisions,
        brief=_brief(needed, shot_id, decisions),
        can_undo=can_undo,
        can_redo=can_redo,
    )


@router.put("/decisions")
def decide(needed: Needed, shot_id: int, body: Revision) -> Revised:
    """Keep decisions as a new revision; a 409 says what another window changed meanwhile."""
    return kept(needed, shot_id, body.seen, body.decisions)


@router.post("/undo")
def undo(needed: Needed, shot_id: int, body: Seen) -> Revised:
    """Take the newest change back, as a new revision."""
    return revised(needed, shot_id, shots.step_back(needed.database, shot_id, body.seen))


@router.post("/redo")
def redo(needed: Needed, shot_id: int, body: Seen) -> Revised:
    """Make the change again that was undone last, as a new revision."""
    return revised(needed, shot_id, shots.step_forth(needed.database, shot_id, body.seen))


def kept(needed: Services, shot_id: int, seen: int, decisions: Decisions) -> Revised:
    """Keep decisions as a new revision made from the one that was seen."""
    return revised(needed, shot_id, shots.revise(needed.database, shot_id, seen, decisions))


def revised(needed: Services, shot_id: int, number: int) -> Revised:
    """Return what a revision decides and makes."""
    decisions = shots.revision(needed.database, shot_id, number)
    can_undo, can_redo = shots.steps(needed.database, shot_id)
    brief_of = _brief(needed, shot_id, decisions)
    return Revised(revision=number, decisions=decisions, brief=brief_of, can_undo=can_undo, can_redo=can_redo)


@router.post("/brief")
def say(needed: Needed, shot_id: int, decisions: Decisions) -> BriefView:
    """Say what decisions would make, without keeping them."""
    return _brief(needed, shot_id, decisions)


@router.get("/frames/{frame}.jpg", response_class=Response)
def frame_picture(
    needed: Needed, shot_id: int, frame: int, revision: int, change: ChangeText = "{}", width: int = 1280
) -> Response:
    """Return a frame of the clip as a revision, with a change (as JSON) on top, makes it."""
    decided = _changed(needed, shot_id, revision, change)
    places = used.of_shot(needed.database, shots.one(needed.database, shot_id), decided.check)
    schedule = Schedule(len(places), decided.pace)
    if not 0 <= frame < len(schedule):
        raise NotFound("no_such_frame", f"The clip has {len(schedule)} frames; there is no frame {frame}.")
    said = {"Yarnkite-Timecode": timecode(frame, decided.pace.rate)}
    return _shown(needed, places[schedule.still_at(frame)].picture, decided, width, said)


@router.get("/stills/{position}/frame.jpg", response_class=Response)
def still_as_frame(
    needed: Needed, shot_id: int, position: int, revision: int, change: ChangeText = "{}", width: int = 1280
) -> Response:
    """Return a still as the clip shows it; one that is set aside comes without the timecode of its first frame."""
    decided = _changed(needed, shot_id, revision, change)
    shot = shots.one(needed.database, shot_id)
    number, still = used.original(needed.database, shot, position)
    places = used.of_shot(needed.database, shot, decided.check)
    place = next((place for place, one in enumerate(places) if one.still == number), None)
    if place is None:
        return _shown(needed, still, decided, width, {})
    said = {"Yarnkite-Timecode": timecode(Schedule(len(places), decided.pace).frame_of(place), decided.pace.rate)}
    return _shown(needed, places[place].picture, decided, width, said)


def _shown(needed: Services, still: Picture, decided: Decisions, width: int, said: dict[str, str]) -> Response:
    picture = jpeg(still, decided.fit, on_screen(decided.fit.size, width), needed.workspace.proxies)
    return Response(picture, media_type="image/jpeg", headers=CACHE_FOREVER | said)


def _changed(needed: Services, shot_id: int, revision: int, change: str) -> Decisions:
    try:
        tried = Change.model_validate_json(change)
    except ValidationError as error:
        raise RequestValidationError(error.errors()) from None
    decisions = shots.revision(needed.database, shot_id, revision)
    return decisions.model_copy(update={name: value for name, value in tried if value is not None})


def _brief(needed: Services, shot_id: int, decisions: Decisions) -> BriefView:
    shot = shots.one(needed.database, shot_id)
    shapes = used.shapes(needed.database, shot, decisions.check)
    every = stills.count(needed.database, shot_id)
    return brief_view(brief(shapes, decisions, shots.weight_of(shot), every=every))
