"""Many rows at once: some columns of all stills of a shot."""

import json
from collections.abc import Iterator, Sequence
from datetime import datetime
from typing import Any

import numpy as np
from pymysql.cursors import DictCursor

from yarnkite.core.base.arrays import Floats
from yarnkite.core.gather.measures import GRID
from yarnkite.store.database import Row

_TIMES = ("captured_at", "modified_at")
_AT_ONCE = 20_000
_PAIRS_AT_ONCE = 1000


def rows(cursor: DictCursor, shot_id: int, columns: Sequence[str], since: int = 0) -> list[Row]:
    """Return some columns of a shot's stills in order, of those alone whose ids are above ``since``.

    The database writes them as JSON: the driver takes ten times as long to read ten thousand rows one by one.
    """
    result: list[Row] = []
    last = -1
    chosen = ", ".join(columns)
    cursor.execute("SET SESSION group_concat_max_len = 1073741824")
    while True:
        # Not by ranges of positions: between joining shots and putting them in order there are gaps.
        cursor.execute(
            f"SELECT MAX(position_) AS last, JSON_ARRAYAGG(JSON_ARRAY({chosen}) "
            f"ORDER BY position_) AS stills FROM (SELECT position AS position_, {chosen} FROM still "
            "WHERE shot_id = %s AND id > %s AND position > %s ORDER BY position LIMIT %s) AS some",
            (shot_id, since, last, _AT_ONCE),
        )
        found = cursor.fetchone() or {}
        some = [dict(zip(columns, values, strict=True)) for values in json.loads(found.get("stills") or "[]")]
        result += some
        if len(some) < _AT_ONCE:
            break
        last = found["last"]
    for column in _TIMES:
        if column in columns:
            for row in result:
                row[column] = row[column] and datetime.fromisoformat(row[column])
    return result


def pairs_of(cursor: DictCursor, table: str, columns: Sequence[str], fingerprints: Sequence[str]) -> Iterator[Row]:
    """Yield what a table of pairs of stills says of those that begin with some, by their fingerprints."""
    names = ", ".join(("first_fingerprint", "next_fingerprint", *columns))
    for low in range(0, len(fingerprints), _PAIRS_AT_ONCE):
        some = fingerprints[low : low + _PAIRS_AT_ONCE]
        cursor.execute(
            f"SELECT {names} FROM {table} WHERE first_fingerprint IN ({', '.join(['%s'] * len(some))})", tuple(some)
        )
        yield from cursor.fetchall()


def measures_in(row: Row) -> dict[str, Any]:
    """Return what a row says was measured of its still, by its names; nothing for one that was never measured."""
    found = row["measures"]
    return found if isinstance(found, dict) else dict(json.loads(found or "{}"))


def blocks_of(cursor: DictCursor, shot_id: int) -> Floats:
    """Return the light of a shot's stills in order in stops, shape (stills, 16, 24), or of none if one was not
    measured."""
    return _grids(cursor, shot_id, "blocks", GRID)


def colours_of(cursor: DictCursor, shot_id: int) -> Floats:
    """Return red and blue against green in the same way, shape (stills, 16, 24, 2)."""
    return _grids(cursor, shot_id, "colours", (*GRID, 2))


def _grids(cursor: DictCursor, shot_id: int, column: str, shape: tuple[int, ...]) -> Floats:
    cursor.execute(f"SELECT {column} AS grid FROM still WHERE shot_id = %s ORDER BY position", (shot_id,))
    found = [row["grid"] for row in cursor.fetchall()]
    # Gathered before this was measured: gathering again is what it takes.
    measured = b"".join(found) if all(found) else b""
    return np.frombuffer(measured, "<f2").astype(np.float32).reshape(-1, *shape)
