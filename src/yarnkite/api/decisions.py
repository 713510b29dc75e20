"""What was decided about a shot: its revisions, the brief, and the frame it makes."""

from typing import Annotated

from fastapi import APIRouter, Query, Response
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, ValidationError

from yarnkite.api.pictures import CACHE_FOREVER, jpeg, on_screen
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import BriefView, Revised, ShotDetail, brief_view
from yarnkite.core.brief import brief
from yarnkite.core.errors import NotFound
from yarnkite.core.pace import Schedule
from yarnkite.core.recipe import Decisions
from yarnkite.core.timecode import timecode
from yarnkite.store import projects, shots, stills

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["decisions"])


class Revision(BaseModel):
    """New decisions, and the number of the revision they were made from."""

    seen: int
    decisions: Decisions


@router.get("")
def get_shot(needed: Needed, shot_id: int) -> ShotDetail:
    shot = shots.one(needed.database, shot_id)
    number, decisions = shots.latest(needed.database, shot_id)
    return ShotDetail(
        **{name: shot[name] for name in ("id", "project_id", "name", "copied", "gathered")},
        project_name=projects.one(needed.database, shot["project_id"])["name"],
        folder=str(shots.folder_of(shot)).encode("utf-8", "replace").decode(),
        revision=number,
        decisions=decisions,
        brief=_brief(needed, shot_id, decisions),
    )


@router.put("/decisions")
def decide(needed: Needed, shot_id: int, body: Revision) -> Revised:
    """Keep decisions as a new revision; a 409 says what another window changed meanwhile."""
    number = shots.revise(needed.database, shot_id, body.seen, body.decisions)
    return Revised(revision=number, decisions=body.decisions, brief=_brief(needed, shot_id, body.decisions))


@router.post("/brief")
def say(needed: Needed, shot_id: int, decisions: Decisions) -> BriefView:
    """Say what decisions would make, without keeping them."""
    return _brief(needed, shot_id, decisions)


@router.get("/frames/{frame}.jpg", response_class=Response)
def frame_picture(
    needed: Needed, shot_id: int, frame: int, decisions: Annotated[str, Query(max_length=2000)], width: int = 1280
) -> Response:
    """Return a frame of the clip as ``decisions`` (as JSON) make it, at most ``width`` pixels wide."""
    try:
        decided = Decisions.model_validate_json(decisions)
    except ValidationError as error:
        raise RequestValidationError(error.errors()) from None
    shot = shots.one(needed.database, shot_id)
    schedule = Schedule(stills.count(needed.database, shot_id), decided.pace)
    still = None
    if 0 <= frame < len(schedule):
        still = stills.one_for_recipe(needed.database, shot, schedule.still_at(frame))
    if still is None:
        raise NotFound("no_such_frame", f"The clip has {len(schedule)} frames; there is no frame {frame}.")
    picture = jpeg(still, decided.fit, on_screen(decided.fit.size, width), needed.workspace.proxies)
    position = timecode(frame, decided.pace.rate)
    return Response(picture, media_type="image/jpeg", headers=CACHE_FOREVER | {"Yarnkite-Timecode": position})


def _brief(needed: Services, shot_id: int, decisions: Decisions) -> BriefView:
    shot = shots.one(needed.database, shot_id)
    return brief_view(brief(stills.shapes(needed.database, shot_id), decisions, shots.weight_of(shot)))
