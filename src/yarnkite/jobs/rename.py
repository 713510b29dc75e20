"""Renaming in place: journalled first, then parked, then placed; a batch is whole or undone, whatever happens."""

import logging
import threading
import time
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from yarnkite.core.base.counter import numbering
from yarnkite.core.base.errors import Conflict, NotFound, Refusal, Unavailable
from yarnkite.core.gather.locations import files_below
from yarnkite.core.order.renaming import (
    FileMove,
    Named,
    Pattern,
    RenameLine,
    check,
    moves,
    park,
    place,
    renaming,
    sync,
    unpark,
    unplace,
)
from yarnkite.store import rename as renames
from yarnkite.store import revisions, shots, stills
from yarnkite.store.database import Database

log = logging.getLogger(__name__)

# So long a rename waits for a database that is being started again, before it tells that it is away.
_PATIENCE_S, _LOOK_EVERY_S = 60.0, 0.2
# What is recovered must not be under way.
_one_at_a_time = threading.Lock()


def renaming_of(
    database: Database, shot_id: int, pattern: Pattern, *, aside: bool = True, elsewhere: bool = False
) -> list[RenameLine]:
    """Return what a pattern makes of a shot's names, in its order; raises ``Refusal`` if the folder is lost.

    ``aside`` includes the stills that are set aside; ``elsewhere`` is for copies into an empty folder.
    """
    shot = shots.one(database, shot_id)
    folder = shots.folder_of(shot)
    if not folder.is_dir():
        raise Refusal("lost_folder", f"The folder {folder} is not there any more. Put it back, then try again.")
    _, decisions = revisions.latest(database, shot_id)
    left_out = set() if aside else set(decisions.check.aside)
    # A file that is away cannot be renamed; it keeps its name until it is back.
    rows = [row for row in stills.of_shot(database, shot_id) if row["id"] not in left_out and not row["away"]]
    named = [Named(row["name"], row["captured_at"], row["camera"]) for row in rows]
    found = numbering([one.name for one in named], decisions.order.group)
    there = (file.name for file in files_below(folder, folder))
    lines = renaming(named, pattern, shot["name"], found, there, elsewhere=elsewhere)
    return [line if line.still is None else replace(line, still=rows[line.still]["position"]) for line in lines]


def carry_out(database: Database, shot_id: int, lines: Sequence[RenameLine]) -> int:
    """Rename a shot's files as a table says; returns how many files have a new name.

    Raises ``Refusal`` for a table with a problem and ``Conflict`` while the shot is worked on; nothing is changed then.
    A failure half-way is taken back.
    """
    folder = shots.folder_of(shots.one(database, shot_id))
    _check_free(database, shot_id, folder)
    check(lines)
    return _run(database, shot_id, folder, lines)


def take_back(database: Database, shot_id: int) -> int:
    """Give the files of the newest batch their old names back; returns how many.

    Raises ``Conflict`` that names a file which is gone or changed since, and ``NotFound`` if there is no batch.
    """
    last = renames.latest(database, shot_id)
    if last is None:
        raise NotFound("no_rename", "This shot was not renamed here, so there is nothing to take back.")
    folder = shots.folder_of(last)
    if folder != shots.folder_of(shots.one(database, shot_id)):
        raise Conflict("folder_moved", f"The files lie no longer in {folder}, so nothing was taken back.")
    _check_free(database, shot_id, folder)
    rows = renames.moves_of(database, last["id"])
    for row in rows:
        path = folder / row["new_name"]
        if not path.exists():
            raise Conflict("file_gone", f"“{row['new_name']}” is not in {folder} any more, so nothing was taken back.")
        status = path.stat()
        if (status.st_size, status.st_mtime_ns) != (row["bytes"], row["modified_ns"]):
            raise Conflict("file_changed", f"“{row['new_name']}” was changed since, so nothing was taken back.")
    lines = [RenameLine(row["new_name"], row["old_name"]) for row in rows]
    _check_targets_free(folder, lines)
    return _run(database, shot_id, folder, lines, takes_back=last["id"])


def recover(database: Database) -> list[str]:
    """Complete or take back the batches that were left half-way; returns a sentence for each."""
    with _one_at_a_time:
        return _recovered(database)


