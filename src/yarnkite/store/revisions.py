"""The revisions of what was decided about a shot: append-only, so that undo, versions and two open tabs work."""

import json
import logging

from pydantic import ValidationError
from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import Conflict, NotFound, Refusal
from yarnkite.core.render.decisions import Decisions
from yarnkite.store import id_lists, order
from yarnkite.store.database import Database, Row, retried

log = logging.getLogger(__name__)

_COLUMNS = "number, decisions, undo_to, redo_to, version_id"


def first(
    cursor: DictCursor, shot_id: int, decisions: Decisions, version_id: int | None = None, number: int = 1
) -> None:
    """Begin a shot's revisions, or those of one of its versions."""
    _insert(cursor, shot_id, number, decisions, undo_to=None, redo_to=None, version=version_id)


def latest(database: Database, shot_id: int) -> tuple[int, Decisions]:
    """Return the newest revision's number, and its decisions or the newest that can be read; raises ``NotFound``."""
    with database.transaction() as cursor:
        return newest_readable(cursor, shot_id)


def newest_readable(cursor: DictCursor, shot_id: int) -> tuple[int, Decisions]:
    """Return what ``latest`` does, within a transaction."""
    cursor.execute("SELECT number FROM revision WHERE shot_id = %s ORDER BY number DESC LIMIT 1", (shot_id,))
    row = cursor.fetchone()
    if row is None:
        raise _no_such_shot()
    _, decisions = _readable(cursor, shot_id, int(row["number"]))
    return int(row["number"]), decisions


def unreadable_since(database: Database, shot_id: int) -> int:
    """Return how many of the newest revisions cannot be read and are passed over; 0 is the rule."""
    with database.transaction() as cursor:
        cursor.execute("SELECT MAX(number) AS number FROM revision WHERE shot_id = %s", (shot_id,))
        newest = (cursor.fetchone() or {})["number"]
        if newest is None:
            return 0
        readable, _ = _readable(cursor, shot_id, int(newest))
        return int(newest) - readable


def listed(database: Database, shot_id: int, most: int) -> list[Row]:
    """Return the newest revisions of a shot that can be read, the newest first: number, decisions, created_at,
    version."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT revision.number, decisions, created_at, version.name AS version "
            "FROM revision LEFT JOIN version ON version.id = revision.version_id "
            "WHERE revision.shot_id = %s ORDER BY revision.number DESC LIMIT %s",
            (shot_id, most),
        )
        rows = [row | {"decisions": _read(cursor, row["decisions"])} for row in cursor.fetchall()]
    return [row for row in rows if row["decisions"] is not None]


@retried
def revise(database: Database, shot_id: int, seen: int, decisions: Decisions) -> int:
    """Append a revision made from revision ``seen``; returns its number.

    Raises ``Conflict`` (``stale_revision``) if there is a newer one, saying what it changed.
    """
    with database.transaction() as cursor:
        return revise_within(cursor, shot_id, seen, decisions)


def revise_within(cursor: DictCursor, shot_id: int, seen: int, decisions: Decisions) -> int:
    """Append a revision as ``revise`` does, within a transaction."""
    row = newest(cursor, shot_id, seen)
    if row["decided"] == decisions:
        return seen
    return append(cursor, shot_id, row, decisions, undo_to=seen, redo_to=None, version=row["version_id"])


@retried
def undo(database: Database, shot_id: int, seen: int) -> int:
    """Undo: append a revision like the one before the newest change; returns its number.

    Raises ``NotFound`` (``nothing_to_undo``) at the first one, and ``Conflict`` as ``revise`` does.
    """
    with database.transaction() as cursor:
        return undo_within(cursor, shot_id, newest(cursor, shot_id, seen))


def undo_within(cursor: DictCursor, shot_id: int, row: Row) -> int:
    """Undo a shot's newest revision as ``undo`` does, within a transaction that holds it."""
    target = _first_readable_back(cursor, shot_id, row["undo_to"])
    if target is None:
        raise NotFound("nothing_to_undo", "There is nothing to undo.")
    return append(
        *(cursor, shot_id, row, target["decided"]),
        undo_to=target["undo_to"],
        redo_to=int(row["number"]),
        version=target["version_id"],
    )


@retried
def redo(database: Database, shot_id: int, seen: int) -> int:
    """Redo what was undone last; raises ``NotFound`` (``nothing_to_redo``) and ``Conflict`` like ``undo``."""
    with database.transaction() as cursor:
        row = newest(cursor, shot_id, seen)
        target = None if row["redo_to"] is None else one(cursor, shot_id, row["redo_to"])
        if target is None or target["decided"] is None:
            raise NotFound("nothing_to_redo", "There is nothing to redo.")
        return append(
            *(cursor, shot_id, row, target["decided"]),
            undo_to=seen,
            redo_to=target["redo_to"],
            version=target["version_id"],
        )


