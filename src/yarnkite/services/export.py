"""Writing a shot's stills into a new folder, under new names."""

import shutil
from dataclasses import dataclass
from typing import Any, Literal

from yarnkite.core.encode.export import Format, Writing
from yarnkite.core.order.renaming import Pattern, RenameLine
from yarnkite.jobs import export
from yarnkite.resolve.light import adjustments_of_shot
from yarnkite.resolve.move import steadying_of_shot
from yarnkite.resolve.shot import resolved
from yarnkite.services.decisions import latest
from yarnkite.services.locations import location_named
from yarnkite.services.running import Services
from yarnkite.services.steadying import check_measured
from yarnkite.store import jobs, shots, stills
from yarnkite.store.database import Row


@dataclass(frozen=True)
class Wanted:
    """What to write: copies of the files, or pictures as they were shot or as the clip shows them."""

    pattern: Pattern
    what: Literal["files", "shot", "fitted"]
    format: Format
    quality: int


@dataclass(frozen=True)
class ExportList:
    """What would be written, and whether there is room; ``needed`` is exact for copies and about right else."""

    lines: list[RenameLine]
    problems: int
    needed: int
    free: int


def listed(services: Services, shot_id: int, wanted: Wanted) -> ExportList:
    """Return what an export would write; nothing is written."""
    writing = _writing(services, shot_id, wanted)
    lines = export.lines_for(services.database, shot_id, wanted.pattern, writing)
    return ExportList(
        lines=lines,
        problems=sum(bool(line.problem) for line in lines),
        needed=export.needed_bytes(services.database, shot_id, lines, writing),
        free=shutil.disk_usage(services.workspace.folder).free,
    )


def begin(services: Services, shot_id: int, wanted: Wanted, location_name: str, path: str, folder: str) -> Row:
    """Begin to write the files into ``folder``, new or empty, below a path in a location; returns the job."""
    location = location_named(services, location_name)
    target = location.new_folder(path, folder)
    writing = _writing(services, shot_id, wanted)
    lines = export.lines_for(services.database, shot_id, wanted.pattern, writing)
    export.prepare(services.database, shot_id, lines, writing, target)
    details = {
        "folder": str(target),
        "location": str(location.folder),
        "writing": writing.model_dump(mode="json") if writing else None,
        "names": [(line.old, line.new) for line in lines],
        "lights": _lights(services, shot_id) if wanted.what == "fitted" else {},
        **(_of_all(services, shot_id) if wanted.what == "fitted" else {}),
    }
    return jobs.one(services.database, services.runner.start("export", shot_id, len(lines), wanted=details))


def _of_all(services: Services, shot_id: int) -> dict[str, Any]:
    """Return what of their light the stills share and how they are laid, by their files' names, as it is decided now.

    Raises ``Conflict`` (``not_measured``) where they are to be steadied and their movement is not known yet.
    """
    shot, decisions = shots.one(services.database, shot_id), latest(services, shot_id)
    check_measured(services, shot, decisions)
    recipe = resolved(services.database, shot, decisions).recipe
    laid = {}
    if decisions.move.steady.is_wished:
        names = {row["id"]: row["name"] for row in stills.of_shot(services.database, shot_id)}
        maps = steadying_of_shot(services.database, shot, decisions).maps
        laid = {names[number]: one for number, one in maps.items()}
    return {"shared": recipe.light.model_dump(mode="json"), "laid": laid, "region": recipe.region}


def _lights(services: Services, shot_id: int) -> dict[str, dict[str, float]]:
    """Return what the light of each still gets, by its file's name, as it is decided now."""
    shot = shots.one(services.database, shot_id)
    names = {row["id"]: row["name"] for row in stills.of_shot(services.database, shot_id)}
    adjusted = adjustments_of_shot(services.database, shot, latest(services, shot_id))
    return {names[number]: light.model_dump(exclude_defaults=True) for number, light in adjusted.items()}


def _writing(services: Services, shot_id: int, wanted: Wanted) -> Writing | None:
    if wanted.what == "files":
        return None
    fit = latest(services, shot_id).fit if wanted.what == "fitted" else None
    return Writing(format=wanted.format, quality=wanted.quality, fit=fit)
