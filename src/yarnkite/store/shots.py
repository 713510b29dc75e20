"""Shots, and the revisions of what was decided about them."""

import json
from dataclasses import asdict
from pathlib import Path

from pymysql.cursors import DictCursor

from yarnkite.core.errors import Conflict, NotFound
from yarnkite.core.recipe import Decisions
from yarnkite.core.weight import Weight
from yarnkite.store import order
from yarnkite.store.database import Database, Row

_COLUMNS = "id, project_id, name, folder, source, copied, gathered, raws, kept, weight, created_at"


def add(
    database: Database, project_id: int, name: str, folder: Path, *, copied: bool, source: Path | None = None
) -> int:
    """Make a shot with a first revision of sensible decisions; returns its id.

    ``source`` is where the files of a copied shot come from, if it is a folder on this machine.
    """
    with database.transaction() as cursor:
        return insert(cursor, project_id, name, folder, copied=copied, source=source)


def insert(
    cursor: DictCursor,
    project_id: int,
    name: str,
    folder: Path,
    *,
    copied: bool,
    source: Path | None = None,
    decisions: Decisions | None = None,
) -> int:
    """Make a shot within the transaction of ``cursor``; returns its id."""
    cursor.execute(
        "INSERT INTO shot (project_id, name, folder, copied, source) VALUES (%s, %s, %s, %s, %s)",
        (project_id, name[:120], folder_bytes(folder), copied, folder_bytes(source) if source else None),
    )
    shot_id = int(cursor.lastrowid)
    cursor.execute(
        "INSERT INTO revision (shot_id, number, decisions) VALUES (%s, 1, %s)",
        (shot_id, (decisions or Decisions()).model_dump_json()),
    )
    return shot_id


def set_folder(database: Database, shot_id: int, folder: Path) -> None:
    """Note that a shot's files lie in another folder."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET folder = %s WHERE id = %s", (folder_bytes(folder), shot_id))


def rename(database: Database, shot_id: int, name: str) -> None:
    """Give a shot another name; its files keep theirs."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET name = %s WHERE id = %s", (name[:120], shot_id))


def delete(database: Database, shot_id: int) -> None:
    """Forget a shot; files are not touched."""
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM shot WHERE id = %s", (shot_id,))


def set_raws(database: Database, shot_id: int, raws: bool) -> None:
    """Note whether, of a raw file and a picture of the same exposure, the raw file is the still."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET raws = %s, gathered = FALSE WHERE id = %s", (raws, shot_id))


def kept(shot: Row) -> list[str]:
    """Return the keys of the proposals that were turned down for a shot."""
    return json.loads(shot["kept"]) if shot["kept"] else []


def keep(database: Database, shot_id: int, keys: list[str]) -> None:
    """Note proposals that were turned down."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET kept = %s WHERE id = %s", (json.dumps(keys), shot_id))


def arrange(database: Database, shot_id: int) -> None:
    """Put a shot's stills in the order its newest revision decides."""
    _, decisions = latest(database, shot_id)
    with database.transaction() as cursor:
        order.arrange(cursor, shot_id, decisions.order)


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


def with_origin(database: Database, project_id: int, folder: Path) -> int | None:
    """Return the project's first shot whose files are, or were copied from, a folder, or ``None``."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id FROM shot WHERE project_id = %s AND COALESCE(source, folder) = %s ORDER BY id LIMIT 1",
            (project_id, folder_bytes(folder)),
        )
        row = cursor.fetchone()
    return None if row is None else int(row["id"])


def folder_of(row: Row) -> Path:
    """Return the folder that a row of a shot, or of a rename of it, holds."""
    return _path(row["folder"])


def source_of(row: Row) -> Path | None:
    """Return the folder a copied shot's files come from, if it is one on this machine."""
    return _path(row["source"]) if row["source"] else None


def _path(held: bytes) -> Path:
    return Path(held.decode("utf-8", "surrogateescape"))


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


