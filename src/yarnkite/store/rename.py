"""The journal of renames: written before the first file moves, so that a batch is completed or taken back."""

import os
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Literal

from pydantic import TypeAdapter
from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import Refusal
from yarnkite.core.order.renaming import FileMove, Pattern
from yarnkite.store import jobs, shots
from yarnkite.store.database import Database, Row, retried
from yarnkite.store.shots import folder_bytes, folder_of

_PATTERN: TypeAdapter[Pattern] = TypeAdapter(Pattern)

State = Literal["parking", "placing", "unplacing", "done", "taken back"]


@retried
def begin(
    database: Database,
    shot_id: int,
    folder: Path,
    moves_of: Callable[[int], list[FileMove]],
    *,
    takes_back: int | None = None,
) -> tuple[int, list[FileMove]]:
    """Note a batch, every move of it, and what each file is like now; returns its id and its moves.

    ``moves_of`` makes the moves of a batch by its id, by which parking names are made; ``takes_back`` is the batch that
    this one undoes. Raises ``Conflict`` while one of the
    shots that use files of the folder is worked on, ``Refusal`` for a file that is not there; nothing is noted then.
    """
    with database.transaction() as cursor:
        _hold_folder(cursor, shot_id, folder)
        cursor.execute(
            "INSERT INTO rename_batch (shot_id, folder, takes_back) VALUES (%s, %s, %s)",
            (shot_id, folder_bytes(folder), takes_back),
        )
        batch = int(cursor.lastrowid)
        todo = moves_of(batch)
        cursor.executemany(
            "INSERT INTO rename_move (batch_id, number, old_name, parked_name, new_name, bytes, modified_ns) "
            "VALUES (%s, %s, %s, %s, %s, %s, %s)",
            [
                (batch, number, move.old, move.parked, move.new, status.st_size, status.st_mtime_ns)
                for number, move in enumerate(todo)
                for status in [_status(folder, move.old)]
            ],
        )
        return batch, todo


def _hold_folder(cursor: DictCursor, shot_id: int, folder: Path) -> None:
    """Hold every shot whose files lie in a folder; raises ``Conflict`` while one of them, or a reel of it, is worked
    on."""
    shots.locked(cursor, shot_id)
    cursor.execute(
        "SELECT id, project_id FROM shot WHERE folder = %s AND deleted_at IS NULL ORDER BY id FOR UPDATE",
        (folder_bytes(folder),),
    )
    every = list(cursor.fetchall())
    for row in every:
        jobs.check_idle(cursor, row["id"])
    for project in sorted({row["project_id"] for row in every}):
        jobs.check_no_reel_is_made(cursor, project)


def _status(folder: Path, name: str) -> os.stat_result:
    try:
        return (folder / name).stat()
    except OSError:
        raise Refusal(
            "file_gone",
            f"“{name}” is not in {folder} any more, so nothing was "
            "renamed. Put it back, or look for changes in gather.",
        ) from None


@retried
def set_state(database: Database, batch_id: int, state: State) -> None:
    with database.transaction() as cursor:
        cursor.execute("UPDATE rename_batch SET state = %s WHERE id = %s", (state, batch_id))


