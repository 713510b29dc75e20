"""Jobs: what is being done, and cancelling it."""

from fastapi import APIRouter

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, job_view
from yarnkite.services import jobs

router = APIRouter(prefix="/api/jobs", tags=["jobs"])


@router.get("")
def list_jobs(services: ServicesDep) -> list[JobView]:
    return [job_view(row) for row in jobs.recent(services)]


@router.post("/{job_id}/cancel", status_code=202)
def cancel(services: ServicesDep, job_id: int) -> JobView:
    return job_view(jobs.cancel(services, job_id))
