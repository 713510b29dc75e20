"""How a shot's light is made even, from what was measured when it was gathered."""

import json
from collections import Counter
from dataclasses import dataclass
from functools import cached_property
from statistics import median
from typing import Any

import numpy as np
from pymysql.cursors import DictCursor

from yarnkite.core.check.decisions import Check
from yarnkite.core.image.lens import Profile
from yarnkite.core.light.colour import DAYLIGHT_MIRED
from yarnkite.core.light.course import values_of
from yarnkite.core.light.decisions import Even
from yarnkite.core.light.evening import Evening, Gain, evening
from yarnkite.core.light.exposure import exposure_value
from yarnkite.core.light.lens_profile import profile_of
from yarnkite.core.render.lighting import not_as_they_are
from yarnkite.store.database import Database
from yarnkite.store.rows import blocks_of, rows

_COLUMNS = ("id", "aperture", "exposure_s", "sensitivity", "away", "measures")


@dataclass(frozen=True)
class ShotEvening:
    """The evening of a shot, one value a still in the order of ``ids``; nothing for one that was never measured."""

    ids: tuple[int, ...]
    evening: Evening

    @cached_property
    def gains(self) -> dict[int, Gain]:
        """What each still gets, by id."""
        return {number: self.evening.gain_of(place) for place, number in enumerate(self.ids)}


@dataclass(frozen=True)
class ShotCamera:
    """What a shot's stills say: the mired of the light they are balanced for, and what their lens is known to do.

    ``is_measured`` tells whether the stills say the light themselves; ``lens`` is the name most of them give.
    """

    mired: float
    is_measured: bool
    lens: str
    profile: Profile | None


def camera_of(database: Database, cursor: DictCursor, shot_id: int, version: str) -> ShotCamera:
    """Return what the stills of a shot say; ``version`` is the content version read with the same cursor."""

    def make() -> ShotCamera:
        cursor.execute(
            "SELECT camera, lens, focal_length_mm, aperture, white_mired FROM still WHERE shot_id = %s", (shot_id,)
        )
        found = cursor.fetchall()
        mired = [row["white_mired"] for row in found if row["white_mired"]]
        measured = len(mired) * 2 > len(found)
        named = Counter((row["camera"], row["lens"]) for row in found).most_common(1)
        camera, lens = named[0][0] if named else ("", "")
        focal, aperture = (
            [float(row[name]) for row in found if row["lens"] == lens and row[name]]
            for name in ("focal_length_mm", "aperture")
        )
        profile = profile_of(camera, lens, median(focal), median(aperture or [5.6])) if lens and focal else None
        return ShotCamera(round(median(mired), 2) if measured else DAYLIGHT_MIRED, measured, lens, profile)

    return database.cached(("camera", version), make, lambda made: 2_000)


def evening_of(
    database: Database, cursor: DictCursor, shot_id: int, version: str, check: Check, even: Even
) -> ShotEvening:
    """Return how a shot's light is made even; ``version`` is the content version read with the same cursor."""

    def make() -> ShotEvening:
        found = rows(cursor, shot_id, _COLUMNS)
        blocks = blocks_of(cursor, shot_id)
        if not len(blocks):
            nothing = np.zeros(0)
            return ShotEvening((), Evening(nothing, nothing, nothing))
        ids = [int(row["id"]) for row in found]
        exposure = [exposure_value(row["aperture"], row["exposure_s"], row["sensitivity"]) for row in found]
        away = {int(row["id"]) for row in found if row["away"]}
        spoiled = np.array(not_as_they_are(ids, check, away), bool)
        colours = np.array([_colours(row["measures"]) for row in found]) if even.colour else None
        drawn = values_of(
            even.drawn, {still: place for place, still in enumerate(ids)}, np.arange(len(ids), dtype=float)
        )
        made = evening(blocks, np.array(exposure, float), spoiled, even, colours=colours, drawn=drawn)
        return ShotEvening(tuple(ids), made)

    matters = (check.aside, check.bridged, check.held, check.begin, check.end)
    return database.cached(("evening", version, matters, even), make, lambda made: 400 * (1 + len(made.ids)))


def _colours(measures: Any) -> tuple[float, float]:
    """Return red and blue of a still against its green, in stops."""
    found = measures if isinstance(measures, dict) else json.loads(measures or "{}")
    return float(found.get("red", 0.0)), float(found.get("blue", 0.0))
