"""All decisions about a shot put together: its slots, and the recipe of its clip."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from yarnkite.core.base.geometry import count_shapes
from yarnkite.core.base.homography import Homography
from yarnkite.core.base.still import Still
from yarnkite.core.brief.sentence import Brief, brief
from yarnkite.core.encode.size_model import SizeModel
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.laying import laid_anew, region_within
from yarnkite.core.render.lighting import corrections_of
from yarnkite.core.render.recipe import Recipe
from yarnkite.core.render.slots import Slot, recipe_of, taken_at
from yarnkite.resolve import light, move
from yarnkite.resolve.light import LightRead, adjustments_from, shared_light_from
from yarnkite.resolve.move import MoveRead, ShotSteadying, steadying_from
from yarnkite.resolve.slots import slots_from, that_matters
from yarnkite.store import snapshots
from yarnkite.store.database import Database, Row
from yarnkite.store.snapshots import BYTES_A_STILL, Snapshot


@dataclass(frozen=True)
class ResolvedShot:
    """All that a shot's decisions make: the slots of the clip, when each was taken (ms), and the recipe.

    ``state`` is the version of the stills it was made of, ``decisions`` what was decided.
    """

    slots: list[Slot]
    times: tuple[int, ...]
    recipe: Recipe
    state: str
    decisions: Decisions

    @property
    def shapes(self) -> Counter[tuple[int, int]]:
        """How many pictures of each upright size (width, height) there are."""
        return count_shapes(one.picture for one in self.slots)

    def said(self, size_model: SizeModel | None, every: int, expected: int | None = None) -> Brief:
        """Return the brief; ``every`` is how many stills the shot has, ``expected`` the bytes of the clip if
        measured."""
        light = self.decisions.light
        region = self.recipe.region
        return brief(
            *(self.shapes, self.recipe.decisions, size_model),
            every=every,
            times=self.times,
            light=light,
            region=region,
            expected=expected,
        )


def resolved(database: Database, shot: Row, decisions: Decisions) -> ResolvedShot:
    """Return what decisions make of a shot."""
    decided = decisions.model_copy(update={"check": that_matters(decisions.check)})
    steady = decided.move.steady
    with database.transaction() as cursor:
        stills = snapshots.read(database, cursor, shot)
        lit = light.read(database, cursor, shot["id"], stills.version, decided.light)
        moved = move.read(database, cursor, shot["id"], stills.version, steady) if steady.is_wished else None
    # A table of colours that was not there may have come since, and a point been followed.
    seen = None if moved is None else tuple(one is not None for one in moved.observations)
    key = ("resolved", stills.key, decided, lit.table is None, seen)
    return database.cached(
        key,
        lambda: _resolved(database, stills, lit, moved, decided),
        lambda made: BYTES_A_STILL * (1 + 2 * len(made.slots)),
    )


def maps_by_path(stills: Sequence[tuple[int, Still]], found: ShotSteadying) -> dict[str, Homography]:
    """Return the maps of a shot's stills that are laid anew, by their paths."""
    maps = found.maps
    return {still.path: maps[number] for number, still in stills if number in maps}


def _resolved(
    database: Database, stills: Snapshot, lit: LightRead, moved: MoveRead | None, decided: Decisions
) -> ResolvedShot:
    slots = slots_from(database, stills, decided.check)
    times = taken_at(slots, stills.captured)
    adjustments = adjustments_from(database, lit, stills.stills, decided)
    shared = shared_light_from(database, lit, decided.light)
    if decided.check.dust:
        shared = shared.model_copy(update={"dust": decided.check.dust})
    maps: dict[str, Homography] = {}
    if moved is not None:
        maps = maps_by_path(stills.stills, steadying_from(database, moved, decided.check, decided.move.steady))
    corrected = laid_anew(corrections_of(slots, stills.stills, adjustments), slots, maps)
    region = region_within(slots, decided.fit, shared, maps, decided.move.steady.edges) if maps else None
    sides = (region.left, region.top, region.right, region.bottom) if region else None
    recipe = recipe_of(slots, decided, times, corrected, shared, sides)
    return ResolvedShot(slots, times, recipe, stills.version, decided)
