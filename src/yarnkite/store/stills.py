"""The stills of a shot, and the files that were left out of it."""

import json
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, fields, replace
from datetime import datetime, timedelta
from pathlib import Path
from types import MappingProxyType

import numpy as np
from pymysql.cursors import DictCursor

from yarnkite.core.base.capture_time import local_time
from yarnkite.core.base.counter import parts
from yarnkite.core.gather.gathering import Gathered
from yarnkite.core.gather.locations import FoundFile, clock_of
from yarnkite.core.gather.measures import Measures
from yarnkite.core.gather.remarks import Alike
from yarnkite.core.gather.sorting import LeftOut
from yarnkite.core.image.kinds import Kind
from yarnkite.core.light.colour import mired_of
from yarnkite.core.order.natural import natural_order
from yarnkite.store.database import Database, Row, retried
from yarnkite.store.rows import rows
from yarnkite.store.shots import folder_bytes
from yarnkite.store.snapshots import content_version

_COLUMNS = (
    *(
        "id",
        "position",
        "name",
        "kind",
        "bytes",
        "modified_at",
        "modified_ns",
        "changed_ns",
        "away",
        "width",
        "height",
        "captured_at",
        "utc_offset_min",
    ),
    *("camera", "lens", "software", "exposure_s", "aperture", "sensitivity", "focal_length_mm", "fingerprint"),
    *("luminance", "rating", "label", "caption", "has_edits", "sidecar"),
)

_ASIDE = 1_000_000_000
_SAME_TIME = timedelta(milliseconds=2)


@dataclass(frozen=True)
class Reading:
    """A file that is to be read: its number in the folder (from 0), its name, and the still it is, if it is one.

    ``own`` is what its copy is called in the shot, where that was renamed since it was copied.
    """

    number: int
    name: str
    still: int | None
    own: str | None = None


@dataclass(frozen=True)
class Touched:
    """A file that looks as it did but whose inode was changed: the still it is, if its bytes are the same."""

    reading: Reading
    fingerprint: str
    changed_ns: int


@dataclass(frozen=True)
class Comparison:
    """A folder held against what a shot knows of it: what to read, how much of that changed, how many are away.

    ``touched`` are to be compared byte by byte; ``prints`` are the fingerprints, by still, of what is read again.
    """

    readings: tuple[Reading, ...]
    changed: int
    away: int
    touched: tuple[Touched, ...] = ()
    prints: Mapping[int, str] = field(default_factory=dict)


@retried
def compare(
    database: Database, shot_id: int, files: Sequence[FoundFile], copies: Collection[str], *, by_source: bool = False
) -> Comparison:
    """Hold the stills of a shot against the files of its folder by name, bytes and times of change.

    A still keeps its id as long as its exposure is there: also when its file changed, or when another file of the same
    exposure stands for it now. Stills without a usable file, nor one among the ``copies`` of the shot, are marked as
    away, with all that was decided about them. ``by_source`` says that the files are those the shot's were copied from,
    whose names are what its own were called before they were renamed.
    """
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT id, number, name, source_name, bytes, modified_at, modified_ns, changed_ns, "
            "fingerprint, away, colours IS NULL AS unmeasured FROM still WHERE shot_id = %s FOR UPDATE",
            (shot_id,),
        )
        known = {named(row, by_source=by_source): row for row in cursor.fetchall()}
        found = {file.name: file for file in files}
        others = _by_exposure(known, found)
        stills: dict[str, Row] = {name: known[name] for name in found if name in known}
        for name in found:
            if name not in known and (stand_in := others.pop(exposure_of(name), None)) is not None:
                stills[name] = stand_in
        mine = {row["id"] for row in stills.values()}
        away = [row for row in known.values() if row["name"] not in copies and row["id"] not in mine]
        names = [*found, *(name for name, row in known.items() if row["id"] not in mine)]
        numbers = {names[index]: number for number, index in enumerate(natural_order(names))}
        own_numbers = {row["id"]: numbers[name] for name, row in known.items() if name in numbers}
        own_numbers |= {row["id"]: numbers[name] for name, row in stills.items()}
        _renumber(cursor, shot_id, known.values(), own_numbers)
        _mark_away(cursor, shot_id, [row["id"] for row in away])
        changed = {name for name, row in stills.items() if _is_other(row, found[name], by_source)}
        _note_times(cursor, [(found[name], row) for name, row in stills.items() if name not in changed])

        def reading(name: str) -> Reading:
            row = stills.get(name)
            own = _own_name(row, name) if row is not None and by_source else None
            return Reading(numbers[name], name, row["id"] if row is not None else None, own)

        readings = [reading(name) for name in found if name not in stills or name in changed]
        touched = [
            Touched(reading(name), row["fingerprint"], found[name].changed_ns or 0)
            for name, row in stills.items()
            if name not in changed and None is not row["changed_ns"] != found[name].changed_ns
        ]
        was_there = sum(1 for name in changed if not stills[name]["unmeasured"])
        prints = {stills[name]["id"]: stills[name]["fingerprint"] for name in changed}
        return Comparison(
            tuple(sorted(readings, key=lambda one: one.number)), was_there, len(away), tuple(touched), prints
        )


