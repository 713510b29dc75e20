"""Sorting out: stills that become shots of their own, shots that become one, stills that are taken out."""

import os.path
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path

from pymysql.cursors import DictCursor

from yarnkite.core.errors import Conflict, NotFound
from yarnkite.core.recipe import Check, Decisions
from yarnkite.core.sorting import Seen
from yarnkite.store import order, shots
from yarnkite.store.database import Database, Row
from yarnkite.store.rows import rows

_LATER = 1_000_000
_SEEN = ("id", "name", "captured_at", "utc_offset_min", "width", "height", "camera", "software", "fingerprint")


@dataclass(frozen=True)
class Part:
    """Stills, by id, that become a shot of their own, and its name."""

    stills: tuple[int, ...]
    title: str


def seen(database: Database, shot_id: int, aside: Collection[int]) -> list[Seen]:
    """Return a shot's stills in order as sorting sees them, without those set aside."""
    with database.transaction() as cursor:
        return [_seen(row) for row in rows(cursor, shot_id, _SEEN) if row["id"] not in aside]


def split(database: Database, shot: Row, parts: Sequence[Part]) -> list[int]:
    """Make a shot of each part, with the decisions of the shot it comes from; returns their ids.

    Raises ``NotFound`` for a still the shot does not have, ``Conflict`` if nothing would be left.
    """
    _, decisions = shots.latest(database, shot["id"])
    with database.transaction() as cursor:
        cursor.execute("SELECT id FROM still WHERE shot_id = %s FOR UPDATE", (shot["id"],))
        left = {row["id"] for row in cursor.fetchall()}
        made = []
        for part in parts:
            if not part.stills or not left.issuperset(part.stills):
                raise NotFound("no_such_still", "The shot does not have these stills any more. Look at it again.")
            left.difference_update(part.stills)
            made.append(_part(cursor, shot, part, decisions))
        if not left:
            raise Conflict("nothing_left", "All stills would leave this shot. Leave at least one.")
        order.arrange(cursor, shot["id"], decisions.order)
        return made


def join(database: Database, shot: Row, other: Row, folder: Path) -> None:
    """Put the stills of another shot into a shot; ``folder`` is one both their folders lie in, or are."""
    _, decisions = shots.latest(database, shot["id"])
    _, others = shots.latest(database, other["id"])
    with database.transaction() as cursor:
        for one in (shot, other):
            inside = os.path.relpath(shots.folder_of(one), folder)
            if inside != ".":
                for table in ("still", "taken_out", "left_out"):
                    cursor.execute(
                        f"UPDATE {table} SET name = CONCAT(%s, '/', name) WHERE shot_id = %s", (inside, one["id"])
                    )
        cursor.execute("SELECT COALESCE(MAX(number), 0) AS last FROM still WHERE shot_id = %s", (shot["id"],))
        last = (cursor.fetchone() or {"last": 0})["last"]
        cursor.execute(
            "UPDATE still SET shot_id = %s, number = number + %s, position = position + %s WHERE shot_id = %s",
            (shot["id"], last + 1, _LATER, other["id"]),
        )
        cursor.execute("UPDATE taken_out SET shot_id = %s WHERE shot_id = %s", (shot["id"], other["id"]))
        cursor.execute("UPDATE shot SET folder = %s WHERE id = %s", (shots.folder_bytes(folder), shot["id"]))
        cursor.execute("DELETE FROM shot WHERE id = %s", (other["id"],))
        order.arrange(cursor, shot["id"], decisions.order)
    aside = Check(aside=(*decisions.check.aside, *others.check.aside))
    if aside != decisions.check:
        number, decisions = shots.latest(database, shot["id"])
        shots.revise(database, shot["id"], number, decisions.model_copy(update={"check": aside}))


def take_out(database: Database, shot_id: int, stills: Collection[int]) -> int:
    """Take stills out of a shot, so that gathering again does not bring them back; files stay. Returns how many."""
    _, decisions = shots.latest(database, shot_id)
    with database.transaction() as cursor:
        chosen = ", ".join(["%s"] * len(stills))
        cursor.execute(
            f"INSERT INTO taken_out (shot_id, name) SELECT shot_id, name FROM still"
            f" WHERE shot_id = %s AND id IN ({chosen})",
            (shot_id, *stills),
        )
        gone = cursor.execute(f"DELETE FROM still WHERE shot_id = %s AND id IN ({chosen})", (shot_id, *stills))
        order.arrange(cursor, shot_id, decisions.order)
        return gone


def taken_out(database: Database, shot_id: int) -> list[str]:
    """Return the names of the files that were taken out of a shot."""
    with database.transaction() as cursor:
        cursor.execute("SELECT name FROM taken_out WHERE shot_id = %s ORDER BY name", (shot_id,))
        return [row["name"] for row in cursor.fetchall()]


def bring_back(database: Database, shot_id: int) -> None:
    """Let gathering again bring back what was taken out."""
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM taken_out WHERE shot_id = %s", (shot_id,))


def of_siblings(database: Database, shot: Row) -> set[str]:
    """Return the names of the stills that other shots of the same project have from the same folder."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT still.name FROM still JOIN shot ON shot.id = still.shot_id"
            " WHERE shot.project_id = %s AND shot.folder = %s AND shot.id <> %s",
            (shot["project_id"], shot["folder"], shot["id"]),
        )
        return {row["name"] for row in cursor.fetchall()}


def _part(cursor: DictCursor, shot: Row, part: Part, decisions: Decisions) -> int:
    own = set(part.stills)
    decided = decisions.model_copy(
        update={
            "check": Check(aside=tuple(still for still in decisions.check.aside if still in own)),
            "order": decisions.order.model_copy(
                update={"hand": tuple(still for still in decisions.order.hand if still in own)}
            ),
        }
    )
    made = shots.insert(
        cursor,
        shot["project_id"],
        part.title,
        shots.folder_of(shot),
        copied=shot["copied"],
        source=shots.source_of(shot),
        decisions=decided,
    )
    cursor.execute(
        "UPDATE shot JOIN shot AS origin ON origin.id = %s SET shot.gathered = TRUE, shot.weight = origin.weight,"
        " shot.raws = origin.raws WHERE shot.id = %s",
        (shot["id"], made),
    )
    cursor.execute(
        f"UPDATE still SET shot_id = %s WHERE shot_id = %s AND id IN ({', '.join(['%s'] * len(part.stills))})",
        (made, shot["id"], *part.stills),
    )
    order.arrange(cursor, made, decided.order)
    return made


def _seen(row: Row) -> Seen:
    captured = row["captured_at"]
    if captured is not None and row["utc_offset_min"] is not None:
        captured -= timedelta(minutes=row["utc_offset_min"])
    fields = ("id", "name", "width", "height", "camera", "software", "fingerprint")
    return Seen(captured=captured, **{field: row[field] for field in fields})
