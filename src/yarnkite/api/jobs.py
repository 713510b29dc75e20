"""Jobs: what is being done, the queue of encodes, and cancelling, resting and going on."""

from fastapi import APIRouter
from pydantic import BaseModel

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, View, job_view
from yarnkite.services import jobs

router = APIRouter(prefix="/api/jobs", tags=["jobs"])


class QueuedView(View):
    """An encode in the queue; times in seconds from now."""

    job: JobView
    title: str
    stretch: tuple[int, int] | None
    folder: str
    bytes: int | None
    seconds: float | None
    done_in: float | None


class Before(BaseModel):
    """The encode that is to come just after, or none to be the last."""

    other: int | None = None


@router.get("")
def list_jobs(services: ServicesDep) -> list[JobView]:
    return [job_view(row) for row in jobs.recent(services)]


@router.get("/queue")
def list_queue(services: ServicesDep) -> list[QueuedView]:
    """Return the encodes that wait, run or rest, in order, then the newest that ended."""
    return [_view(one) for one in jobs.queue(services)]


@router.post("/{job_id}/cancel", status_code=202)
def cancel(services: ServicesDep, job_id: int) -> JobView:
    return job_view(jobs.cancel(services, job_id))


@router.post("/{job_id}/pause", status_code=202)
def pause_job(services: ServicesDep, job_id: int) -> JobView:
    """Have an encode rest; what is rendered is kept, also over a restart."""
    return job_view(jobs.pause(services, job_id))


@router.post("/{job_id}/go-on", status_code=202)
def go_on_with_job(services: ServicesDep, job_id: int) -> JobView:
    """Have an encode that rests, failed or was cancelled go on from where it was."""
    return job_view(jobs.go_on(services, job_id))


@router.post("/{job_id}/before")
def put_job_before(services: ServicesDep, job_id: int, body: Before) -> list[QueuedView]:
    """Change an encode's turn."""
    return [_view(one) for one in jobs.put_before(services, job_id, body.other)]


def _view(one: jobs.Queued) -> QueuedView:
    return QueuedView(
        job=job_view(one.job),
        title=one.title,
        stretch=one.stretch,
        folder=one.folder,
        bytes=one.bytes,
        seconds=one.seconds,
        done_in=one.done_in,
    )