def named(row: Row, *, by_source: bool) -> str:
    """Return what a still is called in its shot, or (``by_source``) where it was copied from, if it was renamed
    since."""
    return str((row["source_name"] if by_source else None) or row["name"])


def _own_name(row: Row, name: str) -> str | None:
    """Return what the copy of a file is called whose first copy was renamed; another file of its exposure alike."""
    if row["source_name"] is None:
        return None
    if row["source_name"] == name:
        return str(row["name"])
    folder, stem, _ = parts(row["name"])
    own = ".".join(part for part in (stem, parts(name)[2]) if part)
    return f"{folder}/{own}" if folder else own


@retried
def note_touched(database: Database, touched: Sequence[Touched]) -> None:
    """Note when the inodes of files were changed last whose bytes are what they were."""
    with database.transaction() as cursor:
        cursor.executemany(
            "UPDATE still SET changed_ns = %s WHERE id = %s", [(one.changed_ns, one.reading.still) for one in touched]
        )


def exchanged(
    gathered: Sequence[tuple[Reading, Gathered]], prints: Mapping[int, str]
) -> list[tuple[Reading, Gathered]]:
    """Return what was read of files again, each as the still whose picture it has, wherever that lay before.

    What is decided about a still is about its picture: where names were exchanged, it follows. ``prints`` are the
    fingerprints of the stills as they were.
    """
    pictures = {fingerprint: still for still, fingerprint in prints.items()}
    free = {reading.still for reading, _ in gathered}
    chosen: dict[int, int] = {}
    for place, (_, found) in enumerate(gathered):
        every = (found.fingerprint, *found.other_fingerprints)
        still = next((pictures[one] for one in every if pictures.get(one) in free), None)
        if still is not None:
            chosen[place] = still
            free.discard(still)
    for place, (reading, _) in enumerate(gathered):
        if place not in chosen and reading.still is not None and reading.still in free:
            chosen[place] = reading.still
            free.discard(reading.still)
    left = iter(sorted(one for one in free if one is not None))
    return [
        (replace(reading, still=chosen[place] if place in chosen else next(left)), found)
        for place, (reading, found) in enumerate(gathered)
    ]


