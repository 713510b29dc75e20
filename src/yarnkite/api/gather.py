"""Gathering: from a folder on this machine, or from files a browser sends."""

import os
import shutil
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Header, Request, Response
from pydantic import BaseModel, Field
from starlette.requests import ClientDisconnect

from yarnkite.api.problems import problem
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import JobView, job_view
from yarnkite.core.errors import Conflict, NoRoom, NotFound, Refusal
from yarnkite.core.formats import description, worth_reading
from yarnkite.core.order import natural_order
from yarnkite.core.places import Place, directly_inside, safe_relative
from yarnkite.core.stills import MOST_BYTES
from yarnkite.store import jobs, projects, shots, uploads

router = APIRouter(prefix="/api", tags=["gather"])

MOST_FILES = 20_000
ROOM_TO_SPARE = 500_000_000


class PlaceView(BaseModel):
    name: str
    folder: str


class FolderView(BaseModel):
    """A folder in a place: the folders in it, how many files look like stills, and the first and last of those."""

    place: str
    path: str
    folders: list[str]
    stills: int
    others: int
    first: str | None
    last: str | None


class FromFolder(BaseModel):
    place: str
    path: Annotated[str, Field(max_length=4096)]


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


class ShotStarted(BaseModel):
    shot_id: int
    job: JobView


@router.get("/places")
def list_places(needed: Needed) -> list[PlaceView]:
    return [PlaceView(name=place.name, folder=str(place.folder)) for place in needed.places]


@router.get("/places/{name}/folder")
def look_into(needed: Needed, name: str, path: str = "") -> FolderView:
    place = _place(needed, name)
    folder = place.inside(path)
    if not folder.is_dir():
        raise NotFound("no_such_folder", f"“{path}” is a file, not a folder. Choose the folder it lies in.")
    folders, files = directly_inside(folder)
    candidates = [file for file in files if worth_reading(file)]
    ordered = [candidates[index] for index in natural_order(candidates)]
    return FolderView(
        place=name,
        path=str(folder.relative_to(place.folder.resolve())) if folder != place.folder.resolve() else "",
        folders=[folders[index] for index in natural_order(folders)],
        stills=len(ordered),
        others=len(files) - len(ordered),
        first=ordered[0] if ordered else None,
        last=ordered[-1] if ordered else None,
    )


@router.post("/projects/{project_id}/shots", status_code=201)
def gather_folder(needed: Needed, project_id: int, body: FromFolder) -> ShotStarted:
    projects.one(needed.database, project_id)
    folder = _place(needed, body.place).inside(body.path)
    if not folder.is_dir():
        raise NotFound("no_such_folder", f"“{body.path}” is a file, not a folder. Choose the folder it lies in.")
    return _begin(needed, shots.add(needed.database, project_id, folder.name or body.place, folder, copied=False))


@router.post("/shots/{shot_id}/gather", status_code=202)
def gather_again(needed: Needed, shot_id: int) -> ShotStarted:
    """Go on with a gathering that was cancelled or failed; what is gathered already is kept."""
    shots.one(needed.database, shot_id)
    if any(job["kind"] == "gather" and job["shot_id"] == shot_id for job in jobs.unfinished(needed.database)):
        raise Conflict("gathering_already", "This shot is being gathered already.")
    return _begin(needed, shot_id)


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
    return _begin(needed, shot_id)


def _begin(needed: Services, shot_id: int) -> ShotStarted:
    job_id = needed.runner.start("gather", shot_id, 0)
    return ShotStarted(shot_id=shot_id, job=job_view(jobs.one(needed.database, job_id)))


def _place(needed: Services, name: str) -> Place:
    for place in needed.places:
        if place.name == name:
            return place
    raise NotFound("no_such_place", f"There is no place called “{name}”. Start Yarn Kite with --place and its folder.")


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
