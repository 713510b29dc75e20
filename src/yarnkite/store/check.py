"""What was measured of a shot's stills, put together for the check, and the findings that came of it."""

import itertools
import json
from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

import numpy as np
from pymysql.cursors import DictCursor

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.frozen import digest
from yarnkite.core.base.still import Still
from yarnkite.core.check.dirt import Spot
from yarnkite.core.check.finding import Finding, ShotMeasurements, worst_first
from yarnkite.core.check.findings import findings, from_breaks, from_dirt, from_left_out
from yarnkite.core.check.shift import Shift
from yarnkite.core.light.exposure import exposure_value
from yarnkite.core.order.decisions import Order
from yarnkite.core.render.slots import alike
from yarnkite.store import order, shots, stills
from yarnkite.store.database import Database, Row, retried
from yarnkite.store.rows import blocks_of, colours_of, pairs_of, rows
from yarnkite.store.slots import content_version, of_shot_whole

_COLUMNS = (
    *("id", "name", "captured_at", "utc_offset_min", "width", "height", "camera", "exposure_s", "aperture"),
    *("sensitivity", "fingerprint", "measures"),
)
_MEASURES = ("red", "blue", "sharpness", "bright", "dark")
DIRT_LOOKS = 48

Pairs = dict[tuple[str, str], tuple[float, float, float, float]]


@retried
def add_pairs(database: Database, pairs: Sequence[tuple[Still, Still]], shifts: Sequence[Shift]) -> None:
    """Keep how stills lie against those before them."""
    with database.transaction() as cursor:
        cursor.executemany(
            "REPLACE INTO still_pair (first_fingerprint, next_fingerprint, x, y, rotation_deg, trust)"
            " VALUES (%s, %s, %s, %s, %s, %s)",
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


def for_dirt(database: Database, shot: Row) -> tuple[str, list[Still]]:
    """Return the stills of a shot in which dirt is looked for, spread over it, with a mark that stands for them."""
    usual = alike([still for _, still in of_shot_whole(database, shot)])
    chosen = usual[:: max(1, len(usual) // DIRT_LOOKS)]
    return digest(*(still.fingerprint for still in chosen)), chosen


@retried
def keep_dirt(database: Database, shot_id: int, sample: str, found: Sequence[Spot]) -> None:
    """Keep what was found where ``for_dirt`` said to look."""
    with database.transaction() as cursor:
        cursor.execute(
            "REPLACE INTO shot_dirt (shot_id, sample, spots) VALUES (%s, %s, %s)",
            (shot_id, sample, json.dumps([asdict(spot) for spot in found])),
        )


def dirt(database: Database, shot_id: int) -> tuple[str, list[Spot]]:
    """Return the spots of dirt of a shot, and the mark of the stills they were seen in."""
    with database.transaction() as cursor:
        return _dirt(cursor, shot_id)


def of_shot(database: Database, shot_id: int, decided: Order) -> tuple[ShotMeasurements, list[Finding], bool]:
    """Return a shot's measures, its findings, and whether all pairs of neighbours are measured."""
    shot = shots.one(database, shot_id)
    with database.transaction() as cursor:
        mark = content_version(cursor, shot_id)
        sample, spots = _dirt(cursor, shot_id)
        unreadable = [one for one in stills.left_out_of(cursor, shot_id) if one["kind"] == "unreadable"]
        measurements, is_complete = database.cached(("track", mark), lambda: _track(cursor, shot_id), _weight)
        if not is_complete:
            # Pairs are still being measured; what is known of them now is not the last word.
            measurements, is_complete = _track(cursor, shot_id)

        def found() -> list[Finding]:
            if not measurements.ids:
                return []
            _, breaks = order.analysed(cursor, shot_id, decided)
            spoiled = from_left_out(measurements, [(one["name"], one["reason"]) for one in unreadable])
            return worst_first(
                [*findings(measurements), *from_breaks(measurements, breaks), *from_dirt(measurements, spots), *spoiled]
            )

        key = ("findings", mark, is_complete, sample, decided, tuple(one["name"] for one in unreadable))
        result = database.cached(key, found, lambda made: 2_000 * (1 + len(made)))
    is_sampled = sample == for_dirt(database, shot)[0]
    return measurements, result, is_complete and is_sampled


def _weight(measured: tuple[ShotMeasurements, bool]) -> int:
    measurements = measured[0]
    return int(measurements.blocks.nbytes + measurements.colours.nbytes) + 1_000 * len(measurements.ids)


def _dirt(cursor: DictCursor, shot_id: int) -> tuple[str, list[Spot]]:
    cursor.execute("SELECT sample, spots FROM shot_dirt WHERE shot_id = %s", (shot_id,))
    row = cursor.fetchone()
    return (row["sample"], [Spot(**one) for one in json.loads(row["spots"])]) if row else ("", [])


def _track(cursor: DictCursor, shot_id: int) -> tuple[ShotMeasurements, bool]:
    found = rows(cursor, shot_id, _COLUMNS)
    blocks = blocks_of(cursor, shot_id)
    if any(row["measures"] is None for row in found):
        found, blocks = [], blocks[:0]
    colours = colours_of(cursor, shot_id) if found else blocks
    measures = [_numbers(row["measures"]) for row in found]
    prints = [row["fingerprint"] for row in found]
    known = _pairs(cursor, prints)
    shifts = [known.get(pair, (0.0, 0.0, 0.0, 0.0)) for pair in itertools.pairwise(prints)]
    moves = np.array([(0.0, 0.0, 0.0, 0.0), *shifts][: len(found)]).reshape(len(found), 4)
    measurements = ShotMeasurements(
        ids=[row["id"] for row in found],
        names=[row["name"] for row in found],
        captured=[universal_time(row["captured_at"], row["utc_offset_min"]) for row in found],
        blocks=blocks,
        **{name: np.array([one[name] for one in measures]) for name in _MEASURES},
        shifts=moves[:, :3],
        trust=moves[:, 3],
        exposure=np.array([exposure_value(row["aperture"], row["exposure_s"], row["sensitivity"]) for row in found]),
        dhashes=[int(one["dhash"], 16) for one in measures],
        shapes=[(row["width"], row["height"], row["camera"]) for row in found],
        colours=colours,
    )
    complete = all(pair in known for pair in itertools.pairwise(prints))
    return measurements, complete


def _numbers(measures: Any) -> dict[str, Any]:
    return dict(json.loads(measures) if isinstance(measures, str) else measures)
