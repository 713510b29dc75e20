"""What was measured of a shot's movement: pairs of stills, horizons, and points that were followed."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from pymysql.cursors import DictCursor

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.still import Still
from yarnkite.core.move.decisions import Place, Steady
from yarnkite.core.move.horizon import looked_in
from yarnkite.core.move.pairs import PairMotion
from yarnkite.core.move.stills import ShotStills, shot_stills
from yarnkite.store.database import Database, retried
from yarnkite.store.rows import pairs_of, rows

_COLUMNS = ("id", "fingerprint", "width", "height", "away")
_OF_A_STILL = 1_500

Pair = tuple[str, str]


@dataclass(frozen=True)
class MoveMeasures:
    """What is known of a shot's movement, in the state ``version`` names.

    ``motions`` are those of pairs of stills, by their fingerprints; ``horizons`` how far stills lean (degrees, trust),
    by theirs; ``away`` are stills that cannot be measured now.
    """

    version: str
    stills: ShotStills
    away: frozenset[int]
    motions: dict[Pair, PairMotion]
    horizons: dict[str, tuple[float, float]]


def read(database: Database, cursor: DictCursor, shot_id: int, version: str) -> MoveMeasures:
    """Return what is known of a shot's movement; ``version`` is the content version read with the same cursor."""

    def make() -> MoveMeasures:
        stills, away = _stills(cursor, shot_id)
        motions = _motions(cursor, stills.fingerprints)
        return MoveMeasures(version, stills, away, motions, _horizons(cursor, looked_in(stills.fingerprints)))

    return database.cached(("movement", version), make, lambda made: _OF_A_STILL * (1 + len(made.stills.ids)))


def observations(cursor: DictCursor, names: Sequence[str]) -> list[Floats | None]:
    """Return where points were seen, shape (stills, 3): x, y and sure, by the names ``ShotStills.track_name`` gives."""
    return [_observations(cursor, name) for name in names]


@retried
def add_motions(database: Database, pairs: Sequence[tuple[Still, Still]], motions: Sequence[PairMotion]) -> None:
    """Keep how stills lie against each other."""
    with database.transaction() as cursor:
        cursor.executemany(
            "REPLACE INTO still_motion (first_fingerprint, next_fingerprint, numbers, "
            "degrees, noise, corners, agreeing) VALUES (%s, %s, %s, %s, %s, %s, %s)",
            [
                (
                    *(one.fingerprint, other.fingerprint),
                    np.array([*found.similar, *found.numbers], "<f8").tobytes(),
                    *(found.degrees, found.noise, found.corners, found.share),
                )
                for (one, other), found in zip(pairs, motions, strict=True)
            ],
        )


@retried
def add_horizons(database: Database, stills: Sequence[Still], found: Sequence[tuple[float, float]]) -> None:
    """Keep how far the horizons of stills lean."""
    with database.transaction() as cursor:
        cursor.executemany(
            "REPLACE INTO still_horizon (fingerprint, angle_deg, trust) VALUES (%s, %s, %s)",
            [(still.fingerprint, angle, trust) for still, (angle, trust) in zip(stills, found, strict=True)],
        )


@retried
def add_track(database: Database, name: str, observations: Floats) -> None:
    """Keep where a point was seen, shape (stills, 3), under the name ``ShotStills.track_name`` gives."""
    with database.transaction() as cursor:
        cursor.execute(
            "REPLACE INTO point_track (digest, sights) VALUES (%s, %s)",
            (name, np.asarray(observations, "<f4").tobytes()),
        )


@retried
def note_measured(database: Database, shot_id: int) -> None:
    """Note that movement of a shot was measured: what its pictures show may be another now."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET moves_measured = moves_measured + 1 WHERE id = %s", (shot_id,))


def without_horizon(database: Database, stills: Sequence[Still]) -> list[Still]:
    """Return some stills, spread over a shot, whose horizon was not looked for yet."""
    chosen = looked_in(stills)
    with database.transaction() as cursor:
        known = _horizons(cursor, [still.fingerprint for still in chosen])
    return [still for still in chosen if still.fingerprint not in known]


def seen_points(cursor: DictCursor, shot_id: int, steady: Steady) -> list[dict[int, Place]]:
    """Return for each anchored point of a shot where it was seen, by still; nothing where it was not followed yet."""
    if not steady.points:
        return []
    stills, _ = _stills(cursor, shot_id)
    names = (stills.track_name(point) if stills.anchors(point) else None for point in steady.points)
    found = (None if name is None else _observations(cursor, name) for name in names)
    return [{} if one is None else stills.seen_at(one) for one in found]


def is_tracked(database: Database, name: str) -> bool:
    """Tell whether it is known where a point is."""
    with database.transaction() as cursor:
        return _observations(cursor, name) is not None


def _stills(cursor: DictCursor, shot_id: int) -> tuple[ShotStills, frozenset[int]]:
    found = rows(cursor, shot_id, _COLUMNS)
    sizes = [(row["width"], row["height"]) for row in found]
    stills = shot_stills([int(row["id"]) for row in found], [str(row["fingerprint"]) for row in found], sizes)
    return stills, frozenset(int(row["id"]) for row in found if row["away"])


def _observations(cursor: DictCursor, name: str) -> Floats | None:
    cursor.execute("SELECT sights FROM point_track WHERE digest = %s", (name,))
    row = cursor.fetchone()
    return None if row is None else np.frombuffer(row["sights"], "<f4").reshape(-1, 3)


def _motions(cursor: DictCursor, fingerprints: Sequence[str]) -> dict[Pair, PairMotion]:
    columns = ("numbers", "degrees", "noise", "corners", "agreeing")
    found = pairs_of(cursor, "still_motion", columns, fingerprints)
    return {(row["first_fingerprint"], row["next_fingerprint"]): _motion(row) for row in found}


def _motion(row: dict[str, Any]) -> PairMotion:
    numbers = np.frombuffer(row["numbers"], "<f8").tolist()
    return PairMotion(
        tuple(numbers[:4]), tuple(numbers[4:]), row["degrees"], row["noise"], row["corners"], row["agreeing"]
    )


def _horizons(cursor: DictCursor, fingerprints: Sequence[str]) -> dict[str, tuple[float, float]]:
    if not fingerprints:
        return {}
    cursor.execute(
        "SELECT fingerprint, angle_deg, trust FROM still_horizon "
        f"WHERE fingerprint IN ({', '.join(['%s'] * len(fingerprints))})",
        tuple(fingerprints),
    )
    return {row["fingerprint"]: (row["angle_deg"], row["trust"]) for row in cursor.fetchall()}
