"""Encoding: start it, and get the clips that came of it."""

from fastapi import APIRouter
from fastapi.responses import FileResponse

from yarnkite.api.decisions import Seen
from yarnkite.api.services import Needed
from yarnkite.api.views import ClipView, JobView, job_view
from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.encode.plan import clip_plan
from yarnkite.store import jobs, revisions, shots, used, versions

router = APIRouter(prefix="/api", tags=["encode"])


@router.post("/shots/{shot_id}/encode", status_code=202)
def encode(needed: Needed, shot_id: int, body: Seen) -> JobView:
    """Begin to encode a shot as its newest revision says; a 409 if that is not the one the person saw."""
    shot = shots.one(needed.database, shot_id)
    number, decisions = revisions.latest(needed.database, shot_id)
    if number != body.seen:
        raise Conflict("stale_revision", "The decisions were changed in another window. Look at them, then encode.")
    recipe = used.making(needed.database, shot, decisions).recipe
    if not shot["gathered"]:
        raise Conflict("not_gathered", "This shot is still being gathered. Encode it when all its stills are there.")
    version = versions.current(needed.database, shot_id)
    wanted = {"version": version["name"] if version else ""}
    job_id = needed.runner.start("encode", shot_id, clip_plan(recipe).frames, recipe, wanted)
    return job_view(jobs.one(needed.database, job_id))


@router.get("/shots/{shot_id}/clips")
def list_clips(needed: Needed, shot_id: int) -> list[ClipView]:
    shots.one(needed.database, shot_id)
    return [ClipView.model_validate(row) for row in jobs.clips(needed.database, shot_id)]


@router.get("/clips/{clip_id}/file", response_class=FileResponse)
def clip_file(needed: Needed, clip_id: int, download: bool = False) -> FileResponse:
    clip = jobs.clip(needed.database, clip_id)
    path = needed.workspace.clip(clip["job_id"])
    if not path.exists():
        raise NotFound("no_such_clip", "The file of this clip was removed. Encode the shot again.")
    return FileResponse(
        path,
        media_type="video/mp4",
        filename=clip["name"],
        content_disposition_type="attachment" if download else "inline",
    )
