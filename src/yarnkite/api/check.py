"""Checking: findings and their remedies, plots, and pictures to look closely by."""

from typing import Annotated, Literal

import cv2
import numpy as np
from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from yarnkite.api.bodies import Chosen, LastPosition, Position, Seen, Share
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.pictures import ASK_AGAIN, State, answer, jpeg_of
from yarnkite.api.views import JobView, RevisedView, View, job_view, revised_view
from yarnkite.core.base.errors import Refusal
from yarnkite.core.check.decisions import How
from yarnkite.core.check.finding import Kind, Remedy
from yarnkite.core.image.pixels import ImageArray
from yarnkite.services import check
from yarnkite.services.check import LocatedFinding, Mending, StackKind

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["check"])

_LARGEST_SPOT = 2000
_Side = Annotated[int, Query(ge=16, le=_LARGEST_SPOT)]


class Aside(Chosen):
    """``aside`` is false for stills that are brought back."""

    aside: bool


class Mended(Chosen):
    """What is shown in place of stills."""

    how: Mending


class FindingView(View):
    """A finding with the positions of its stills; ``settled`` says that something was decided about it."""

    key: str
    kind: Kind
    severity: int
    stills: list[int]
    first: int
    last: int
    sentence: str
    evidence: dict[str, float]
    remedies: list[Remedy]
    settled: bool


class CheckView(BaseModel):
    """``measuring`` says that more may be found once all neighbours are measured."""

    findings: list[FindingView]
    measuring: bool


class PlotView(BaseModel):
    """One value a still, in order; nothing where it is not known."""

    name: str
    unit: str
    values: list[float | None]


class Remedied(Seen):
    keys: Annotated[list[str], Field(min_length=1, max_length=10_000)]
    remedy: Remedy | Literal["none"]


class UsedRange(Seen):
    """First and last still of the stretch that is used, by id; nothing for the shot's own."""

    begin: int | None
    end: int | None


class Noted(Seen):
    still: int
    text: Annotated[str, Field(max_length=500)]


class Together(BaseModel):
    """The first and the last position of a stretch; nothing for the end of the shot."""

    first: Annotated[int, Field(ge=0)] = 0
    last: Annotated[int, Field(ge=0)] | None = None


class TogetherView(BaseModel):
    """Whether a stretch is put together, and else the job that does it."""

    ready: bool
    job: JobView | None


class Bridging(Seen):
    how: How


@router.get("/check")
def check_of_shot(services: ServicesDep, shot_id: int) -> CheckView:
    """Return what the check found, worst first."""
    result = check.found(services, shot_id)
    return CheckView(findings=[_finding_view(one) for one in result.findings], measuring=result.measuring)


@router.get("/check/plots")
def plots_of_shot(services: ServicesDep, shot_id: int) -> list[PlotView]:
    """Return what can run beside the tail."""
    return [
        PlotView(name=plot.name, unit=plot.unit, values=[_number(value) for value in plot.values.tolist()])
        for plot in check.plots(services, shot_id)
    ]


@router.post("/check/remedy")
def remedy_findings(services: ServicesDep, shot_id: int, body: Remedied) -> RevisedView:
    """Apply a remedy to findings, or take it away again."""
    return revised_view(check.remedy(services, shot_id, body.seen, body.keys, body.remedy))


@router.post("/aside")
def set_aside(services: ServicesDep, shot_id: int, body: Aside) -> RevisedView:
    """Leave stills out of the clip, or bring them back; their files stay."""
    return revised_view(check.set_aside(services, shot_id, body.seen, body.stills, aside=body.aside))


@router.post("/mend")
def mend_stills(services: ServicesDep, shot_id: int, body: Mended) -> RevisedView:
    """Have stills bridged or repeated, whatever was found about them, or shown as they are again."""
    return revised_view(check.mend(services, shot_id, body.seen, body.stills, body.how))


@router.post("/stretch")
def use_stretch(services: ServicesDep, shot_id: int, body: UsedRange) -> RevisedView:
    """Use only the stills from one to another."""
    return revised_view(check.use_stretch(services, shot_id, body.seen, body.begin, body.end))


@router.post("/bridging")
def bridge_how(services: ServicesDep, shot_id: int, body: Bridging) -> RevisedView:
    """Blend neighbours where a still is bridged, or move them along what moves between them."""
    return revised_view(check.bridge_how(services, shot_id, body.seen, body.how))


