"""Encoding: start it, and get the clips that came of it."""

from fastapi import APIRouter
from fastapi.responses import FileResponse, Response

from yarnkite.api.bodies import Seen
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import ClipView, JobView, job_view
from yarnkite.services import encode

router = APIRouter(prefix="/api", tags=["encode"])


@router.post("/shots/{shot_id}/encode", status_code=202, name="encode")
def begin_encode(services: ServicesDep, shot_id: int, body: Seen) -> JobView:
    """Begin to encode a shot as its newest revision says; a 409 if that is not the one the person saw."""
    return job_view(encode.encode(services, shot_id, body.seen))


@router.get("/shots/{shot_id}/clips")
def list_clips(services: ServicesDep, shot_id: int) -> list[ClipView]:
    return [ClipView.model_validate(row) for row in encode.clips(services, shot_id)]


@router.get("/clips/{clip_id}/file", response_class=FileResponse)
def clip_file(services: ServicesDep, clip_id: int, download: bool = False) -> FileResponse:
    file = encode.clip_file(services, clip_id)
    return FileResponse(
        file.path,
        media_type="video/mp4",
        filename=file.name,
        content_disposition_type="attachment" if download else "inline",
    )


@router.delete("/clips/{clip_id}")
def delete_clip(services: ServicesDep, clip_id: int) -> Response:
    """Delete a clip and its file; the shot and its decisions stay, so that it can be encoded again."""
    encode.delete_clip(services, clip_id)
    return Response(status_code=204)
