"""The camera's path over a shot, and how its stills are laid by it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from pymysql.cursors import DictCursor

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.homography import Homography, homography
from yarnkite.core.check.decisions import Check
from yarnkite.core.move.decisions import AnchoredPoint, Steady
from yarnkite.core.move.horizon import looked_in, tilt_of
from yarnkite.core.move.path import Path, path_of, wanted_pairs
from yarnkite.core.move.steadying import Steadying, steadying
from yarnkite.core.move.stills import ShotStills
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.lighting import not_as_they_are, what_sets_apart
from yarnkite.store import move as measured
from yarnkite.store.database import Database, Row
from yarnkite.store.move import MoveMeasures
from yarnkite.store.snapshots import content_version

_OF_A_STILL = 500


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
    """How a shot's stills are laid, and by what; ``observations`` are x, y and sure of each anchored point in each
    still.

    ``is_complete`` tells whether all that is needed was measured; else nothing is laid yet.
    """

    of: ShotPath
    laid: Steadying | None
    observations: list[Floats]
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


@dataclass(frozen=True)
class MoveRead:
    """What was read of a shot that steadying is made of: its movement, and where each anchored point was seen."""

    measures: MoveMeasures
    points: list[AnchoredPoint]
    observations: list[Floats | None]


def read(database: Database, cursor: DictCursor, shot_id: int, version: str, steady: Steady) -> MoveRead:
    """Read, within a transaction, what steadying needs of a shot in the state ``version`` names."""
    found = measured.read(database, cursor, shot_id, version)
    points = [one for one in steady.points if steady.how == "anchor" and found.stills.anchors(one)]
    return MoveRead(found, points, measured.observations(cursor, [found.stills.track_name(one) for one in points]))


def path_of_shot(database: Database, shot_id: int, check: Check) -> ShotPath:
    """Return the camera's path over a shot, as far as it is measured."""
    with database.transaction() as cursor:
        found = measured.read(database, cursor, shot_id, content_version(cursor, shot_id))
    return path_from(database, found, check, perspective=False)


def steadying_of_shot(database: Database, shot: Row, decisions: Decisions) -> ShotSteadying:
    """Return how decisions lay a shot's stills against each other."""
    with database.transaction() as cursor:
        version = content_version(cursor, shot["id"])
        found = read(database, cursor, shot["id"], version, decisions.move.steady)
    return steadying_from(database, found, decisions.check, decisions.move.steady)


def path_from(database: Database, found: MoveMeasures, check: Check, *, perspective: bool) -> ShotPath:
    """Return the camera's path over a shot, from what was measured of it."""

    def make() -> ShotPath:
        ids, prints = found.stills.ids, found.stills.fingerprints
        pairs = [(one, two, (prints[one], prints[two])) for one, two in wanted_pairs(prints)]
        # What is away cannot be measured, and is not in the clip.
        there = [number not in found.away for number in ids]
        missing = [(one, two) for one, two, key in pairs if there[one] and there[two] and key not in found.motions]
        motions = [(one, two, found.motions[key]) for one, two, key in pairs if key in found.motions]
        # What the stretch leaves out was still seen; what is set aside or bridged is nothing to go by.
        all_of_it = check.model_copy(update={"begin": None, "end": None})
        spoiled = not_as_they_are(ids, all_of_it, found.away)
        used = ~not_as_they_are(ids, check, found.away)
        made = path_of(len(ids), motions, spoiled, perspective=perspective)
        return ShotPath(found.stills, used, made, _tilt(found, spoiled, made), missing)

    key = ("camera path", found.version, what_sets_apart(check), perspective)
    return database.cached(key, make, lambda made: _OF_A_STILL * (1 + len(made.stills.ids)))


def steadying_from(database: Database, found: MoveRead, check: Check, steady: Steady) -> ShotSteadying:
    """Return how a shot's stills are laid, from what was measured of its movement."""

    def make() -> ShotSteadying:
        perspective = steady.how == "still" and steady.perspective
        shot = path_from(database, found.measures, check, perspective=perspective)
        known = [one for one in found.observations if one is not None]
        complete = not shot.missing and len(known) == len(found.points)
        nothing_held = steady.how == "anchor" and not found.points
        if not (complete and steady.is_wished and shot.stills.ids) or nothing_held:
            return ShotSteadying(shot, None, known, complete)
        return ShotSteadying(shot, _laid(shot, steady, found.points, known), known, complete)

    is_known = tuple(one is not None for one in found.observations)
    key = ("steadying", found.measures.version, what_sets_apart(check), steady, is_known)
    return database.cached(key, make, lambda made: 4 * _OF_A_STILL * (1 + len(made.of.stills.ids)))


def _tilt(found: MoveMeasures, spoiled: Flags, path: Path) -> float | None:
    prints = found.stills.fingerprints
    chosen = looked_in(range(len(prints)))
    looked = [place for place in chosen if prints[place] in found.horizons and not spoiled[place]]
    angles, trusts = ([found.horizons[prints[place]][one] for place in looked] for one in (0, 1))
    return tilt_of(angles, trusts, path.numbers[looked, 2]) if looked else None


def _laid(shot: ShotPath, steady: Steady, points: Sequence[AnchoredPoint], observations: Sequence[Floats]) -> Steadying:
    stills = shot.stills
    places = {number: place for place, number in enumerate(stills.ids)}
    return steadying(
        *(shot.path, shot.used, steady, stills.aspect),
        reference=places.get(steady.reference) if steady.reference else None,
        points=[one[:, :2].astype(float) for one in observations],
        clicked=stills.anchors(points[0])[0][0] if points else 0,
        tilt=shot.tilt or 0.0,
    )
