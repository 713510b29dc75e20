"""Capturing: a camera is looked through, set, and shoots into a shot; and folders that are watched while they grow."""

import shutil
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from pathlib import Path
from typing import TypeVar

import cv2
import numpy as np

from yarnkite.camera.camera import Camera, CameraAway, Settings, State
from yarnkite.camera.cameras import Found
from yarnkite.camera.decisions import Capture
from yarnkite.camera.sentence import course_text
from yarnkite.camera.warnings import SoFar, warnings
from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.image.pixels import EightBit
from yarnkite.core.plan.decisions import PlannedShot
from yarnkite.core.plan.exposure import span_or_fraction
from yarnkite.jobs.capture import stem_of
from yarnkite.services.running import Services
from yarnkite.store import capture as captures
from yarnkite.store import check as checks
from yarnkite.store import jobs, projects, revisions, shots, snapshots, stills
from yarnkite.store.capture import Course, Gap
from yarnkite.store.database import Row

Answer = TypeVar("Answer")
_STRIPES_PX = 8
_TRUSTED = 0.3


def every_camera(services: Services) -> list[Found]:
    """Return the cameras there are on this machine."""
    return services.cameras.every()


def state(services: Services, key: str) -> State:
    """Return how a camera is; raises ``CameraAway``."""
    return _asked(services, key, lambda camera: camera.state())


def set_exposure(services: Services, key: str, settings: Settings) -> Settings:
    """Set a camera's exposure and sensitivity; returns what it really set."""
    return _asked(services, key, lambda camera: camera.set(settings))


@dataclass(frozen=True)
class Seen:
    """A live view as JPEG, how sharp a spot of it is from 0 to 100, and which share of it has no drawing left."""

    jpeg: bytes
    sharpness: float
    clipped: float


def live_view(services: Services, key: str, x: float, y: float, *, stripes: bool) -> Seen:
    """Return what a camera sees now, measured at a spot given as shares of its sides; ``stripes`` mark what is
    clipped."""
    data = _asked(services, key, lambda camera: camera.live_view())
    decoded = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR)
    if decoded is None:
        raise Refusal("broken_view", "The camera sent a live view that cannot be read. Switch it off and on.")
    picture: EightBit = np.asarray(decoded, np.uint8)
    clipped = (picture >= 253).all(axis=2) | (picture <= 2).all(axis=2)
    sharpness = sharpness_at(picture, x, y)
    if stripes and clipped.any():
        rows, columns = np.indices(clipped.shape)
        striped = clipped & ((rows + columns) // _STRIPES_PX % 2 == 0)
        picture[striped] = (47, 67, 200)
        data = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 84])[1].tobytes()
    return Seen(data, sharpness, float(clipped.mean()))