def revisions(database: Database, shot_id: int, most: int) -> list[Row]:
    """Return the newest revisions of a shot, the newest first: number, decisions, created_at and version."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT revision.number, decisions, created_at, version.name AS version FROM revision"
            " LEFT JOIN version ON version.id = revision.version_id"
            " WHERE revision.shot_id = %s ORDER BY revision.number DESC LIMIT %s",
            (shot_id, most),
        )
        rows = list(cursor.fetchall())
    return [row | {"decisions": Decisions.model_validate_json(row["decisions"])} for row in rows]


def revise(database: Database, shot_id: int, seen: int, decisions: Decisions) -> int:
    """Append a revision made from revision ``seen``; returns its number.

    Raises ``Conflict`` (``stale_revision``) if there is a newer one, saying what it changed.
    """
    with database.transaction() as cursor:
        row = newest(cursor, shot_id, seen)
        if Decisions.model_validate_json(row["decisions"]) == decisions:
            return seen
        return append(cursor, shot_id, row, decisions, back=seen, forth=None, version=row["version_id"])


def step_back(database: Database, shot_id: int, seen: int) -> int:
    """Undo: append a revision like the one before the newest change; returns its number.

    Raises ``NotFound`` (``nothing_to_undo``) at the first one, and ``Conflict`` as ``revise`` does.
    """
    with database.transaction() as cursor:
        row = newest(cursor, shot_id, seen)
        if row["back"] is None:
            raise NotFound("nothing_to_undo", "There is nothing to undo.")
        target = _revision(cursor, shot_id, row["back"])
        decisions = Decisions.model_validate_json(target["decisions"])
        version = target["version_id"]
        return append(cursor, shot_id, row, decisions, back=target["back"], forth=seen, version=version)


def step_forth(database: Database, shot_id: int, seen: int) -> int:
    """Redo what was undone last; raises ``NotFound`` (``nothing_to_redo``) and ``Conflict`` like ``step_back``."""
    with database.transaction() as cursor:
        row = newest(cursor, shot_id, seen)
        if row["forth"] is None:
            raise NotFound("nothing_to_redo", "There is nothing to redo.")
        target = _revision(cursor, shot_id, row["forth"])
        decisions = Decisions.model_validate_json(target["decisions"])
        version = target["version_id"]
        return append(cursor, shot_id, row, decisions, back=seen, forth=target["forth"], version=version)


def steps(database: Database, shot_id: int) -> tuple[bool, bool]:
    """Tell whether the newest revision can be undone, and whether one can be redone."""
    with database.transaction() as cursor:
        cursor.execute("SELECT back, forth FROM revision WHERE shot_id = %s ORDER BY number DESC LIMIT 1", (shot_id,))
        row = cursor.fetchone() or {"back": None, "forth": None}
    return row["back"] is not None, row["forth"] is not None


def revision(database: Database, shot_id: int, number: int) -> Decisions:
    """Return the decisions of a revision; raises ``NotFound``."""
    with database.transaction() as cursor:
        return Decisions.model_validate_json(_revision(cursor, shot_id, number)["decisions"])


def newest(cursor: DictCursor, shot_id: int, seen: int) -> Row:
    """Return the newest revision, held until the transaction ends; raises ``Conflict`` if it is not the one seen."""
    cursor.execute(
        "SELECT number, decisions, back, forth, version_id FROM revision WHERE shot_id = %s ORDER BY number DESC LIMIT 1"
        " FOR UPDATE",
        (shot_id,),
    )
    row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_shot", "This shot does not exist. Go back to its project.")
    if int(row["number"]) != seen:
        raise Conflict("stale_revision", _changed(cursor, shot_id, seen, row))
    return row


def _revision(cursor: DictCursor, shot_id: int, number: int) -> Row:
    cursor.execute(
        "SELECT number, decisions, back, forth, version_id FROM revision WHERE shot_id = %s AND number = %s",
        (shot_id, number),
    )
    row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_revision", "These decisions are not kept. Open the shot again.")
    return row


def append(
    cursor: DictCursor,
    shot_id: int,
    newest: Row,
    decisions: Decisions,
    *,
    back: int | None,
    forth: int | None,
    version: int | None,
) -> int:
    """Append a revision of a version after the newest one; returns its number."""
    number = int(newest["number"]) + 1
    cursor.execute(
        "INSERT INTO revision (shot_id, number, decisions, back, forth, version_id) VALUES (%s, %s, %s, %s, %s, %s)",
        (shot_id, number, decisions.model_dump_json(), back, forth, version),
    )
    if Decisions.model_validate_json(newest["decisions"]).order != decisions.order:
        order.arrange(cursor, shot_id, decisions.order)
    return number


def _changed(cursor: DictCursor, shot_id: int, seen: int, newest: Row) -> str:
    cursor.execute("SELECT decisions FROM revision WHERE shot_id = %s AND number = %s", (shot_id, seen))
    row = cursor.fetchone()
    current = Decisions.model_validate_json(newest["decisions"]).model_dump()
    before = Decisions.model_validate_json(row["decisions"]).model_dump() if row else {}
    steps = [step for step in current if before.get(step) != current[step]]
    what = " and ".join(steps) or "these decisions"
    return f"In another window {what} was changed meanwhile. The newer decisions are shown now; make your change again."
