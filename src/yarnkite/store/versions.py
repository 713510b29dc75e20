"""Versions of a shot: its stills and checks once, with more than one fit, pace and format."""

from collections.abc import Sequence

from pymysql.cursors import DictCursor
from pymysql.err import IntegrityError

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.render.decisions import Decisions
from yarnkite.store import revisions
from yarnkite.store.database import Database, Row, retried

FIRST = "first version"
LONGEST = 60


def of_shot(database: Database, shot_id: int) -> list[Row]:
    """Return a shot's versions, id and name, in the order they were made; none until there are two."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id, name FROM version WHERE shot_id = %s ORDER BY id", (shot_id,))
        return list(cursor.fetchall())


def current(database: Database, shot_id: int) -> Row | None:
    """Return the version the newest revision belongs to, or ``None`` if the shot has only one."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT version.id, version.name FROM revision LEFT JOIN version ON version.id = revision.version_id "
            "WHERE revision.shot_id = %s ORDER BY revision.number DESC LIMIT 1",
            (shot_id,),
        )
        row = cursor.fetchone()
    return row if row and row["id"] is not None else None


@retried
def add(database: Database, shot_id: int, seen: int, name: str) -> int:
    """Begin a version that decides what the newest revision does; returns the number of its first revision.

    Raises ``Conflict`` (``name_taken``, or as ``shots.revise``).
    """
    with database.transaction() as cursor:
        row = revisions.newest(cursor, shot_id, seen)
        if row["version_id"] is None:
            _name_first(cursor, shot_id)
        version = _insert(cursor, shot_id, name)
        return revisions.append(cursor, shot_id, row, row["decided"], undo_to=seen, redo_to=None, version=version)


@retried
def switch(database: Database, shot_id: int, seen: int, version_id: int) -> int:
    """Go on with another version; order and check stay as they are. Returns the number of the new revision.

    Raises ``NotFound``, and ``Conflict`` as ``shots.revise`` does.
    """
    with database.transaction() as cursor:
        row = revisions.newest(cursor, shot_id, seen)
        if row["version_id"] == version_id:
            return seen
        wanted = revisions.of_version(cursor, shot_id, version_id)
        if wanted is None:
            raise NotFound("no_such_version", "This version does not exist any more.")
        decisions = wanted.model_copy(update={"order": row["decided"].order, "check": row["decided"].check})
        return revisions.append(cursor, shot_id, row, decisions, undo_to=seen, redo_to=None, version=version_id)


@retried
def rename(database: Database, shot_id: int, version_id: int, name: str) -> None:
    """Give a version another name; raises ``Conflict`` (``name_taken``)."""
    with database.transaction() as cursor:
        try:
            cursor.execute("UPDATE version SET name = %s WHERE id = %s AND shot_id = %s", (name, version_id, shot_id))
        except IntegrityError:
            raise _taken(name) from None


@retried
def delete(database: Database, shot_id: int, version_id: int) -> None:
    """Forget a version; raises ``Conflict`` (``version_in_use``) for the one that is open."""
    with database.transaction() as cursor:
        if revisions.newest(cursor, shot_id)["version_id"] == version_id:
            cursor.execute("SELECT name FROM version WHERE id = %s", (version_id,))
            name = (cursor.fetchone() or {"name": ""})["name"]
            raise Conflict("version_in_use", f"“{name}” is the version that is open. Open another one first.")
        cursor.execute("DELETE FROM version WHERE id = %s AND shot_id = %s", (version_id, shot_id))


def decided(database: Database, shot_id: int, version_id: int) -> tuple[str, Decisions] | None:
    """Return a version's name and what it decides, with the order and checks of the open one; ``None`` if it is
    gone."""
    with database.transaction() as cursor:
        cursor.execute("SELECT name FROM version WHERE id = %s AND shot_id = %s", (version_id, shot_id))
        row = cursor.fetchone()
        found = revisions.of_version(cursor, shot_id, version_id) if row else None
        if row is None or found is None:
            return None
        _, shared = revisions.newest_readable(cursor, shot_id)
        return row["name"], found.model_copy(update={"order": shared.order, "check": shared.check})