@router.post("/note")
def note_still(services: ServicesDep, shot_id: int, body: Noted) -> RevisedView:
    """Write a note about a still; an empty one takes it away."""
    return revised_view(check.note(services, shot_id, body.seen, body.still, body.text))


@router.get("/stills/{position}/spot.jpg", response_class=Response)
def real_pixels(
    services: ServicesDep,
    shot_id: int,
    position: int,
    x: Share,
    y: Share,
    width: _Side = 900,
    height: _Side = 600,
    revision: Annotated[int, Query(ge=0)] = 0,
    state: str = State,
) -> Response:
    """Return the real pixels of an original around a spot, one for one, without the dust a revision removes."""

    def pixels() -> ImageArray:
        return check.real_pixels(services, shot_id, position, (x, y), (width, height), revision)

    return answer(services, shot_id, state, pixels)


@router.get("/stills/{position}/difference.jpg", response_class=Response)
def difference_picture(
    services: ServicesDep, shot_id: int, position: int, width: int = 1280, state: str = State
) -> Response:
    """Return a still less the one before it, amplified around middle grey."""
    return answer(services, shot_id, state, lambda: check.difference_picture(services, shot_id, position, width))


@router.get("/stills/{position}/clipped.jpg", response_class=Response)
def clipped_picture(
    services: ServicesDep, shot_id: int, position: int, width: int = 1280, state: str = State
) -> Response:
    """Return a still with its blown-out areas striped and its black ones dotted."""
    return answer(services, shot_id, state, lambda: check.clipped_picture(services, shot_id, position, width))


@router.get("/stills/{position}/used.jpg", response_class=Response)
def used_picture(
    services: ServicesDep, shot_id: int, position: int, revision: int, width: int = 1280, state: str = State
) -> Response:
    """Return what the clip shows in a still's place by a revision, in the still's own shape."""
    return answer(services, shot_id, state, lambda: check.used_picture(services, shot_id, position, revision, width))


@router.get("/stills/{position}/try.jpg", response_class=Response)
def tried_picture(
    services: ServicesDep,
    shot_id: int,
    position: int,
    revision: int,
    remedy: Literal["bridge", "repeat", "fill"],
    first: Position,
    last: Position,
    width: int = 1280,
    state: str = State,
) -> Response:
    """Return what a remedy would show for a still, or after it, if it were applied to the stills from first to last."""

    def picture() -> bytes:
        return check.tried_picture(services, shot_id, position, revision, remedy, (first, last), width)

    return answer(services, shot_id, state, picture)


@router.post("/together", status_code=202)
def put_together(services: ServicesDep, shot_id: int, body: Together) -> TogetherView:
    """Begin to put a stretch together, unless that is done or under way; says how far it is."""
    progress = check.put_together(services, shot_id, body.first, body.last)
    return TogetherView(ready=progress.ready, job=job_view(progress.job) if progress.job else None)


@router.get("/stack/{kind}.{ending}", response_class=Response)
def stack_picture(
    services: ServicesDep,
    shot_id: int,
    kind: StackKind,
    ending: Literal["jpg", "png"],
    first: Position = 0,
    last: LastPosition = None,
) -> Response:
    """Return the mean, brightest, darkest or activity of a stretch of the stills that are in the clip.

    A 409 (``not_put_together``) says that it must be put together first.
    """
    image = check.stack_picture(services, shot_id, kind, first, last)
    if ending == "jpg":
        return Response(jpeg_of(image), media_type="image/jpeg", headers=ASK_AGAIN)
    done, file = cv2.imencode(".png", cv2.cvtColor(image, cv2.COLOR_RGB2BGR))
    if not done:
        raise Refusal("cannot_write", "This picture cannot be written as PNG.")
    return Response(file.tobytes(), media_type="image/png", headers=ASK_AGAIN)


def _finding_view(one: LocatedFinding) -> FindingView:
    finding = one.finding
    return FindingView(
        **{name: getattr(finding, name) for name in ("key", "kind", "severity", "sentence", "evidence")},
        stills=list(finding.stills),
        remedies=list(finding.remedies),
        first=one.first,
        last=one.last,
        settled=one.settled,
    )


def _number(value: float) -> float | None:
    return round(value, 4) if np.isfinite(value) else None
