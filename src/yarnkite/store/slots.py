"""What a clip uses of a shot, cached as long as neither the stills nor the decisions about them change."""

from collections import Counter
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from pymysql.cursors import DictCursor

from yarnkite.core.base.capture_time import universal_time
from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.geometry import count_shapes
from yarnkite.core.base.homography import Homography
from yarnkite.core.base.still import Still
from yarnkite.core.brief.sentence import Brief, brief
from yarnkite.core.check.decisions import Check
from yarnkite.core.encode.size_model import SizeModel
from yarnkite.core.image.lens import NO_PROFILE
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, Adjustment, SharedLight
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.evening import Gain
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.laying import laid_anew, region_within
from yarnkite.core.render.lighting import adjustments_of, corrections_of, shared_light
from yarnkite.core.render.recipe import Recipe
from yarnkite.core.render.slots import Slot, recipe_of, slots_of, taken_at
from yarnkite.store import looks
from yarnkite.store.database import Database, Row
from yarnkite.store.light import ShotCamera, ShotEvening, camera_of, evening_of
from yarnkite.store.move import ShotSteadying, steadying_of
from yarnkite.store.rows import rows
from yarnkite.store.shots import folder_of

_OF_A_STILL = ("fingerprint", "width", "height", "bytes", "modified_ns", "changed_ns")
_COLUMNS = ("id", "name", *_OF_A_STILL)
# All that what is cached of a shot's stills depends on. A name may have anything in it, so it comes last.
_STAMPED = ("id", "position", "away", *_OF_A_STILL, "captured_at", "utc_offset_min", "LENGTH(colours)", "name")
# What a still takes in memory, about: its object, its path, its place among others.
BYTES_A_STILL = 1_200


def content_version(cursor: DictCursor, shot_id: int) -> str:
    """Return a short text that changes whenever a shot's stills, their files, names or order change, or their movement
    is measured.

    Read what it names with the same cursor, so that both are of one state.
    """
    # A sum of rows, each hashed by SHA-256 (FIPS 180-4): with a checksum, which is linear, what two stills exchange would
    # cancel out.
    row_text = ", ".join(f"IFNULL({one}, '-')" for one in _STAMPED)
    cursor.execute(
        f"SELECT COUNT(*) AS stills, BIT_XOR(CAST(CONV(LEFT(SHA2(CONCAT_WS('|', {row_text}), 256), 16), 16, 10) AS UNSIGNED))"
        " AS mark, (SELECT moves_measured FROM shot WHERE id = %s) AS moves FROM still WHERE shot_id = %s",
        (shot_id, shot_id),
    )
    row = cursor.fetchone() or {}
    return f"{shot_id}-{row.get('stills')}-{row.get('mark')}-{row.get('moves')}"


def state(database: Database, shot_id: int) -> str:
    """Return ``content_version`` by itself, to tell one state of a shot's stills from another."""
    with database.transaction() as cursor:
        return content_version(cursor, shot_id)


def of_shot(database: Database, shot: Row, check: Check) -> list[Slot]:
    """Return the slots of a shot's clip."""
    with database.transaction() as cursor:
        return _places(database, cursor, shot, check)


