"""Uploads: files a browser sends, put in their place and gathered as a shot."""

import os
import shutil
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Header, Request, Response
from pydantic import BaseModel, Field
from starlette.requests import ClientDisconnect

from yarnkite.api.gather import ShotStarted, begin
from yarnkite.api.problems import problem
from yarnkite.api.services import Needed
from yarnkite.core.errors import Conflict, NoRoom, Refusal
from yarnkite.core.formats import description, worth_reading
from yarnkite.core.places import safe_relative
from yarnkite.core.stills import MOST_BYTES
from yarnkite.store import projects, shots, uploads

router = APIRouter(prefix="/api", tags=["gather"])

MOST_FILES = 20_000
ROOM_TO_SPARE = 500_000_000


class AnnouncedFile(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=4096)]
    bytes: Annotated[int, Field(ge=0)]
    modified_ms: Annotated[int, Field(ge=0, le=8_640_000_000_000_000)]


class Announcement(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=120)]
    files: Annotated[list[AnnouncedFile], Field(min_length=1, max_length=MOST_FILES)]


class ArrivingFile(BaseModel):
    """How many bytes of an announced file have arrived; ``skip`` says why it need not be sent."""

    number: int
    offset: int
    skip: str | None


class UploadView(BaseModel):
    id: int
    files: list[ArrivingFile]


@router.post("/projects/{project_id}/uploads", status_code=201)
def open_upload(needed: Needed, project_id: int, body: Announcement) -> UploadView:
    """Announce files; the answer says which to send, and from which byte on."""
    projects.one(needed.database, project_id)
    files = [uploads.UploadFile(file.name, file.bytes, file.modified_ms) for file in body.files]
    _check_names(files)
    upload_id = uploads.open_or_go_on(needed.database, project_id, body.name, files)
    folder = needed.workspace.arriving(upload_id)
    folder.mkdir(parents=True, exist_ok=True)
    view = UploadView(id=upload_id, files=[_arriving(folder, number, file) for number, file in enumerate(files)])
    missing = sum(files[file.number].bytes - file.offset for file in view.files if file.skip is None)
    free = shutil.disk_usage(folder).free
    if missing + ROOM_TO_SPARE > free:
        raise NoRoom(
            "disk_full",
            f"These files need {missing / 1e9:.1f} GB and {free / 1e9:.1f} GB are free. Free some space, or point at "
            "the folder where it lies instead of sending it.",
        )
    return view


@router.patch("/uploads/{upload_id}/files/{number}", status_code=204)
async def receive(
    needed: Needed, request: Request, upload_id: int, number: int, upload_offset: Annotated[int, Header(ge=0)]
) -> Response:
    """Take more bytes of a file from ``Upload-Offset`` on, as they come; what arrived stays if the rest does not."""
    file = uploads.file(needed.database, upload_id, number)
    path = _part(needed.workspace.arriving(upload_id), number)
    arrived = path.stat().st_size if path.exists() else 0
    if arrived != upload_offset:
        sentence = f"{arrived:,} bytes of “{file.name}” have arrived; send the rest from there."
        return problem(409, "other_offset", sentence, {"Upload-Offset": str(arrived)})
    try:
        with path.open("ab") as target:
            async for piece in request.stream():
                arrived += len(piece)
                if arrived > file.bytes:
                    target.truncate(0)
                    raise Refusal("too_many_bytes", f"“{file.name}” grew while it was sent. Choose the folder again.")
                target.write(piece)
    except ClientDisconnect:
        return Response(status_code=204)
    except OSError as error:
        raise NoRoom(
            "cannot_write", f"“{file.name}” cannot be kept: {error.strerror}. Free some space, then choose it again."
        ) from None
    return Response(status_code=204, headers={"Upload-Offset": str(arrived)})


@router.post("/uploads/{upload_id}/complete", status_code=201)
def complete_upload(needed: Needed, upload_id: int) -> ShotStarted:
    """Put the files that have arrived in their place and gather them as a shot."""
    upload = uploads.one(needed.database, upload_id)
    if upload["shot_id"] is not None:
        raise Conflict("complete_already", "These files are a shot already.")
    arriving, target = needed.workspace.arriving(upload_id), needed.workspace.stills(upload_id)
    for number, file in enumerate(uploads.files(needed.database, upload_id)):
        _put_in_place(arriving, target, number, file)
    shot_id = shots.add(needed.database, upload["project_id"], upload["name"], target, copied=True)
    uploads.finish(needed.database, upload_id, shot_id)
    shutil.rmtree(arriving, ignore_errors=True)
    return begin(needed, shot_id)


def _check_names(files: list[uploads.UploadFile]) -> None:
    seen = set()
    for file in files:
        relative = safe_relative(file.name)
        if relative in seen:
            raise Refusal(
                "same_name", f"“{file.name}” is there twice. Rename one of the two, then choose the folder again."
            )
        seen.add(relative)


def _arriving(folder: Path, number: int, file: uploads.UploadFile) -> ArrivingFile:
    name = Path(file.name).name
    path = _part(folder, number)
    skip = None
    if not worth_reading(name):
        skip = f"“{name}” need not be sent: it is a {description(name)}."
    elif file.bytes > MOST_BYTES:
        skip = f"“{name}” is {file.bytes / 1e9:.1f} GB; a still may have up to 2 GB."
    return ArrivingFile(number=number, offset=path.stat().st_size if path.exists() else 0, skip=skip)


def _put_in_place(arriving: Path, target: Path, number: int, file: uploads.UploadFile) -> None:
    part, final = _part(arriving, number), target / safe_relative(file.name)
    if _arriving(arriving, number, file).skip is not None or final.exists():
        return
    if file.bytes == 0:
        part.touch()
    if not part.exists() or part.stat().st_size != file.bytes:
        raise Conflict("not_complete", f"“{file.name}” has not arrived completely. Choose the folder again to go on.")
    final.parent.mkdir(parents=True, exist_ok=True)
    os.utime(part, (file.modified_ms / 1000, file.modified_ms / 1000))
    part.replace(final)


def _part(folder: Path, number: int) -> Path:
    return folder / f"{number}.part"
