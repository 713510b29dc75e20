"""Reels of a project and the revisions of what was decided about them: append-only, as those of shots are."""

import logging
from collections.abc import Callable

from pydantic import ValidationError
from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.reel.decisions import Reel
from yarnkite.store import jobs, projects
from yarnkite.store.database import Database, Row, retried

log = logging.getLogger(__name__)

_COLUMNS = "reel.id, reel.project_id, reel.name, reel.created_at"
_IN_USE = (
    "reel.deleted_at IS NULL"
    " AND EXISTS (SELECT 1 FROM project WHERE project.id = reel.project_id AND project.deleted_at IS NULL)"
)


@retried
def add(database: Database, project_id: int, name: str, decisions: Reel) -> int:
    """Make a reel with its first revision; returns its id. Raises ``NotFound`` for the project."""
    projects.one(database, project_id)
    with database.transaction() as cursor:
        cursor.execute("INSERT INTO reel (project_id, name) VALUES (%s, %s)", (project_id, name[:120]))
        reel_id = int(cursor.lastrowid)
        _append(cursor, reel_id, 1, decisions, undo_to=None, redo_to=None)
        return reel_id


def one(database: Database, reel_id: int) -> Row:
    """Return a reel; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute(f"SELECT {_COLUMNS} FROM reel WHERE reel.id = %s AND {_IN_USE}", (reel_id,))
        row = cursor.fetchone()
    if row is None:
        raise _no_such_reel()
    return row


def of_project(database: Database, project_id: int) -> list[Row]:
    """Return a project's reels in the order they were made."""
    with database.transaction() as cursor:
        cursor.execute(
            f"SELECT {_COLUMNS} FROM reel WHERE reel.project_id = %s AND {_IN_USE} ORDER BY reel.id", (project_id,)
        )
        return list(cursor.fetchall())


@retried
def rename(database: Database, reel_id: int, name: str) -> None:
    with database.transaction() as cursor:
        cursor.execute("UPDATE reel SET name = %s WHERE id = %s", (name[:120], reel_id))


def locked(cursor: DictCursor, reel_id: int) -> Row:
    """Return a reel that no other change touches until the transaction ends; raises ``NotFound``."""
    cursor.execute(f"SELECT {_COLUMNS} FROM reel WHERE id = %s AND deleted_at IS NULL FOR UPDATE", (reel_id,))
    row = cursor.fetchone()
    if row is None:
        raise _no_such_reel()
    return row


def latest(database: Database, reel_id: int) -> tuple[int, Reel]:
    """Return the newest revision's number, and its decisions or the newest that can be read; raises ``NotFound``."""
    with database.transaction() as cursor:
        row = _newest(cursor, reel_id)
        return int(row["number"]), _readable(cursor, reel_id, int(row["number"]))[1]


def unreadable_since(database: Database, reel_id: int) -> int:
    """Return how many of the newest revisions cannot be read and are passed over; 0 is the rule. Raises
    ``NotFound``."""
    with database.transaction() as cursor:
        newest = int(_newest(cursor, reel_id)["number"])
        return newest - _readable(cursor, reel_id, newest)[0]


def decided_by(database: Database, reel_id: int, number: int) -> Reel:
    """Return the decisions of a revision, or of the last readable one before it; raises ``NotFound``."""
    with database.transaction() as cursor:
        if _row(cursor, reel_id, number) is None:
            raise NotFound("no_such_revision", "This revision does not exist. Reload the page.")
        return _readable(cursor, reel_id, number)[1]


def steps(database: Database, reel_id: int) -> tuple[bool, bool]:
    """Tell whether the newest revision can be undone, and whether one can be redone."""
    with database.transaction() as cursor:
        row = _newest(cursor, reel_id)
    return row["undo_to"] is not None, row["redo_to"] is not None


@retried
def revise(database: Database, reel_id: int, seen: int, decisions: Reel) -> int:
    """Append a revision made from revision ``seen``; returns its number. Raises ``Conflict`` if there is a newer
    one."""
    with database.transaction() as cursor:
        row = _seen(cursor, reel_id, seen)
        if _readable(cursor, reel_id, seen) == (seen, decisions):
            return seen
        return _append(cursor, reel_id, int(row["number"]) + 1, decisions, undo_to=seen, redo_to=None)


