"""Sounds and pictures that a project keeps for its reels."""

import json
from collections.abc import Collection, Sequence

from yarnkite.core.base.errors import NotFound
from yarnkite.store.database import Database, Row, retried

_SOUND = "id, project_id, name, fingerprint, samples, remarks, credit, created_at"
_LOGO = "id, project_id, name, fingerprint, width, height, created_at"


@retried
def add(
    database: Database,
    project_id: int,
    name: str,
    fingerprint: str,
    samples: int,
    remarks: Sequence[str],
    credit: str = "",
) -> int:
    """Note a sound whose file is in its place; returns its id, that of the same sound if the project has it already."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id FROM sound WHERE project_id = %s AND fingerprint = %s AND name = %s",
            (project_id, fingerprint, name[:255]),
        )
        if (row := cursor.fetchone()) is not None:
            return int(row["id"])
        cursor.execute(
            "INSERT INTO sound (project_id, name, fingerprint, samples, remarks, credit) "
            "VALUES (%s, %s, %s, %s, %s, %s)",
            (project_id, name[:255], fingerprint, samples, json.dumps(list(remarks)), credit),
        )
        return int(cursor.lastrowid)


def one(database: Database, sound_id: int) -> Row:
    """Return a sound; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute(f"SELECT {_SOUND} FROM sound WHERE id = %s", (sound_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_sound", "This sound is not in the project any more. Bring it in again.")
    return _read(row)


def of_project(database: Database, project_id: int) -> list[Row]:
    """Return a project's sounds, the newest first; ``remarks`` is a list."""
    with database.transaction() as cursor:
        cursor.execute(f"SELECT {_SOUND} FROM sound WHERE project_id = %s ORDER BY id DESC", (project_id,))
        return [_read(row) for row in cursor.fetchall()]


@retried
def write_credit(database: Database, sound_id: int, credit: str) -> None:
    """Write whose a sound is."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE sound SET credit = %s WHERE id = %s", (credit, sound_id))


@retried
def delete(database: Database, sound_id: int) -> None:
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM sound WHERE id = %s", (sound_id,))


@retried
def add_logo(database: Database, project_id: int, name: str, fingerprint: str, width: int, height: int) -> int:
    """Note a picture whose file is in its place; returns its id."""
    with database.transaction() as cursor:
        cursor.execute(
            "INSERT INTO logo (project_id, name, fingerprint, width, height) VALUES (%s, %s, %s, %s, %s)",
            (project_id, name[:255], fingerprint, width, height),
        )
        return int(cursor.lastrowid)


def logos(database: Database, project_id: int) -> list[Row]:
    """Return a project's pictures, the newest first."""
    with database.transaction() as cursor:
        cursor.execute(f"SELECT {_LOGO} FROM logo WHERE project_id = %s ORDER BY id DESC", (project_id,))
        return list(cursor.fetchall())


def fingerprints(database: Database) -> Collection[str]:
    """Return the fingerprints of all sounds and pictures there are."""
    with database.transaction() as cursor:
        cursor.execute("SELECT fingerprint FROM sound UNION SELECT fingerprint FROM logo")
        return {row["fingerprint"] for row in cursor.fetchall()}


def _read(row: Row) -> Row:
    return row | {"remarks": json.loads(row["remarks"])}
