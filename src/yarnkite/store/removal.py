"""Deleting: what is deleted is put away for 30 days, taken back on wish, and only then gone for good."""

from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import NotFound
from yarnkite.store import clips, jobs, offload, reels, shots
from yarnkite.store.database import Database, Row, retried
from yarnkite.store.shots import folder_of

KEPT_DAYS = 30
_LONGEST_NAME = 120
_AT_ONCE = 1000


@dataclass(frozen=True)
class Leftover:
    """The files of a deleted shot that nothing else needs: copied stills, clips by job, and reduced copies.

    ``folder`` is that of its copied stills, ``names`` those of them no other shot uses; ``alone`` says that is all of
    them. Nothing outside the data folder is ever among these.
    """

    shot_id: int
    folder: Path | None
    names: tuple[str, ...]
    alone: bool
    clip_jobs: tuple[int, ...]
    fingerprints: tuple[str, ...]


@retried
def delete_project(database: Database, project_id: int) -> None:
    """Put a project away; raises ``NotFound``, and ``Conflict`` while one of its shots is worked on, or a card."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id FROM project WHERE id = %s AND deleted_at IS NULL FOR UPDATE", (project_id,))
        if cursor.fetchone() is None:
            raise NotFound("no_such_project", "This project does not exist. Go back to the list of projects.")
        cursor.execute("SELECT id FROM shot WHERE project_id = %s AND deleted_at IS NULL ORDER BY id", (project_id,))
        for row in cursor.fetchall():
            _hold_unused(cursor, row["id"])
        cursor.execute("SELECT id FROM reel WHERE project_id = %s AND deleted_at IS NULL ORDER BY id", (project_id,))
        for row in cursor.fetchall():
            jobs.check_reel_idle(cursor, row["id"])
        offload.check_none(cursor, project_id)
        cursor.execute("UPDATE project SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = %s", (project_id,))


@retried
def take_project_back(database: Database, project_id: int) -> None:
    """Take a deleted project back; if its name is in use by now, a number is put behind it. Raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute(f"SELECT name FROM project WHERE id = %s AND {_KEPT} FOR UPDATE", (project_id,))
        row = cursor.fetchone()
        if row is None:
            raise NotFound("gone_for_good", "This project is gone for good.")
        cursor.execute(
            "UPDATE project SET name = %s, deleted_at = NULL WHERE id = %s",
            (_free_name(cursor, row["name"]), project_id),
        )


@retried
def delete_shot(database: Database, shot_id: int) -> None:
    """Put a shot away; raises ``NotFound``, and ``Conflict`` while it is worked on."""
    with database.transaction() as cursor:
        _hold_unused(cursor, shot_id)
        cursor.execute("UPDATE shot SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = %s", (shot_id,))


def _hold_unused(cursor: DictCursor, shot_id: int) -> None:
    """Hold a shot that is to be put away; raises ``NotFound``, and ``Conflict`` while it is worked on or shot into."""
    shots.locked(cursor, shot_id)
    jobs.check_idle(cursor, shot_id)
    jobs.check_not_captured(cursor, shot_id)


@retried
def take_shot_back(database: Database, shot_id: int) -> None:
    """Take a deleted shot back; raises ``NotFound``."""
    with database.transaction() as cursor:
        if not cursor.execute(f"UPDATE shot SET deleted_at = NULL WHERE id = %s AND {_KEPT}", (shot_id,)):
            raise NotFound("gone_for_good", "This shot is gone for good.")


@retried
def delete_reel(database: Database, reel_id: int) -> None:
    """Put a reel away; raises ``NotFound``, and ``Conflict`` while it is worked on."""
    with database.transaction() as cursor:
        reels.locked(cursor, reel_id)
        jobs.check_reel_idle(cursor, reel_id)
        cursor.execute("UPDATE reel SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = %s", (reel_id,))


@retried
def take_reel_back(database: Database, reel_id: int) -> None:
    """Take a deleted reel back; raises ``NotFound``."""
    with database.transaction() as cursor:
        if not cursor.execute(f"UPDATE reel SET deleted_at = NULL WHERE id = %s AND {_KEPT}", (reel_id,)):
            raise NotFound("gone_for_good", "This reel is gone for good.")


@retried
def delete_clip(database: Database, clip_id: int) -> int:
    """Forget a clip; returns the id of the job that made it, by which its file is named. Raises ``NotFound``."""
    clip = clips.one(database, clip_id)
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM clip WHERE id = %s", (clip_id,))
    return int(clip["job_id"])


