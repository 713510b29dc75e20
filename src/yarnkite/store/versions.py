"""Versions of a shot: its stills and checks once, with more than one fit, pace and format."""

from pymysql.cursors import DictCursor
from pymysql.err import IntegrityError

from yarnkite.core.errors import Conflict, NotFound
from yarnkite.core.recipe import Decisions
from yarnkite.store import shots
from yarnkite.store.database import Database, Row

FIRST = "first version"


def of_shot(database: Database, shot_id: int) -> list[Row]:
    """Return a shot's versions, id and name, in the order they were made; none until there are two."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id, name FROM version WHERE shot_id = %s ORDER BY id", (shot_id,))
        return list(cursor.fetchall())


def current(database: Database, shot_id: int) -> Row | None:
    """Return the version the newest revision belongs to, or ``None`` if the shot has only one."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT version.id, version.name FROM revision LEFT JOIN version ON version.id = revision.version_id"
            " WHERE revision.shot_id = %s ORDER BY revision.number DESC LIMIT 1",
            (shot_id,),
        )
        row = cursor.fetchone()
    return row if row and row["id"] is not None else None


def add(database: Database, shot_id: int, seen: int, name: str) -> int:
    """Begin a version that decides what the newest revision does; returns the number of its first revision.

    Raises ``Conflict`` (``name_taken``, or as ``shots.revise``).
    """
    with database.transaction() as cursor:
        row = shots.newest(cursor, shot_id, seen)
        if row["version_id"] is None:
            before = _insert(cursor, shot_id, FIRST)
            cursor.execute("UPDATE revision SET version_id = %s WHERE shot_id = %s", (before, shot_id))
        version = _insert(cursor, shot_id, name)
        decisions = Decisions.model_validate_json(row["decisions"])
        return shots.append(cursor, shot_id, row, decisions, back=seen, forth=None, version=version)


def switch(database: Database, shot_id: int, seen: int, version_id: int) -> int:
    """Go on with another version; order and check stay as they are. Returns the number of the new revision.

    Raises ``NotFound``, and ``Conflict`` as ``shots.revise`` does.
    """
    with database.transaction() as cursor:
        row = shots.newest(cursor, shot_id, seen)
        if row["version_id"] == version_id:
            return seen
        cursor.execute(
            "SELECT decisions FROM revision WHERE shot_id = %s AND version_id = %s ORDER BY number DESC LIMIT 1",
            (shot_id, version_id),
        )
        last = cursor.fetchone()
        if last is None:
            raise NotFound("no_such_version", "This version does not exist any more.")
        shared = Decisions.model_validate_json(row["decisions"])
        wanted = Decisions.model_validate_json(last["decisions"])
        decisions = wanted.model_copy(update={"order": shared.order, "check": shared.check})
        return shots.append(cursor, shot_id, row, decisions, back=seen, forth=None, version=version_id)


def rename(database: Database, shot_id: int, version_id: int, name: str) -> None:
    """Give a version another name; raises ``Conflict`` (``name_taken``)."""
    with database.transaction() as cursor:
        try:
            cursor.execute("UPDATE version SET name = %s WHERE id = %s AND shot_id = %s", (name, version_id, shot_id))
        except IntegrityError:
            raise _taken(name) from None


def delete(database: Database, shot_id: int, version_id: int) -> None:
    """Forget a version; raises ``Conflict`` (``version_in_use``) for the one that is open."""
    now = current(database, shot_id)
    if now is not None and now["id"] == version_id:
        raise Conflict("version_in_use", f"“{now['name']}” is the version that is open. Open another one first.")
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM version WHERE id = %s AND shot_id = %s", (version_id, shot_id))


def _insert(cursor: DictCursor, shot_id: int, name: str) -> int:
    try:
        cursor.execute("INSERT INTO version (shot_id, name) VALUES (%s, %s)", (shot_id, name))
    except IntegrityError:
        raise _taken(name) from None
    return int(cursor.lastrowid)


def _taken(name: str) -> Conflict:
    return Conflict("name_taken", f"There is a version “{name}” already. Choose another name.")
