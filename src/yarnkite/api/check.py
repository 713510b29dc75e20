"""Checking: findings and their remedies, plots, and pictures to look closely by."""

import threading
from collections.abc import Callable
from typing import Annotated, Literal

import cv2
import numpy as np
from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from yarnkite.api.decisions import Seen, kept
from yarnkite.api.order import Chosen
from yarnkite.api.pictures import STATE, answer, as_shot, encoded, jpeg, read_from, read_original
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import JobView, Revised, View, job_view
from yarnkite.core.base.cache import Cache
from yarnkite.core.base.errors import Conflict, NotFound, Refusal
from yarnkite.core.base.still import Still
from yarnkite.core.check.compare import difference, spot, with_clipping
from yarnkite.core.check.decisions import Check, How, Note
from yarnkite.core.check.finding import Finding, Kind, Remedy, Track
from yarnkite.core.check.remedy import is_settled, remedied, restored
from yarnkite.core.check.stack_statistics import Whole
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.render.picture import fitted
from yarnkite.jobs import together
from yarnkite.store import checks, jobs, revisions, shots, used

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["check"])

WholeKind = Literal["mean", "brightest", "darkest", "activity"]
_LARGEST_SPOT = 2000


class Aside(Chosen):
    """``aside`` is false for stills that are brought back."""

    aside: bool


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


class Stretch(Seen):
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
def check_of_shot(needed: Needed, shot_id: int) -> CheckView:
    """Return what the check found, worst first."""
    shot = shots.one(needed.database, shot_id)
    _, decisions = revisions.latest(needed.database, shot_id)
    track, found, whole = checks.of_shot(needed.database, shot_id, decisions.order)
    if not whole and shot["gathered"] and not jobs.checking(needed.database, shot_id):
        needed.runner.start("check", shot_id, 0)
    return CheckView(
        findings=[_view(finding, track, decisions.check) for finding in found],
        measuring=not whole,
    )


@router.get("/check/plots")
def plots_of_shot(needed: Needed, shot_id: int) -> list[PlotView]:
    """Return what can run beside the tail."""
    _, decisions = revisions.latest(needed.database, shot_id)
    track, _, _ = checks.of_shot(needed.database, shot_id, decisions.order)
    plots = {
        "brightness": ("stops", track.light),
        "sharpness": ("stops", track.sharpness),
        "movement": ("% of the width", np.hypot(track.shifts[:, 0], track.shifts[:, 1]) * 100),
        "warmth": ("stops", track.red - track.blue),
        "exposure": ("EV", track.exposure),
        "interval": ("s", track.intervals),
        "blown out": ("%", track.bright * 100),
        "black": ("%", track.dark * 100),
    }
    return [
        PlotView(name=name, unit=unit, values=[_number(value) for value in values.tolist()])
        for name, (unit, values) in plots.items()
        if np.isfinite(values).any()
    ]


@router.post("/check/remedy")
def remedy_findings(needed: Needed, shot_id: int, body: Remedied) -> Revised:
    """Apply a remedy to findings, or take it away again."""
    _, decisions = revisions.latest(needed.database, shot_id)
    _, found, _ = checks.of_shot(needed.database, shot_id, decisions.order)
    wanted = set(body.keys)
    chosen = [finding for finding in found if finding.key in wanted]
    if len(chosen) < len(wanted):
        raise Conflict("finding_gone", "The shot was changed since this list was made. Look at it again.")
    if body.remedy == "none":
        decided = restored(decisions.check, chosen)
    else:
        decided = remedied(decisions.check, chosen, body.remedy)
    return kept(needed, shot_id, body.seen, decisions.model_copy(update={"check": decided}))


@router.post("/aside")
def set_aside(needed: Needed, shot_id: int, body: Aside) -> Revised:
    """Leave stills out of the clip, or bring them back; their files stay."""

    def changed(check: Check) -> Check:
        before = set(check.aside)
        return check.changed(aside=before | set(body.stills) if body.aside else before - set(body.stills))

    return _decide(needed, shot_id, body.seen, changed)


