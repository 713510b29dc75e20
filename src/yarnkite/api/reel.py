"""Reels: their running order, titles and form; how they are played; their files."""

from datetime import datetime
from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, Path, Response
from pydantic import BaseModel, Field

from yarnkite.api.bodies import Seen, TriedText, read_tried
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.pictures import CACHE_FOREVER, png_of_rows
from yarnkite.api.views import ClipView, PartView, SegmentView, View, clip_view
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import duration_text, timecode
from yarnkite.core.brief.reel_sentence import Remark
from yarnkite.core.encode.preview import playing_size
from yarnkite.core.reel.decisions import Reel
from yarnkite.resolve.reel import ResolvedReel
from yarnkite.services import reel as reels
from yarnkite.services.reel import DecidedReel, TitleBox

router = APIRouter(prefix="/api", tags=["reel"])

_MEDIA = {"otio": "application/json", "edl": "text/plain; charset=utf-8", "vtt": "text/vtt; charset=utf-8"}
Key = Annotated[str, Path(pattern="^[0-9a-f]{32}$")]


class ReelSummary(View):
    id: int
    name: str
    created_at: datetime
    brief: str


class ShotInReelView(View):
    name: str
    version: str
    shot: int
    frames: int
    sentence: str
    of_footage: bool


class PartSpanView(BaseModel):
    """Where a part lies on the reel, in frames, and what it shows; ``over`` it shares with the next part."""

    id: int
    start: int
    frames: int
    over: int
    starts: str
    length: str
    timecode: str
    rate: str
    shots: list[ShotInReelView]


class ReelBriefView(View):
    parts: list[PartView]
    remarks: list[Remark]
    frames: int
    length: str
    timecode: str
    bytes: int


class RevisedReelView(BaseModel):
    revision: int
    decisions: Reel
    brief: ReelBriefView
    parts: list[PartSpanView]
    can_undo: bool
    can_redo: bool


class ReelDetail(RevisedReelView):
    id: int
    project_id: int
    project_name: str
    name: str
    notice: str = ""


class NewReel(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=120)]
    shots: Annotated[list[int], Field(max_length=200)] = []


class NamedReel(BaseModel):
    name: Annotated[str, Field(min_length=1, max_length=120)]


class ReelRevision(Seen):
    """New decisions, and the number of the revision they were made from."""

    decisions: Reel


class ReelText(BaseModel):
    """A reel to read, as OpenTimelineIO."""

    text: Annotated[str, Field(max_length=40_000_000)]


class ReadReelView(BaseModel):
    """The reel that was made, and what was left out, in sentences."""

    reel: int
    left_out: list[str]


class ReelPlayView(BaseModel):
    """A reel as it is played; ``part`` has the place in the running order of what each frame shows.

    ``sound`` is the key its sound is got by, ``loudness_known`` whether that is as loud as it will be written, and
    ``loudness`` how loud that is, in LUFS.
    """

    frames: int
    rate: str
    frames_per_second: float
    width: int
    height: int
    codec: str
    counting: str
    part: list[int]
    timecodes: list[str]
    seconds: list[int]
    segments: list[SegmentView]
    sound: str
    loudness_known: bool
    loudness: float | None
    true_peak: float | None


@router.get("/projects/{project_id}/reels")
def list_reels(services: ServicesDep, project_id: int) -> list[ReelSummary]:
    return [
        ReelSummary(id=row["id"], name=row["name"], created_at=row["created_at"], brief=said)
        for row, said in reels.every(services, project_id)
    ]


@router.post("/projects/{project_id}/reels", status_code=201)
def add_reel(services: ServicesDep, project_id: int, body: NewReel) -> ReelDetail:
    """Make a reel of shots of a project, in the order given."""
    return _detail(services, reels.add(services, project_id, body.name, body.shots))


@router.post("/shots/{shot_id}/reel", status_code=201)
def add_reel_of_shot(services: ServicesDep, shot_id: int) -> ReelDetail:
    """Make a reel of one shot alone, for a sound or a title."""
    return _detail(services, reels.of_shot(services, shot_id))


@router.get("/reels/{reel_id}")
def get_reel(services: ServicesDep, reel_id: int) -> ReelDetail:
    return _detail(services, reel_id)


@router.patch("/reels/{reel_id}")
def rename_reel(services: ServicesDep, reel_id: int, body: NamedReel) -> ReelDetail:
    reels.rename(services, reel_id, body.name)
    return _detail(services, reel_id)


@router.delete("/reels/{reel_id}", status_code=204)
def delete_reel(services: ServicesDep, reel_id: int) -> Response:
    """Put a reel away for 30 days; its shots and sounds stay."""
    reels.delete(services, reel_id)
    return Response(status_code=204)


@router.post("/reels/{reel_id}/take-back", status_code=204)
def take_reel_back(services: ServicesDep, reel_id: int) -> Response:
    """Take a deleted reel back, with all its decisions and files."""
    reels.take_back(services, reel_id)
    return Response(status_code=204)


@router.put("/reels/{reel_id}/decisions")
def decide_reel(services: ServicesDep, reel_id: int, body: ReelRevision) -> RevisedReelView:
    """Save decisions as a new revision; a 409 if another window changed the reel meanwhile."""
    return _revised(reels.decide(services, reel_id, body.seen, body.decisions))


@router.post("/reels/{reel_id}/undo")
def undo_reel(services: ServicesDep, reel_id: int, body: Seen) -> RevisedReelView:
    return _revised(reels.undo(services, reel_id, body.seen))


