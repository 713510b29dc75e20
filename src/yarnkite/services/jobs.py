"""Jobs: what is being done, the queue of encodes, and cancelling, resting and going on."""

import json
from dataclasses import dataclass

from yarnkite.core.base.errors import Conflict
from yarnkite.core.encode.formats.catalogue import FORMATS
from yarnkite.services.running import Services
from yarnkite.store import jobs
from yarnkite.store.database import Row


@dataclass(frozen=True)
class Queued:
    """An encode in the queue: what it will be, how long it takes by itself, and when it is done with those before it.

    Times are seconds from now, ``None`` where they are not known or it has ended.
    """

    job: Row
    title: str
    stretch: tuple[int, int] | None
    folder: str
    bytes: int | None
    seconds: float | None
    done_in: float | None


def recent(services: Services) -> list[Row]:
    """Return the jobs that are under way, and the newest of those that ended."""
    return jobs.recent(services.database)


def queue(services: Services) -> list[Queued]:
    """Return the encodes that wait, run or rest, in order, then the newest that ended."""
    found, sum_s = [], 0.0
    is_known = True
    for row in jobs.queue(services.database):
        wanted = json.loads(row["wanted"] or "null") or {}
        left = _seconds_left(row, wanted) if row["state"] in ("waiting", "running", "paused") else None
        if row["state"] in ("waiting", "running"):
            is_known = is_known and left is not None
            sum_s += left or 0.0
        done_in = sum_s if row["state"] in ("waiting", "running") and is_known else None
        name = wanted.get("format")
        stretch = wanted.get("stretch")
        found.append(
            Queued(
                job=row,
                title=FORMATS[name].title if name in FORMATS else "H.264",
                stretch=(stretch[0], stretch[1]) if stretch else None,
                folder=(wanted.get("into") or {}).get("folder", ""),
                bytes=wanted.get("bytes"),
                seconds=left,
                done_in=done_in,
            )
        )
    return found


def _seconds_left(row: Row, wanted: dict[str, float]) -> float | None:
    seconds = wanted.get("seconds")
    if seconds is None:
        return None
    return float(seconds) * (1 - row["done"] / row["total"] if row["total"] else 1.0)


def cancel(services: Services, job_id: int) -> Row:
    """Cancel a job; returns it. Raises ``NotFound``."""
    jobs.one(services.database, job_id)
    services.runner.cancel(job_id)
    return jobs.one(services.database, job_id)


def pause(services: Services, job_id: int) -> Row:
    """Have an encode rest; returns it. Raises ``NotFound``, ``Conflict`` for one that has ended or does not rest."""
    _check_queued(jobs.one(services.database, job_id), ("waiting", "running", "paused"))
    services.runner.pause(job_id)
    return jobs.one(services.database, job_id)


def go_on(services: Services, job_id: int) -> Row:
    """Have a job that rests, failed or was cancelled go on from where it was; returns it.

    Raises ``NotFound``, ``Conflict`` for one that has ended or can only be begun anew.
    """
    row = jobs.one(services.database, job_id)
    if row["kind"] not in jobs.RESUMABLE or row["kind"] in jobs.QUEUED:
        _check_queued(row, ("waiting", "running", "paused", "failed", "cancelled"))
    if row["state"] == "finished":
        raise Conflict("job_ended", "This was done to its end. Begin it anew if something came to the card since.")
    services.runner.go_on_with(job_id)
    return jobs.one(services.database, job_id)


def put_before(services: Services, job_id: int, other: int | None) -> list[Queued]:
    """Give an encode its turn before another one's, or after all; returns the queue."""
    _check_queued(jobs.one(services.database, job_id), ("waiting", "running", "paused"))
    services.runner.put_before(job_id, other)
    return queue(services)


def _check_queued(row: Row, states: tuple[str, ...]) -> None:
    if row["kind"] not in jobs.QUEUED:
        raise Conflict("not_in_queue", "Only encodes wait in the queue; this job runs beside it and can be cancelled.")
    if row["state"] not in states:
        raise Conflict("job_ended", "This encode has ended meanwhile. Look at the queue.")
