"""What was decided about a shot: its revisions, the brief, and the frame it makes."""

from fastapi import APIRouter, Response

from yarnkite.api.bodies import ChangeText, Seen, read_change
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.pictures import State, answer_frame
from yarnkite.api.views import BriefView, RevisedView, ShotDetail, brief_view, revised_view
from yarnkite.core.render.decisions import Decisions
from yarnkite.services import decisions, pictures
from yarnkite.services.decisions import PastRevision

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["decisions"])


class Revision(Seen):
    """New decisions, and the number of the revision they were made from."""

    decisions: Decisions


@router.get("")
def get_shot(services: ServicesDep, shot_id: int) -> ShotDetail:
    opened = decisions.opened_shot(services, shot_id)
    return ShotDetail(
        **{name: opened.shot[name] for name in ("id", "project_id", "name", "copied", "gathered", "raws")},
        **dict(revised_view(opened.decided)),
        project_name=opened.project_name,
        folder=opened.folder,
        notice=opened.notice,
    )


@router.put("/decisions")
def decide(services: ServicesDep, shot_id: int, body: Revision) -> RevisedView:
    """Save decisions as a new revision; a 409 says what another window changed meanwhile."""
    return revised_view(decisions.decide(services, shot_id, body.seen, body.decisions))


@router.post("/undo")
def undo(services: ServicesDep, shot_id: int, body: Seen) -> RevisedView:
    """Take the newest change back, as a new revision."""
    return revised_view(decisions.undo(services, shot_id, body.seen))


@router.post("/redo")
def redo(services: ServicesDep, shot_id: int, body: Seen) -> RevisedView:
    """Make the change again that was undone last, as a new revision."""
    return revised_view(decisions.redo(services, shot_id, body.seen))


@router.get("/revisions")
def list_revisions(services: ServicesDep, shot_id: int) -> list[PastRevision]:
    """Return the newest revisions, the newest first, each with what it changed."""
    return decisions.history(services, shot_id)


@router.post("/brief")
def say(services: ServicesDep, shot_id: int, body: Decisions) -> BriefView:
    """Say what decisions would make, without saving them."""
    return brief_view(decisions.brief_of(services, shot_id, body), body)


@router.get("/frames/{frame}.jpg", response_class=Response)
def frame_picture(
    services: ServicesDep,
    shot_id: int,
    frame: int,
    revision: int,
    change: ChangeText = "{}",
    width: int = 1280,
    quickly: bool = False,
    state: str = State,
) -> Response:
    """Return a frame of the clip as a revision, with a change (as JSON) on top, makes it."""
    tried = read_change(change)
    picture = pictures.frame(services, shot_id, frame, revision, tried, width, quickly=quickly)
    return answer_frame(services, shot_id, state, picture)


@router.get("/stills/{position}/frame.jpg", response_class=Response)
def still_as_frame(
    services: ServicesDep,
    shot_id: int,
    position: int,
    revision: int,
    change: ChangeText = "{}",
    width: int = 1280,
    quickly: bool = False,
    state: str = State,
) -> Response:
    """Return a still as the clip shows it; one that is set aside comes without the timecode of its first frame."""
    tried = read_change(change)
    picture = pictures.still_as_frame(services, shot_id, position, revision, tried, width, quickly=quickly)
    return answer_frame(services, shot_id, state, picture)
