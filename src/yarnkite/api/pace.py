"""Pacing: the ways to a wanted length, times typed as seconds, and which still each frame shows."""

from typing import Annotated

from fastapi import APIRouter, Path, Query, Response
from pydantic import BaseModel

from yarnkite.api.bodies import ChangeText, read_change
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.pictures import CACHE_FOREVER
from yarnkite.api.views import SegmentView
from yarnkite.core.encode.preview import CODEC
from yarnkite.core.render.pair import InStep
from yarnkite.services import pace
from yarnkite.services.pace import LengthWay

router = APIRouter(prefix="/api/shots/{shot_id}/pace", tags=["pace"])
segments_router = APIRouter(prefix="/api/segments", tags=["pace"])

Typed = Annotated[str, Query(max_length=40)]


class HoldView(BaseModel):
    """What was typed, as frames; the sentence is empty where nothing was rounded."""

    frames: int
    sentence: str


class PlayView(BaseModel):
    """A clip as it is played; ``counting`` says what its timecode counts.

    ``stills`` has the position in the shot of the still each frame shows, ``timecodes`` its timecode; ``seconds`` the
    first frame of each second. ``segments`` are got by their keys.
    """

    frames: int
    rate: str
    frames_per_second: float
    width: int
    height: int
    codec: str
    counting: str
    stills: list[int]
    timecodes: list[str]
    seconds: list[int]
    segments: list[SegmentView]


class LengthView(BaseModel):
    """Something a clip can be made as long as."""

    of: str
    seconds: float


class InStepView(BaseModel):
    """Two settings as they are played in one picture: ``edge`` is where the first ends, a share of the width, and
    ``beside`` the other's frame at each of the first's."""

    frames: int
    frames_per_second: float
    width: int
    height: int
    codec: str
    edge: float
    beside: list[int]
    other_frames: int
    segments: list[SegmentView]


@router.get("/ways")
def ways_to(
    services: ServicesDep, shot_id: int, length: Typed, revision: int, change: ChangeText = "{}"
) -> list[LengthWay]:
    """Return the honest ways to a clip of a length such as ``12 s``, the most faithful first."""
    return pace.ways_to(services, shot_id, length, revision, read_change(change))


@router.get("/lengths")
def known_lengths(services: ServicesDep, shot_id: int) -> list[LengthView]:
    """Return the lengths a clip can be given after: other clips of the project, its sounds, so many of their beats,
    and what its reels lack to the end of their sound."""
    return [LengthView(of=one.of, seconds=float(one.seconds)) for one in pace.known_lengths(services, shot_id)]


@router.get("/frames")
def typed_frames(shot_id: int, text: Typed, rate: Typed) -> HoldView:
    """Read ``3`` or ``0.5 s`` as whole frames at a rate."""
    frames, sentence = pace.typed_frames(text, rate)
    return HoldView(frames=frames, sentence=sentence)


@router.get("/play")
def play(services: ServicesDep, shot_id: int, revision: int, change: ChangeText = "{}") -> PlayView:
    """Return how the clip of a revision, with a change (as JSON) on top, is played."""
    played = pace.playback(services, shot_id, revision, read_change(change))
    return PlayView(
        **{name: getattr(played, name) for name in ("frames", "codec", "counting", "stills", "timecodes", "seconds")},
        rate=str(played.rate),
        frames_per_second=float(played.rate),
        width=played.size.width,
        height=played.size.height,
        segments=[SegmentView(key=one.key, first=one.first, frames=len(one.specs)) for one in played.segments],
    )


@router.get("/play-in-step")
def play_in_step(
    services: ServicesDep,
    shot_id: int,
    revision: int,
    other: int,
    change: ChangeText = "{}",
    other_change: ChangeText = "{}",
    in_step: InStep = "still",
    other_shot: int | None = None,
) -> InStepView:
    """Return how two settings of a shot, or of it and another one, are played beside each other in one picture, that of
    ``revision`` first."""
    now, then = (revision, read_change(change)), (other, read_change(other_change))
    played = pace.playback_in_step(services, shot_id, now, then, in_step, other_shot)
    return InStepView(
        frames=played.frames,
        frames_per_second=float(played.rate),
        width=played.size.width,
        height=played.size.height,
        codec=CODEC,
        edge=played.edge,
        beside=played.beside,
        other_frames=played.other_frames,
        segments=[SegmentView(key=one.key, first=one.first, frames=len(one.specs)) for one in played.segments],
    )


@segments_router.get("/{key}.mp4", response_class=Response)
def segment(services: ServicesDep, key: Annotated[str, Path(pattern="^[0-9a-f]{32}$")]) -> Response:
    """Return a segment of a clip by the hash of what determines it; it never changes."""
    return Response(pace.segment(services, key), media_type="video/mp4", headers=CACHE_FOREVER)
