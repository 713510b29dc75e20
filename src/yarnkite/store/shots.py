"""Shots: where their files lie, and what was found out about them as a whole."""

import json
from collections.abc import Callable, Sequence
from dataclasses import asdict
from pathlib import Path

from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.wording import printable
from yarnkite.core.encode.size_model import SizeModel
from yarnkite.core.render.decisions import Decisions
from yarnkite.store import order, revisions, versions
from yarnkite.store.database import Database, Row, retried

IN_USE = "EXISTS (SELECT 1 FROM project WHERE project.id = shot.project_id AND project.deleted_at IS NULL)"
_COLUMNS = "id, project_id, name, folder, source, copied, gathered, raws, dismissed, size_model, created_at"


@retried
def add(
    database: Database,
    project_id: int,
    name: str,
    folder: Path,
    *,
    copied: bool,
    source: Path | None = None,
    decided: Sequence[tuple[str | None, Decisions]] = ((None, Decisions()),),
) -> int:
    """Make a shot with a first revision of sensible decisions; returns its id.

    ``source`` is where the files of a copied shot come from, if it is a folder on this machine; ``decided`` is what its
    versions decide, by name, the one that is open last.
    """
    with database.transaction() as cursor:
        return insert(cursor, project_id, name, folder, copied=copied, source=source, decided=decided)


def insert(
    cursor: DictCursor,
    project_id: int,
    name: str,
    folder: Path,
    *,
    copied: bool,
    source: Path | None = None,
    decided: Sequence[tuple[str | None, Decisions]] = ((None, Decisions()),),
) -> int:
    """Make a shot within the transaction of ``cursor``, with its versions as they are ``decided``; returns its id."""
    cursor.execute(
        "INSERT INTO shot (project_id, name, folder, copied, source) VALUES (%s, %s, %s, %s, %s)",
        (project_id, name[:120], folder_bytes(folder), copied, folder_bytes(source) if source else None),
    )
    shot_id = int(cursor.lastrowid)
    versions.begin(cursor, shot_id, decided)
    return shot_id


@retried
def add_copied(
    database: Database, project_id: int, name: str, folder_of_copies: Callable[[int], Path], source: Path | None = None
) -> int:
    """Make a shot whose files are copied into a folder that is named by its id; returns the id."""
    with database.transaction() as cursor:
        shot_id = insert(cursor, project_id, name, Path(), copied=True, source=source)
        folder = folder_bytes(folder_of_copies(shot_id))
        cursor.execute("UPDATE shot SET folder = %s WHERE id = %s", (folder, shot_id))
        return shot_id


@retried
def rename(database: Database, shot_id: int, name: str) -> None:
    """Give a shot another name; its files keep theirs."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET name = %s WHERE id = %s", (name[:120], shot_id))


def locked(cursor: DictCursor, shot_id: int) -> Row:
    """Return a shot that no job and no other change touches until the transaction ends; raises ``NotFound``."""
    cursor.execute(f"SELECT {_COLUMNS} FROM shot WHERE id = %s AND deleted_at IS NULL FOR UPDATE", (shot_id,))
    row = cursor.fetchone()
    if row is None:
        raise _no_such_shot()
    return row


@retried
def set_raws(database: Database, shot_id: int, raws: bool) -> None:
    """Note whether, of a raw file and a picture of the same exposure, the raw file is the still."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET raws = %s, gathered = FALSE WHERE id = %s", (raws, shot_id))


def dismissed(shot: Row) -> list[str]:
    """Return the keys of the proposals that were turned down for a shot."""
    return json.loads(shot["dismissed"]) if shot["dismissed"] else []


@retried
def arrange(database: Database, shot_id: int) -> None:
    """Put a shot's stills in the order its newest revision decides."""
    with database.transaction() as cursor:
        decisions = revisions.newest(cursor, shot_id)["decided"]
        order.arrange(cursor, shot_id, decisions.order)


@retried
def set_gathered(database: Database, shot_id: int, size_model: SizeModel | None) -> None:
    """Note that all of a shot's stills are there, and what its frames were found to weigh."""
    measured = json.dumps(asdict(size_model)) if size_model else None
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET gathered = TRUE, size_model = %s WHERE id = %s", (measured, shot_id))


def size_model_of(shot: Row) -> SizeModel | None:
    """Return what a shot's frames were found to weigh, or ``None`` before that was measured."""
    return SizeModel(**json.loads(shot["size_model"])) if shot["size_model"] else None


def one(database: Database, shot_id: int) -> Row:
    """Return a shot; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute(f"SELECT {_COLUMNS} FROM shot WHERE id = %s AND deleted_at IS NULL AND {IN_USE}", (shot_id,))
        row = cursor.fetchone()
    if row is None:
        raise _no_such_shot()
    return row


def of_project(database: Database, project_id: int) -> list[Row]:
    """Return a project's shots in the order they were made, with the number of stills of each."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT shot.id, shot.name, shot.gathered, shot.created_at, COUNT(still.position) AS stills "
            "FROM shot LEFT JOIN still ON still.shot_id = shot.id WHERE shot.project_id = %s "
            "AND shot.deleted_at IS NULL GROUP BY shot.id ORDER BY shot.id",
            (project_id,),
        )
        return list(cursor.fetchall())


def with_origin(database: Database, project_id: int, folder: Path) -> int | None:
    """Return the project's first shot whose files are, or were copied from, a folder, or ``None``."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id FROM shot WHERE project_id = %s "
            "AND COALESCE(source, folder) = %s AND deleted_at IS NULL ORDER BY id LIMIT 1",
            (project_id, folder_bytes(folder)),
        )
        row = cursor.fetchone()
    return None if row is None else int(row["id"])


def folder_of(row: Row) -> Path:
    """Return the folder that a row of a shot, or of a rename of it, holds."""
    return _path(row["folder"])


def folder_text(row: Row) -> str:
    """Return the folder of a shot as it can be shown, whatever bytes its name has."""
    return printable(str(folder_of(row)))


def source_of(row: Row) -> Path | None:
    """Return the folder a copied shot's files come from, if it is one on this machine."""
    return _path(row["source"]) if row["source"] else None


def _path(held: bytes) -> Path:
    return Path(held.decode("utf-8", "surrogateescape"))


def folder_bytes(folder: Path) -> bytes:
    """Return a folder as rows hold it: as bytes, since its name may be no text."""
    return str(folder).encode("utf-8", "surrogateescape")


def _no_such_shot() -> NotFound:
    return NotFound("no_such_shot", "This shot does not exist. Go back to its project.")
