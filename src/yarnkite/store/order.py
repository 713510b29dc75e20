"""The order of a shot's stills, as the newest revision decides it."""

from dataclasses import dataclass

from pymysql.cursors import DictCursor

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.order.analysis import analyse
from yarnkite.core.order.breaks import Taken
from yarnkite.core.order.by_hand import by_hand
from yarnkite.core.order.decisions import Order
from yarnkite.store.database import Database, Row
from yarnkite.store.rows import rows

_COLUMNS = ("id", "number", "position", "name", "captured_at", "utc_offset_min", "modified_at", "fingerprint")


@dataclass(frozen=True)
class InFolder:
    """The stills of a shot in the order of the folder: what an order goes by, and their indices in the order they
    have."""

    taken: tuple[Taken, ...]
    in_order: tuple[int, ...]


def read(database: Database, cursor: DictCursor, shot_id: int, version: str) -> InFolder:
    """Return what orders of a shot's stills go by; ``version`` is the content version read with the same cursor."""

    def make() -> InFolder:
        found = _rows(cursor, shot_id)
        in_order = sorted(range(len(found)), key=lambda index: int(found[index]["position"]))
        return InFolder(tuple(taken_of(row) for row in found), tuple(in_order))

    return database.cached(("in folder", version), make, lambda made: 400 * (1 + len(made.taken)))


def arrange(cursor: DictCursor, shot_id: int, decided: Order) -> None:
    """Give a shot's stills the positions 0, 1, 2 … of an order, within the transaction of ``cursor``."""
    found = _rows(cursor, shot_id)
    if not found:
        return
    order = analyse([taken_of(row) for row in found], decided.group).order(decided.by)
    if decided.by == "hand":
        places = {row["id"]: index for index, row in enumerate(found)}
        order = tuple(places[still] for still in by_hand([found[index]["id"] for index in order], decided.hand))
    if all(found[index]["position"] == position for position, index in enumerate(order)):
        return
    cursor.execute(
        "CREATE OR REPLACE TEMPORARY TABLE placed (number INT UNSIGNED PRIMARY KEY, position INT UNSIGNED NOT NULL)"
    )
    cursor.executemany(
        "INSERT INTO placed (number, position) VALUES (%s, %s)",
        [(found[index]["number"], position) for position, index in enumerate(order)],
    )
    cursor.execute(
        "UPDATE still JOIN placed ON placed.number = still.number "
        "SET still.position = placed.position WHERE still.shot_id = %s",
        (shot_id,),
    )
    cursor.execute("DROP TEMPORARY TABLE placed")


def _rows(cursor: DictCursor, shot_id: int) -> list[Row]:
    """Return a shot's stills in the order of the folder."""
    found = rows(cursor, shot_id, _COLUMNS)
    return sorted(found, key=lambda row: int(row["number"]))


def taken_of(row: Row) -> Taken:
    """Return what an order goes by of a still, by its row."""
    captured = universal_time(row["captured_at"], row["utc_offset_min"])
    return Taken(row["name"], captured, row["modified_at"], row["fingerprint"])
