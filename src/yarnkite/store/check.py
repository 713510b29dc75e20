"""What was measured of a shot's stills for the check: each by itself, beside its neighbours, and dirt in some."""

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass

from pymysql.cursors import DictCursor

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.still import Still
from yarnkite.core.check.dirt import Spot
from yarnkite.core.check.shift import Shift
from yarnkite.store.database import Database, Row, retried
from yarnkite.store.rows import blocks_of, colours_of, measures_in, pairs_of, rows

_COLUMNS = (
    *("id", "name", "captured_at", "utc_offset_min", "width", "height", "camera", "exposure_s", "aperture"),
    *("sensitivity", "fingerprint", "measures"),
)

Pairs = dict[tuple[str, str], tuple[float, float, float, float]]


@retried
def add_pairs(database: Database, pairs: Sequence[tuple[Still, Still]], shifts: Sequence[Shift]) -> None:
    """Keep how stills lie against those before them."""
    with database.transaction() as cursor:
        cursor.executemany(
            "REPLACE INTO still_pair (first_fingerprint, next_fingerprint, x, y, rotation_deg, trust) "
            "VALUES (%s, %s, %s, %s, %s, %s)",
            [
                (before.fingerprint, after.fingerprint, shift.x, shift.y, shift.rotation_deg, shift.trust)
                for (before, after), shift in zip(pairs, shifts, strict=True)
            ],
        )


def pairs(database: Database, fingerprints: Sequence[str]) -> Pairs:
    """Return what is known of neighbours among stills, by their fingerprints."""
    with database.transaction() as cursor:
        return _pairs(cursor, fingerprints)


def _pairs(cursor: DictCursor, fingerprints: Sequence[str]) -> Pairs:
    found = pairs_of(cursor, "still_pair", ("x", "y", "rotation_deg", "trust"), fingerprints)
    return {
        (row["first_fingerprint"], row["next_fingerprint"]): (row["x"], row["y"], row["rotation_deg"], row["trust"])
        for row in found
    }


@retried
def keep_dirt(database: Database, shot_id: int, sample: str, found: Sequence[Spot]) -> None:
    """Keep what was found in the stills that ``sample`` stands for."""
    with database.transaction() as cursor:
        cursor.execute(
            "REPLACE INTO shot_dirt (shot_id, sample, spots) VALUES (%s, %s, %s)",
            (shot_id, sample, json.dumps([asdict(spot) for spot in found])),
        )


def dirt(database: Database, shot_id: int) -> tuple[str, list[Spot]]:
    """Return the spots of dirt of a shot, and the mark of the stills they were seen in."""
    with database.transaction() as cursor:
        return dirt_of(cursor, shot_id)


@dataclass(frozen=True)
class CheckMeasures:
    """What was measured of a shot's stills in order; none of them where one was never measured.

    ``rows`` have the columns of ``_COLUMNS``, their measures read; ``blocks`` and ``colours`` are as ``store.rows``
    gives them, ``pairs`` what is known of neighbours, by their fingerprints.
    """

    rows: list[Row]
    blocks: Floats
    colours: Floats
    pairs: Pairs


def measures(cursor: DictCursor, shot_id: int) -> CheckMeasures:
    """Return what was measured of a shot's stills, within a transaction."""
    found = rows(cursor, shot_id, _COLUMNS)
    blocks = blocks_of(cursor, shot_id)
    if any(row["measures"] is None for row in found):
        found, blocks = [], blocks[:0]
    colours = colours_of(cursor, shot_id) if found else blocks
    read = [row | {"measures": measures_in(row)} for row in found]
    return CheckMeasures(read, blocks, colours, _pairs(cursor, [row["fingerprint"] for row in found]))


def dirt_of(cursor: DictCursor, shot_id: int) -> tuple[str, list[Spot]]:
    """Return what ``dirt`` does, within a transaction."""
    cursor.execute("SELECT sample, spots FROM shot_dirt WHERE shot_id = %s", (shot_id,))
    row = cursor.fetchone()
    return (row["sample"], [Spot(**one) for one in json.loads(row["spots"])]) if row else ("", [])
