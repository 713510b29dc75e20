"""Looks, by name, and the tables of colours that lights use, by what they do."""

from pymysql.cursors import DictCursor

from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.light.cube import ColourTable
from yarnkite.core.light.looks import Look
from yarnkite.store.database import Database, Row, retried

MOST_LOOKS = 300
MOST_TABLES = 200


def every(database: Database) -> list[tuple[int, Look]]:
    """Return all looks that were saved, with their ids, by name."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id, name, settings FROM look ORDER BY name")
        return [(int(row["id"]), _read(row)) for row in cursor.fetchall()]


def one(database: Database, look_id: int) -> Look:
    """Return a look; raises ``NotFound``."""
    with database.transaction() as cursor:
        cursor.execute("SELECT id, name, settings FROM look WHERE id = %s", (look_id,))
        row = cursor.fetchone()
    if row is None:
        raise NotFound("no_such_look", "This look does not exist any more.")
    return _read(row)


@retried
def save(database: Database, look: Look) -> None:
    """Save a look; one of the same name is replaced. Raises ``Refusal`` (``too_many_looks``) above 300."""
    with database.transaction() as cursor:
        cursor.execute(
            "INSERT INTO look (name, settings) VALUES (%s, %s) ON DUPLICATE KEY UPDATE settings = VALUES(settings)",
            (look.name, look.model_dump_json()),
        )
        cursor.execute("SELECT COUNT(*) AS looks FROM look")
        if (cursor.fetchone() or {})["looks"] > MOST_LOOKS:
            raise Refusal("too_many_looks", f"Up to {MOST_LOOKS} looks are saved. Delete some first.")


@retried
def delete(database: Database, look_id: int) -> None:
    """Forget a look; where it was applied nothing changes."""
    with database.transaction() as cursor:
        cursor.execute("DELETE FROM look WHERE id = %s", (look_id,))


@retried
def save_table(database: Database, table: ColourTable, name: str) -> None:
    """Keep a table of colours under its digest; raises ``Refusal`` (``too_many_tables``) above 200."""
    with database.transaction() as cursor:
        cursor.execute(
            "INSERT IGNORE INTO colour_table (digest, name, side, packed) VALUES (%s, %s, %s, %s)",
            (table.digest, name, table.side, table.packed),
        )
        cursor.execute("SELECT COUNT(*) AS tables FROM colour_table")
        if (cursor.fetchone() or {})["tables"] > MOST_TABLES:
            raise Refusal("too_many_tables", f"Up to {MOST_TABLES} tables of colours are kept.")


def table(database: Database, cursor: DictCursor, digest: str) -> ColourTable | None:
    """Return a table of colours by its digest, or ``None`` if it is not there: nothing is changed by it then."""

    def make() -> ColourTable | None:
        cursor.execute("SELECT side, packed FROM colour_table WHERE digest = %s", (digest,))
        row = cursor.fetchone()
        return ColourTable(side=row["side"], packed=row["packed"]) if row else None

    found = database.cached(("colour table", digest), make, lambda made: 10_000 + (len(made.packed) if made else 0))
    return found or make()


def tables(database: Database) -> list[tuple[str, str]]:
    """Return the digests and names of the tables there are, by name."""
    with database.transaction() as cursor:
        cursor.execute("SELECT digest, name FROM colour_table ORDER BY name, digest")
        return [(row["digest"], row["name"]) for row in cursor.fetchall()]


def _read(row: Row) -> Look:
    return Look.model_validate_json(row["settings"])
