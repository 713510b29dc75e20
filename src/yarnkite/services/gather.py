"""Gathering: a folder on this machine, or a video file, becomes a shot."""

from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.footage import Taking, film_rate, moments, read_footage
from yarnkite.core.gather.locations import directly_inside, files_below
from yarnkite.core.image.kinds import worth_reading
from yarnkite.core.order.natural import in_natural_order
from yarnkite.services.locations import folder_in
from yarnkite.services.running import Services
from yarnkite.store import jobs, projects, revisions, shots
from yarnkite.store.database import Row

_SHOTS_AT_ONCE = 200


@dataclass(frozen=True)
class Begun:
    """A shot that is being gathered, and the job that does it."""

    shot_id: int
    job: Row


def gather_folder(services: Services, project_id: int, location: str, path: str, *, copy_files: bool) -> Begun:
    """Make a shot of a folder; a folder that is a shot already only gives what is new in it.

    ``copy_files`` brings the stills into the project instead of using them where they lie.
    """
    projects.one(services.database, project_id)
    folder = folder_in(services, location, path)
    known = shots.with_origin(services.database, project_id, folder)
    if known is not None:
        return gather_again(services, known)
    name = folder.name or location
    if not copy_files:
        return begin(services, shots.add(services.database, project_id, name, folder, copied=False))
    return begin(
        services, shots.add_copied(services.database, project_id, name, services.workspace.copied, source=folder)
    )


def gather_each(services: Services, project_id: int, location: str, path: str, *, copy_files: bool) -> list[Begun]:
    """Make a shot of each folder in a folder that has stills in it, in the order of their names.

    Raises ``Refusal`` (``no_stills``) where none has, or (``too_many``) for more than 200.
    """
    with_stills = folders_with_stills(folder_in(services, location, path))
    paths = [f"{path}/{name}" if path else name for name in with_stills]
    return [gather_folder(services, project_id, location, one, copy_files=copy_files) for one in paths]


def folders_with_stills(folder: Path) -> list[str]:
    """Return the names of the folders in a folder that have stills in them, in natural order.

    Raises ``Refusal`` (``no_stills``) where none has, or (``too_many``) for more than 200.
    """
    names, _ = directly_inside(folder)
    with_stills = [
        name for name in names if any(worth_reading(one.name) for one in files_below(folder / name, folder / name))
    ]
    if not with_stills:
        raise Refusal("no_stills", f"None of the folders in “{folder.name}” has stills in it. Choose another one.")
    if len(with_stills) > _SHOTS_AT_ONCE:
        raise Refusal(
            "too_many",
            f"“{folder.name}” has {len(with_stills):,} folders with stills; at most {_SHOTS_AT_ONCE} become shots at "
            "once. Choose the folders one by one.",
        )
    return in_natural_order(with_stills)


def gather_again(services: Services, shot_id: int) -> Begun:
    """Go on with a gathering that was broken off, or add what is new in the folder; the rest is kept as it is."""
    shots.one(services.database, shot_id)
    return begin(services, shot_id)


def begin(services: Services, shot_id: int) -> Begun:
    """Begin to gather a shot."""
    return Begun(shot_id, jobs.one(services.database, services.runner.start("gather", shot_id, 0)))


def gather_footage(services: Services, project_id: int, file: Path, taking: Taking) -> Begun:
    """Take stills from a video file into the project, and gather them as a shot; raises ``Refusal`` for one that
    cannot be read.

    If they are all its frames, its clip has the rate that shows them at their true speed.
    """
    projects.one(services.database, project_id)
    footage = read_footage(file)
    at = moments(footage, taking)
    shot_id = shots.add_copied(services.database, project_id, file.stem, services.workspace.copied)
    if taking.is_film and (rate := film_rate(footage)) is not None:
        number, decisions = revisions.latest(services.database, shot_id)
        pace = decisions.pace.model_copy(update={"rate": rate})
        revisions.revise(services.database, shot_id, number, decisions.model_copy(update={"pace": pace}))
    wanted = {"file": str(file), "taking": taking.model_dump()}
    job_id = services.runner.start("footage", shot_id, len(at), wanted=wanted)
    return Begun(shot_id, jobs.one(services.database, job_id))