@router.post("/stretch")
def use_stretch(needed: Needed, shot_id: int, body: Stretch) -> Revised:
    """Use only the stills from one to another."""
    return _decide(needed, shot_id, body.seen, lambda check: check.changed(begin=body.begin, end=body.end))


@router.post("/bridging")
def bridge_how(needed: Needed, shot_id: int, body: Bridging) -> Revised:
    """Blend neighbours where a still is bridged, or move them along what moves between them."""
    return _decide(needed, shot_id, body.seen, lambda check: check.changed(how=body.how))


@router.post("/note")
def note_still(needed: Needed, shot_id: int, body: Noted) -> Revised:
    """Write a note about a still; an empty one takes it away."""
    text = body.text.strip()

    def changed(check: Check) -> Check:
        others = [note for note in check.notes if note.still != body.still]
        return check.changed(notes=[*others, Note(still=body.still, text=text)] if text else others)

    return _decide(needed, shot_id, body.seen, changed)


@router.get("/stills/{position}/spot.jpg", response_class=Response)
def real_pixels(
    needed: Needed,
    shot_id: int,
    position: int,
    across: Annotated[float, Query(ge=0, le=1)],
    down: Annotated[float, Query(ge=0, le=1)],
    width: Annotated[int, Query(ge=16, le=_LARGEST_SPOT)] = 900,
    height: Annotated[int, Query(ge=16, le=_LARGEST_SPOT)] = 600,
    state: str = STATE,
) -> Response:
    """Return the real pixels of an original around a spot, one for one."""
    still = _original(needed, shot_id, position)
    return answer(needed, shot_id, state, lambda: spot(still, across, down, width, height, read=read_original))


@router.get("/stills/{position}/difference.jpg", response_class=Response)
def difference_picture(needed: Needed, shot_id: int, position: int, width: int = 1280, state: str = STATE) -> Response:
    """Return a still less the one before it, amplified around middle grey."""

    def made() -> ImageArray:
        still, before = (_original(needed, shot_id, one) for one in (position, max(0, position - 1)))
        fit, read = as_shot(still, width), read_from(needed.workspace.proxies)
        return difference(*(fitted(one, fit, fit.size, read=read) for one in (still, before)))

    return answer(needed, shot_id, state, made)


@router.get("/stills/{position}/clipped.jpg", response_class=Response)
def clipped_picture(needed: Needed, shot_id: int, position: int, width: int = 1280, state: str = STATE) -> Response:
    """Return a still with its blown-out areas striped and its black ones dotted."""

    def made() -> ImageArray:
        still = _original(needed, shot_id, position)
        fit = as_shot(still, width)
        return with_clipping(fitted(still, fit, fit.size, read=read_from(needed.workspace.proxies)))

    return answer(needed, shot_id, state, made)


@router.get("/stills/{position}/used.jpg", response_class=Response)
def used_picture(
    needed: Needed, shot_id: int, position: int, revision: int, width: int = 1280, state: str = STATE
) -> Response:
    """Return what the clip shows in a still's place by a revision, in the still's own shape."""
    decided = revisions.decided_by(needed.database, shot_id, revision).check
    return answer(needed, shot_id, state, lambda: _mended(needed, shot_id, position, decided, width))


@router.get("/stills/{position}/try.jpg", response_class=Response)
def tried_picture(
    needed: Needed,
    shot_id: int,
    position: int,
    revision: int,
    remedy: Literal["bridge", "hold", "fill"],
    first: Annotated[int, Query(ge=0)],
    last: Annotated[int, Query(ge=0)],
    width: int = 1280,
    state: str = STATE,
) -> Response:
    """Return what a remedy would show for a still, or after it, if it were applied to the stills from first to last."""
    every = used.of_shot_whole(needed.database, shots.one(needed.database, shot_id))
    spoiled = tuple(number for number, _ in every[first : last + 1])
    if not spoiled:
        raise NotFound("no_such_still", f"This shot has no still number {position + 1}.")
    finding = Finding("missing" if remedy == "fill" else "misfire", spoiled, "", {"missing": 1}, ())
    check = revisions.decided_by(needed.database, shot_id, revision).check
    decided = remedied(check, [finding], remedy)
    return answer(
        needed, shot_id, state, lambda: _mended(needed, shot_id, position, decided, width, after=remedy == "fill")
    )


