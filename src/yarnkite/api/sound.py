"""Sounds and pictures of reels: sent, made up, drawn, brought to a length."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, Field

from yarnkite.api.bodies import FileName, TriedText, read_tried, received
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, View, job_view
from yarnkite.core.base.errors import DiskFull, Refusal
from yarnkite.core.sound.credit import CREDIT_LETTERS
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.fitting import FitWay
from yarnkite.core.sound.made import BEDS, NOISES, Made
from yarnkite.services import sound
from yarnkite.services.sound import LoudnessCurve
from yarnkite.store.database import Row

router = APIRouter(prefix="/api", tags=["sound"])


class SoundView(BaseModel):
    """A sound of a project; ``begins`` is the sample where it gets going, if that is not at once, ``credit`` says whose
    it is."""

    id: int
    name: str
    samples: int
    seconds: float
    remarks: list[str]
    credit: str
    begins: int | None
    created_at: datetime


class LogoView(View):
    id: int
    name: str
    width: int
    height: int


class MadeKindView(BaseModel):
    """A kind of sound the program makes up."""

    kind: str
    name: str
    is_music: bool


class Credit(BaseModel):
    """Whose a piece of music is, in a line."""

    credit: Annotated[str, Field(max_length=CREDIT_LETTERS)]


@router.get("/projects/{project_id}/sounds")
def list_sounds(services: ServicesDep, project_id: int) -> list[SoundView]:
    return [_view(one.row, one.begins) for one in sound.every(services, project_id)]


@router.delete("/sounds/{sound_id}", status_code=204)
def delete_sound(services: ServicesDep, sound_id: int) -> Response:
    """Forget a sound of a project that no reel has, and its samples."""
    sound.delete(services, sound_id)
    return Response(status_code=204)


@router.put("/sounds/{sound_id}/credit")
def write_credit(services: ServicesDep, sound_id: int, body: Credit) -> SoundView:
    """Keep whose a sound is."""
    kept = sound.write_credit(services, sound_id, body.credit)
    return _view(kept.row, kept.begins)


@router.get("/made-sounds")
def list_made_kinds() -> list[MadeKindView]:
    """Return the kinds of sound the program makes up."""
    return [MadeKindView(kind=kind, name=name, is_music=kind in BEDS) for kind, name in (BEDS | NOISES).items()]


@router.put("/reels/{reel_id}/sounds", status_code=202)
async def send_sound(services: ServicesDep, request: Request, reel_id: int, name: FileName) -> JobView:
    """Take a sound file as it comes, and begin to take it in as a new track of a reel."""
    path = await run_in_threadpool(sound.arriving, services, reel_id)
    try:
        with await run_in_threadpool(path.open, "wb") as target:
            arrived = 0
            async for piece in request.stream():
                arrived += len(piece)
                if arrived > sound.MOST_BYTES:
                    raise Refusal("sound_too_large", f"“{name}” has more than 4 GB. Cut out the part you need.")
                await run_in_threadpool(target.write, piece)
        return job_view(await run_in_threadpool(sound.take_in, services, reel_id, path, name))
    except OSError as error:
        path.unlink(missing_ok=True)
        raise DiskFull(
            "cannot_write", f"“{name}” cannot be kept: {error.strerror}. Free some space, then try again."
        ) from None
    except BaseException:
        path.unlink(missing_ok=True)
        raise


@router.post("/reels/{reel_id}/made-sounds", status_code=202)
def make_sound(services: ServicesDep, reel_id: int, body: Made) -> JobView:
    """Begin to make up a sound as a new track of a reel."""
    return job_view(sound.make_up(services, reel_id, body))


@router.post("/reels/{reel_id}/parts/{part_id}/sound", status_code=202)
def add_sound_of_footage(services: ServicesDep, reel_id: int, part_id: int) -> JobView:
    """Begin to take in the sound of the footage a part's stills were taken from."""
    return job_view(sound.add_of_footage(services, reel_id, part_id))


@router.get("/reels/{reel_id}/loudness-curves")
def reel_loudness_curves(
    services: ServicesDep,
    reel_id: int,
    revision: int,
    tried: TriedText = "",
    rows: Annotated[int, Query(ge=1, le=2000)] = 600,
) -> list[LoudnessCurve]:
    """Return how loud each track of a reel is along it, 0 to 1, for drawing."""
    return sound.loudness_curves(services, reel_id, revision, read_tried(tried), rows)


@router.get("/reels/{reel_id}/tracks/{track_id}/ways")
def fit_track(services: ServicesDep, reel_id: int, track_id: int, revision: int, tried: TriedText = "") -> list[FitWay]:
    """Return the ways in which a track can end with the picture, the best first."""
    return sound.ways(services, reel_id, track_id, revision, read_tried(tried))


@router.get("/projects/{project_id}/logos")
def list_logos(services: ServicesDep, project_id: int) -> list[LogoView]:
    return [LogoView.model_validate(row) for row in sound.logos(services, project_id)]


@router.put("/reels/{reel_id}/logos", status_code=201)
async def send_logo(services: ServicesDep, request: Request, reel_id: int, name: FileName) -> LogoView:
    """Take a picture that is to lie over the reel."""
    sentence = f"“{name}” has more than 60 MB. Save it smaller and choose it again."
    data = await received(request, sound.LOGO_MOST_BYTES, "picture_too_large", sentence)
    row = await run_in_threadpool(sound.add_logo, services, reel_id, name, data)
    return LogoView.model_validate(row)


def _view(row: Row, begins: int | None) -> SoundView:
    names = ("id", "name", "samples", "remarks", "credit", "created_at")
    return SoundView(**{name: row[name] for name in names}, seconds=row["samples"] / RATE, begins=begins)
