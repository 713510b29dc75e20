"""What takes how much space in the data folder, and what of it can be freed."""

import re
import shutil
import threading
import time
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from pathlib import Path
from typing import Literal

from yarnkite.core.base.errors import Conflict
from yarnkite.core.base.fingerprint import PATTERN
from yarnkite.core.encode.render_plan import BESIDE_ENDINGS, CHUNK_ENDING
from yarnkite.store import jobs, removal, sounds
from yarnkite.store.database import Database, Row
from yarnkite.store.removal import Leftover
from yarnkite.store.shots import folder_of
from yarnkite.workspace import Workspace

Freeable = Literal["deleted", "chunks", "proxies", "together", "arriving"]

_PROXY = re.compile(rf"({PATTERN})(?:(?:\.small)?\.jpg|\.deep)")
_JUST_COME_S = 3600
_BEING_SENT_S = 600
_TO_BE_TAKEN_S = 24 * 3600
_freeing = threading.Lock()


@dataclass(frozen=True)
class ProjectSpace:
    """What the shots of a project take, in bytes; stills that lie in folders of their own are not counted."""

    id: int
    name: str
    stills: int
    clips: int
    sounds: int = 0
    films: int = 0


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


def deleted(database: Database) -> tuple[list[Deleted], list[Deleted], list[Deleted]]:
    """Return the projects, the shots and the reels that can be taken back."""
    projects, shots, reels = (
        [Deleted(row["id"], row["name"], row.get("project", ""), _until(row)) for row in rows]
        for rows in removal.put_away(database)
    )
    return projects, shots, reels


def _until(row: Row) -> datetime:
    """Return the day until which something is kept at the least: only days on which the program runs are counted."""
    counted = datetime.now(UTC).replace(tzinfo=None) + timedelta(days=removal.KEPT_DAYS - row["days_run"])
    by_the_clock: datetime = row["deleted_at"] + timedelta(days=removal.KEPT_DAYS)
    return max(by_the_clock, counted.replace(hour=0, minute=0, second=0))


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
        _add(projects, row, ProjectSpace(row["project_id"], row["project"], stills, clips))
    for row in removal.reel_holdings(database):
        clip = _bytes_of(workspace.clip(row["job"])) if row["job"] else 0
        sound = _bytes_of(workspace.sound(row["sound"])) if row["sound"] else 0
        if row["deleted"]:
            deleted += clip + sound
        else:
            _add(projects, row, ProjectSpace(row["project_id"], row["project"], 0, clip, sound))
    for row in removal.sent_films(database):
        films = _bytes_below(workspace.film(row["id"]))
        if films and row["deleted"]:
            deleted += films
        elif films:
            _add(projects, row, ProjectSpace(row["project_id"], row["project"], 0, 0, films=films))
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


def _add(projects: dict[int, ProjectSpace], row: Row, more: ProjectSpace) -> None:
    before = projects.get(row["project_id"], ProjectSpace(more.id, more.name, 0, 0))
    projects[more.id] = ProjectSpace(
        *(more.id, more.name, before.stills + more.stills, before.clips + more.clips),
        *(before.sounds + more.sounds, before.films + more.films),
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
                _remove(workspace.chunks.glob(f"*{CHUNK_ENDING}"))
                for ending in BESIDE_ENDINGS:
                    _remove(workspace.chunks.glob(f"*{ending}"))
            case "together":
                _remove(workspace.together.glob("*.npz"))
            case "arriving":
                _forget_broken_off(workspace.folder / "arriving")


def remove_given_up(database: Database, workspace: Workspace, *, all_of_it: bool = False) -> None:
    """Remove what was deleted more than 30 days ago, or all that was: files first, so that nothing is left behind."""
    removal.note_day(database)
    for shot_id in removal.give_up(database, all_of_it=all_of_it):
        _remove_files(workspace, removal.leftover(database, shot_id, workspace.folder / "stills"))
        removal.forget(database, shot_id)
    for reel_id, clip_jobs in removal.given_up_reels(database):
        for job in clip_jobs:
            workspace.clip(job).unlink(missing_ok=True)
        removal.forget_reel(database, reel_id)
    removal.forget(database)
    _remove_unneeded_sounds(database, workspace)
    _remove_unneeded_films(database, workspace)


def _forget_broken_off(arriving: Path) -> None:
    """Remove uploads that were broken off; one of which something came a moment ago is being sent."""
    latest = time.time() - _BEING_SENT_S
    every = [folder for folder in arriving.iterdir() if folder.is_dir()]
    being_sent = [folder for folder in every if any(_changed(one) > latest for one in (folder, *folder.iterdir()))]
    for folder in every:
        if folder not in being_sent:
            shutil.rmtree(folder, ignore_errors=True)
    if being_sent and len(being_sent) == len(every):
        raise Conflict("being_sent", "These files are being sent right now, so they stay. Wait until they are there.")


def _changed(path: Path) -> float:
    """Return when something was changed last; what goes away meanwhile is being worked on."""
    try:
        return path.stat().st_mtime
    except OSError:
        return time.time()


def _remove_unneeded_sounds(database: Database, workspace: Workspace) -> None:
    """Remove sounds and pictures of reels no project has any more; one that has just come may not be noted yet."""
    needed = sounds.fingerprints(database)
    latest = time.time() - _JUST_COME_S
    for path in _files_below(workspace.sounds):
        if path.stem not in needed and path.stat().st_mtime < latest:
            path.unlink(missing_ok=True)


def _remove_unneeded_films(database: Database, workspace: Workspace) -> None:
    """Remove films that were sent and no shot was taken from; for a day they wait for that."""
    # By the names below the data folder: that may have been moved since.
    needed = {pair for film in jobs.films(database) for pair in pairwise(Path(film).parts)}
    latest = time.time() - _TO_BE_TAKEN_S
    for folder in workspace.films.iterdir():
        if _changed(folder) < latest and (workspace.films.name, folder.name) not in needed:
            shutil.rmtree(folder, ignore_errors=True)


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