@dataclass(frozen=True)
class ResolvedShot:
    """All that a shot's decisions make: the slots of the clip, when each was taken (ms), and the recipe.

    ``state`` is the stamp of the stills it was made of, ``decisions`` what was decided.
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
        """Return the brief; ``every`` is how many stills the shot has, ``expected`` the bytes of the clip if measured."""
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
    decided = decisions.model_copy(update={"check": _that_matters(decisions.check)})
    with database.transaction() as cursor:
        mark = content_version(cursor, shot["id"])

        def make() -> ResolvedShot:
            slots = _places(database, cursor, shot, decided.check)
            times = taken_at(slots, _captured(database, cursor, shot["id"]))
            stills = _stills(database, cursor, shot)
            lit = corrections_of(slots, stills, _adjustments(database, cursor, shot, mark, decided))
            light = _shared_light(database, cursor, shot, mark, decided.light)
            maps = _laid(database, cursor, shot, mark, decided)
            corrected = laid_anew(lit, slots, maps)
            edges = decided.move.steady.edges
            region = region_within(slots, decided.fit, light, maps, edges) if maps else None
            sides = (region.left, region.top, region.right, region.bottom) if region else None
            recipe = recipe_of(slots, decided, times, corrected, light, sides)
            return ResolvedShot(slots, times, recipe, mark, decided)

        key = ("making", mark, folder_of(shot), decided)
        return database.cached(key, make, lambda made: BYTES_A_STILL * (1 + 2 * len(made.slots)))


def _adjustments(
    database: Database, cursor: DictCursor, shot: Row, version: str, decided: Decisions
) -> dict[int, Adjustment]:
    gains: dict[int, Gain] = {}
    if decided.light.even.is_wished:
        gains = evening_of(database, cursor, shot["id"], version, decided.check, decided.light.even).gains
    return adjustments_of(decided.light, _stills(database, cursor, shot), gains)


def _laid(database: Database, cursor: DictCursor, shot: Row, version: str, decided: Decisions) -> dict[str, Homography]:
    """Return the maps of stills that are laid anew, by their paths."""
    if not decided.move.steady.is_wished:
        return {}
    found = steadying_of(database, cursor, shot["id"], version, decided.check, decided.move.steady).maps
    return {still.path: found[number] for number, still in _stills(database, cursor, shot) if number in found}


def clock(database: Database, shot: Row, slots: list[Slot], times: tuple[int, ...]) -> tuple[float, ...]:
    """Return when each slot was taken by the camera's own clock, in seconds since 1970; nothing where that is not known.

    ``times`` is what ``ResolvedShot`` has: how much later than the first known each was taken.
    """
    if not times:
        return ()
    with database.transaction() as cursor:
        known = {row["id"]: row["captured_at"] for row in rows(cursor, shot["id"], ("id", "captured_at"))}
    first = next((known[one.still] for one in slots if known.get(one.still) is not None), None)
    if first is None:
        return ()
    begun = first.replace(tzinfo=UTC).timestamp()
    offset = next(later for later, one in zip(times, slots, strict=True) if known.get(one.still) is not None)
    return tuple(begun + (later - offset) / 1000 for later in times)


def tail_rows_by_path(database: Database, shot: Row) -> dict[str, bytes]:
    """Return the tail row of each still of a shot, by its path."""
    with database.transaction() as cursor:
        ordered = [still.path for _, still in _stills(database, cursor, shot)]
        cursor.execute("SELECT tail_row FROM still WHERE shot_id = %s ORDER BY position", (shot["id"],))
        return dict(zip(ordered, (row["tail_row"] for row in cursor.fetchall()), strict=True))


def laid(database: Database, shot: Row, decisions: Decisions) -> dict[str, Homography]:
    """Return the maps of a shot's stills that decisions lay anew, by their paths."""
    with database.transaction() as cursor:
        return _laid(database, cursor, shot, content_version(cursor, shot["id"]), decisions)


def steadied(database: Database, shot: Row, decisions: Decisions) -> ShotSteadying:
    """Return how decisions lay a shot's stills against each other."""
    with database.transaction() as cursor:
        version = content_version(cursor, shot["id"])
        return steadying_of(database, cursor, shot["id"], version, decisions.check, decisions.move.steady)


def _shared_light(database: Database, cursor: DictCursor, shot: Row, version: str, light: Light) -> SharedLight:
    if light.is_neutral:
        return NO_SHARED_LIGHT
    table = looks.table(database, cursor, light.table.digest) if light.table else None
    camera = camera_of(database, cursor, shot["id"], version)
    return shared_light(light, table, camera.mired, camera.profile or NO_PROFILE)


def camera(database: Database, shot: Row) -> ShotCamera:
    """Return what a shot's stills say of the light they were taken in and of their lens."""
    with database.transaction() as cursor:
        return camera_of(database, cursor, shot["id"], content_version(cursor, shot["id"]))