def sharpness_at(picture: EightBit, x: float, y: float) -> float:
    """Return how sharp a tenth of a picture around a spot is, 0 to 100: fine against coarse contrast, whatever the
    light."""
    height, width = picture.shape[:2]
    side = max(32, width // 10)
    left, top = (
        round(min(max(x * width - side / 2, 0), width - side)),
        round(min(max(y * height - side / 2, 0), height - side)),
    )
    grey = cv2.cvtColor(picture[top : top + side, left : left + side], cv2.COLOR_BGR2GRAY).astype(np.float32)
    fine = float(np.mean(np.abs(cv2.Laplacian(grey, cv2.CV_32F))))
    coarse = float(np.std(grey))
    return min(100.0, 100 * fine / (fine + 2 * coarse + 1))


@dataclass(frozen=True)
class Begun:
    """A shot a camera shoots into, and the job that does it."""

    shot_id: int
    job: Row


def begin(services: Services, project_id: int, name: str, wanted: Capture, planned: PlannedShot | None) -> Begun:
    """Make a shot and begin to shoot into it; raises ``CameraAway``, ``Refusal`` for a camera that is in use."""
    projects.one(services.database, project_id)
    camera = state(services, wanted.camera)
    if wanted.starts_at is not None and wanted.starts_at < datetime.now(UTC) - timedelta(minutes=1):
        raise Refusal(
            "start_has_passed", f"{wanted.starts_at.astimezone():%H:%M} has passed. Choose a later start, or none."
        )
    if camera.settings is not None and camera.settings.exposure_s >= wanted.interval_s:
        raise Refusal(
            "exposure_too_long",
            f"Exposing takes {span_or_fraction(camera.settings.exposure_s)}, longer than the "
            f"{span_or_fraction(wanted.interval_s)} between stills. Expose shorter, or take longer between them.",
        )
    with services.cameras.choosing:
        if wanted.camera in _in_use(services):
            raise Refusal("camera_in_use", "This camera shoots already. Stop that first, or pick another camera.")
        return _begin(services, project_id, name, wanted, planned)


def _begin(services: Services, project_id: int, name: str, wanted: Capture, planned: PlannedShot | None) -> Begun:
    shot_id = shots.add_copied(services.database, project_id, name, services.workspace.copied)
    if planned is not None:
        number, usual = revisions.latest(services.database, shot_id)
        decided = usual.model_copy(update={"pace": usual.pace.model_copy(update={"rate": planned.rate})})
        revisions.revise(services.database, shot_id, number, decided)
    services.workspace.copied(shot_id).mkdir(parents=True, exist_ok=True)
    total = wanted.count or (wanted.most_beats if wanted.span_s else 0)
    noted = {"capture": wanted.model_dump(mode="json"), "stem": stem_of(name)}
    job = services.runner.start("capture", shot_id, total, wanted=noted)
    return Begun(shot_id, jobs.one(services.database, job))


def _in_use(services: Services) -> set[str]:
    keys = set()
    for job in jobs.unfinished(services.database):
        if job["kind"] == "capture":
            keys.add(str(jobs.wanted_of(services.database, job["id"]).get("capture", {}).get("camera", "")))
    return keys


@dataclass(frozen=True)
class Captured:
    """A capture and what became of it so far, with a sentence on it."""

    sentence: str
    job: Row
    wanted: Capture
    course: Course
    gaps: list[Gap]
    warnings: list[str]
    camera: State | None
    camera_away: str


def of_shot(services: Services, shot_id: int) -> Captured | None:
    """Return a shot's newest capture, or ``None`` for a shot that came another way; raises ``NotFound``."""
    shot = shots.one(services.database, shot_id)
    course = captures.of_shot(services.database, shot_id)
    job = jobs.growing(services.database, shot_id)
    if course is None and (job is None or job["kind"] != "capture"):
        return None
    job = jobs.one(services.database, course.job_id) if course is not None else job
    assert job is not None
    wanted = Capture.model_validate(jobs.wanted_of(services.database, job["id"])["capture"])
    if course is None:
        course = Course(job["id"], shot_id, None, 0, 0, 0, 0, paused=False)
    runs = job["state"] in ("waiting", "running")
    camera, away = None, ""
    if runs:
        try:
            camera = state(services, wanted.camera)
        except Refusal as refusal:
            away = refusal.sentence
    said = warnings(_so_far(services, shot, wanted, course, camera)) if runs else []
    rate = revisions.latest(services.database, shot_id)[1].pace.rate
    sentence = course_text(wanted, rate, course.taken, course.missed, _ends(wanted, course) if runs else None)
    gaps = captures.gaps(services.database, job["id"])
    return Captured(sentence, job, wanted, course, gaps, said, camera, away)


def _ends(wanted: Capture, course: Course) -> datetime | None:
    """Return when the last still is due, as far as it is known and on a calendar."""
    if course.began_at is None or (wanted.count is None and wanted.span_s is None):
        return None
    last = wanted.most_beats - 1
    if wanted.count is not None:
        last = min(last, course.next_beat + max(0, wanted.count - course.taken) - 1)
    try:
        return course.began_at.replace(tzinfo=UTC) + timedelta(milliseconds=wanted.interval_ms * last)
    except OverflowError:
        return None


def _so_far(services: Services, shot: Row, wanted: Capture, course: Course, camera: State | None) -> SoFar:
    rows = stills.measured(services.database, shot["id"])
    folder = shots.folder_of(shot)
    free = shutil.disk_usage(folder).free if folder.is_dir() else None
    to_go = None
    if wanted.count is not None:
        to_go = max(0, wanted.count - course.taken)
    elif wanted.span_s is not None:
        to_go = max(0, wanted.most_beats - course.next_beat)
    return SoFar(
        light=[one.middle for one in rows],
        sharpness=[one.sharpness for one in rows],
        shifts=_shifts(services, shot),
        interval_s=wanted.interval_s,
        still_bytes=round(float(np.median([one.bytes for one in rows]))) if rows else 0,
        stills_left=camera.stills_left if camera else None,
        disk_bytes=free,
        battery=camera.battery if camera else None,
        stills_to_go=to_go,
    )


def _shifts(services: Services, shot: Row) -> list[float]:
    """Return how far each still lies from the one before, as a share of the width, as far as that is measured."""
    order = [still.fingerprint for _, still in snapshots.of_shot(services.database, shot).stills]
    known = checks.pairs(services.database, order)
    found = [0.0]
    for pair in pairwise(order):
        x, y, _, trust = known.get(pair, (0.0, 0.0, 0.0, 0.0))
        found.append(float(np.hypot(x, y)) if trust >= _TRUSTED else 0.0)
    return found


def pause(services: Services, job_id: int, *, paused: bool) -> None:
    """Have a capture leave stills out, or go on; raises ``NotFound``."""
    captures.set_paused(services.database, job_id, paused)
    services.events.publish("capture", {"job_id": job_id})


def stop(services: Services, job_id: int) -> Row:
    """End a capture; what it took stays. Raises ``NotFound``."""
    captures.set_stopped(services.database, job_id)
    services.runner.cancel(job_id)
    return jobs.one(services.database, job_id)


def watch(services: Services, shot_id: int) -> Row:
    """Watch a shot's folder from now on, and take in what comes; raises ``Conflict`` where it grows already."""
    shot = shots.one(services.database, shot_id)
    folder: Path = shots.source_of(shot) or shots.folder_of(shot)
    if not folder.is_dir():
        raise NotFound("lost_folder", f"The folder “{folder.name}” is not there. Put it back, then watch it.")
    return jobs.one(
        services.database, services.runner.start("watch", shot_id, stills.count(services.database, shot_id))
    )


def _asked(services: Services, key: str, work: Callable[[Camera], Answer]) -> Answer:
    """Ask the camera that is looked through; one that does not answer is let go of, so that the next try opens it
    anew."""
    try:
        return work(services.cameras.open(key))
    except CameraAway:
        services.cameras.let_go(key)
        raise