@retried
def add(
    database: Database,
    shot_id: int,
    gathered: Sequence[tuple[Reading, Gathered]],
    elsewhere: Mapping[str, int] = MappingProxyType({}),
) -> None:
    """Keep what was read of files: as new stills, or as what the stills they are look like now.

    A new file with the very bytes of a still that is away, or was taken out and is wanted back, is that still; also
    where another shot of the folder lost its file, as ``elsewhere`` says by fingerprint.
    """
    with database.transaction() as cursor:
        returning, away = _returning(cursor, shot_id), _away_prints(cursor, shot_id)
        _set_numbers(cursor, shot_id, [reading for reading, _ in gathered])
        for reading, still in gathered:
            known = reading.still or _lost(still, away, elsewhere)
            if known is not None:
                values = _row(shot_id, reading, still)
                cursor.execute(
                    f"UPDATE still SET {', '.join(f'{name} = %s' for name in _KEPT)}, away = FALSE WHERE id = %s",
                    (*(value for name, value in zip(_ALL, values, strict=True) if name in _KEPT), known),
                )
                continue
            before = returning.pop(still.name, None)
            insert(cursor, shot_id, [(reading, still)], before)
            if before is not None:
                cursor.execute(
                    "DELETE FROM taken_out WHERE shot_id = %s AND name = %s AND wanted_back", (shot_id, still.name)
                )


def insert(
    cursor: DictCursor, shot_id: int, gathered: Sequence[tuple[Reading, Gathered]], still: int | None = None
) -> None:
    """Insert files that were read as new stills, or one as the ``still`` it was before, within a transaction."""
    cursor.executemany(
        f"INSERT INTO still (id, {', '.join(_ALL)}) VALUES (%s, {', '.join(['%s'] * len(_ALL))})",
        [(still, *_row(shot_id, reading, found)) for reading, found in gathered],
    )


def _set_numbers(cursor: DictCursor, shot_id: int, readings: Sequence[Reading]) -> None:
    """Give stills that are read again the places of their files among the others: names may have been exchanged."""
    wanted = {one.still: one.number for one in readings if one.still is not None}
    if not wanted:
        return
    cursor.execute(
        f"SELECT id, number FROM still WHERE shot_id = %s AND id IN ({', '.join(['%s'] * len(wanted))})",
        (shot_id, *wanted),
    )
    moving = [row["id"] for row in cursor.fetchall() if row["number"] != wanted[row["id"]]]
    for place, still in enumerate(moving):
        cursor.execute("UPDATE still SET number = %s WHERE id = %s", (_ASIDE + place, still))
    for still in moving:
        cursor.execute("UPDATE still SET number = %s WHERE id = %s", (wanted[still], still))


@retried
def set_away(database: Database, still: int) -> None:
    """Note that the file of a still cannot be used for now."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE still SET away = TRUE WHERE id = %s", (still,))


def away_count(database: Database, shot_id: int) -> int:
    """Return how many stills of a shot are away."""
    with database.transaction() as cursor:
        cursor.execute("SELECT COUNT(*) AS away FROM still WHERE shot_id = %s AND away", (shot_id,))
        return int((cursor.fetchone() or {"away": 0})["away"])


def exposure_of(name: str) -> tuple[str, str]:
    """Return what the files of one exposure have in common: their folder and stem."""
    folder, stem, _ = parts(name)
    return folder, stem.casefold()


def of_shot(database: Database, shot_id: int) -> list[Row]:
    """Return a shot's stills in order, without their tail rows."""
    with database.transaction() as cursor:
        return rows(cursor, shot_id, _COLUMNS)


def seen(database: Database, shot_id: int, since: int = 0) -> tuple[list[Row], list[Row], str]:
    """Return a shot's stills in order, the files left out of it, and the stamp of that state, all of one moment.

    With ``since`` only the stills whose ids are above it: those that came since a page looked last.
    """
    with database.transaction() as cursor:
        return rows(cursor, shot_id, _COLUMNS, since), left_out_of(cursor, shot_id), content_version(cursor, shot_id)


def fingerprints(database: Database, shot_id: int) -> list[str]:
    """Return the fingerprints of a shot's stills."""
    with database.transaction() as cursor:
        cursor.execute("SELECT fingerprint FROM still WHERE shot_id = %s", (shot_id,))
        return [row["fingerprint"] for row in cursor.fetchall()]


