"""Cards that are emptied: what was found on each, where every file goes, and the hash of what was proven."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.gather.locations import FoundFile
from yarnkite.store.database import Database, Row, retried

_ROWS_AT_ONCE = 1000


@dataclass(frozen=True)
class OffloadFile:
    """A file of a card; ``target`` is where it goes, relative, or nothing if it is left there by choice.

    ``sha256`` is known once every copy was read back and is the same; ``trouble`` says why it cannot be copied.
    """

    position: int
    found: FoundFile
    target: str | None
    sha256: str | None = None
    trouble: str = ""


@retried
def add(
    database: Database, project_id: int, wanted: dict[str, Any], files: Sequence[tuple[FoundFile, str | None]]
) -> int:
    """Note a job that empties a card, with all files found on it and where they go; returns its id.

    Raises ``NotFound`` for a project that is not there, ``Conflict`` (``card_busy``) while this card is emptied.
    """
    total = -(-sum(file.bytes for file, target in files if target is not None) // 1_000_000)
    with database.transaction() as cursor:
        cursor.execute("SELECT id FROM project WHERE id = %s AND deleted_at IS NULL FOR UPDATE", (project_id,))
        if cursor.fetchone() is None:
            raise NotFound("no_such_project", "This project does not exist. Go back to all projects.")
        cursor.execute(
            "SELECT 1 FROM job WHERE kind = 'offload' AND state IN ('waiting', 'running') "
            "AND JSON_VALUE(wanted, '$.card') = %s LIMIT 1",
            (wanted["card"],),
        )
        if cursor.fetchone() is not None:
            raise Conflict("card_busy", "This card is being emptied already. Wait until that is done, or cancel it.")
        cursor.execute(
            "INSERT INTO job (kind, project_id, total, wanted) VALUES ('offload', %s, %s, %s)",
            (project_id, total, json.dumps(wanted)),
        )
        job_id = int(cursor.lastrowid)
        rows = [
            (job_id, position, file.name, target, file.bytes, file.modified_ns)
            for position, (file, target) in enumerate(files)
        ]
        for begin in range(0, len(rows), _ROWS_AT_ONCE):
            cursor.executemany(
                "INSERT INTO offload_file (job_id, position, name, target, bytes, modified_ns) "
                "VALUES (%s, %s, %s, %s, %s, %s)",
                rows[begin : begin + _ROWS_AT_ONCE],
            )
        return job_id


def files_of(database: Database, job_id: int) -> list[OffloadFile]:
    """Return all files that were found on the card of a job, in their order."""
    with database.transaction() as cursor:
        cursor.execute("SELECT * FROM offload_file WHERE job_id = %s ORDER BY position", (job_id,))
        return [
            OffloadFile(
                position=row["position"],
                found=FoundFile(row["name"], row["bytes"], row["modified_ns"]),
                target=row["target"],
                sha256=row["sha256"],
                trouble=row["trouble"],
            )
            for row in cursor.fetchall()
        ]


@retried
def note(database: Database, job_id: int, position: int, sha256: str | None, trouble: str = "") -> None:
    """Note what became of a file: its hash once it is proven, or why it cannot be copied."""
    with database.transaction() as cursor:
        cursor.execute(
            "UPDATE offload_file SET sha256 = %s, trouble = %s WHERE job_id = %s AND position = %s",
            (sha256, trouble[:8000], job_id, position),
        )


def of_project(database: Database, project_id: int) -> list[Row]:
    """Return the jobs that emptied cards into a project or are about to, the newest first, with what was wanted."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id, wanted FROM job WHERE project_id = %s AND kind = 'offload' ORDER BY id DESC", (project_id,)
        )
        return [row | {"wanted": json.loads(row["wanted"])} for row in cursor.fetchall()]


def check_none(cursor: DictCursor, project_id: int) -> None:
    """Raise ``Conflict`` (``card_busy``) while a card is emptied into a project; hold the project first."""
    cursor.execute(
        "SELECT 1 FROM job WHERE project_id = %s AND kind = 'offload' AND state IN ('waiting', 'running') LIMIT 1",
        (project_id,),
    )
    if cursor.fetchone() is not None:
        raise Conflict("card_busy", "A card is being emptied into this project. Wait until that is done, or cancel it.")
