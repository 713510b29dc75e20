"""What was measured of the light of a shot's stills, and what they say of the camera they were taken with."""

from dataclasses import dataclass
from typing import Any

from pymysql.cursors import DictCursor

from yarnkite.core.base.arrays import Floats
from yarnkite.store.database import Database
from yarnkite.store.rows import blocks_of, measures_in, rows

_COLUMNS = ("id", "aperture", "exposure_s", "sensitivity", "away", "measures")
_MEASURES = ("red", "blue", "bright")
NOTED = ("id", "camera", "lens", "focal_length_mm", "aperture", "white_mired")


@dataclass(frozen=True)
class LightMeasures:
    """The light of a shot's stills in order, in the state ``version`` names; without blocks if one was never measured.

    ``settings`` are aperture, exposure (s) and sensitivity, ``balance`` red and blue against green in stops, ``blocks``
    the light in stops, shape (stills, 16, 24), ``blown`` the share of each still that is blown out.
    """

    version: str
    ids: tuple[int, ...]
    settings: tuple[tuple[float | None, float | None, float | None], ...]
    balance: tuple[tuple[float, float], ...]
    away: frozenset[int]
    blocks: Floats
    blown: tuple[float, ...]


def read(database: Database, cursor: DictCursor, shot_id: int, version: str) -> LightMeasures:
    """Return what was measured of a shot; ``version`` is the content version read with the same cursor."""

    def make() -> LightMeasures:
        found = rows(cursor, shot_id, _COLUMNS)
        each = [measures_in(row) for row in found]
        red, blue, bright = ([float(one.get(name, 0.0)) for one in each] for name in _MEASURES)
        return LightMeasures(
            version,
            tuple(int(row["id"]) for row in found),
            tuple((row["aperture"], row["exposure_s"], row["sensitivity"]) for row in found),
            tuple(zip(red, blue, strict=True)),
            frozenset(int(row["id"]) for row in found if row["away"]),
            blocks_of(cursor, shot_id),
            tuple(bright),
        )

    return database.cached(("light", version), make, lambda made: made.blocks.nbytes + 300 * (1 + len(made.ids)))


@dataclass(frozen=True)
class CameraNotes:
    """What the stills of a shot say of the camera, in the state ``version`` names; each row as ``NOTED`` lists it."""

    version: str
    rows: tuple[tuple[Any, ...], ...]

    def column(self, name: str) -> list[Any]:
        """Return what each still says of one thing."""
        place = NOTED.index(name)
        return [row[place] for row in self.rows]


def camera_notes(database: Database, cursor: DictCursor, shot_id: int, version: str) -> CameraNotes:
    """Return what a shot's stills say; ``version`` is the content version read with the same cursor."""

    def make() -> CameraNotes:
        return CameraNotes(version, tuple(tuple(row[name] for name in NOTED) for row in rows(cursor, shot_id, NOTED)))

    return database.cached(("camera notes", version), make, lambda made: 250 * (1 + len(made.rows)))