@router.post("/together", status_code=202)
def put_together(needed: Needed, shot_id: int, body: Together) -> TogetherView:
    """Begin to put a stretch together, unless that is done or under way; says how far it is."""
    stills = together.stretch(needed.database, shot_id, body.first, body.last)
    if _kept(needed, stills) is not None:
        return TogetherView(ready=True, job=None)
    wanted = {"first": body.first, "last": body.last, "name": together.name_of(stills)}
    for row in jobs.unfinished(needed.database):
        if row["kind"] == "together" and jobs.wanted_of(needed.database, row["id"]).get("name") == wanted["name"]:
            return TogetherView(ready=False, job=job_view(row))
    job_id = needed.runner.start("together", shot_id, len(stills), wanted=wanted)
    return TogetherView(ready=False, job=job_view(jobs.one(needed.database, job_id)))


@router.get("/whole/{kind}.{ending}", response_class=Response)
def whole_picture(
    needed: Needed,
    shot_id: int,
    kind: WholeKind,
    ending: Literal["jpg", "png"],
    first: Annotated[int, Query(ge=0)] = 0,
    last: Annotated[int | None, Query(ge=0)] = None,
) -> Response:
    """Return the mean, brightest, darkest or activity of a stretch of the stills that are in the clip.

    A 409 (``not_put_together``) says that it must be put together first.
    """
    image: ImageArray = getattr(whole_of(needed, shot_id, first, last), kind)
    headers = {"Cache-Control": "no-cache"}
    if ending == "jpg":
        return Response(encoded(image), media_type="image/jpeg", headers=headers)
    done, file = cv2.imencode(".png", cv2.cvtColor(image, cv2.COLOR_RGB2BGR))
    if not done:
        raise Refusal("cannot_write", "This picture cannot be written as PNG.")
    return Response(file.tobytes(), media_type="image/png", headers=headers)


def whole_of(needed: Services, shot_id: int, first: int, last: int | None) -> Whole:
    """Return what a stretch of stills has in common; raises ``Conflict`` before it was put together."""
    whole = _kept(needed, together.stretch(needed.database, shot_id, first, last))
    if whole is None:
        raise Conflict("not_put_together", "These stills are not put together yet. Ask for that first.")
    return whole


def _kept(needed: Services, stills: list[Still]) -> Whole | None:
    name = together.name_of(stills)
    whole = _wholes.peek(name) or together.kept(needed.workspace.together, name)
    if whole is not None:
        _wholes.put(name, whole)
    return whole


_wholes: Cache[Whole] = Cache(120_000_000, lambda whole: whole.nbytes, threading.Lock())


def _decide(needed: Services, shot_id: int, seen: int, changed: Callable[[Check], Check]) -> Revised:
    _, decisions = revisions.latest(needed.database, shot_id)
    return kept(needed, shot_id, seen, decisions.model_copy(update={"check": changed(decisions.check)}))


def _original(needed: Services, shot_id: int, position: int) -> Still:
    return used.original(needed.database, shots.one(needed.database, shot_id), position)[1]


def _mended(needed: Services, shot_id: int, position: int, decided: Check, width: int, *, after: bool = False) -> bytes:
    """Return the picture in a still's place; ``after`` is for the first one put in behind it."""
    shot = shots.one(needed.database, shot_id)
    number, still = used.original(needed.database, shot, position)
    places = [one.picture for one in used.of_shot(needed.database, shot, decided) if one.still == number]
    shown = places[min(int(after), len(places) - 1)] if places else still
    fit = as_shot(still, width)
    return jpeg(shown, fit, fit.size, needed.workspace.proxies)


def _view(finding: Finding, track: Track, decided: Check) -> FindingView:
    first, last = track.ends_of(finding)
    return FindingView(
        **{name: getattr(finding, name) for name in ("key", "kind", "severity", "sentence", "evidence")},
        stills=list(finding.stills),
        first=first,
        last=last,
        remedies=list(finding.remedies),
        settled=is_settled(decided, finding),
    )


def _number(value: float) -> float | None:
    return round(value, 4) if np.isfinite(value) else None