def steps(database: Database, shot_id: int) -> tuple[bool, bool]:
    """Tell whether the newest revision can be undone, and whether one can be redone."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT undo_to, redo_to FROM revision WHERE shot_id = %s ORDER BY number DESC LIMIT 1", (shot_id,)
        )
        row = cursor.fetchone() or {"undo_to": None, "redo_to": None}
    return row["undo_to"] is not None, row["redo_to"] is not None


def decided_by(database: Database, shot_id: int, number: int) -> Decisions:
    """Return the decisions of a revision; for one that cannot be read, of the last readable before it.

    Raises ``NotFound``.
    """
    with database.transaction() as cursor:
        one(cursor, shot_id, number)
        return _readable(cursor, shot_id, number)[1]


def newest(cursor: DictCursor, shot_id: int, seen: int | None = None) -> Row:
    """Return the newest revision, held until the transaction ends, with what it ``decided``.

    Raises ``Conflict`` if it is not the one ``seen``.
    """
    cursor.execute(
        f"SELECT {_COLUMNS} FROM revision WHERE shot_id = %s ORDER BY number DESC LIMIT 1 FOR UPDATE", (shot_id,)
    )
    row = cursor.fetchone()
    if row is None:
        raise _no_such_shot()
    number = int(row["number"])
    row["decided"] = _readable(cursor, shot_id, number)[1]
    if seen is not None and number != seen:
        raise Conflict("stale_revision", _changed(cursor, shot_id, seen, row["decided"]))
    return row


def one(cursor: DictCursor, shot_id: int, number: int) -> Row:
    """Return a revision with what it ``decided``, ``None`` where that cannot be read; raises ``NotFound``."""
    cursor.execute(f"SELECT {_COLUMNS} FROM revision WHERE shot_id = %s AND number = %s", (shot_id, number))
    row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_revision", "These decisions are not kept. Open the shot again.")
    return row | {"decided": _read(cursor, row["decisions"])}


def of_version(cursor: DictCursor, shot_id: int, version_id: int) -> Decisions | None:
    """Return what the newest readable revision of a version decides, or ``None`` if it has none."""
    cursor.execute(
        "SELECT decisions FROM revision WHERE shot_id = %s AND version_id = %s ORDER BY number DESC",
        (shot_id, version_id),
    )
    return next((found for row in cursor.fetchall() if (found := _read(cursor, row["decisions"])) is not None), None)


def append(
    cursor: DictCursor,
    shot_id: int,
    newest: Row,
    decisions: Decisions,
    *,
    undo_to: int | None,
    redo_to: int | None,
    version: int | None,
) -> int:
    """Append a revision of a version after the newest one; returns its number."""
    number = int(newest["number"]) + 1
    _insert(cursor, shot_id, number, decisions, undo_to=undo_to, redo_to=redo_to, version=version)
    if newest["decided"].order != decisions.order:
        order.arrange(cursor, shot_id, decisions.order)
    return number


def _insert(
    cursor: DictCursor,
    shot_id: int,
    number: int,
    decisions: Decisions,
    *,
    undo_to: int | None,
    redo_to: int | None,
    version: int | None,
) -> None:
    stored = json.dumps(id_lists.detached(cursor, _checked(decisions).model_dump(mode="json")))
    cursor.execute(
        "INSERT INTO revision (shot_id, number, decisions, undo_to, redo_to, version_id) "
        "VALUES (%s, %s, %s, %s, %s, %s)",
        (shot_id, number, stored, undo_to, redo_to, version),
    )


def _checked(decisions: Decisions) -> Decisions:
    """Return decisions as they will be read back; raises ``Refusal`` if they would not be."""
    text = decisions.model_dump_json()
    try:
        return Decisions.model_validate_json(text)
    except ValidationError as error:
        reasons = "; ".join(dict.fromkeys(one["msg"].removeprefix("Value error, ") for one in error.errors()))
        raise Refusal("cannot_be_decided", f"This cannot be decided: {reasons}") from error


def _readable(cursor: DictCursor, shot_id: int, number: int) -> tuple[int, Decisions]:
    """Return the newest revision up to a number that can be read; where none can, what every shot begins with."""
    while number > 0:
        cursor.execute(
            "SELECT number, decisions FROM revision WHERE shot_id = %s AND number <= %s ORDER BY number DESC LIMIT 1",
            (shot_id, number),
        )
        row = cursor.fetchone()
        if row is None:
            break
        decisions = _read(cursor, row["decisions"])
        if decisions is not None:
            return int(row["number"]), decisions
        log.warning("revision %s of shot %s cannot be read", row["number"], shot_id)
        number = int(row["number"]) - 1
    return 0, Decisions()


def _first_readable_back(cursor: DictCursor, shot_id: int, number: int | None) -> Row | None:
    while number is not None:
        row = one(cursor, shot_id, number)
        if row["decided"] is not None:
            return row
        number = row["undo_to"]
    return None


def _read(cursor: DictCursor, text: str) -> Decisions | None:
    """Return stored decisions, or ``None`` where another edition or damage left what cannot be read."""
    try:
        return Decisions.model_validate(id_lists.attached(cursor, json.loads(text)))
    except (ValueError, TypeError):
        return None


def _changed(cursor: DictCursor, shot_id: int, seen: int, now: Decisions) -> str:
    cursor.execute("SELECT decisions FROM revision WHERE shot_id = %s AND number = %s", (shot_id, seen))
    row = cursor.fetchone()
    before = _read(cursor, row["decisions"]) if row else None
    steps = [step for step, value in now if before is None or getattr(before, step) != value]
    what = " and ".join(steps) or "these decisions"
    return f"In another window {what} was changed meanwhile. The newer decisions are shown now; make your change again."


def _no_such_shot() -> NotFound:
    return NotFound("no_such_shot", "This shot does not exist. Go back to its project.")