def names(database: Database, shot_id: int, *, by_source: bool = False) -> frozenset[str]:
    """Return the names of a shot's stills in its folder, or (``by_source``) where they were copied from."""
    return frozenset(source if by_source else own for source, own in names_by_source(database, shot_id).items())


@dataclass(frozen=True)
class KindOfFile:
    """What kind of file a still was read from, with its size and time of change then."""

    kind: Kind
    bytes: int
    modified_ns: int | None


def kinds(database: Database, shot_id: int, *, by_source: bool = False) -> dict[str, KindOfFile]:
    """Return what the stills of a shot were read from, by their names in its folder or where they were copied from."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT name, source_name, kind, bytes, modified_ns FROM still WHERE shot_id = %s AND NOT away", (shot_id,)
        )
        return {
            named(row, by_source=by_source): KindOfFile(row["kind"], row["bytes"], row["modified_ns"])
            for row in cursor.fetchall()
        }


def names_by_source(database: Database, shot_id: int) -> dict[str, str]:
    """Return the names of a shot's stills by what they are called where they were copied from."""
    with database.transaction() as cursor:
        cursor.execute("SELECT name, source_name FROM still WHERE shot_id = %s", (shot_id,))
        return {named(row, by_source=True): row["name"] for row in cursor.fetchall()}


def ids(database: Database, shot_id: int) -> list[int]:
    """Return the ids of a shot's stills in order."""
    with database.transaction() as cursor:
        return [int(row["id"]) for row in rows(cursor, shot_id, ("id",))]


@retried
def relocate(database: Database, shot_id: int, folder: Path, names: Mapping[int, str], found: Collection[int]) -> None:
    """Note that a shot's files lie in another folder, under these names by id; those ``found`` are away no more."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET folder = %s, source = NULL WHERE id = %s", (folder_bytes(folder), shot_id))
        cursor.executemany(
            "UPDATE still SET name = %s WHERE id = %s AND shot_id = %s",
            [(name, still, shot_id) for still, name in names.items()],
        )
        cursor.executemany("UPDATE still SET away = FALSE WHERE id = %s", [(still,) for still in found])


def count(database: Database, shot_id: int) -> int:
    with database.transaction() as cursor:
        cursor.execute("SELECT COUNT(*) AS stills FROM still WHERE shot_id = %s", (shot_id,))
        row = cursor.fetchone()
    return int(row["stills"]) if row else 0


@dataclass(frozen=True)
class Measured:
    """A still's light in the middle of its range and its sharpness, both in stops, and the size of its file."""

    middle: float
    sharpness: float
    bytes: int


def measured(database: Database, shot_id: int) -> list[Measured]:
    """Return what was measured of a shot's stills, in order."""
    with database.transaction() as cursor:
        found = rows(cursor, shot_id, ("bytes", "measures"))
    read = [(row["bytes"], row["measures"]) for row in found if row["measures"]]
    return [Measured(measures["middle"], measures["sharpness"], count) for count, measures in read]


def first_captured(database: Database, shot_id: int) -> datetime | None:
    """Return when the earliest still of a shot was taken, on the camera's clock, or ``None`` where none says."""
    with database.transaction() as cursor:
        cursor.execute("SELECT MIN(captured_at) AS first FROM still WHERE shot_id = %s", (shot_id,))
        row = cursor.fetchone()
    return row["first"] if row else None


def lenses(database: Database, shot_id: int) -> frozenset[str]:
    """Return the lenses a shot's stills say they were taken with."""
    with database.transaction() as cursor:
        cursor.execute("SELECT DISTINCT lens FROM still WHERE shot_id = %s AND lens <> ''", (shot_id,))
        return frozenset(row["lens"] for row in cursor.fetchall())


