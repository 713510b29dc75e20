"""The stills of a shot, and the files that were left out of it."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import datetime, timedelta
from pathlib import Path

from yarnkite.core.gather import Gathered
from yarnkite.core.recipe import Still
from yarnkite.core.sorting import LeftOut
from yarnkite.store.database import Database, Row
from yarnkite.store.rows import rows
from yarnkite.store.shots import folder_bytes, folder_of

_COLUMNS = (
    *("id", "position", "name", "kind", "bytes", "modified_at", "width", "height", "captured_at", "utc_offset_min"),
    *("camera", "lens", "software", "exposure_s", "aperture", "sensitivity", "focal_length_mm", "fingerprint"),
    "luminance",
)
_FOR_RECIPE = "SELECT name, fingerprint, width, height FROM still"

_ASIDE = 1_000_000_000


def known(database: Database, shot_id: int, ordered: Sequence[str]) -> set[str]:
    """Return the names of the stills that are gathered already.

    ``ordered`` is the folder as it is now: stills get the numbers they have there, and those that are no longer in
    the folder are dropped from the shot.
    """
    with database.transaction() as cursor:
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
            f" luminance, tail_row) VALUES ({', '.join(['%s'] * 21)})",
            rows,
        )


def of_shot(database: Database, shot_id: int) -> list[Row]:
    """Return a shot's stills in order, without their tail rows."""
    with database.transaction() as cursor:
        return rows(cursor, shot_id, _COLUMNS)


def for_recipe(database: Database, shot: Row, aside: Collection[int] = ()) -> list[Still]:
    """Return a shot's stills as a recipe holds them, in order, without those set aside."""
    folder = folder_of(shot)
    with database.transaction() as cursor:
        cursor.execute(f"{_FOR_RECIPE} WHERE shot_id = %s{_without(aside)} ORDER BY position", (shot["id"], *aside))
        return [_still(folder, row) for row in cursor.fetchall()]


def one_for_recipe(database: Database, shot: Row, place: int, aside: Collection[int] = ()) -> Still | None:
    """Return the still at a place (from 0) among those not set aside, or ``None``."""
    with database.transaction() as cursor:
        cursor.execute(
            f"{_FOR_RECIPE} WHERE shot_id = %s{_without(aside)} ORDER BY position LIMIT 1 OFFSET %s",
            (shot["id"], *aside, place),
        )
        row = cursor.fetchone()
    return None if row is None else _still(folder_of(shot), row)


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


def shapes(database: Database, shot_id: int, aside: Collection[int] = ()) -> dict[tuple[int, int], int]:
    """Return how many stills there are of each upright size (width, height), without those set aside."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT width, height, COUNT(*) AS stills FROM still"
            f" WHERE shot_id = %s{_without(aside)} GROUP BY width, height",
            (shot_id, *aside),
        )
        return {(row["width"], row["height"]): row["stills"] for row in cursor.fetchall()}


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


def _without(aside: Collection[int]) -> str:
    return f" AND id NOT IN ({', '.join(['%s'] * len(aside))})" if aside else ""


def _still(folder: Path, row: Row) -> Still:
    return Still(
        path=str(folder / row["name"]), fingerprint=row["fingerprint"], width=row["width"], height=row["height"]
    )


def _row(shot_id: int, number: int, still: Gathered) -> tuple[object, ...]:
    header = still.header
    captured, offset = _split(header.captured)
    return (
        *(shot_id, number, number, still.name, header.kind, still.size, still.modified, header.width, header.height),
        *(captured, offset, header.camera, header.lens, header.software),
        *(header.exposure_s, header.aperture, header.sensitivity, header.focal_length_mm),
        *(still.fingerprint, still.luminance, still.tail_row),
    )


def _split(captured: datetime | None) -> tuple[datetime | None, int | None]:
    """Return the camera's own clock reading, and its offset from UTC in minutes if it said so."""
    if captured is None:
        return None, None
    offset = captured.utcoffset()
    return captured.replace(tzinfo=None), None if offset is None else offset // timedelta(minutes=1)
