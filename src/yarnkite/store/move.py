"""What was measured of a shot's movement, and how its stills are laid by it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from pymysql.cursors import DictCursor

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.frozen import digest
from yarnkite.core.base.homography import Homography, homography
from yarnkite.core.base.still import Still
from yarnkite.core.check.decisions import Check
from yarnkite.core.move.decisions import HeldPoint, Place, Steady
from yarnkite.core.move.horizon import tilt_of
from yarnkite.core.move.pairs import PairMotion
from yarnkite.core.move.path import Path, path_of, wanted_pairs
from yarnkite.core.move.region import half_sides
from yarnkite.core.move.steadying import Steadying, steadying
from yarnkite.core.render.lighting import not_as_they_are
from yarnkite.store.database import Database, Row, retried
from yarnkite.store.rows import pairs_of, rows

_HORIZONS = 24
_COLUMNS = ("id", "fingerprint", "width", "height", "away")
_OF_A_STILL = 500

Pair = tuple[str, str]


@dataclass(frozen=True)
class ShotStills:
    """The stills of a shot in order, and their usual width over their height."""

    ids: tuple[int, ...]
    fingerprints: tuple[str, ...]
    aspect: float

    def anchors(self, point: HeldPoint) -> list[tuple[int, Floats]]:
        """Return where a point was pointed at: positions and places in half diagonals; stills that are gone say nothing."""
        places, half = {number: place for place, number in enumerate(self.ids)}, half_sides(self.aspect)
        known = [one for one in point.places if one.still in places]
        found = [(places[one.still], (np.array([one.x, one.y]) * 2 - 1) * half) for one in known]
        return sorted(found, key=lambda one: one[0])

    def track_name(self, point: HeldPoint) -> str:
        """Return a digest of all that determines where a point is seen: the stills in order, and what was pointed at."""
        said = (f"{self.fingerprints[place]} {at[0]:.6f} {at[1]:.6f}" for place, at in self.anchors(point))
        return digest("track", *said, "of", *self.fingerprints)


@dataclass(frozen=True)
class ShotPath:
    """The camera's path over a shot: what it was measured of, the path, and by how much the camera leaned (radians).

    ``used`` are the stills that are in the clip, ``missing`` the pairs, by position, that are not measured yet.
    """

    stills: ShotStills
    used: Flags
    path: Path
    tilt: float | None
    missing: list[tuple[int, int]]


@dataclass(frozen=True)
class ShotSteadying:
    """How a shot's stills are laid, and by what; ``sights`` are x, y and sure of each held point in each still.

    ``is_complete`` tells whether all that is needed was measured; else nothing is laid yet.
    """

    of: ShotPath
    laid: Steadying | None
    sights: list[Floats]
    is_complete: bool

    @cached_property
    def maps(self) -> dict[int, Homography]:
        """The map of each still that is laid anew, by id."""
        if self.laid is None:
            return {}
        nothing = np.eye(3)
        return {
            number: homography(one)
            for number, one in zip(self.of.stills.ids, self.laid.maps, strict=True)
            if not np.array_equal(one, nothing)
        }


@retried
def add_motions(database: Database, pairs: Sequence[tuple[Still, Still]], motions: Sequence[PairMotion]) -> None:
    """Keep how stills lie against each other."""
    with database.transaction() as cursor:
        cursor.executemany(
            "REPLACE INTO still_motion (first_fingerprint, next_fingerprint, numbers, degrees, noise, corners, agreeing)"
            " VALUES (%s, %s, %s, %s, %s, %s, %s)",
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
def add_track(database: Database, name: str, sights: Floats) -> None:
    """Keep where a point was seen, shape (stills, 3), under the name ``ShotStills.track_name`` gives."""
    with database.transaction() as cursor:
        cursor.execute(
            "REPLACE INTO point_track (digest, sights) VALUES (%s, %s)", (name, np.asarray(sights, "<f4").tobytes())
        )


@retried
def note_measured(database: Database, shot_id: int) -> None:
    """Note that movement of a shot was measured: what its pictures show may be another now."""
    with database.transaction() as cursor:
        cursor.execute("UPDATE shot SET moves_measured = moves_measured + 1 WHERE id = %s", (shot_id,))


def without_horizon(database: Database, stills: Sequence[Still]) -> list[Still]:
    """Return some stills, spread over a shot, whose horizon was not looked for yet."""
    chosen = _spread(stills)
    with database.transaction() as cursor:
        known = _horizons(cursor, [still.fingerprint for still in chosen])
    return [still for still in chosen if still.fingerprint not in known]


def path(database: Database, shot_id: int, version: str, check: Check, *, perspective: bool = False) -> ShotPath:
    """Return the camera's path over a shot, as far as it is measured; ``version`` is its content version."""
    with database.transaction() as cursor:
        return _path(database, cursor, shot_id, version, check, perspective=perspective)