def alike(database: Database, shot_id: int) -> list[Alike]:
    """Return a shot's stills by their depth and what is odd about them, each with the first of them by name."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT COUNT(*) AS stills, MIN(name) AS name, bits, remark FROM still WHERE shot_id = %s "
            "GROUP BY bits, remark ORDER BY MIN(position)",
            (shot_id,),
        )
        return [Alike(int(row["stills"]), row["name"], row["bits"], row["remark"]) for row in cursor.fetchall()]


def tail_rows(database: Database, shot_id: int) -> list[bytes]:
    """Return the tail row of each still in order."""
    with database.transaction() as cursor:
        cursor.execute("SELECT tail_row FROM still WHERE shot_id = %s ORDER BY position", (shot_id,))
        return [row["tail_row"] for row in cursor.fetchall()]


@retried
def leave_out(database: Database, shot_id: int, files: Sequence[LeftOut]) -> None:
    """Replace the list of files that were left out of a shot."""
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM left_out WHERE shot_id = %s", (shot_id,))
        _leave_out(cursor, shot_id, 0, files)


@retried
def leave_out_more(database: Database, shot_id: int, files: Sequence[LeftOut]) -> None:
    """Add files to the list of those that were left out of a shot."""
    with database.transaction() as cursor:
        leave_out_also(cursor, shot_id, files)


def leave_out_also(cursor: DictCursor, shot_id: int, files: Sequence[LeftOut]) -> None:
    """Do what ``leave_out_more`` does, within a transaction."""
    cursor.execute("SELECT COALESCE(MAX(number) + 1, 0) AS next FROM left_out WHERE shot_id = %s", (shot_id,))
    _leave_out(cursor, shot_id, int((cursor.fetchone() or {"next": 0})["next"]), files)


def left_out(database: Database, shot_id: int) -> list[Row]:
    """Return the files that were left out of a shot, with the reasons."""
    with database.transaction() as cursor:
        return left_out_of(cursor, shot_id)


def left_out_of(cursor: DictCursor, shot_id: int) -> list[Row]:
    """Return what ``left_out`` does, within a transaction."""
    cursor.execute("SELECT name, reason, kind FROM left_out WHERE shot_id = %s ORDER BY number", (shot_id,))
    return list(cursor.fetchall())


def _leave_out(cursor: DictCursor, shot_id: int, first: int, files: Sequence[LeftOut]) -> None:
    cursor.executemany(
        "INSERT INTO left_out (shot_id, number, name, reason, kind) VALUES (%s, %s, %s, %s, %s)",
        [(shot_id, number, file.name, file.reason[:8000], file.kind) for number, file in enumerate(files, first)],
    )


def _by_exposure(known: Mapping[str, Row], found: Collection[str]) -> dict[tuple[str, str], Row]:
    """Return the stills whose files are not found, by what the files of their exposure are called."""
    result: dict[tuple[str, str], Row] = {}
    for name, row in known.items():
        if name not in found:
            result.setdefault(exposure_of(name), row)
    return result


def _note_times(cursor: DictCursor, same: Iterable[tuple[FoundFile, Row]]) -> None:
    """Note the exact times of files that were gathered before these were kept."""
    cursor.executemany(
        "UPDATE still SET modified_ns = %s, changed_ns = COALESCE(changed_ns, %s) WHERE id = %s",
        [
            (file.modified_ns, file.changed_ns, row["id"])
            for file, row in same
            if row["modified_ns"] is None or row["changed_ns"] is None
        ],
    )


def _is_other(row: Row, file: FoundFile, by_source: bool) -> bool:
    """Tell whether a still must be read again: its file is another one now, or was read by an older edition."""
    if row["unmeasured"] or named(row, by_source=by_source) != file.name or row["bytes"] != file.bytes:
        return True
    if row["modified_ns"] is not None:
        return bool(row["modified_ns"] != file.modified_ns)
    return bool(abs(row["modified_at"] - clock_of(file.modified_ns)) > _SAME_TIME)


def _renumber(cursor: DictCursor, shot_id: int, rows: Iterable[Row], own: Mapping[int, int]) -> None:
    now = {row["id"]: own.get(row["id"], 0) for row in rows}
    moving = [(now[row["id"]], row["id"]) for row in rows if now[row["id"]] != row["number"]]
    if moving:
        cursor.execute("UPDATE still SET number = number + %s WHERE shot_id = %s", (_ASIDE, shot_id))
        cursor.executemany(
            "UPDATE still SET number = %s WHERE id = %s", [(number, still) for still, number in now.items()]
        )


def _mark_away(cursor: DictCursor, shot_id: int, away: Sequence[int]) -> None:
    cursor.execute("UPDATE still SET away = FALSE WHERE shot_id = %s AND away", (shot_id,))
    cursor.executemany("UPDATE still SET away = TRUE WHERE id = %s", [(still,) for still in away])


def _returning(cursor: DictCursor, shot_id: int) -> dict[str, int]:
    cursor.execute(
        "SELECT name, still_id FROM taken_out WHERE shot_id = %s AND wanted_back AND still_id IS NOT NULL", (shot_id,)
    )
    return {row["name"]: int(row["still_id"]) for row in cursor.fetchall()}


def _away_prints(cursor: DictCursor, shot_id: int) -> dict[str, int]:
    """Return the stills of a shot that are away, by fingerprint."""
    cursor.execute("SELECT id, fingerprint FROM still WHERE shot_id = %s AND away ORDER BY id DESC", (shot_id,))
    return {row["fingerprint"]: int(row["id"]) for row in cursor.fetchall()}


def _lost(still: Gathered, away: dict[str, int], elsewhere: Mapping[str, int]) -> int | None:
    """Return the lost still that a file is, which then is not lost any more."""
    prints = (still.fingerprint, *still.other_fingerprints)
    own = next((away.pop(one) for one in prints if one in away), None)
    return own or next((elsewhere[one] for one in prints if one in elsewhere), None)


_ALL = (
    *("shot_id", "number", "position", "name", "source_name", "kind", "bytes", "modified_at", "modified_ns"),
    *("changed_ns", "width", "height", "captured_at", "utc_offset_min", "camera", "lens", "software"),
    *("exposure_s", "aperture", "sensitivity", "focal_length_mm", "white_mired", "fingerprint", "luminance"),
    *("tail_row", "measures", "blocks", "colours", "bits", "remark"),
    *("rating", "label", "caption", "has_edits"),
)
# A still that is read again keeps its place.
_KEPT = tuple(name for name in _ALL if name not in ("shot_id", "number", "position"))


def _row(shot_id: int, reading: Reading, still: Gathered) -> tuple[object, ...]:
    header = still.header
    captured, offset = _split(header.captured)
    return (
        *(shot_id, reading.number, reading.number, still.name, reading.name if reading.own else None, header.kind),
        *(still.size, clock_of(still.modified_ns), still.modified_ns, still.changed_ns, header.width, header.height),
        *(captured, offset, header.camera, header.lens, header.software),
        *(header.exposure_s, header.aperture, header.sensitivity, header.focal_length_mm),
        None if header.white is None else mired_of(np.array(header.white))[0],
        *(still.fingerprint, still.measures.mean, still.tail_row),
        *_measures(still.measures),
        *(header.bits, header.remark),
        *(header.rating, header.label, header.caption, header.has_edits),
    )


def _measures(measures: Measures) -> tuple[str, bytes, bytes]:
    grids = ("blocks", "colours")
    numbers = {one.name: getattr(measures, one.name) for one in fields(measures) if one.name not in grids}
    # Hashes of 64 bits do not fit the numbers of JSON.
    numbers["dhash"] = f"{measures.dhash:016x}"
    blocks, colours = (getattr(measures, name).astype("<f2").tobytes() for name in grids)
    return json.dumps(numbers), blocks, colours


def _split(captured: datetime | None) -> tuple[datetime | None, int | None]:
    """Return the camera's own clock reading, and its offset from UTC in minutes if it said so."""
    return (None, None) if captured is None else local_time(captured)