def put_away(database: Database) -> tuple[list[Row], list[Row], list[Row]]:
    """Return the deleted projects, and the shots and reels deleted by themselves, that can be taken back.

    Each has id, name, deleted_at; shots and reels the name of their project.
    """
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT project.id, project.name, project.deleted_at, COUNT(shot.id) AS shots, "
            f"{_days_since('project.deleted_at')} AS days_run FROM project"
            " LEFT JOIN shot ON shot.project_id = project.id AND shot.deleted_at IS NULL"
            f" WHERE project.{_KEPT} GROUP BY project.id ORDER BY project.deleted_at DESC"
        )
        projects = list(cursor.fetchall())
        return projects, _put_away_alone(cursor, "shot"), _put_away_alone(cursor, "reel")


def _put_away_alone(cursor: DictCursor, table: Literal["shot", "reel"]) -> list[Row]:
    cursor.execute(
        f"SELECT {table}.id, {table}.name, {table}.deleted_at, project.name AS project, "
        f"{_days_since(f'{table}.deleted_at')} AS days_run FROM {table} JOIN project ON project.id = "
        f"{table}.project_id WHERE {table}.{_KEPT} AND project.deleted_at IS NULL ORDER BY {table}.deleted_at DESC"
    )
    return list(cursor.fetchall())


@retried
def note_day(database: Database) -> None:
    """Note that the program runs today: the days something is kept are days on which it could be taken back."""
    with database.transaction() as cursor:
        cursor.execute("INSERT IGNORE INTO day_run (day) VALUES (CURRENT_DATE)")


@retried
def give_up(database: Database, *, all_of_it: bool) -> list[int]:
    """Let deleted projects and shots be taken back no more, those over 30 days or all; returns the shots concerned.

    Counted are days on which the program ran (``note_day``).
    """
    with database.transaction() as cursor:
        due = "deleted_at IS NOT NULL" if all_of_it else _OVER
        for table in ("project", "shot", "reel"):
            cursor.execute(f"UPDATE {table} SET deleted_at = %s WHERE {due}", (_GIVEN_UP,))
        cursor.execute(
            "SELECT shot.id FROM shot JOIN project ON project.id = shot.project_id "
            "WHERE shot.deleted_at = %s OR project.deleted_at = %s ORDER BY shot.id",
            (_GIVEN_UP, _GIVEN_UP),
        )
        return [int(row["id"]) for row in cursor.fetchall()]


def given_up_reels(database: Database) -> list[tuple[int, list[int]]]:
    """Return the reels that were given up, by id, each with the jobs by which its files are named."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT reel.id FROM reel JOIN project ON project.id = reel.project_id "
            "WHERE reel.deleted_at = %s OR project.deleted_at = %s ORDER BY reel.id",
            (_GIVEN_UP, _GIVEN_UP),
        )
        ids = [int(row["id"]) for row in cursor.fetchall()]
        cursor.execute("SELECT reel_id, job_id FROM clip WHERE reel_id IS NOT NULL")
        clips = [(row["reel_id"], int(row["job_id"])) for row in cursor.fetchall()]
    return [(reel_id, [job for owner, job in clips if owner == reel_id]) for reel_id in ids]


@retried
def forget_reel(database: Database, reel_id: int) -> None:
    """Delete the rows of a reel that was given up, once its files are."""
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM reel WHERE id = %s", (reel_id,))


def reel_holdings(database: Database) -> list[Row]:
    """Return what lies on the disk for reels, a row for each file: project, deleted, and a clip's job or a sound."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT project.id AS project_id, project.name AS project, clip.job_id AS job, NULL AS sound,"
            " reel.deleted_at IS NOT NULL OR project.deleted_at IS NOT NULL AS deleted"
            " FROM clip JOIN reel ON reel.id = clip.reel_id JOIN project ON project.id = reel.project_id"
            " UNION ALL SELECT project.id, project.name, NULL, sound.fingerprint, project.deleted_at IS NOT NULL"
            " FROM sound JOIN project ON project.id = sound.project_id"
        )
        return list(cursor.fetchall())