def adjustments(database: Database, shot: Row, decisions: Decisions) -> dict[int, Adjustment]:
    """Return what decisions do to the light of each still of a shot, by id; nothing at all where light is left as it is."""
    with database.transaction() as cursor:
        return _adjustments(database, cursor, shot, content_version(cursor, shot["id"]), decisions)


def evening(database: Database, shot: Row, decisions: Decisions) -> ShotEvening:
    """Return how decisions make a shot's light even."""
    with database.transaction() as cursor:
        version = content_version(cursor, shot["id"])
        return evening_of(database, cursor, shot["id"], version, decisions.check, decisions.light.even)


def away(database: Database, shot_id: int) -> set[int]:
    """Return the ids of the stills whose files could not be reached when the shot was gathered last."""
    with database.transaction() as cursor:
        return _away(cursor, shot_id)


def not_in_clip(database: Database, shot_id: int, check: Check) -> set[int]:
    """Return the ids of the stills that are not in the clip: set aside, or away."""
    return {*check.aside, *away(database, shot_id)}


def original(database: Database, shot: Row, position: int) -> tuple[int, Still]:
    """Return the id of the still at a position (from 0), and the still as it was shot; raises ``NotFound``."""
    every = of_shot_whole(database, shot)
    if not 0 <= position < len(every):
        raise NotFound("no_such_still", f"This shot has no still number {position + 1}.")
    return every[position]


def of_shot_whole(database: Database, shot: Row) -> list[tuple[int, Still]]:
    """Return all stills of a shot in order, with their ids, whatever was decided about them."""
    with database.transaction() as cursor:
        return _stills(database, cursor, shot)


def still_of(row: Row, folder: Path, *, is_copy: bool) -> Still:
    """Return a row of a still, with the columns a still has, as the still of a recipe.

    ``is_copy`` says that its shot was copied from elsewhere: what was noted of the inode is of the file it is a copy of.
    """
    noted = {name: row[name] for name in _OF_A_STILL}
    return Still(path=str(folder / row["name"]), **noted | ({"changed_ns": None} if is_copy else {}))


def _that_matters(check: Check) -> Check:
    return check.model_copy(update={"dismissed": (), "notes": ()})


def _places(database: Database, cursor: DictCursor, shot: Row, check: Check) -> list[Slot]:
    decided = _that_matters(check)
    key = ("used", content_version(cursor, shot["id"]), folder_of(shot), decided)

    def make() -> list[Slot]:
        out = decided.changed(aside={*decided.aside, *_away(cursor, shot["id"])})
        return slots_of(_stills(database, cursor, shot), out)

    return database.cached(key, make, _weight)


def _stills(database: Database, cursor: DictCursor, shot: Row) -> list[tuple[int, Still]]:
    folder = folder_of(shot)

    def make() -> list[tuple[int, Still]]:
        is_copy = shot["source"] is not None
        return [(row["id"], still_of(row, folder, is_copy=is_copy)) for row in rows(cursor, shot["id"], _COLUMNS)]

    return database.cached(("stills", content_version(cursor, shot["id"]), folder), make, _weight)


def _captured(database: Database, cursor: DictCursor, shot_id: int) -> dict[int, datetime | None]:
    """Return when each still was taken, by id, in universal time where its offset is known."""

    def make() -> dict[int, datetime | None]:
        return {
            row["id"]: universal_time(row["captured_at"], row["utc_offset_min"])
            for row in rows(cursor, shot_id, ("id", "captured_at", "utc_offset_min"))
        }

    return database.cached(("captured", content_version(cursor, shot_id)), make, _weight)


def _away(cursor: DictCursor, shot_id: int) -> set[int]:
    cursor.execute("SELECT id FROM still WHERE shot_id = %s AND away", (shot_id,))
    return {int(row["id"]) for row in cursor.fetchall()}


def _weight(made: Any) -> int:
    return BYTES_A_STILL * (1 + len(made))
