"""The stills of a shot, and the files that were left out of it."""

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import fields
from datetime import datetime, timedelta
from pathlib import Path

from yarnkite.core.gather import Gathered
from yarnkite.core.measure import Measures
from yarnkite.core.sorting import LeftOut
from yarnkite.store.database import Database, Row
from yarnkite.store.rows import rows
from yarnkite.store.shots import folder_bytes

_COLUMNS = (
    *("id", "position", "name", "kind", "bytes", "modified_at", "width", "height", "captured_at", "utc_offset_min"),
    *("camera", "lens", "software", "exposure_s", "aperture", "sensitivity", "focal_length_mm", "fingerprint"),
    "luminance",
)

_ASIDE = 1_000_000_000


def known(database: Database, shot_id: int, ordered: Sequence[str]) -> set[str]:
    """Return the names of the stills that are gathered already.

    ``ordered`` is the folder as it is now: stills get the numbers they have there, and those that are no longer in
    the folder are dropped from the shot.
    """
    with database.transaction() as cursor:
        # Stills that were gathered before there were measures are gathered again.
        cursor.execute("DELETE FROM still WHERE shot_id = %s AND blocks IS NULL", (shot_id,))
        cursor.execute("SELECT number, name FROM still WHERE shot_id = %s", (shot_id,))
        before = {row["name"]: int(row["number"]) for row in cursor.fetchall()}
        now = {name: number for number, name in enumerate(ordered) if name in before}
        if now != before:
            cursor.execute("UPDATE still SET number = number + %s WHERE shot_id = %s", (_ASIDE, shot_id))
            cursor.executemany(
                "UPDATE still SET number = %s, position = %s WHERE shot_id = %s AND number = %s",
                [(number, number, shot_id, before[name] + _ASIDE) for name, number in now.items()],
            )
            cursor.execute("DELETE FROM still WHERE shot_id = %s AND number >= %s", (shot_id, _ASIDE))
        return set(now)


def add(database: Database, shot_id: int, gathered: Iterable[tuple[int, Gathered]]) -> None:
    """Keep gathered stills under the numbers they have in the folder (from 0), which are their first positions."""
    rows = [_row(shot_id, number, still) for number, still in gathered]
    with database.transaction() as cursor:
        cursor.executemany(
            "INSERT INTO still (shot_id, number, position, name, kind, bytes, modified_at, width, height, captured_at,"
            " utc_offset_min, camera, lens, software, exposure_s, aperture, sensitivity, focal_length_mm, fingerprint,"
            f" luminance, tail_row, measures, blocks) VALUES ({', '.join(['%s'] * 23)})",
            rows,
        )


def of_shot(database: Database, shot_id: int) -> list[Row]:
    """Return a shot's stills in order, without their tail rows."""
    with database.transaction() as cursor:
        return rows(cursor, shot_id, _COLUMNS)


def ids(database: Database, shot_id: int) -> list[int]:
    """Return the ids of a shot's stills in order."""
    with database.transaction() as cursor:
        return [int(row["id"]) for row in rows(cursor, shot_id, ("id",))]


def relocate(database: Database, shot_id: int, folder: Path, names: Mapping[int, str]) -> None:
    """Note that a shot's files lie in another folder, under these names by id."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET folder = %s, source = NULL WHERE id = %s", (folder_bytes(folder), shot_id))
        cursor.executemany(
            "UPDATE still SET name = %s WHERE id = %s AND shot_id = %s",
            [(name, still, shot_id) for still, name in names.items()],
        )


def count(database: Database, shot_id: int) -> int:
    with database.transaction() as cursor:
        cursor.execute("SELECT COUNT(*) AS stills FROM still WHERE shot_id = %s", (shot_id,))
        row = cursor.fetchone()
    return int(row["stills"]) if row else 0


def tail_rows(database: Database, shot_id: int) -> list[bytes]:
    """Return the tail row of each still in order."""
    with database.transaction() as cursor:
        cursor.execute("SELECT tail_row FROM still WHERE shot_id = %s ORDER BY position", (shot_id,))
        return [row["tail_row"] for row in cursor.fetchall()]


def leave_out(database: Database, shot_id: int, files: Sequence[LeftOut]) -> None:
    """Replace the list of files that were left out of a shot."""
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM left_out WHERE shot_id = %s", (shot_id,))
        cursor.executemany(
            "INSERT INTO left_out (shot_id, number, name, reason, kind) VALUES (%s, %s, %s, %s, %s)",
            [(shot_id, number, file.name, file.reason, file.kind) for number, file in enumerate(files)],
        )


def left_out(database: Database, shot_id: int) -> list[Row]:
    """Return the files that were left out of a shot, with the reasons."""
    with database.transaction() as cursor:
        cursor.execute("SELECT name, reason, kind FROM left_out WHERE shot_id = %s ORDER BY number", (shot_id,))
        return list(cursor.fetchall())


def _row(shot_id: int, number: int, still: Gathered) -> tuple[object, ...]:
    header = still.header
    captured, offset = _split(header.captured)
    return (
        *(shot_id, number, number, still.name, header.kind, still.size, still.modified, header.width, header.height),
        *(captured, offset, header.camera, header.lens, header.software),
        *(header.exposure_s, header.aperture, header.sensitivity, header.focal_length_mm),
        *(still.fingerprint, still.measures.mean, still.tail_row),
        *_measures(still.measures),
    )


def _measures(measures: Measures) -> tuple[str, bytes]:
    numbers = {one.name: getattr(measures, one.name) for one in fields(measures) if one.name != "blocks"}
    # Hashes of 64 bits do not fit the numbers of JSON.
    numbers["looks"] = f"{measures.looks:016x}"
    return json.dumps(numbers), measures.blocks.astype("<f2").tobytes()


def _split(captured: datetime | None) -> tuple[datetime | None, int | None]:
    """Return the camera's own clock reading, and its offset from UTC in minutes if it said so."""
    if captured is None:
        return None, None
    offset = captured.utcoffset()
    return captured.replace(tzinfo=None), None if offset is None else offset // timedelta(minutes=1)