@router.post("/reels/{reel_id}/redo")
def redo_reel(services: ServicesDep, reel_id: int, body: Seen) -> RevisedReelView:
    return _revised(reels.redo(services, reel_id, body.seen))


@router.get("/reels/{reel_id}/play")
def play_reel(services: ServicesDep, reel_id: int, revision: int, tried: TriedText = "") -> ReelPlayView:
    """Return how a reel is played; its segments are got by their keys, its sound by its own."""
    played = reels.playback(services, reel_id, revision, read_tried(tried))
    frames = played.made.frames
    size = playing_size(frames.size)
    return ReelPlayView(
        frames=len(frames),
        rate=str(frames.rate),
        frames_per_second=float(frames.rate),
        width=size.width,
        height=size.height,
        part=played.parts,
        segments=[SegmentView(key=one.key, first=one.first, frames=len(one.specs)) for one in played.segments],
        loudness_known=played.mastering is not None,
        loudness=played.mastering.reached.lufs if played.mastering else None,
        true_peak=played.mastering.reached.true_peak_dbtp if played.mastering else None,
        **{name: getattr(played, name) for name in ("codec", "counting", "timecodes", "seconds", "sound")},
    )


@router.get("/reel-sound/{key}/{first}-{count}.mp4", response_class=Response)
def reel_sound(services: ServicesDep, key: Key, first: int, count: int) -> Response:
    """Return the sound under some frames of a reel; what a key names never changes."""
    return Response(reels.sound_segment(services, key, first, count), media_type="audio/mp4", headers=CACHE_FOREVER)


@router.get("/reels/{reel_id}/frames/{frame}.jpg", response_class=Response)
def reel_frame(
    services: ServicesDep,
    reel_id: int,
    frame: int,
    revision: int,
    tried: TriedText = "",
    width: int = 1280,
    quickly: bool = False,
) -> Response:
    """Return a frame of a reel as a revision, or what is being tried, makes it."""
    picture = reels.frame(services, reel_id, frame, revision, read_tried(tried), width, quickly=quickly)()
    headers = {"Cache-Control": "no-store", "Yarnkite-Timecode": picture.timecode or ""}
    return Response(picture.jpeg, media_type="image/jpeg", headers=headers)


@router.get("/reels/{reel_id}/frames/{frame}/titles")
def reel_titles(
    services: ServicesDep, reel_id: int, frame: int, revision: int, tried: TriedText = ""
) -> list[TitleBox]:
    """Return where the titles lie that are seen in a frame."""
    return reels.title_boxes(services, reel_id, frame, revision, read_tried(tried))


@router.get("/reels/{reel_id}/tail.png", response_class=Response)
def reel_tail(services: ServicesDep, reel_id: int, revision: int, tried: TriedText = "") -> Response:
    """Return the whole reel as one picture: its frames as rows, the first at the top."""
    rows = reels.tail(services, reel_id, revision, read_tried(tried))
    return Response(png_of_rows(rows), media_type="image/png", headers={"Cache-Control": "no-store"})


@router.get("/reels/{reel_id}/reel.{kind}", response_class=Response)
def reel_as_list(services: ServicesDep, reel_id: int, kind: Literal["otio", "edl", "vtt"]) -> Response:
    """Return a reel as other programs read it: OpenTimelineIO, an edit decision list, or its titles as subtitles."""
    name, text = reels.as_list(services, reel_id, kind)
    ending = quote(f"{name}.{kind}")
    headers = {"Content-Disposition": f"attachment; filename*=UTF-8''{ending}"}
    return Response(text, media_type=_MEDIA[kind], headers=headers)


@router.post("/projects/{project_id}/reels/read", status_code=201)
def read_reel(services: ServicesDep, project_id: int, body: ReelText) -> ReadReelView:
    """Make a reel of an OpenTimelineIO document; what has no place in it is said."""
    reel_id, left_out = reels.read_list(services, project_id, body.text)
    return ReadReelView(reel=reel_id, left_out=list(left_out))


@router.get("/reels/{reel_id}/clips")
def list_reel_clips(services: ServicesDep, reel_id: int) -> list[ClipView]:
    return [clip_view(row) for row in reels.clips(services, reel_id)]


def _detail(services: ServicesDep, reel_id: int) -> ReelDetail:
    opened = reels.opened(services, reel_id)
    return ReelDetail(
        **{name: opened.reel[name] for name in ("id", "project_id", "name")},
        **dict(_revised(opened.decided)),
        project_name=opened.project_name,
        notice=opened.notice,
    )


def _revised(decided: DecidedReel) -> RevisedReelView:
    made = decided.made
    return RevisedReelView(
        **{name: getattr(decided, name) for name in ("revision", "decisions", "can_undo", "can_redo")},
        brief=ReelBriefView.model_validate(made.said),
        parts=_spans(made, decided.of_footage),
    )


def _spans(made: ResolvedReel, of_footage: frozenset[int]) -> list[PartSpanView]:
    reel = made.recipe.reel
    rows = zip(reel.parts, made.frames.spans, made.shots, made.recipe.clips, strict=True)
    return [
        PartSpanView(
            id=part.id,
            start=span.start,
            frames=span.frames,
            over=span.over,
            starts=timecode(span.start, reel.rate),
            length=duration_text(span.frames / reel.rate),
            timecode=timecode(span.frames, reel.rate),
            rate=next((rate_label(clip.recipe.decisions.pace.written_rate) for clip in clips if clip), ""),
            shots=[ShotInReelView(**vars(shot), of_footage=shot.shot in of_footage) for shot in shots],
        )
        for part, span, shots, clips in rows
    ]
