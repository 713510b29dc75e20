"""What a clip uses of a shot, remembered as long as neither the stills nor the decisions about them change."""

from collections import Counter
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from yarnkite.core.brief import Brief, brief
from yarnkite.core.errors import NotFound
from yarnkite.core.recipe import Check, Decisions, Recipe, Still
from yarnkite.core.used import Used, recipe_of, taken_at, used
from yarnkite.core.weight import Weight
from yarnkite.store.database import Database, Row
from yarnkite.store.rows import rows
from yarnkite.store.shots import folder_of

_COLUMNS = ("id", "name", "fingerprint", "width", "height")


def stamp(database: Database, shot_id: int) -> str:
    """Return a short text that changes whenever a shot's stills, their names or their order change."""
    with database.transaction() as cursor:
        cursor.execute(
            "SELECT COUNT(*) AS stills, BIT_XOR(CRC32(CONCAT_WS('|', id, position, name, fingerprint))) AS mark,"
            " SUM(CRC32(CONCAT_WS('/', name, position, id))) AS sum FROM still WHERE shot_id = %s",
            (shot_id,),
        )
        row = cursor.fetchone() or {}
    return f"{shot_id}-{row.get('stills')}-{row.get('mark')}-{row.get('sum')}"


def of_shot(database: Database, shot: Row, check: Check) -> list[Used]:
    """Return the places of a shot's clip."""
    folder = folder_of(shot)
    decided = check.model_copy(update={"kept": (), "notes": ()})
    return database.remember(
        ("used", stamp(database, shot["id"]), folder, decided),
        lambda: used(of_shot_whole(database, shot), decided),
    )


@dataclass(frozen=True)
class Making:
    """All that a shot's decisions make: the places of the clip, when each was taken (ms), and the recipe."""

    places: list[Used]
    times: tuple[int, ...]
    recipe: Recipe

    @property
    def shapes(self) -> Counter[tuple[int, int]]:
        """How many pictures of each upright size (width, height) there are."""
        return Counter((one.picture.width, one.picture.height) for one in self.places)

    def said(self, weight: Weight | None, every: int) -> Brief:
        """Return the brief; ``every`` is how many stills the shot has."""
        return brief(self.shapes, self.recipe.decisions, weight, every=every, times=self.times)


def making(database: Database, shot: Row, decisions: Decisions) -> Making:
    """Return what decisions make of a shot."""

    def make() -> Making:
        places = of_shot(database, shot, decisions.check)
        times = taken_at(places, _captured(database, shot["id"]))
        return Making(places, times, recipe_of(places, decisions, times))

    check = decisions.check.model_copy(update={"kept": (), "notes": ()})
    decided = decisions.model_copy(update={"check": check})
    return database.remember(("making", stamp(database, shot["id"]), folder_of(shot), decided), make)


def _captured(database: Database, shot_id: int) -> dict[int, datetime | None]:
    """Return when each still was taken, by id, in universal time where its offset is known."""

    def make() -> dict[int, datetime | None]:
        with database.transaction() as cursor:
            found = rows(cursor, shot_id, ("id", "captured_at", "utc_offset_min"))
        return {
            row["id"]: row["captured_at"] and row["captured_at"] - timedelta(minutes=row["utc_offset_min"] or 0)
            for row in found
        }

    return database.remember(("captured", stamp(database, shot_id)), make)


def original(database: Database, shot: Row, position: int) -> tuple[int, Still]:
    """Return the id of the still at a position (from 0), and the still as it was shot; raises ``NotFound``."""
    every = of_shot_whole(database, shot)
    if not 0 <= position < len(every):
        raise NotFound("no_such_still", f"This shot has no still number {position + 1}.")
    return every[position]


def of_shot_whole(database: Database, shot: Row) -> list[tuple[int, Still]]:
    """Return all stills of a shot in order, with their ids, whatever was decided about them."""
    folder = folder_of(shot)
    return database.remember(
        ("stills", stamp(database, shot["id"]), folder), lambda: _stills(database, shot["id"], folder)
    )


def _stills(database: Database, shot_id: int, folder: Path) -> list[tuple[int, Still]]:
    with database.transaction() as cursor:
        return [
            (
                row["id"],
                Still(
                    path=str(folder / row["name"]),
                    fingerprint=row["fingerprint"],
                    width=row["width"],
                    height=row["height"],
                ),
            )
            for row in rows(cursor, shot_id, _COLUMNS)
        ]
