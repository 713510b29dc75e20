"""What takes how much space in the data folder, and what of it can be freed."""

import re
import shutil
import threading
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import Literal

from yarnkite.core.base.errors import Conflict
from yarnkite.core.base.fingerprint import PATTERN
from yarnkite.store import jobs, removal
from yarnkite.store.database import Database
from yarnkite.store.removal import Leftover
from yarnkite.store.shots import folder_of
from yarnkite.workspace import Workspace

Freeable = Literal["deleted", "chunks", "proxies", "together", "arriving"]

_PROXY = re.compile(rf"({PATTERN})(?:(?:\.small)?\.jpg|\.deep)")
_freeing = threading.Lock()


@dataclass(frozen=True)
class ProjectSpace:
    """What the shots of a project take, in bytes; stills that lie in folders of their own are not counted."""

    id: int
    name: str
    stills: int
    clips: int


@dataclass(frozen=True)
class Space:
    """What everything takes, in bytes.

    ``chunks`` are rendered pieces, ``proxies`` reduced copies and ``unneeded`` those of them no still has any more,
    ``together`` whole-shot pictures, ``arriving`` uploads that were broken off, ``deleted`` what can still be taken
    back.
    """

    projects: tuple[ProjectSpace, ...]
    chunks: int
    proxies: int
    unneeded: int
    together: int
    arriving: int
    deleted: int
    free: int


@dataclass(frozen=True)
class Deleted:
    """Something that was deleted and can be taken back until a day; ``inside`` is the project of a shot."""

    id: int
    name: str
    inside: str
    until: datetime


def deleted(database: Database) -> tuple[list[Deleted], list[Deleted]]:
    """Return the projects and the shots that can be taken back."""
    span = timedelta(days=removal.KEPT_DAYS)
    projects, shots = removal.put_away(database)
    return (
        [Deleted(row["id"], row["name"], "", row["deleted_at"] + span) for row in projects],
        [Deleted(row["id"], row["name"], row["project"], row["deleted_at"] + span) for row in shots],
    )


def measured(database: Database, workspace: Workspace) -> Space:
    """Return what takes how much space."""
    projects: dict[int, ProjectSpace] = {}
    deleted = 0
    seen: set[Path] = set()
    for row in removal.holdings(database):
        folder = folder_of(row)
        stills = 0
        if row["copied"] and folder not in seen and folder.is_relative_to(workspace.folder):
            seen.add(folder)
            stills = _bytes_below(folder)
        clips = sum(_bytes_of(workspace.clip(job)) for job in row["clip_jobs"])
        if row["deleted"]:
            deleted += stills + clips
            continue
        before = projects.get(row["project_id"], ProjectSpace(row["project_id"], row["project"], 0, 0))
        projects[row["project_id"]] = ProjectSpace(before.id, before.name, before.stills + stills, before.clips + clips)
    needed = removal.fingerprints(database)
    proxies = unneeded = 0
    for path in _files_below(workspace.proxies.folder):
        size = _bytes_of(path)
        proxies += size
        unneeded += size if _is_unneeded(path, needed) else 0
    return Space(
        projects=tuple(projects.values()),
        chunks=_bytes_below(workspace.chunks),
        proxies=proxies,
        unneeded=unneeded,
        together=_bytes_below(workspace.together),
        arriving=_bytes_below(workspace.folder / "arriving"),
        deleted=deleted,
        free=shutil.disk_usage(workspace.folder).free,
    )


def free(database: Database, workspace: Workspace, what: Freeable) -> None:
    """Free what can be made again, or what was deleted; raises ``Conflict`` while it is being used."""
    with _freeing:
        match what:
            case "deleted":
                remove_given_up(database, workspace, all_of_it=True)
            case "proxies":
                _check_nothing_runs(database, "gather", "footage")
                needed = removal.fingerprints(database)
                _remove(path for path in _files_below(workspace.proxies.folder) if _is_unneeded(path, needed))
            case "chunks":
                _check_nothing_runs(database, "encode", "reel")
                _remove(workspace.chunks.glob("*.mp4"))
            case "together":
                _remove(workspace.together.glob("*.npz"))
            case "arriving":
                shutil.rmtree(workspace.folder / "arriving", ignore_errors=True)
                (workspace.folder / "arriving").mkdir(exist_ok=True)


def remove_given_up(database: Database, workspace: Workspace, *, all_of_it: bool = False) -> None:
    """Remove what was deleted more than 30 days ago, or all that was: files first, so that nothing is left behind."""
    for shot_id in removal.give_up(database, all_of_it=all_of_it):
        _remove_files(workspace, removal.leftover(database, shot_id, workspace.folder / "stills"))
        removal.forget(database, shot_id)
    removal.forget(database)


def _remove_files(workspace: Workspace, left: Leftover) -> None:
    for job in left.clip_jobs:
        workspace.clip(job).unlink(missing_ok=True)
    for fingerprint in left.fingerprints:
        for copy in workspace.proxies.copies(fingerprint):
            copy.unlink(missing_ok=True)
    if left.folder is None:
        return
    if left.alone:
        shutil.rmtree(left.folder, ignore_errors=True)
        return
    for name in left.names:
        (left.folder / name).unlink(missing_ok=True)


def _check_nothing_runs(database: Database, *kinds: jobs.Kind) -> None:
    if any(row["kind"] in kinds for row in jobs.unfinished(database)):
        raise Conflict("in_use", "This is being used right now. Free it when the jobs are done, or cancel them.")


def _is_unneeded(path: Path, needed: set[str]) -> bool:
    found = _PROXY.fullmatch(path.name)
    return found is None or found[1] not in needed


def _files_below(folder: Path) -> Iterable[Path]:
    return (path for path in folder.rglob("*") if path.is_file() and not path.is_symlink())


def _bytes_below(folder: Path) -> int:
    return sum(_bytes_of(path) for path in _files_below(folder))


def _bytes_of(path: Path) -> int:
    try:
        return path.stat().st_size
    except OSError:
        return 0


def _remove(paths: Iterable[Path]) -> None:
    for path in list(paths):
        path.unlink(missing_ok=True)