@retried
def change(
    database: Database, reel_id: int, changed: Callable[[Reel], Reel], ending: tuple[int, str] | None = None
) -> int:
    """Append a revision that changes the newest one, whichever that is; returns its number.

    ``ending`` is a job, with its message, that has done its work by that: both, or neither.
    """
    with database.transaction() as cursor:
        locked(cursor, reel_id)
        if ending:
            jobs.end_within(cursor, ending[0], "finished", ending[1])
        row = _newest(cursor, reel_id, lock=True)
        number = int(row["number"])
        _, before = _readable(cursor, reel_id, number)
        after = changed(before)
        if after == before:
            return number
        return _append(cursor, reel_id, number + 1, after, undo_to=number, redo_to=None)


@retried
def undo(database: Database, reel_id: int, seen: int) -> int:
    """Undo the newest change; returns the new revision. Raises ``NotFound`` at the first one, and ``Conflict``."""
    with database.transaction() as cursor:
        row = _seen(cursor, reel_id, seen)
        target = _row(cursor, reel_id, row["undo_to"]) if row["undo_to"] else None
        if target is None:
            raise NotFound("nothing_to_undo", "There is nothing to undo.")
        _, decided = _readable(cursor, reel_id, int(target["number"]))
        return _append(cursor, reel_id, seen + 1, decided, undo_to=target["undo_to"], redo_to=seen)


@retried
def redo(database: Database, reel_id: int, seen: int) -> int:
    """Redo what was undone last; raises ``NotFound`` (``nothing_to_redo``) and ``Conflict`` like ``undo``."""
    with database.transaction() as cursor:
        row = _seen(cursor, reel_id, seen)
        target = _row(cursor, reel_id, row["redo_to"]) if row["redo_to"] else None
        if target is None:
            raise NotFound("nothing_to_redo", "There is nothing to redo.")
        _, decided = _readable(cursor, reel_id, int(target["number"]))
        return _append(cursor, reel_id, seen + 1, decided, undo_to=seen, redo_to=target["redo_to"])


def follow(cursor: DictCursor, project_id: int, changed: Callable[[Reel], Reel]) -> None:
    """Change all reels of a project as its shots change, within the transaction of ``cursor``.

    There is no way back past this revision, since the shots were others before.
    """
    cursor.execute("SELECT id FROM reel WHERE project_id = %s ORDER BY id FOR UPDATE", (project_id,))
    for reel in list(cursor.fetchall()):
        number = int(_newest(cursor, reel["id"], lock=True)["number"])
        _, before = _readable(cursor, reel["id"], number)
        after = changed(before)
        if after != before:
            _append(cursor, reel["id"], number + 1, after, undo_to=None, redo_to=None)


def _append(
    cursor: DictCursor, reel_id: int, number: int, decisions: Reel, *, undo_to: int | None, redo_to: int | None
) -> int:
    cursor.execute(
        "INSERT INTO reel_revision (reel_id, number, decisions, undo_to, redo_to) VALUES (%s, %s, %s, %s, %s)",
        (reel_id, number, decisions.model_dump_json(), undo_to, redo_to),
    )
    return number


def _newest(cursor: DictCursor, reel_id: int, *, lock: bool = False) -> Row:
    cursor.execute(
        "SELECT number, undo_to, redo_to FROM reel_revision WHERE reel_id = %s ORDER BY number DESC LIMIT 1"
        + (" FOR UPDATE" if lock else ""),
        (reel_id,),
    )
    row = cursor.fetchone()
    if row is None:
        raise _no_such_reel()
    return row


def _seen(cursor: DictCursor, reel_id: int, seen: int) -> Row:
    locked(cursor, reel_id)
    row = _newest(cursor, reel_id, lock=True)
    if int(row["number"]) != seen:
        raise Conflict(
            "stale_revision",
            "This reel was changed in another window. What you see now is how it is; do it again there.",
        )
    return row


def _row(cursor: DictCursor, reel_id: int, number: int) -> Row | None:
    cursor.execute(
        "SELECT number, decisions, undo_to, redo_to FROM reel_revision WHERE reel_id = %s AND number = %s",
        (reel_id, number),
    )
    return cursor.fetchone()


def _readable(cursor: DictCursor, reel_id: int, number: int) -> tuple[int, Reel]:
    """Return the newest revision up to a number that can be read; where none can, what every reel begins with."""
    cursor.execute(
        "SELECT number, decisions FROM reel_revision WHERE reel_id = %s AND number <= %s ORDER BY number DESC",
        (reel_id, number),
    )
    for row in cursor.fetchall():
        try:
            return int(row["number"]), Reel.model_validate_json(row["decisions"])
        except ValidationError:
            log.warning("revision %s of reel %s cannot be read", row["number"], reel_id)
    return 0, Reel()


def _no_such_reel() -> NotFound:
    return NotFound("no_such_reel", "This reel does not exist. Go back to its project.")
