"""Stills that are added at the end of a shot: what it ends with, and how more come after that in one short transaction.

What this costs goes with the stills that come, not with those that are there.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from pathlib import Path

from pymysql.cursors import DictCursor

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.fingerprint import Kind, kinds_of
from yarnkite.core.base.still import Still
from yarnkite.core.gather.gathering import Gathered
from yarnkite.core.gather.locations import clock_of
from yarnkite.core.gather.sorting import LeftOut
from yarnkite.core.image.kinds import category
from yarnkite.core.order.breaks import Taken
from yarnkite.core.order.continuing import continues, is_ascending
from yarnkite.core.order.decisions import Order
from yarnkite.store import revisions, shots
from yarnkite.store.database import Database, Row, retried
from yarnkite.store.order import taken_of
from yarnkite.store.rows import rows
from yarnkite.store.snapshots import OF_A_STILL, content_version, still_of
from yarnkite.store.stills import Reading, exposure_of, insert, leave_out_also, named

_COLUMNS = (
    *("id", "name", "source_name", "kind", "number", "position", "away"),
    *("captured_at", "utc_offset_min", "modified_at", *OF_A_STILL),
)
# By names as text, by the files' dates and by hand, what comes later may belong anywhere.
_GOES_ON = ("recommended", "counter", "time")


@dataclass(frozen=True)
class End:
    """A shot in one state (``version``, and its ``order`` as it was decided), as far as adding to it needs that.

    ``names`` are those of its files where they are read, ``exposures`` the same by what the files of one exposure have
    in common; ``has_raws`` says that one of them is a raw file. ``last`` is the last still, ``None`` where a still that
    comes later may belong anywhere, ``kinds`` are the ways its fingerprints were made.
    """

    version: str
    order: Order
    names: frozenset[str]
    exposures: Mapping[tuple[str, str], str]
    has_raws: bool
    kinds: tuple[Kind, ...]
    last: Taken | None
    last_still: Still | None

    def picture_of(self, name: str) -> str:
        """Return the name of the picture a raw file of this name is of the same exposure as, or nothing."""
        is_raw = category(Path(name).name) == "raw"
        return self.exposures.get(exposure_of(name), "") if is_raw and not self.has_raws else ""

    def is_continued_by(self, stills: Sequence[Taken]) -> bool:
        """Tell whether stills, in the order of their names, only come after all there are."""
        if self.last is None or any(exposure_of(still.name) in self.exposures for still in stills):
            return False
        return all(continues(before, after) for before, after in pairwise((self.last, *stills)))


def end_of(database: Database, shot: Row, *, by_source: bool = False) -> End:
    """Return what a shot ends with; ``by_source`` says that its files are read where they were copied from."""
    with database.transaction() as cursor:
        version, order = content_version(cursor, shot["id"]), _order(cursor, shot["id"])
        found = rows(cursor, shot["id"], _COLUMNS)
    names = frozenset(named(row, by_source=by_source) for row in found)
    kinds = kinds_of(row["fingerprint"] for row in found)
    last = still = None
    in_turn = all(row["number"] == row["position"] == place and not row["away"] for place, row in enumerate(found))
    taken = [taken_of(row) for row in found]
    if found and shot["gathered"] and in_turn and order.by in _GOES_ON and is_ascending(taken):
        last, still = taken[-1], _still(shot, found[-1])
    has_raws = any(row["kind"] == "RAW" for row in found)
    return End(version, order, names, {exposure_of(name): name for name in names}, has_raws, kinds, last, still)


@retried
def append(
    database: Database, shot: Row, end: End, gathered: Sequence[Gathered], beside: Sequence[LeftOut] = ()
) -> tuple[End, list[Still]] | None:
    """Add stills after the last one of a shot, and return what it ends with then, and the stills.

    ``beside`` are the files that belong to them, and are told among those left out.
    Adds nothing, and returns ``None``, where the shot is not what it was at ``end`` any more, or they belong elsewhere.
    """
    taken = [
        Taken(still.name, universal_time(still.header.captured), clock_of(still.modified_ns), still.fingerprint)
        for still in gathered
    ]
    if not end.is_continued_by(taken):
        return None
    with database.transaction() as cursor:
        now = shots.locked(cursor, shot["id"])
        if (content_version(cursor, shot["id"]), _order(cursor, shot["id"])) != (end.version, end.order):
            return None
        as_read = (shot["folder"], shot["source"], shot["raws"])
        if not now["gathered"] or (now["folder"], now["source"], now["raws"]) != as_read:
            return None
        if _is_known_otherwise(cursor, shot["id"], [*(one.name for one in gathered), *(one.name for one in beside)]):
            return None
        first = len(end.names)
        readings = [Reading(number, still.name, None) for number, still in enumerate(gathered, first)]
        insert(cursor, shot["id"], list(zip(readings, gathered, strict=True)))
        leave_out_also(cursor, shot["id"], beside)
        version = content_version(cursor, shot["id"])
    added = [_still_of(shot, one) for one in gathered]
    grown = replace(
        end,
        version=version,
        names=end.names.union(still.name for still in gathered),
        exposures={**end.exposures, **{exposure_of(still.name): still.name for still in gathered}},
        has_raws=end.has_raws or any(still.header.kind == "RAW" for still in gathered),
        last=[end.last, *taken][-1],
        last_still=[end.last_still, *added][-1],
    )
    return grown, added


def _is_known_otherwise(cursor: DictCursor, shot_id: int, names: Sequence[str]) -> bool:
    """Tell whether a file is a still that was taken out and is wanted back, or could not be used before."""
    marks = ", ".join(["%s"] * len(names))
    cursor.execute(
        f"SELECT name FROM taken_out WHERE shot_id = %s AND name IN ({marks}) UNION "
        f"SELECT name FROM left_out WHERE shot_id = %s AND name IN ({marks}) LIMIT 1",
        (shot_id, *names, shot_id, *names),
    )
    return cursor.fetchone() is not None


def _order(cursor: DictCursor, shot_id: int) -> Order:
    return revisions.newest_readable(cursor, shot_id)[1].order


def _still_of(shot: Row, still: Gathered) -> Still:
    header = still.header
    of_header = {"width": header.width, "height": header.height, "fingerprint": still.fingerprint}
    of_file = {"bytes": still.size, "modified_ns": still.modified_ns, "changed_ns": still.changed_ns}
    row = {"name": still.name} | of_header | of_file
    return _still(shot, row)


def _still(shot: Row, row: Row) -> Still:
    return still_of(row, shots.folder_of(shot), is_copy=shot["source"] is not None)
