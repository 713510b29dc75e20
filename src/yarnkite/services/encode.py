"""Encoding: start it, and get the clips that came of it."""

from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.base.errors import Conflict, NotFound, Refusal
from yarnkite.core.encode.plan import clip_plan
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.services.running import Services
from yarnkite.services.steadying import check_measured
from yarnkite.store import jobs, removal, revisions, shots, slots, versions
from yarnkite.store.database import Row


@dataclass(frozen=True)
class ClipFile:
    """A finished clip on the disk, and the name it is saved under."""

    path: Path
    name: str


def encode(services: Services, shot_id: int, seen: int) -> Row:
    """Begin to encode a shot as its newest revision says; returns the job.

    Raises ``Conflict`` if that is not the revision the person saw, or while the shot is being gathered.
    """
    shot = shots.one(services.database, shot_id)
    number, decisions = revisions.latest(services.database, shot_id)
    if number != seen:
        raise Conflict("stale_revision", "The decisions were changed in another window. Look at them, then encode.")
    recipe = slots.resolved(services.database, shot, decisions).recipe
    if not shot["gathered"]:
        raise Conflict("not_gathered", "This shot is still being gathered. Encode it when all its stills are there.")
    check_measured(services, shot, decisions)
    version = versions.current(services.database, shot_id)
    wanted = {"version": version["name"] if version else ""}
    job_id = services.runner.start(
        "encode", shot_id, clip_plan(ClipFrames(recipe), decisions.encode).frames, recipe, wanted
    )
    return jobs.one(services.database, job_id)


def clips(services: Services, shot_id: int) -> list[Row]:
    """Return the clips of a shot, the newest first."""
    shots.one(services.database, shot_id)
    return jobs.clips(services.database, shot_id)


def clip_file(services: Services, clip_id: int) -> ClipFile:
    """Return the file of a clip; raises ``NotFound`` if there is none any more."""
    clip = jobs.clip(services.database, clip_id)
    path = services.workspace.clip(clip["job_id"])
    if not path.exists():
        raise NotFound("no_such_clip", "The file of this clip was removed. Encode the shot again.")
    return ClipFile(path, clip["name"])


def delete_clip(services: Services, clip_id: int) -> None:
    """Delete a clip and its file; the shot and its decisions stay, so that it can be encoded again."""
    job_id = removal.delete_clip(services.database, clip_id)
    try:
        services.workspace.clip(job_id).unlink(missing_ok=True)
    except OSError as error:
        raise Refusal("cannot_delete", f"The file of this clip cannot be deleted: {error.strerror}.") from None
