"""Presets, by name."""

from collections.abc import Sequence

from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.brief.preset import MOST_PRESETS, Preset
from yarnkite.store.database import Database, Row, retried


def every(database: Database) -> list[tuple[int, Preset]]:
    """Return all presets with their ids, by name."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id, settings FROM preset ORDER BY name")
        return [_read(row) for row in cursor.fetchall()]


def one(database: Database, preset_id: int) -> Preset:
    """Return a preset; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id, settings FROM preset WHERE id = %s", (preset_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_preset", "This preset does not exist any more.")
    return _read(row)[1]


@retried
def save(database: Database, presets: Sequence[Preset]) -> None:
    """Save presets; one of the same name is replaced. Raises ``Refusal`` (``too_many_presets``) above 500."""
    with database.transaction() as cursor:
        cursor.executemany(
            "INSERT INTO preset (name, settings) VALUES (%s, %s) ON DUPLICATE KEY UPDATE settings = VALUES(settings)",
            [(preset.name, preset.model_dump_json()) for preset in presets],
        )
        cursor.execute("SELECT COUNT(*) AS presets FROM preset")
        if (cursor.fetchone() or {})["presets"] > MOST_PRESETS:
            raise Refusal("too_many_presets", f"Up to {MOST_PRESETS} presets are kept. Delete some first.")


@retried
def delete(database: Database, preset_id: int) -> None:
    """Forget a preset."""
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM preset WHERE id = %s", (preset_id,))


def _read(row: Row) -> tuple[int, Preset]:
    return int(row["id"]), Preset.model_validate_json(row["settings"])
