"""Encoding: formats and what a clip takes in each, starting it, and the clips that came of it."""

from typing import Annotated

from fastapi import APIRouter
from fastapi.responses import FileResponse, PlainTextResponse, Response
from pydantic import BaseModel, Field

from yarnkite.api.bodies import Seen
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import ClipView, JobView, View, clip_view, job_view
from yarnkite.core.encode.decisions import Container, Encode, FormatName
from yarnkite.core.encode.formats.catalogue import FORMATS
from yarnkite.core.encode.naming import DEFAULT
from yarnkite.core.encode.purposes import PURPOSES, QUALITIES, Quality, purpose_of
from yarnkite.services import clip_changes, encode, reel, saved, showing

router = APIRouter(prefix="/api", tags=["encode"])
Frame = Annotated[int, Field(ge=0, le=100_000_000)]


class FormatView(BaseModel):
    """A format: what it is called, who takes it, what it comes in, and how its quality is numbered."""

    name: FormatName
    title: str
    takers: str
    containers: list[Container]
    depth: int
    chroma: str
    way: str
    has_quality: bool
    has_sound: bool
    number_name: str
    numbers: list[float]


class PurposeView(BaseModel):
    """What a clip is for, the decisions that begins with, and the formats that serve it."""

    name: str
    gives: str
    encode: Encode
    others: list[FormatName]


class EncodeChoices(BaseModel):
    """All that can be chosen; ``numbers`` of a format are its own for each quality."""

    purposes: list[PurposeView]
    qualities: list[Quality]
    formats: list[FormatView]
    pattern: str


class OfferView(BaseModel):
    """A clip in a format: bytes and seconds it is expected to take, or why it cannot be."""

    format: FormatName
    container: Container
    bytes: int
    seconds: float
    is_measured: bool
    cannot: str


class OffersView(BaseModel):
    """All formats side by side; ``sampled`` of ``wanted`` stretches of this clip are measured."""

    offers: list[OfferView]
    sampled: int
    wanted: int
    is_complete: bool
    free_bytes: int
    memory_bytes: int
    warnings: list[str]
    purpose: str
    name: str


class IntoBody(BaseModel):
    """A folder in a place for the finished file."""

    location: Annotated[str, Field(max_length=200)]
    path: Annotated[str, Field(max_length=4000)] = ""
    replace: bool = False


class ClipChangesView(View):
    """In what a clip would be another by now, and whether it is not of a version that is put aside."""

    clip_id: int
    changed: list[str]
    is_open: bool


class Begin(Seen):
    """What is wanted beside what is decided: another format, a stretch (first and end frame), where to, what name."""

    format: FormatName | None = None
    stretch: tuple[Frame, Frame] | None = None
    into: IntoBody | None = None
    pattern: Annotated[str, Field(max_length=200)] = ""

    def wish(self) -> encode.Wish:
        into = encode.Into(**self.into.model_dump()) if self.into else None
        return encode.Wish(self.format, self.stretch, into, self.pattern)


@router.get("/encode/choices")
def encode_choices() -> EncodeChoices:
    """Return purposes, qualities and formats."""
    return EncodeChoices(
        purposes=[
            PurposeView(name=one.name, gives=one.gives, encode=one.encode, others=list(one.others)) for one in PURPOSES
        ],
        qualities=list(QUALITIES),
        formats=[
            FormatView(
                name=one.name,
                title=one.title,
                takers=one.takers,
                containers=list(one.containers),
                depth=one.samples.depth,
                chroma=one.samples.chroma,
                way=one.way,
                has_quality=one.has_quality,
                has_sound=one.has_sound,
                number_name=one.number_name,
                numbers=[one.number(quality.crf) for quality in QUALITIES] if one.number else [],
            )
            for one in FORMATS.values()
        ],
        pattern=DEFAULT,
    )


@router.post("/shots/{shot_id}/encode", status_code=202, name="encode")
def begin_encode(services: ServicesDep, shot_id: int, body: Begin) -> JobView:
    """Begin to encode a shot as its newest revision says; a 409 if that is not the one the person saw."""
    return job_view(encode.encode(services, shot_id, body.seen, body.wish()))


@router.post("/reels/{reel_id}/encode", status_code=202)
def begin_encode_reel(services: ServicesDep, reel_id: int, body: Begin) -> JobView:
    """Begin to encode a reel as its newest revision says; a 409 if that is not the one the person saw."""
    return job_view(reel.encode(services, reel_id, body.seen, body.wish()))


@router.get("/shots/{shot_id}/offers")
def shot_offers(services: ServicesDep, shot_id: int, pattern: str = "") -> OffersView:
    """Return what a shot's clip takes in each format."""
    return _offers(services, encode.encodable(services, shot_id), pattern)


@router.get("/reels/{reel_id}/offers")
def reel_offers(services: ServicesDep, reel_id: int, pattern: str = "") -> OffersView:
    """Return what a reel takes in each format."""
    return _offers(services, reel.encodable(services, reel_id), pattern)


@router.post("/shots/{shot_id}/offers/measure")
def measure_shot(services: ServicesDep, shot_id: int, every: bool = False) -> JobView | None:
    """Begin to measure what a shot's clip takes in the formats for its purpose, or in every one, unless that is
    known."""
    row = encode.measure(services, encode.encodable(services, shot_id), every=every)
    return job_view(row) if row else None