@retried
def set_stuck(database: Database, batch_id: int, stuck: bool) -> None:
    """Note whether a batch could neither be completed nor taken back."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE rename_batch SET stuck = %s WHERE id = %s", (stuck, batch_id))


@retried
def finish(database: Database, batch_id: int, folder: Path, todo: Sequence[FileMove]) -> None:
    """End a batch and give the stills of every shot of the folder their new names, all of it or nothing.

    One that undoes another ends it too; neither can be taken back after that. A batch that has ended already stays as
    it is:
    names that were exchanged would be exchanged again.
    """
    with database.transaction() as cursor:
        cursor.execute("SELECT state, takes_back FROM rename_batch WHERE id = %s FOR UPDATE", (batch_id,))
        row = cursor.fetchone()
        if row is None or row["state"] in ("done", "taken back"):
            return
        takes_back = row["takes_back"]
        state = "done" if takes_back is None else "taken back"
        cursor.execute("UPDATE rename_batch SET state = %s, stuck = FALSE WHERE id = %s", (state, batch_id))
        cursor.execute("UPDATE rename_batch SET state = 'taken back' WHERE id = %s", (takes_back,))
        cursor.execute(
            "CREATE OR REPLACE TEMPORARY TABLE moved (old_name VARCHAR(4096) CHARACTER "
            "SET utf8mb4 COLLATE utf8mb4_bin NOT NULL, new_name VARCHAR(4096) CHARACTER "
            "SET utf8mb4 COLLATE utf8mb4_bin NOT NULL, changed_ns BIGINT NULL, KEY (old_name(700)))"
        )
        cursor.executemany(
            "INSERT INTO moved VALUES (%s, %s, %s)",
            [(move.old, move.new, _changed_ns(folder / move.new)) for move in todo],
        )
        cursor.execute(
            "UPDATE still JOIN shot ON shot.id = still.shot_id JOIN moved ON moved.old_name = still.name"
            # Assigned from the left: what the file is called where it was copied from is its first name.
            " SET still.source_name = COALESCE(still.source_name, still.name),"
            " still.changed_ns = IF(shot.source IS NULL, moved.changed_ns, still.changed_ns),"
            " still.name = moved.new_name WHERE shot.folder = %s",
            (folder_bytes(folder),),
        )
        cursor.execute("DROP TEMPORARY TABLE moved")


def _changed_ns(path: Path) -> int | None:
    """Return when a file's name or bytes were changed last: its new name changed that, too."""
    try:
        return path.stat().st_ctime_ns
    except OSError:
        return None


def unfinished(database: Database) -> list[Row]:
    """Return the batches a dead process left half-way."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id, shot_id, folder, state FROM rename_batch WHERE state IN ('parking', 'placing', 'unplacing')"
        )
        return list(cursor.fetchall())


def is_carried_out(database: Database, batch_id: int) -> bool:
    """Tell whether the files of a batch that has ended have the names it was to give them."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT batch.state, batch.takes_back, undone.state AS undone FROM rename_batch AS batch "
            "LEFT JOIN rename_batch AS undone ON undone.id = batch.takes_back WHERE batch.id = %s",
            (batch_id,),
        )
        row = cursor.fetchone()
    if row is None:
        return False
    return bool(row["undone"] == "taken back" if row["takes_back"] is not None else row["state"] == "done")


def latest(database: Database, shot_id: int) -> Row | None:
    """Return the shot's newest batch that was carried out and not taken back, or ``None``."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT rename_batch.id, shot_id, folder, state, rename_batch.created_at, COUNT(*) AS files "
            "FROM rename_batch JOIN rename_move ON batch_id = rename_batch.id WHERE shot_id = %s "
            "AND state = 'done' GROUP BY rename_batch.id ORDER BY rename_batch.id DESC LIMIT 1",
            (shot_id,),
        )
        return cursor.fetchone()


def moves_of(database: Database, batch_id: int) -> list[Row]:
    """Return a batch's journal in its order."""
    with database.transaction() as cursor:
        cursor.execute("SELECT * FROM rename_move WHERE batch_id = %s ORDER BY number", (batch_id,))
        return list(cursor.fetchall())


def sharing(database: Database, shot_id: int, folder: Path) -> list[str]:
    """Return the names of other shots whose folder lies in this one or around it, but is not the same."""
    with database.transaction() as cursor:
        cursor.execute("SELECT name, folder FROM shot WHERE id <> %s AND folder <> %s", (shot_id, folder_bytes(folder)))
        others = [(row["name"], folder_of(row)) for row in cursor.fetchall()]
    return [name for name, other in others if other.is_relative_to(folder) or folder.is_relative_to(other)]


def patterns(database: Database) -> dict[str, Pattern]:
    """Return the patterns that were kept, by name."""
    with database.transaction() as cursor:
        cursor.execute("SELECT name, parts FROM named_pattern ORDER BY name")
        return {row["name"]: _PATTERN.validate_json(row["parts"]) for row in cursor.fetchall()}


@retried
def save_pattern(database: Database, name: str, pattern: Pattern) -> None:
    """Keep a pattern under a name, in place of an earlier one of that name."""
    with database.transaction() as cursor:
        cursor.execute(
            "REPLACE INTO named_pattern (name, parts) VALUES (%s, %s)", (name, _PATTERN.dump_json(pattern).decode())
        )


@retried
def forget_pattern(database: Database, name: str) -> None:
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM named_pattern WHERE name = %s", (name,))
