"""Pacing: the ways to a wanted length, times typed as seconds, and which still each frame shows."""

from typing import Annotated

from fastapi import APIRouter, Path, Query, Response
from pydantic import BaseModel

from yarnkite.api.decisions import ChangeText, tried
from yarnkite.api.pictures import CACHE_FOREVER
from yarnkite.api.services import Needed, Services
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import parse_rate
from yarnkite.core.base.timecode import counting, timecodes
from yarnkite.core.encode.preview import CODEC, pieces, playing_size
from yarnkite.core.pace.compression import compression, compression_text
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.pace.length import Way, frames_of, length_text, parse_length, ways
from yarnkite.core.pace.schedule import Schedule
from yarnkite.core.render.recipe import schedule_of
from yarnkite.store import shots, used

router = APIRouter(prefix="/api/shots/{shot_id}/pace", tags=["pace"])
pieces_router = APIRouter(prefix="/api/pieces", tags=["pace"])

_MOST_PLAYED = 300_000

Typed = Annotated[str, Query(max_length=40)]


class WayView(BaseModel):
    """A way to a wanted length: ``pace`` is what to decide for it."""

    name: str
    sentence: str
    length: str
    seconds: float
    clock: str
    pace: Pace


class HoldView(BaseModel):
    """What was typed, as frames; the sentence is empty where nothing was rounded."""

    frames: int
    sentence: str


class PieceView(BaseModel):
    key: str
    first: int
    frames: int


class PlayView(BaseModel):
    """A clip as it is played; ``counting`` says what its timecode counts.

    ``stills`` has the position in the shot of the still each frame shows, ``timecodes`` its timecode; ``seconds`` the
    first frame of each second. ``pieces`` are got by their keys.
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
    pieces: list[PieceView]


@router.get("/ways")
def ways_to(needed: Needed, shot_id: int, length: Typed, revision: int, change: ChangeText = "{}") -> list[WayView]:
    """Return the honest ways to a clip of a length such as ``12 s``, the most faithful first."""
    made = tried(needed, shot_id, revision, change)
    pace = made.recipe.decisions.pace
    wanted = parse_length(length, pace.written_rate)
    found = ways(len(made.places), pace, wanted, made.recipe.times)
    return [_way_view(way, made) for way in found]


@router.get("/frames")
def typed_frames(needed: Needed, shot_id: int, text: Typed, rate: Typed) -> HoldView:
    """Read ``3`` or ``0.5 s`` as whole frames at a rate."""
    frames, sentence = frames_of(text, parse_rate(rate))
    return HoldView(frames=frames, sentence=sentence)


@router.get("/play")
def play(needed: Needed, shot_id: int, revision: int, change: ChangeText = "{}") -> PlayView:
    """Return how the clip of a revision, with a change (as JSON) on top, is played."""
    made = tried(needed, shot_id, revision, change)
    schedule, recipe = schedule_of(made.recipe), made.recipe
    if len(schedule) > _MOST_PLAYED:
        raise Refusal(
            "too_long_to_play",
            f"Clips of up to {_MOST_PLAYED:,} frames are played here; this one has {len(schedule):,}.",
        )
    rate, size = recipe.decisions.pace.written_rate, playing_size(recipe.decisions.fit.size)
    cut = pieces(recipe)
    needed.pieces.offer(cut)
    places = _positions(needed, shot_id, made)
    frames = len(schedule)
    return PlayView(
        frames=frames,
        rate=str(rate),
        frames_per_second=float(rate),
        width=size.width,
        height=size.height,
        codec=CODEC,
        counting=counting(rate),
        stills=[places[place] for place in schedule.mains()],
        timecodes=timecodes(range(frames), rate),
        seconds=[-(-second * rate.numerator // rate.denominator) for second in range(int(frames / rate) + 1)],
        pieces=[PieceView(key=piece.key, first=piece.first, frames=len(piece.shown)) for piece in cut],
    )


@pieces_router.get("/{key}.mp4", response_class=Response)
def piece(needed: Needed, key: Annotated[str, Path(pattern="^[0-9a-f]{32}$")]) -> Response:
    """Return a piece of a clip by the hash of what determines it; it never changes."""
    return Response(needed.pieces.get(key), media_type="video/mp4", headers=CACHE_FOREVER)


def _way_view(way: Way, made: used.Making) -> WayView:
    pace = way.pace
    schedule = Schedule(len(made.places), pace, made.times if pace.by_clock else ())
    factor = compression(made.times, schedule)
    # In a recipe stills that stay longer are named by place, in decisions by id.
    longer = tuple(one.model_copy(update={"still": made.places[one.still].still}) for one in pace.longer)
    return WayView(
        name=way.name,
        sentence=way.sentence,
        length=length_text(way),
        seconds=float(way.seconds),
        clock=compression_text(factor) if factor else "",
        pace=pace.model_copy(update={"longer": longer}),
    )


def _positions(needed: Services, shot_id: int, made: used.Making) -> list[int]:
    """Return for each place of a clip the position of its still in the shot."""
    every = used.of_shot_whole(needed.database, shots.one(needed.database, shot_id))
    positions = {number: position for position, (number, _) in enumerate(every)}
    return [positions[place.still] for place in made.places]
