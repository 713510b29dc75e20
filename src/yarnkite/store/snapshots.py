"""The stills of a shot as the database has them in one state, which has a name: what is made of them is cached by
it."""

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from pathlib import Path

from pymysql.cursors import DictCursor

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.still import Still
from yarnkite.store.database import Database, Row
from yarnkite.store.rows import rows
from yarnkite.store.shots import folder_of

OF_A_STILL = ("fingerprint", "width", "height", "bytes", "modified_ns", "changed_ns")
_COLUMNS = ("id", "name", "away", "captured_at", "utc_offset_min", *OF_A_STILL)
# What a still takes in memory, about: its object, its path, its place among others.
BYTES_A_STILL = 1_200


@dataclass(frozen=True)
class Snapshot:
    """The stills of a shot in order, with their ids, in the state ``version`` names, and where their files lie.

    ``is_copy`` says that they were copied from elsewhere.
    ``clock`` is when each was taken by the camera's own clock, ``captured`` in universal time where its offset is
    known; ``away`` are those whose files could not be reached when the shot was gathered last.
    """

    version: str
    folder: Path
    is_copy: bool
    stills: tuple[tuple[int, Still], ...]
    clock: dict[int, datetime | None]
    captured: dict[int, datetime | None]
    away: frozenset[int]

    @property
    def key(self) -> tuple[str, Path, bool]:
        """What names all of it: what is made of it is cached by that."""
        return self.version, self.folder, self.is_copy

    @property
    def ids(self) -> list[int]:
        """The ids of the stills, in order."""
        return [number for number, _ in self.stills]

    @cached_property
    def positions(self) -> dict[int, int]:
        """The position of each still, by its id."""
        return {number: position for position, (number, _) in enumerate(self.stills)}

    def at(self, position: int) -> tuple[int, Still]:
        """Return the id of the still at a position (from 0), and the still as it was shot; raises ``NotFound``."""
        if not 0 <= position < len(self.stills):
            raise NotFound("no_such_still", f"This shot has no still number {position + 1}.")
        return self.stills[position]


def content_version(cursor: DictCursor, shot_id: int) -> str:
    """Return a short text that changes whenever anything of a shot's stills or their order does, or their movement is
    measured.

    Read what it names with the same cursor, so that both are of one state. The database gives each state another number
    (``migrations/0020``), also where it is like an earlier one.
    """
    cursor.execute(
        "SELECT still_state.version, shot.moves_measured FROM shot JOIN still_state ON shot_id = shot.id WHERE id = %s",
        (shot_id,),
    )
    row = cursor.fetchone() or {"version": 0, "moves_measured": 0}
    return f"{shot_id}-{row['version']}-{row['moves_measured']}"


def state(database: Database, shot_id: int) -> str:
    """Return ``content_version`` by itself, to tell one state of a shot's stills from another."""
    with database.transaction() as cursor:
        return content_version(cursor, shot_id)


def of_shot(database: Database, shot: Row) -> Snapshot:
    """Return the stills of a shot as they are now."""
    with database.transaction() as cursor:
        return read(database, cursor, shot)


def read(database: Database, cursor: DictCursor, shot: Row) -> Snapshot:
    """Return what ``of_shot`` does, within a transaction."""
    version, folder, is_copy = content_version(cursor, shot["id"]), folder_of(shot), shot["source"] is not None

    def make() -> Snapshot:
        found = rows(cursor, shot["id"], _COLUMNS)
        return Snapshot(
            *(version, folder, is_copy),
            tuple((int(row["id"]), still_of(row, folder, is_copy=is_copy)) for row in found),
            {row["id"]: row["captured_at"] for row in found},
            {row["id"]: universal_time(row["captured_at"], row["utc_offset_min"]) for row in found},
            frozenset(int(row["id"]) for row in found if row["away"]),
        )

    key = ("stills", version, folder, is_copy)
    return database.cached(key, make, lambda made: BYTES_A_STILL * (1 + len(made.stills)))


def tail_rows_by_path(database: Database, shot: Row) -> dict[str, bytes]:
    """Return the tail row of each still of a shot, by its path."""
    with database.transaction() as cursor:
        ordered = [still.path for _, still in read(database, cursor, shot).stills]
        cursor.execute("SELECT tail_row FROM still WHERE shot_id = %s ORDER BY position", (shot["id"],))
        return dict(zip(ordered, (row["tail_row"] for row in cursor.fetchall()), strict=True))


def still_of(row: Row, folder: Path, *, is_copy: bool) -> Still:
    """Return a row of a still, with the columns a still has, as the still of a recipe.

    ``is_copy`` says that its shot was copied from elsewhere: what was noted of the inode is of the file it is a copy
    of.
    """
    noted = {name: row[name] for name in OF_A_STILL}
    return Still(path=str(folder / row["name"]), **noted | ({"changed_ns": None} if is_copy else {}))
