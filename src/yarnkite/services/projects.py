"""Projects and their shots, and stills whose files are not where they were."""

import logging
from dataclasses import dataclass

from yarnkite.core.base.errors import Refusal
from yarnkite.jobs.find import lost
from yarnkite.resolve.shot import resolved
from yarnkite.services.decisions import latest, said
from yarnkite.services.locations import location_named
from yarnkite.services.running import Services
from yarnkite.store import jobs, projects, removal, shots
from yarnkite.store.database import Row

log = logging.getLogger(__name__)


@dataclass(frozen=True)
class LostStills:
    """Stills of a shot whose files are not where they were; ``first`` is one of them."""

    shot_id: int
    name: str
    folder: str
    lost: int
    first: str


@dataclass(frozen=True)
class OpenedProject:
    """A project with its shots, each with a ``brief``."""

    id: int
    name: str
    shots: list[Row]


def every(services: Services) -> list[Row]:
    """Return all projects."""
    return projects.every(services.database)


def add(services: Services, name: str) -> Row:
    """Make a project; raises ``Conflict`` if the name is taken."""
    return projects.one(services.database, projects.add(services.database, name))


def rename(services: Services, project_id: int, name: str) -> Row:
    """Give a project another name; raises ``NotFound`` or ``Conflict``."""
    projects.rename(services.database, project_id, name)
    return projects.one(services.database, project_id)


def opened(services: Services, project_id: int) -> OpenedProject:
    """Return a project with its shots; raises ``NotFound``."""
    project = projects.one(services.database, project_id)
    of_project = shots.of_project(services.database, project_id)
    summed_up = [shot | {"brief": _summary(services, shot)} for shot in of_project]
    return OpenedProject(project["id"], project["name"], summed_up)


def lost_stills(services: Services, project_id: int) -> list[LostStills]:
    """Return the shots that have lost stills, for example because their folder was moved."""
    projects.one(services.database, project_id)
    return [
        LostStills(shot["id"], shot["name"], shots.folder_text(shot), len(names), names[0])
        for shot, names in _lost(services, project_id)
    ]


def find_stills(services: Services, project_id: int, location: str, path: str) -> list[Row]:
    """Look for all lost stills of a project below a folder, by name and fingerprint; returns the jobs that do."""
    folder = location_named(services, location).inside(path)
    started = [
        services.runner.start("find", shot["id"], len(names), wanted={"folder": str(folder)})
        for shot, names in _lost(services, project_id)
    ]
    return [jobs.one(services.database, job) for job in started]


def delete(services: Services, project_id: int) -> None:
    """Put a project away for 30 days; files outside the data folder are never touched."""
    removal.delete_project(services.database, project_id)


def take_back(services: Services, project_id: int) -> None:
    """Take a deleted project back, with all its shots, decisions and clips."""
    removal.take_project_back(services.database, project_id)


def delete_shot(services: Services, shot_id: int) -> None:
    """Put a shot away for 30 days; files outside the data folder are never touched."""
    removal.delete_shot(services.database, shot_id)


def take_shot_back(services: Services, shot_id: int) -> None:
    """Take a deleted shot back, with all its decisions and clips."""
    removal.take_shot_back(services.database, shot_id)


def _summary(services: Services, shot: Row) -> str:
    try:
        all_of_it = shots.one(services.database, shot["id"])
        made = resolved(services.database, all_of_it, latest(services, shot["id"]))
        return str(said(services, all_of_it, made, shot["stills"]))
    except Refusal as refusal:
        return refusal.sentence
    except Exception:
        # Whatever is wrong with one shot, the project opens and shows the others.
        log.exception("shot %s cannot be summed up", shot["id"])
        return "This shot cannot be summed up; the log tells more. Its stills and decisions are kept."


def _lost(services: Services, project_id: int) -> list[tuple[Row, list[str]]]:
    every = [shots.one(services.database, shot["id"]) for shot in shots.of_project(services.database, project_id)]
    found = [(shot, lost(services.database, shot)) for shot in every if not jobs.busy(services.database, shot["id"])]
    return [(shot, names) for shot, names in found if names]
