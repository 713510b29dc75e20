"""The order of a shot's stills, as the newest revision decides it."""

from collections.abc import Sequence
from datetime import timedelta

from pymysql.cursors import DictCursor

from yarnkite.core.order import Analysis, Break, Taken, analyse, breaks, by_hand
from yarnkite.core.recipe import Order
from yarnkite.store.database import Database, Row


def analysis_of(database: Database, shot_id: int, decided: Order) -> tuple[Analysis, list[Break]]:
    """Return the candidate orders of a shot, and what breaks the order it is in."""
    with database.transaction() as cursor:
        rows = _rows(cursor, shot_id)
    taken = [_taken(row) for row in rows]
    analysis = analyse(taken, decided.group)
    in_order = sorted(range(len(rows)), key=lambda index: rows[index]["position"])
    return analysis, breaks(taken, in_order, analysis.numbering)


def arrange(cursor: DictCursor, shot_id: int, decided: Order) -> None:
    """Give a shot's stills the positions 0, 1, 2 … of an order, within the transaction of ``cursor``."""
    rows = _rows(cursor, shot_id)
    if not rows:
        return
    order = analyse([_taken(row) for row in rows], decided.group).order(decided.by)
    if decided.by == "hand":
        places = {row["id"]: index for index, row in enumerate(rows)}
        order = tuple(places[still] for still in by_hand([rows[index]["id"] for index in order], decided.hand))
    if all(rows[index]["position"] == position for position, index in enumerate(order)):
        return
    cursor.execute("CREATE TEMPORARY TABLE placed (number INT UNSIGNED PRIMARY KEY, position INT UNSIGNED NOT NULL)")
    cursor.executemany(
        "INSERT INTO placed (number, position) VALUES (%s, %s)",
        [(rows[index]["number"], position) for position, index in enumerate(order)],
    )
    cursor.execute(
        "UPDATE still JOIN placed ON placed.number = still.number SET still.position = placed.position"
        " WHERE still.shot_id = %s",
        (shot_id,),
    )
    cursor.execute("DROP TEMPORARY TABLE placed")


def _rows(cursor: DictCursor, shot_id: int) -> Sequence[Row]:
    cursor.execute(
        "SELECT id, number, position, name, captured_at, utc_offset_min, modified_at, fingerprint FROM still"
        " WHERE shot_id = %s ORDER BY number",
        (shot_id,),
    )
    rows: Sequence[Row] = cursor.fetchall()
    return rows


def _taken(row: Row) -> Taken:
    captured = row["captured_at"]
    if captured is not None and row["utc_offset_min"] is not None:
        captured -= timedelta(minutes=row["utc_offset_min"])
    return Taken(row["name"], captured, row["modified_at"], row["fingerprint"])
