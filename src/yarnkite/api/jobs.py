"""Jobs: what is being done, and cancelling it."""

from fastapi import APIRouter

from yarnkite.api.services import Needed
from yarnkite.api.views import JobView, job_view
from yarnkite.store import jobs

router = APIRouter(prefix="/api/jobs", tags=["jobs"])


@router.get("")
def list_jobs(needed: Needed) -> list[JobView]:
    return [job_view(row) for row in jobs.recent(needed.database)]


@router.post("/{job_id}/cancel", status_code=202)
def cancel(needed: Needed, job_id: int) -> JobView:
    jobs.one(needed.database, job_id)
    needed.runner.cancel(job_id)
    return job_view(jobs.one(needed.database, job_id))