@router.post("/reels/{reel_id}/offers/measure")
def measure_reel(services: ServicesDep, reel_id: int, every: bool = False) -> JobView | None:
    """Begin to measure what a reel takes in the formats for its purpose, or in every one, unless that is known."""
    row = encode.measure(services, reel.encodable(services, reel_id), every=every)
    return job_view(row) if row else None


@router.get("/shots/{shot_id}/shot.json", response_class=Response)
def save_shot(services: ServicesDep, shot_id: int) -> Response:
    """Return a shot as a file that can be rendered elsewhere, from the command line."""
    file = saved.shot_file(services, shot_id)
    headers = {"Content-Disposition": 'attachment; filename="shot.json"', "Cache-Control": "no-store"}
    return Response(file.model_dump_json(indent=1), media_type="application/json", headers=headers)


@router.get("/reels/{reel_id}/reel.json", response_class=Response)
def save_reel(services: ServicesDep, reel_id: int) -> Response:
    """Return a reel as a file that can be rendered elsewhere, from the command line."""
    file = saved.reel_file(services, reel_id)
    headers = {"Content-Disposition": 'attachment; filename="reel.json"', "Cache-Control": "no-store"}
    return Response(file.model_dump_json(indent=1), media_type="application/json", headers=headers)


def _offers(services: ServicesDep, subject: encode.Encodable, pattern: str) -> OffersView:
    found = encode.offers(services, subject, pattern)
    purpose = purpose_of(subject.encode)
    return OffersView(
        offers=[
            OfferView(
                format=one.encode.format,
                container=FORMATS[one.encode.format].container_of(one.encode),
                bytes=one.expectation.bytes,
                seconds=one.expectation.seconds,
                is_measured=one.is_measured,
                cannot=one.cannot,
            )
            for one in found.offers
        ],
        sampled=found.sampled,
        wanted=found.wanted,
        is_complete=found.is_complete,
        free_bytes=found.free_bytes,
        memory_bytes=found.memory_bytes,
        warnings=found.warnings,
        purpose=purpose.name if purpose else "",
        name=found.name,
    )


@router.get("/shots/{shot_id}/clips")
def list_clips(services: ServicesDep, shot_id: int) -> list[ClipView]:
    return [clip_view(row) for row in encode.clips(services, shot_id)]


@router.get("/shots/{shot_id}/clips/changes")
def changes_of_clips(services: ServicesDep, shot_id: int) -> list[ClipChangesView]:
    """Return which of a shot's newest clips would be others by now, and in which steps."""
    return [ClipChangesView.model_validate(one) for one in clip_changes.changes_since(services, shot_id)]


@router.get("/reels/{reel_id}/clips/changes")
def changes_of_reel_clips(services: ServicesDep, reel_id: int) -> list[ClipChangesView]:
    """Return which of a reel's newest files would be others by now, and in what."""
    return [ClipChangesView.model_validate(one) for one in clip_changes.changes_of_reel(services, reel_id)]


@router.post("/clips/{clip_id}/anew", status_code=202)
def make_clip_anew(services: ServicesDep, clip_id: int, body: Seen) -> JobView:
    """Make a clip again as its shot or reel is decided now, in its own format, under its own name."""
    return job_view(clip_changes.make_anew(services, clip_id, body.seen))


@router.get("/clips/{clip_id}/file", response_class=FileResponse)
def clip_file(services: ServicesDep, clip_id: int, download: bool = False) -> FileResponse:
    file = encode.clip_file(services, clip_id)
    return FileResponse(
        file.path,
        media_type=showing.media_type(file.row),
        filename=file.name,
        content_disposition_type="attachment" if download else "inline",
    )


@router.get("/clips/{clip_id}/stand-in", response_class=FileResponse)
def clip_stand_in(services: ServicesDep, clip_id: int) -> FileResponse:
    """Return a small H.264 of a clip a browser cannot play, frame for frame."""
    return FileResponse(showing.stand_in(services, clip_id), media_type="video/mp4")


@router.get("/clips/{clip_id}/frames/{number}.png", response_class=Response)
def clip_frame(services: ServicesDep, clip_id: int, number: Frame) -> Response:
    """Return a frame of a clip as it is in the file."""
    return Response(
        showing.frame_png(services, clip_id, number), media_type="image/png", headers={"Cache-Control": "max-age=3600"}
    )


@router.get("/clips/{clip_id}/poster.jpg", response_class=Response)
def clip_poster(services: ServicesDep, clip_id: int, frame: Frame = 0) -> Response:
    """Return a frame as a picture to be shown before the clip plays."""
    headers = {"Content-Disposition": 'attachment; filename="poster.jpg"'}
    return Response(showing.poster(services, clip_id, frame), media_type="image/jpeg", headers=headers)


@router.get("/clips/{clip_id}/snippet", response_class=PlainTextResponse)
def clip_snippet(services: ServicesDep, clip_id: int) -> str:
    """Return what a web page needs to show a clip."""
    return showing.snippet(services, clip_id)


@router.delete("/clips/{clip_id}")
def delete_clip(services: ServicesDep, clip_id: int) -> Response:
    """Forget a clip and delete its file, unless it was put into a folder of one's own; the decisions stay."""
    encode.delete_clip(services, clip_id)
    return Response(status_code=204)
