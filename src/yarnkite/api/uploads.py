"""Uploads: files a browser sends, put in their place and gathered as a shot."""

import asyncio
import os
import shutil
import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Header, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, Field
from starlette.requests import ClientDisconnect

from yarnkite.api.gather import ShotStarted, begin
from yarnkite.api.problems import problem
from yarnkite.api.services import Needed
from yarnkite.core.base.errors import Conflict, NoRoom, Refusal
from yarnkite.core.base.opened import MOST_BYTES
from yarnkite.core.gather.roots import safe_relative
from yarnkite.core.image.kinds import description, worth_reading
from yarnkite.store import projects, uploads

router = APIRouter(prefix="/api", tags=["gather"])

MOST_FILES = 20_000
ROOM_TO_SPARE = 500_000_000
# The year 2200: what lies later is no time at which a file was changed.
_LATEST_MS = 7_258_118_400_000


class AnnouncedFile(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=4096)]
    bytes: Annotated[int, Field(ge=0, le=10**15)]
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
    target = needed.workspace.stills(upload_id)
    view = UploadView(
        id=upload_id, files=[_arriving(folder, target, number, file) for number, file in enumerate(files)]
    )
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
    """Take more bytes of a file from ``Upload-Offset`` on, as they come; what arrived stays if the rest does not.

    Who sends a file that is being sent already waits, and is told then from where on to send.
    """
    file = await run_in_threadpool(uploads.file, needed.database, upload_id, number)
    path = _part(needed.workspace.arriving(upload_id), number)
    async with _one_at_a_time(path):
        arrived = await run_in_threadpool(_arrived, path, file)
        if arrived != upload_offset:
            sentence = f"{arrived:,} bytes of “{file.name}” have arrived; send the rest from there."
            return problem(409, "other_offset", sentence, {"Upload-Offset": str(arrived)})
        try:
            arrived = await _take(request, path, file, arrived)
        except ClientDisconnect:
            return Response(status_code=204)
        except OSError as error:
            raise NoRoom(
                "cannot_write",
                f"“{file.name}” cannot be kept: {error.strerror}. Free some space, then choose it again.",
            ) from None
    return Response(status_code=204, headers={"Upload-Offset": str(arrived)})


async def _take(request: Request, path: Path, file: uploads.UploadFile, arrived: int) -> int:
    with await run_in_threadpool(path.open, "ab") as target:
        async for piece in request.stream():
            arrived += len(piece)
            if arrived > file.bytes:
                # By its name: the file that is open may be in its place, complete, by now.
                await run_in_threadpool(path.unlink, missing_ok=True)
                raise Refusal("too_many_bytes", f"“{file.name}” grew while it was sent. Choose the folder again.")
            await run_in_threadpool(target.write, piece)
        await run_in_threadpool(target.flush)
    return arrived


@asynccontextmanager
async def _one_at_a_time(path: Path) -> AsyncIterator[None]:
    """Let one request at a time write a file."""
    lock, waiting = _locks.get(path, (asyncio.Lock(), 0))
    _locks[path] = lock, waiting + 1
    try:
        async with lock:
            yield
    finally:
        lock, waiting = _locks[path]
        if waiting == 1:
            del _locks[path]
        else:
            _locks[path] = lock, waiting - 1


_locks: dict[Path, tuple[asyncio.Lock, int]] = {}
_completing = threading.Lock()


@router.post("/uploads/{upload_id}/complete", status_code=201)
def complete_upload(needed: Needed, upload_id: int) -> ShotStarted:
    """Put the files that have arrived in their place and gather them as a shot."""
    with _completing:
        upload = uploads.one(needed.database, upload_id)
        if upload["shot_id"] is not None:
            raise Conflict("complete_already", "These files are a shot already.")
        arriving, target = needed.workspace.arriving(upload_id), needed.workspace.stills(upload_id)
        for number, file in enumerate(uploads.files(needed.database, upload_id)):
            _put_in_place(arriving, target, number, file)
        shot_id = uploads.finish(needed.database, upload, target)
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


def _arriving(arriving: Path, target: Path, number: int, file: uploads.UploadFile) -> ArrivingFile:
    name = Path(file.name).name
    skip = None
    if not worth_reading(name):
        skip = f"“{name}” need not be sent: it is a {description(name)}."
    elif file.bytes > MOST_BYTES:
        skip = f"“{name}” is {file.bytes / 1e9:.1f} GB; a still may have up to 2 GB."
    # A program that was killed may have put some files in their place already.
    done = _size(target / safe_relative(file.name)) == file.bytes
    return ArrivingFile(
        number=number, offset=file.bytes if done else _arrived(_part(arriving, number), file), skip=skip
    )


def _arrived(path: Path, file: uploads.UploadFile) -> int:
    """Return how many bytes of a file have arrived; one that is longer than it can be begins again."""
    size = _size(path) or 0
    if size > file.bytes:
        path.unlink(missing_ok=True)
        return 0
    return size


def _size(path: Path) -> int | None:
    try:
        return path.stat().st_size
    except OSError:
        return None


def _put_in_place(arriving: Path, target: Path, number: int, file: uploads.UploadFile) -> None:
    part, final = _part(arriving, number), target / safe_relative(file.name)
    if _arriving(arriving, target, number, file).skip is not None or _size(final) == file.bytes:
        return
    if file.bytes == 0:
        part.touch()
    if _size(part) != file.bytes:
        raise Conflict("not_complete", f"“{file.name}” has not arrived completely. Choose the folder again to go on.")
    final.parent.mkdir(parents=True, exist_ok=True)
    modified_ns = min(file.modified_ms, _LATEST_MS) * 1_000_000
    os.utime(part, ns=(modified_ns, modified_ns))
    part.replace(final)


def _part(folder: Path, number: int) -> Path:
    return folder / f"{number}.part"
