"""Connections: a pool, and transactions in plain SQL that take effect whole or not at all."""

import contextlib
import functools
import threading
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from importlib.resources import as_file, files
from typing import Any, ParamSpec, TypeVar, cast

import pymysql
import yoyo
from dbutils.pooled_db import PooledDB
from pymysql.cursors import DictCursor

from yarnkite.core.base.cache import Cache
from yarnkite.core.base.errors import Unavailable
from yarnkite.store.server import SCHEMA, USER, Address

Row = dict[str, Any]
Made = TypeVar("Made")
Parameters = ParamSpec("Parameters")
Result = TypeVar("Result")

CACHED_MOST_BYTES = 256_000_000
TRIES = 5
# MariaDB's own numbers: a deadlock, and a lock that was waited for too long.
_BROKEN_OFF = (1213, 1205)
# The server is not there, going down, or gone in the middle.
_LOST = (1053, 1927, 2002, 2003, 2006, 2013, 2055)


class Database:
    """A pool of connections to one schema."""

    def __init__(self, address: Address) -> None:
        self._address = address
        self._cached: Cache[tuple[object, int]] = Cache(CACHED_MOST_BYTES, lambda entry: entry[1], threading.Lock())
        self._pool = PooledDB(
            creator=pymysql,
            maxconnections=24,
            blocking=True,
            ping=1,
            host=address.host,
            port=address.port,
            user=USER,
            password=address.password,
            # It listens on loopback only; preparing for encryption would cost each connection 60 ms.
            ssl_disabled=True,
            database=SCHEMA,
            charset="utf8mb4",
            cursorclass=DictCursor,
            autocommit=False,
            init_command="SET time_zone = '+00:00'",
        )

    def migrate(self, last: str | None = None) -> None:
        """Bring the schema up to date with the numbered files in ``migrations``, or up to the one named ``last``."""
        address = self._address
        place = f"{address.host}:{address.port}/{SCHEMA}?ssl_disabled=yes"
        backend = yoyo.get_backend(f"mysql://{USER}:{address.password}@{place}")
        with as_file(files("yarnkite.store") / "migrations") as folder, backend.lock():
            every = yoyo.read_migrations(str(folder))
            wanted = every if last is None else every.filter(lambda migration: migration.id <= last)
            backend.apply_migrations(backend.to_apply(wanted))

    @contextmanager
    def transaction(self) -> Iterator[DictCursor]:
        """Give a cursor whose statements take effect together, or not at all if an exception leaves the block.

        What it reads is one consistent state. Raises ``Unavailable`` where the database does not answer. A statement is
        never repeated alone: see ``retried``.
        """
        try:
            connection = self._pool.connection()
        except pymysql.err.Error as error:
            raise _unavailable() from error
        try:
            # The pool would else put a lost connection right and repeat the failed statement alone.
            connection.begin()
            with connection.cursor() as cursor:
                yield cursor
            connection.commit()
        except BaseException as error:
            # A rollback that fails has nothing to take back, and must not hide what went wrong.
            with contextlib.suppress(Exception):
                connection.rollback()
            if _is_lost(error):
                raise _unavailable() from error
            raise
        finally:
            connection.close()

    def answers(self) -> bool:
        """Tell whether the database answers now."""
        try:
            with self.transaction() as cursor:
                cursor.execute("SELECT 1")
        except (Unavailable, pymysql.err.Error):
            return False
        return True

    def cached(self, key: Hashable, make: Callable[[], Made], size_of: Callable[[Made], int]) -> Made:
        """Return what ``make`` made for a key before, or makes now; ``size_of`` says about how many bytes it takes.

        A key names the state the value is made of: read it, and what it names, in one transaction.
        """

        def entry() -> tuple[object, int]:
            made = make()
            return made, size_of(made)

        return cast(Made, self._cached.get(key, entry)[0])

    def close(self) -> None:
        self._pool.close()


def retried(function: Callable[Parameters, Result]) -> Callable[Parameters, Result]:
    """Carry out a function, which is one whole transaction, again when the database broke it off for another's sake."""

    @functools.wraps(function)
    def whole(*arguments: Parameters.args, **named: Parameters.kwargs) -> Result:
        for _ in range(TRIES - 1):
            try:
                return function(*arguments, **named)
            except pymysql.err.OperationalError as error:
                if error.args[0] not in _BROKEN_OFF:
                    raise
        return function(*arguments, **named)

    return whole


def _is_lost(error: BaseException) -> bool:
    if isinstance(error, pymysql.err.InterfaceError):
        return True
    return isinstance(error, pymysql.err.OperationalError) and bool(error.args) and error.args[0] in _LOST


def _unavailable() -> Unavailable:
    return Unavailable(
        "database_away", "The database is being started again. Nothing that was kept is lost; try again in a moment."
    )
