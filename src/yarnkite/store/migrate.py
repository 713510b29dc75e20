"""Migrations: numbered files of SQL, whose statements are carried out once each, however often that is broken off.

A library that notes whole files cannot do that: what changes a table takes effect at once in MariaDB, so a file that
was broken off was neither carried out nor not, and the program never started again. Here every statement is noted by
itself. What changes rows is noted in the same transaction; what changes a table is noted before and after, and is whole
or not at all (MariaDB's atomic DDL, 10.6 and later): one that was begun and says on its second try that it is so
already has been done.
"""

import re
from dataclasses import dataclass
from importlib.resources import files

import pymysql
from pymysql.connections import Connection
from pymysql.cursors import DictCursor

from yarnkite import __version__
from yarnkite.core.base.errors import Refusal

_LOCK_S = 60
# What a statement says that has been carried out before: table, column or key is there; column or key is gone.
_IS_SO_ALREADY = {1050, 1060, 1061, 1054, 1091}
_ROWS = ("UPDATE", "DELETE", "INSERT")


class NewerData(Refusal):
    """The data folder was opened by a newer edition of the program, which this one does not know."""


@dataclass(frozen=True)
class Migration:
    """A file of statements, named by its number and what it is about."""

    name: str
    statements: tuple[str, ...]


def migrations() -> list[Migration]:
    """Return all migrations of this edition in their order."""
    folder = files("yarnkite.store") / "migrations"
    found = [one for one in folder.iterdir() if one.name.endswith(".sql")]
    return [
        Migration(one.name.removesuffix(".sql"), statements_of(one.read_text(encoding="utf-8")))
        for one in sorted(found, key=lambda one: one.name)
    ]


def statements_of(text: str) -> tuple[str, ...]:
    """Return the statements of a file, which end with a semicolon at the end of a line."""
    plain = re.sub(r"^\s*--.*$", "", text, flags=re.MULTILINE)
    return tuple(one for part in re.split(r";[ \t]*(?:\n|\Z)", plain) if (one := part.strip()))


def migrate(connection: "Connection[DictCursor]", last: str | None = None) -> None:
    """Carry out what has not been carried out yet, up to the migration named ``last``; raises ``NewerData``."""
    with connection.cursor() as cursor:
        # It ends with the connection, however that ends: nobody is left to break it.
        cursor.execute("SELECT GET_LOCK(CONCAT(DATABASE(), '.migrations'), %s) AS held", (_LOCK_S,))
        if not (cursor.fetchone() or {})["held"]:
            raise Refusal("being_opened", "This data folder is being opened by another program. Try again in a moment.")
        _prepare(cursor)
        own = migrations()
        done = _carried_out(cursor, own)
        _check_edition(cursor, {name for name, _ in done} - {one.name for one in own})
        wanted = [each for each in own if last is None or each.name <= last]
        for one, step in [(each, step) for each in wanted for step in range(len(each.statements))]:
            if done.get((one.name, step)) is not True:
                _carry_out(connection, cursor, one, step, begun=(one.name, step) in done)
        cursor.execute("SELECT version FROM edition WHERE id = 1")
        if (cursor.fetchone() or {"version": ""})["version"] != __version__:
            cursor.execute("REPLACE INTO edition (id, version) VALUES (1, %s)", (__version__,))
        connection.commit()
        cursor.execute("SELECT RELEASE_LOCK(CONCAT(DATABASE(), '.migrations'))")


def _prepare(cursor: DictCursor) -> None:
    cursor.execute(
        "CREATE TABLE IF NOT EXISTS migration_step (migration VARCHAR(120) CHARACTER "
        "SET ascii NOT NULL, step INT NOT NULL, done BOOLEAN NOT NULL, PRIMARY KEY (migration, step)) ENGINE=InnoDB"
    )
    cursor.execute(
        "CREATE TABLE IF NOT EXISTS edition (id TINYINT NOT NULL "
        "PRIMARY KEY, version VARCHAR(40) NOT NULL) ENGINE=InnoDB"
    )


def _carried_out(cursor: DictCursor, own: list[Migration]) -> dict[tuple[str, int], bool]:
    """Return which statements were begun, and whether they are done; earlier editions noted whole files."""
    cursor.execute("SHOW TABLES LIKE '\\_yoyo\\_migration'")
    noted: set[str] = set()
    if cursor.fetchone() is not None:
        cursor.execute("SELECT migration_id FROM _yoyo_migration")
        noted = {row["migration_id"] for row in cursor.fetchall()}
    known = {one.name: len(one.statements) for one in own}
    done = {(name, step): True for name in noted for step in range(known.get(name, 1))}
    cursor.execute("SELECT migration, step, done FROM migration_step")
    return done | {(row["migration"], row["step"]): bool(row["done"]) for row in cursor.fetchall()}


def _check_edition(cursor: DictCursor, unknown: set[str]) -> None:
    if not unknown:
        return
    cursor.execute("SELECT version FROM edition WHERE id = 1")
    newer = (cursor.fetchone() or {"version": "a newer one"})["version"]
    raise NewerData(
        "newer_data",
        f"This data folder was opened by edition {newer} of Yarn Kite, and this is edition {__version__}, which "
        "cannot read"
        f" it. Start edition {newer}, or give this one a data folder of its own with --data. Nothing was changed.",
    )


def _carry_out(
    connection: "Connection[DictCursor]", cursor: DictCursor, one: Migration, step: int, *, begun: bool
) -> None:
    statement = one.statements[step]
    note = "REPLACE INTO migration_step (migration, step, done) VALUES (%s, %s, %s)"
    if statement.upper().startswith(_ROWS):
        connection.begin()
        cursor.execute(statement)
        cursor.execute(note, (one.name, step, True))
        connection.commit()
        return
    cursor.execute(note, (one.name, step, False))
    connection.commit()
    try:
        cursor.execute(statement)
    except pymysql.err.MySQLError as error:
        if not (begun and error.args and error.args[0] in _IS_SO_ALREADY):
            raise
    cursor.execute(note, (one.name, step, True))
    connection.commit()
