"""Capturing: cameras, what they see, stills taken at an interval, and folders that are watched."""

from datetime import datetime
from fractions import Fraction
from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, ShotStarted, View, job_view
from yarnkite.camera.camera import Settings, State
from yarnkite.camera.decisions import Capture, Why
from yarnkite.camera.sentence import wish_text
from yarnkite.core.base.rate import Rate
from yarnkite.core.plan.decisions import PlannedShot
from yarnkite.services import capture
from yarnkite.services.capture import Captured

router = APIRouter(prefix="/api", tags=["capture"])

CameraKey = Annotated[str, Query(min_length=1, max_length=200)]
Share = Annotated[float, Query(ge=0, le=1, allow_inf_nan=False)]


class CameraFoundView(View):
    key: str
    name: str


class SettingsView(View):
    exposure_s: Annotated[float, Field(gt=0, le=3600, allow_inf_nan=False)]
    sensitivity: Annotated[int, Field(ge=1, le=10_000_000)]


class CameraState(BaseModel):
    """How a camera is; exposures and sensitivities are those it has, none where it sets them itself."""

    name: str
    battery: float | None
    stills_left: int | None
    settings: SettingsView | None
    exposures_s: list[float]
    sensitivities: list[int]


class NewCapture(BaseModel):
    """A shot to be taken: its name, how it is captured, and what was planned for it, if it was."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    capture: Capture
    planned: PlannedShot | None = None


class GapView(View):
    """Beats without a still, or with a late one, first and last from 0."""

    first: int
    last: int
    why: Why
    sentence: str


class CaptureView(BaseModel):
    """A capture and what became of it; ``next_beat`` is the next one due, from 0, ``began_at`` when beat 0 was, in
    UTC."""

    sentence: str
    job: JobView
    capture: Capture
    began_at: datetime | None
    next_beat: int
    taken: int
    late: int
    missed: int
    paused: bool
    gaps: list[GapView]
    warnings: list[str]
    camera: CameraState | None
    camera_away: str


@router.get("/cameras")
def list_cameras(services: ServicesDep) -> list[CameraFoundView]:
    """Return the cameras there are on this machine."""
    return [CameraFoundView.model_validate(one) for one in capture.every_camera(services)]


@router.get("/cameras/state")
def camera_state(services: ServicesDep, key: CameraKey) -> CameraState:
    return _state(capture.state(services, key))


@router.put("/cameras/settings")
def set_camera(services: ServicesDep, key: CameraKey, body: SettingsView) -> SettingsView:
    """Set a camera's exposure and sensitivity; returns what it really set."""
    return SettingsView.model_validate(capture.set_exposure(services, key, Settings(body.exposure_s, body.sensitivity)))


@router.get("/cameras/live.jpg", response_class=Response)
def live_view(services: ServicesDep, key: CameraKey, x: Share = 0.5, y: Share = 0.5, stripes: bool = False) -> Response:
    """Return what a camera sees now; heads say how sharp the spot at ``x``, ``y`` is, and how much is clipped."""
    seen = capture.live_view(services, key, x, y, stripes=stripes)
    heads = {"Cache-Control": "no-store", "X-Sharpness": f"{seen.sharpness:.1f}", "X-Clipped": f"{seen.clipped:.4f}"}
    return Response(seen.jpeg, media_type="image/jpeg", headers=heads)


@router.post("/projects/{project_id}/captures", status_code=202)
def begin_capture(services: ServicesDep, project_id: int, body: NewCapture) -> ShotStarted:
    """Make a shot, and begin to shoot into it."""
    begun = capture.begin(services, project_id, body.name, body.capture, body.planned)
    return ShotStarted(shot_id=begun.shot_id, job=job_view(begun.job))


class CaptureWish(BaseModel):
    capture: Capture
    rate: Rate = Fraction(25)


class SaidView(BaseModel):
    sentence: str


@router.post("/capture/brief")
def capture_brief(body: CaptureWish) -> SaidView:
    """Say what a capture will be, before it begins."""
    return SaidView(sentence=wish_text(body.capture, body.rate))


@router.get("/shots/{shot_id}/capture")
def show_capture(services: ServicesDep, shot_id: int) -> CaptureView | None:
    """Return a shot's newest capture, or nothing for a shot that came another way."""
    found = capture.of_shot(services, shot_id)
    return None if found is None else _view(found)


@router.post("/captures/{job_id}/pause", status_code=204)
def pause_capture(services: ServicesDep, job_id: int) -> Response:
    """Leave stills out from now on."""
    capture.pause(services, job_id, paused=True)
    return Response(status_code=204)


@router.post("/captures/{job_id}/go-on", status_code=204)
def go_on_capturing(services: ServicesDep, job_id: int) -> Response:
    capture.pause(services, job_id, paused=False)
    return Response(status_code=204)


@router.post("/captures/{job_id}/stop")
def stop_capture(services: ServicesDep, job_id: int) -> JobView:
    """End a capture; what it took stays."""
    return job_view(capture.stop(services, job_id))


@router.post("/shots/{shot_id}/watch", status_code=202)
def watch_folder(services: ServicesDep, shot_id: int) -> JobView:
    """Watch a shot's folder from now on; its job is cancelled to end that."""
    return job_view(capture.watch(services, shot_id))


def _view(found: Captured) -> CaptureView:
    course = found.course
    return CaptureView(
        sentence=found.sentence,
        job=job_view(found.job),
        capture=found.wanted,
        **{name: getattr(course, name) for name in ("began_at", "next_beat", "taken", "late", "missed", "paused")},
        gaps=[GapView.model_validate(gap) for gap in found.gaps],
        warnings=found.warnings,
        camera=None if found.camera is None else _state(found.camera),
        camera_away=found.camera_away,
    )


def _state(state: State) -> CameraState:
    return CameraState(
        name=state.name,
        battery=state.battery,
        stills_left=state.stills_left,
        settings=None if state.settings is None else SettingsView.model_validate(state.settings),
        exposures_s=list(state.abilities.exposures_s),
        sensitivities=list(state.abilities.sensitivities),
    )
