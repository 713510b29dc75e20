"""What a clip uses of a shot, remembered as long as neither the stills nor the decisions about them change."""

from collections import Counter
from pathlib import Path

from yarnkite.core.errors import NotFound
from yarnkite.core.recipe import Check, Picture, Still
from yarnkite.core.used import Used, used
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


def pictures(database: Database, shot: Row, check: Check) -> tuple[Picture, ...]:
    """Return the pictures of a shot's clip in order, as a recipe holds them."""
    return tuple(one.picture for one in of_shot(database, shot, check))


def shapes(database: Database, shot: Row, check: Check) -> Counter[tuple[int, int]]:
    """Return how many pictures of each upright size (width, height) a shot's clip is made of."""
    return Counter((one.picture.width, one.picture.height) for one in of_shot(database, shot, check))


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
