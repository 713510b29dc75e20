"""Shots, and the revisions of what was decided about them."""

import json
from dataclasses import asdict
from pathlib import Path

from yarnkite.core.errors import Conflict, NotFound
from yarnkite.core.recipe import Decisions
from yarnkite.core.weight import Weight
from yarnkite.store import order
from yarnkite.store.database import Database, Row

_COLUMNS = "id, project_id, name, folder, copied, gathered, weight, created_at"


def add(database: Database, project_id: int, name: str, folder: Path, *, copied: bool) -> int:
    """Make a shot with a first revision of sensible decisions; returns its id."""
    with database.transaction() as cursor:
        cursor.execute(
            "INSERT INTO shot (project_id, name, folder, copied) VALUES (%s, %s, %s, %s)",
            (project_id, name[:120], folder_bytes(folder), copied),
        )
        shot_id = int(cursor.lastrowid)
        cursor.execute(
            "INSERT INTO revision (shot_id, number, decisions) VALUES (%s, 1, %s)",
            (shot_id, Decisions().model_dump_json()),
        )
        return shot_id


def arrange(database: Database, shot_id: int) -> None:
    """Put a shot's stills in the order its newest revision decides."""
    _, decisions = latest(database, shot_id)
    with database.transaction() as cursor:
        order.arrange(cursor, shot_id, decisions.order.by)


def set_gathered(database: Database, shot_id: int, weight: Weight | None) -> None:
    """Note that all of a shot's stills are there, and what its frames were found to weigh."""
    measured = json.dumps(asdict(weight)) if weight else None
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET gathered = TRUE, weight = %s WHERE id = %s", (measured, shot_id))


def weight_of(shot: Row) -> Weight | None:
    """Return what a shot's frames were found to weigh, or ``None`` before that was measured."""
    return Weight(**json.loads(shot["weight"])) if shot["weight"] else None


def one(database: Database, shot_id: int) -> Row:
    """Return a shot; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute(f"SELECT {_COLUMNS} FROM shot WHERE id = %s", (shot_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_shot", "This shot does not exist. Go back to its project.")
    return row


def of_project(database: Database, project_id: int) -> list[Row]:
    """Return a project's shots in the order they were made, with the number of stills of each."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT shot.id, shot.name, shot.gathered, shot.created_at, COUNT(still.position) AS stills"
            " FROM shot LEFT JOIN still ON still.shot_id = shot.id"
            " WHERE shot.project_id = %s GROUP BY shot.id ORDER BY shot.id",
            (project_id,),
        )
        return list(cursor.fetchall())


def folder_of(row: Row) -> Path:
    """Return the folder that a row of a shot, or of a rename of it, holds."""
    return Path(row["folder"].decode("utf-8", "surrogateescape"))


def folder_bytes(folder: Path) -> bytes:
    """Return a folder as rows hold it: as bytes, since its name may be no text."""
    return str(folder).encode("utf-8", "surrogateescape")


def latest(database: Database, shot_id: int) -> tuple[int, Decisions]:
    """Return the newest revision's number and decisions; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT number, decisions FROM revision WHERE shot_id = %s ORDER BY number DESC LIMIT 1", (shot_id,)
        )
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_shot", "This shot does not exist. Go back to its project.")
    return int(row["number"]), Decisions.model_validate_json(row["decisions"])


def revise(database: Database, shot_id: int, seen: int, decisions: Decisions) -> int:
    """Append a revision made from revision ``seen``; returns its number.

    Raises ``Conflict`` (``stale_revision``) if there is a newer one, saying what it changed.
    """
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT number, decisions FROM revision WHERE shot_id = %s ORDER BY number DESC LIMIT 1 FOR UPDATE",
            (shot_id,),
        )
        row = cursor.fetchone()
        if row is None:
            raise NotFound("no_such_shot", "This shot does not exist. Go back to its project.")
        newest = int(row["number"])
        if newest != seen:
            raise Conflict("stale_revision", _changed(cursor, shot_id, seen, row))
        if Decisions.model_validate_json(row["decisions"]) == decisions:
            return newest
        cursor.execute(
            "INSERT INTO revision (shot_id, number, decisions) VALUES (%s, %s, %s)",
            (shot_id, newest + 1, decisions.model_dump_json()),
        )
        if Decisions.model_validate_json(row["decisions"]).order != decisions.order:
            order.arrange(cursor, shot_id, decisions.order.by)
        return newest + 1


def _changed(cursor: object, shot_id: int, seen: int, newest: Row) -> str:
    cursor.execute("SELECT decisions FROM revision WHERE shot_id = %s AND number = %s", (shot_id, seen))  # type: ignore[attr-defined]
    row = cursor.fetchone()  # type: ignore[attr-defined]
    current = Decisions.model_validate_json(newest["decisions"]).model_dump()
    before = Decisions.model_validate_json(row["decisions"]).model_dump() if row else {}
    steps = [step for step in current if before.get(step) != current[step]]
    what = " and ".join(steps) or "these decisions"
    return f"In another window {what} was changed meanwhile. The newer decisions are shown now; make your change again."
