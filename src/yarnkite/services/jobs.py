"""Jobs: what is being done, and cancelling it."""

from yarnkite.services.running import Services
from yarnkite.store import jobs
from yarnkite.store.database import Row


def recent(services: Services) -> list[Row]:
    """Return the jobs that are under way, and the newest of those that ended."""
    return jobs.recent(services.database)


def cancel(services: Services, job_id: int) -> Row:
    """Cancel a job; returns it. Raises ``NotFound``."""
    jobs.one(services.database, job_id)
    services.runner.cancel(job_id)
    return jobs.one(services.database, job_id)