def sent_films(database: Database) -> list[Row]:
    """Return what was sent and is no shot, by id, with its project; films are among it."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT upload.id, project.id AS project_id, project.name AS project, project.deleted_at IS NOT NULL AS"
            " deleted FROM upload JOIN project ON project.id = upload.project_id WHERE upload.shot_id IS NULL"
        )
        return list(cursor.fetchall())


def leftover(database: Database, shot_id: int, stills: Path) -> Leftover:
    """Return the files a shot that was given up leaves behind; ``stills`` is the folder all copied stills lie in."""
    with database.transaction() as cursor:
        cursor.execute("SELECT folder, copied FROM shot WHERE id = %s", (shot_id,))
        shot = cursor.fetchone()
        if shot is None:
            return Leftover(shot_id, None, (), False, (), ())
        folder = folder_of(shot)
        own = bool(shot["copied"]) and folder.is_relative_to(stills) and folder != stills
        others = f"shot.folder = %s AND shot.id <> %s AND {_NOT_GIVEN_UP}"
        joined = "FROM shot JOIN project ON project.id = shot.project_id"
        cursor.execute(f"SELECT COUNT(*) AS others {joined} WHERE {others}", (shot["folder"], shot_id))
        alone = not (cursor.fetchone() or {"others": 1})["others"]
        cursor.execute("SELECT name FROM still WHERE shot_id = %s", (shot_id,))
        names = {row["name"] for row in cursor.fetchall()}
        cursor.execute(
            f"SELECT still.name {joined} JOIN still ON still.shot_id = shot.id WHERE {others}",
            (shot["folder"], shot_id),
        )
        names -= {row["name"] for row in cursor.fetchall()}
        cursor.execute("SELECT job_id FROM clip WHERE shot_id = %s", (shot_id,))
        clip_jobs = tuple(int(row["job_id"]) for row in cursor.fetchall())
        cursor.execute(
            "SELECT DISTINCT fingerprint FROM still AS own WHERE shot_id = %s AND NOT EXISTS (SELECT 1 "
            "FROM still AS other WHERE other.fingerprint = own.fingerprint AND other.shot_id <> %s)",
            (shot_id, shot_id),
        )
        fingerprints = tuple(row["fingerprint"] for row in cursor.fetchall())
        return Leftover(
            *(shot_id, folder if own else None, tuple(sorted(names)) if own else (), alone, clip_jobs, fingerprints)
        )


@retried
def forget(database: Database, shot_id: int | None = None) -> None:
    """Delete the rows of a shot that was given up, once its files are; without one, those of projects left empty."""
    with database.transaction() as cursor:
        if shot_id is not None:
            cursor.execute("DELETE FROM shot WHERE id = %s", (shot_id,))
        cursor.execute(
            "DELETE FROM project WHERE deleted_at = %s AND NOT EXISTS (SELECT 1 "
            "FROM shot WHERE shot.project_id = project.id)",
            (_GIVEN_UP,),
        )


def fingerprints(database: Database) -> set[str]:
    """Return the fingerprints of all stills there are."""
    with database.transaction() as cursor:
        cursor.execute("SELECT DISTINCT fingerprint FROM still")
        return {row["fingerprint"] for row in cursor.fetchall()}


def holdings(database: Database) -> list[Row]:
    """Return every shot with what may lie on the disk for it: project, deleted, folder, copied, clips by job."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT shot.id, shot.name, shot.folder, shot.copied, project.id AS project_id, project.name "
            "AS project, shot.deleted_at IS NOT NULL OR project.deleted_at IS NOT NULL AS deleted "
            "FROM shot JOIN project ON project.id = shot.project_id ORDER BY project.id, shot.id"
        )
        found = list(cursor.fetchall())
        cursor.execute("SELECT shot_id, job_id FROM clip")
        clips: dict[int, list[int]] = {}
        for row in cursor.fetchall():
            clips.setdefault(row["shot_id"], []).append(int(row["job_id"]))
        return [row | {"clip_jobs": clips.get(row["id"], [])} for row in found]


# A time that is long over: given up by a person, or by time, and to be removed even if that was broken off.
_GIVEN_UP = "1990-01-01"


def _days_since(moment: str) -> str:
    # A clock that jumps by a month makes one day of it: only days on which the program ran are counted.
    return f"(SELECT COUNT(*) FROM day_run WHERE day > DATE({moment}))"


_OVER = f"deleted_at < CURRENT_TIMESTAMP(3) - INTERVAL {KEPT_DAYS} DAY AND {_days_since('deleted_at')} >= {KEPT_DAYS}"
_KEPT = f"deleted_at <> '{_GIVEN_UP}'"
_NOT_GIVEN_UP = (
    f"(shot.deleted_at IS NULL OR shot.deleted_at <> '{_GIVEN_UP}')"
    f" AND (project.deleted_at IS NULL OR project.deleted_at <> '{_GIVEN_UP}')"
)


def _free_name(cursor: DictCursor, name: str) -> str:
    number = 1
    while True:
        candidate = name if number == 1 else f"{name[: _LONGEST_NAME - 6]} ({number})"
        cursor.execute("SELECT 1 FROM project WHERE name = %s AND deleted_at IS NULL", (candidate,))
        if cursor.fetchone() is None:
            return candidate
        number += 1