def all_decided(cursor: DictCursor, shot_id: int) -> list[tuple[str | None, Decisions]]:
    """Return what each version of a shot decides, by name, the open one last; its name is ``None`` if it has none.

    Order and check are those of the open one, which all share.
    """
    newest = revisions.newest(cursor, shot_id)
    cursor.execute("SELECT id, name FROM version WHERE shot_id = %s ORDER BY id", (shot_id,))
    names = {row["id"]: row["name"] for row in cursor.fetchall()}
    others = [(names[version], decided) for version, decided in not_open(cursor, shot_id)]
    return [*others, (names.get(newest["version_id"]), newest["decided"])]


def not_open(cursor: DictCursor, shot_id: int) -> list[tuple[int, Decisions]]:
    """Return what each version that is not open decides, by id; order and check are those of the open one."""
    newest = revisions.newest(cursor, shot_id)
    shared = newest["decided"]
    cursor.execute("SELECT id FROM version WHERE shot_id = %s ORDER BY id", (shot_id,))
    result: list[tuple[int, Decisions]] = []
    for version_id in [int(row["id"]) for row in cursor.fetchall()]:
        decided = revisions.of_version(cursor, shot_id, version_id)
        if version_id != newest["version_id"] and decided is not None:
            result.append((version_id, decided.model_copy(update={"order": shared.order, "check": shared.check})))
    return result


def begin(cursor: DictCursor, shot_id: int, decided: Sequence[tuple[str | None, Decisions]]) -> None:
    """Begin the revisions of a shot that has none, one for each version as ``all_decided`` gives them."""
    for number, (name, decisions) in enumerate(decided, 1):
        version = None if name is None else _insert(cursor, shot_id, name)
        revisions.first(cursor, shot_id, decisions, version, number)


def add_beside(cursor: DictCursor, shot_id: int, decided: Sequence[tuple[str, Decisions]], now: Decisions) -> int:
    """Add versions to a shot without opening them: ``now`` is what the open one decides from then on.

    There is no way back past this revision, since the shot was another one before. Returns its number.
    """
    row = revisions.newest(cursor, shot_id)
    version = row["version_id"]
    if decided and version is None:
        version = _name_first(cursor, shot_id)
    cursor.execute("SELECT name FROM version WHERE shot_id = %s", (shot_id,))
    taken = {str(one["name"]).casefold() for one in cursor.fetchall()}
    for name, decisions in decided:
        free = _free(name, taken)
        taken.add(free.casefold())
        beside = _insert(cursor, shot_id, free)
        number = revisions.append(cursor, shot_id, row, decisions, undo_to=None, redo_to=None, version=beside)
        row = {"number": number, "decided": decisions}
    return revisions.append(cursor, shot_id, row, now, undo_to=None, redo_to=None, version=version)


def _free(name: str, taken: set[str]) -> str:
    for number in range(1, len(taken) + 3):
        candidate = name[:LONGEST] if number == 1 else f"{name[: LONGEST - 6]} ({number})"
        if candidate.casefold() not in taken:
            return candidate
    raise AssertionError("one more name than are taken is free")


def _name_first(cursor: DictCursor, shot_id: int) -> int:
    """Give the version that a shot has without a name one; returns its id."""
    first = _insert(cursor, shot_id, FIRST)
    cursor.execute("UPDATE revision SET version_id = %s WHERE shot_id = %s", (first, shot_id))
    return first


def _insert(cursor: DictCursor, shot_id: int, name: str) -> int:
    try:
        cursor.execute("INSERT INTO version (shot_id, name) VALUES (%s, %s)", (shot_id, name))
    except IntegrityError:
        raise _taken(name) from None
    return int(cursor.lastrowid)


def _taken(name: str) -> Conflict:
    return Conflict("name_taken", f"There is a version “{name}” already. Choose another name.")