def _recovered(database: Database) -> list[str]:
    said = []
    for batch in renames.unfinished(database):
        folder = shots.folder_of(batch)
        todo = [
            FileMove(row["old_name"], row["parked_name"], row["new_name"])
            for row in renames.moves_of(database, batch["id"])
        ]
        try:
            if batch["state"] == "placing":
                place(folder, todo)
                sync(folder, todo)
                renames.finish(database, batch["id"], folder, todo)
                said.append(f"Renaming {len(todo):,} files in {folder} was broken off; it is completed now.")
            else:
                _put_back(database, batch["id"], folder, todo, placed=batch["state"] == "unplacing")
                said.append(f"Renaming files in {folder} was broken off; all have the names they had before.")
        except Unavailable:
            raise
        except (Refusal, OSError) as error:
            sentence = error.sentence if isinstance(error, Refusal) else f"{error.strerror}."
            log.warning("rename batch %s: %s", batch["id"], sentence)
            renames.set_stuck(database, batch["id"], True)
            said.append(f"Renaming files in {folder} was broken off and cannot go on: {sentence}")
    return said


def _run(
    database: Database, shot_id: int, folder: Path, lines: Sequence[RenameLine], *, takes_back: int | None = None
) -> int:
    """Carry out a batch from its journal to its end, also where the database goes away in the middle."""
    with _one_at_a_time:
        batch, todo = renames.begin(
            database, shot_id, folder, lambda number: moves(lines, number), takes_back=takes_back
        )
        try:
            _move_all(database, batch, folder, todo)
        except Unavailable as away:
            _complete_when_back(database, batch, away)
        return len(todo)


def _complete_when_back(database: Database, batch: int, away: Unavailable) -> None:
    """Wait for the database and complete or take back what was left half-way; raises ``Conflict`` for the latter."""
    end = time.monotonic() + _PATIENCE_S
    while not database.answers():
        if time.monotonic() > end:
            # It may be back much later: somebody must be there to put the files right then.
            threading.Thread(target=_recover_when_back, args=(database,), name="rename-recovery", daemon=True).start()
            raise away
        if database.closed.wait(_LOOK_EVERY_S):
            # The program is ending: its next start recovers.
            raise away
    _recovered(database)
    if not renames.is_carried_out(database, batch):
        raise Conflict(
            "rename_broken_off",
            "The database went away in the middle, so all files have the names they had before. Try again.",
        )


def _recover_when_back(database: Database) -> None:
    while not database.answers():
        if database.closed.wait(_LOOK_EVERY_S):
            return
    for sentence in recover(database):
        log.warning("%s", sentence)


def _move_all(database: Database, batch: int, folder: Path, todo: Sequence[FileMove]) -> None:
    placed = False
    try:
        park(folder, todo)
        sync(folder, todo)
        renames.set_state(database, batch, "placing")
        placed = True
        place(folder, todo)
        sync(folder, todo)
    except Unavailable:
        raise
    except Exception as error:
        if placed:
            renames.set_state(database, batch, "unplacing")
        _put_back(database, batch, folder, todo, placed=placed)
        if isinstance(error, OSError):
            raise Refusal("cannot_rename", f"The files in {folder} cannot be renamed: {error.strerror}.") from error
        raise
    renames.finish(database, batch, folder, todo)


def _put_back(database: Database, batch: int, folder: Path, todo: Sequence[FileMove], *, placed: bool = False) -> None:
    """Give all files of a batch their old names; ``placed`` says that some may have their new ones by now."""
    if placed:
        unplace(folder, todo)
        renames.set_state(database, batch, "parking")
    unpark(folder, todo)
    sync(folder, todo)
    renames.set_state(database, batch, "taken back")


def _check_free(database: Database, shot_id: int, folder: Path) -> None:
    others = renames.sharing(database, shot_id, folder)
    if others:
        raise Conflict("folder_shared", f"The shot “{others[0]}” uses files of this folder too; it would lose them.")


def _check_targets_free(folder: Path, lines: Sequence[RenameLine]) -> None:
    moving = {line.old for line in lines}
    for line in lines:
        if line.new not in moving and (folder / line.new).exists():
            raise Conflict("name_taken", f"“{line.new}” is in {folder} again, so nothing was taken back.")
