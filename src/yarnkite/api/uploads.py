"""Uploads: files a browser sends, put in their place and gathered as a shot."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Header, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, Field
from starlette.requests import ClientDisconnect

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.problems import problem
from yarnkite.api.views import ShotStarted, shot_started
from yarnkite.services import uploads
from yarnkite.services.uploads import OpenedUpload
from yarnkite.store.uploads import UploadFile

router = APIRouter(prefix="/api", tags=["gather"])

MOST_FILES = 20_000


class AnnouncedFile(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=4096)]
    bytes: Annotated[int, Field(ge=0, le=10**15)]
    modified_ms: Annotated[int, Field(ge=0, le=8_640_000_000_000_000)]


class Announcement(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=120)]
    files: Annotated[list[AnnouncedFile], Field(min_length=1, max_length=MOST_FILES)]


class SentFilm(BaseModel):
    """A film that was sent, by its upload, and its name."""

    sent: int
    name: str


@router.post("/projects/{project_id}/uploads", status_code=201)
def open_upload(services: ServicesDep, project_id: int, body: Announcement) -> OpenedUpload:
    """Announce files; the answer says which to send, and from which byte on."""
    files = [UploadFile(file.name, file.bytes, file.modified_ms) for file in body.files]
    return uploads.open_upload(services, project_id, body.name, files)


@router.patch("/uploads/{upload_id}/files/{number}", status_code=204)
async def receive(
    services: ServicesDep, request: Request, upload_id: int, number: int, upload_offset: Annotated[int, Header(ge=0)]
) -> Response:
    """Take more bytes of a file from ``Upload-Offset`` on, as they come; what arrived stays if the rest does not.

    Who sends a file that is being sent already waits, and is told then from where on to send.
    """
    part = await run_in_threadpool(uploads.part_of, services, upload_id, number)
    async with _one_at_a_time(part.path):
        arrived = await run_in_threadpool(lambda: part.arrived)
        if arrived != upload_offset:
            sentence = f"{arrived:,} bytes of “{part.file.name}” have arrived; send the rest from there."
            return problem(409, "other_offset", sentence, {"Upload-Offset": str(arrived)})
        try:
            arrived = await _take(request, part, arrived)
        except ClientDisconnect:
            return Response(status_code=204)
        except OSError as error:
            raise part.cannot_be_kept(error) from None
    return Response(status_code=204, headers={"Upload-Offset": str(arrived)})


@router.post("/uploads/{upload_id}/complete", status_code=201)
def complete_upload(services: ServicesDep, upload_id: int) -> ShotStarted:
    """Put the files that have arrived in their place and gather them as a shot."""
    return shot_started(uploads.complete(services, upload_id))


@router.post("/uploads/{upload_id}/film", status_code=201)
def complete_film(services: ServicesDep, upload_id: int) -> SentFilm:
    """Put a film that has arrived in its place; stills are taken from it as from one in a location."""
    return SentFilm(sent=upload_id, name=uploads.complete_film(services, upload_id).name)


async def _take(request: Request, part: uploads.PartFile, arrived: int) -> int:
    with await run_in_threadpool(part.path.open, "ab") as target:
        async for piece in request.stream():
            arrived += len(piece)
            if arrived > part.file.bytes:
                await run_in_threadpool(part.refuse_excess)
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