def _path(
    database: Database, cursor: DictCursor, shot_id: int, version: str, check: Check, *, perspective: bool
) -> ShotPath:
    def make() -> ShotPath:
        found = rows(cursor, shot_id, _COLUMNS)
        stills = _stills(found)
        ids, prints = stills.ids, stills.fingerprints
        away = {int(row["id"]) for row in found if row["away"]}
        pairs = wanted_pairs(prints)
        known = _motions(cursor, prints)
        # What is away cannot be measured, and is not in the clip.
        there = [number not in away for number in ids]
        missing = [
            (one, two) for one, two in pairs if there[one] and there[two] and (prints[one], prints[two]) not in known
        ]
        motions = [
            (one, two, known[prints[one], prints[two]]) for one, two in pairs if (prints[one], prints[two]) in known
        ]
        # What the stretch leaves out was still seen; what is set aside or bridged is nothing to go by.
        all_of_it = check.model_copy(update={"begin": None, "end": None})
        spoiled = np.array(not_as_they_are(ids, all_of_it, away), bool)
        used = ~np.array(not_as_they_are(ids, check, away), bool)
        made = path_of(len(ids), motions, spoiled, perspective=perspective)
        chosen = _spread(range(len(ids)))
        horizons = _horizons(cursor, [prints[place] for place in chosen])
        looked = [place for place in chosen if prints[place] in horizons and not spoiled[place]]
        angles, trusts = ([horizons[prints[place]][one] for place in looked] for one in (0, 1))
        tilt = tilt_of(angles, trusts, made.numbers[looked, 2]) if looked else None
        return ShotPath(stills, used, made, tilt, missing)

    matters = (check.aside, check.bridged, check.held, check.begin, check.end)
    key = ("camera path", version, matters, perspective)
    return database.cached(key, make, lambda made: _OF_A_STILL * (1 + len(made.stills.ids)))


def steadying_of(
    database: Database, cursor: DictCursor, shot_id: int, version: str, check: Check, steady: Steady
) -> ShotSteadying:
    """Return how a shot's stills are laid; ``version`` is the content version read with the same cursor."""

    def make() -> ShotSteadying:
        perspective = steady.how == "still" and steady.perspective
        shot = _path(database, cursor, shot_id, version, check, perspective=perspective)
        stills = shot.stills
        points = [one for one in steady.points if steady.how == "hold" and stills.anchors(one)]
        sights = [_sights(cursor, stills.track_name(one)) for one in points]
        known = [one for one in sights if one is not None]
        complete = not shot.missing and len(known) == len(points)
        if not (complete and steady.is_wished and stills.ids) or (steady.how == "hold" and not points):
            return ShotSteadying(shot, None, known, complete)
        places = {number: place for place, number in enumerate(stills.ids)}
        laid = steadying(
            shot.path,
            shot.used,
            steady,
            stills.aspect,
            reference=places.get(steady.reference) if steady.reference else None,
            points=[one[:, :2].astype(float) for one in known],
            clicked=stills.anchors(points[0])[0][0] if points else 0,
            tilt=shot.tilt or 0.0,
        )
        return ShotSteadying(shot, laid, known, complete)

    matters = (check.aside, check.bridged, check.held, check.begin, check.end)
    key = ("steadying", version, matters, steady)
    return database.cached(key, make, lambda made: 4 * _OF_A_STILL * (1 + len(made.of.stills.ids)))


def seen_points(cursor: DictCursor, shot_id: int, steady: Steady) -> list[dict[int, Place]]:
    """Return for each held point of a shot where it was seen, by still; nothing where it was not followed yet."""
    if not steady.points:
        return []
    stills = _stills(rows(cursor, shot_id, _COLUMNS))
    half = half_sides(stills.aspect)
    result = []
    for point in steady.points:
        sights = _sights(cursor, stills.track_name(point)) if stills.anchors(point) else None
        known = [] if sights is None else list(zip(stills.ids, sights.astype(float), strict=True))
        places = {still: (at[:2] / half + 1) / 2 for still, at in known if at[2] > 0}
        inside = {still: one for still, one in places.items() if one.min() >= 0 and one.max() <= 1}
        result.append({still: Place(x=float(one[0]), y=float(one[1])) for still, one in inside.items()})
    return result


def _stills(found: Sequence[Row]) -> ShotStills:
    shapes = [row["width"] / row["height"] for row in found if row["width"] and row["height"]]
    ids, prints = (int(row["id"]) for row in found), (str(row["fingerprint"]) for row in found)
    return ShotStills(tuple(ids), tuple(prints), float(np.median(shapes)) if shapes else 1.5)


def is_tracked(database: Database, name: str) -> bool:
    """Tell whether it is known where a point is."""
    with database.transaction() as cursor:
        return _sights(cursor, name) is not None


def _sights(cursor: DictCursor, name: str) -> Floats | None:
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
        "SELECT fingerprint, angle_deg, trust FROM still_horizon"
        f" WHERE fingerprint IN ({', '.join(['%s'] * len(fingerprints))})",
        tuple(fingerprints),
    )
    return {row["fingerprint"]: (row["angle_deg"], row["trust"]) for row in cursor.fetchall()}


def _spread(every: Sequence[Any]) -> list[Any]:
    return list(every[:: max(1, len(every) // _HORIZONS)])
