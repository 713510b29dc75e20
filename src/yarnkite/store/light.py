"""How a shot's light is made even, from what was measured when it was gathered."""

from dataclasses import dataclass

import numpy as np
from pymysql.cursors import DictCursor

from yarnkite.core.check.decisions import Check
from yarnkite.core.light.decisions import Even
from yarnkite.core.light.evening import Evening, evening
from yarnkite.core.light.exposure import exposure_value
from yarnkite.core.render.lighting import spoiled_for_evening
from yarnkite.store.database import Database
from yarnkite.store.rows import blocks_of, rows

_COLUMNS = ("id", "aperture", "exposure_s", "sensitivity", "away")


@dataclass(frozen=True)
class ShotEvening:
    """The evening of a shot, one value a still in the order of ``ids``; nothing for one that was never measured."""

    ids: tuple[int, ...]
    evening: Evening

    @property
    def gains(self) -> dict[int, float]:
        """The stops by which each still is raised, by id."""
        return dict(zip(self.ids, self.evening.gains.tolist(), strict=True))


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
        spoiled = np.array(spoiled_for_evening(ids, check, away), bool)
        return ShotEvening(tuple(ids), evening(blocks, np.array(exposure, float), spoiled, even))

    matters = (check.aside, check.bridged, check.held, check.begin, check.end)
    return database.cached(("evening", version, matters, even), make, lambda made: 200 * (1 + len(made.ids)))
