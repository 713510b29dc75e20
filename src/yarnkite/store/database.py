"""Connections: a pool, and transactions in plain SQL that take effect whole or not at all."""

import contextlib
import functools
import threading
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from typing import Any, ParamSpec, TypeVar, cast

import pymysql
from dbutils.pooled_db import PooledDB
from pymysql.cursors import DictCursor

from yarnkite.core.base.cache import Cache
from yarnkite.core.base.errors import DiskFull, Unavailable
from yarnkite.store import migrate
from yarnkite.store.server import KEEPER, SCHEMA, USER, Address

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
# The disk is full: of a table, of the folder for what is needed for a moment, or of the server's own files.
_FULL = (1021, 1026, 1114, 3)
_inside = threading.local()

_CONNECTED: dict[str, Any] = {
    # It listens on loopback only; preparing for encryption would cost each connection 60 ms.
    "ssl_disabled": True,
    "database": SCHEMA,
    "charset": "utf8mb4",
    "cursorclass": DictCursor,
    "autocommit": False,
    "init_command": "SET time_zone = '+00:00'",
}


class Database:
    """A pool of connections to one schema."""

    def __init__(self, address: Address, trouble: Callable[[], str] = str) -> None:
        """Connect to an address; ``trouble`` says why nothing answers there, if that is known."""
        self._address, self._trouble = address, trouble
        self.closed = threading.Event()
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
            **_CONNECTED,
        )

    def migrate(self, last: str | None = None) -> None:
        """Bring the schema up to date with the numbered files in ``migrations``, or up to the one named ``last``."""
        address = self._address
        connection = pymysql.connect(
            host=address.host, port=address.port, user=KEEPER, password=address.password, **_CONNECTED
        )
        try:
            migrate.migrate(connection, last)
        finally:
            connection.close()

    @contextmanager
    def transaction(self) -> Iterator[DictCursor]:
        """Give a cursor whose statements take effect together, or not at all if an exception leaves the block.

        What it reads is one consistent state. Raises ``Unavailable`` where the database does not answer. A statement is
        never repeated alone: see ``retried``.
        """
        try:
            connection = self._pool.connection()
        except pymysql.err.Error as error:
            raise self._unavailable() from error
        _inside.depth = getattr(_inside, "depth", 0) + 1
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
                raise self._unavailable() from error
            if isinstance(error, pymysql.err.MySQLError) and error.args and error.args[0] in _FULL:
                raise DiskFull(
                    "disk_full",
                    "The disk with the data folder is full, so this was not kept. Free some space there, then try "
                    "again; nothing that was kept before is lost.",
                ) from error
            raise
        finally:
            _inside.depth -= 1
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

    def peek(self, key: Hashable) -> Any:
        """Return what was made for a key before, or ``None``."""
        found = self._cached.peek(key)
        return None if found is None else found[0]

    def keep(self, key: Hashable, value: object, size: int) -> None:
        """Keep a value of about so many bytes for a key."""
        self._cached.put(key, (value, size))

    def close(self) -> None:
        """Let go of the database; who waits for it to come back need not any more."""
        self.closed.set()
        self._pool.close()

    def _unavailable(self) -> Unavailable:
        return Unavailable(
            "database_away",
            self._trouble()
            or "The database is being started again. Nothing that was kept is lost; try again in a moment.",
        )


def retried(function: Callable[Parameters, Result]) -> Callable[Parameters, Result]:
    """Carry out a function, which is one whole transaction, again when the database broke it off for another's sake.

    Within another transaction it is refused: only its last part would be carried out again, and what came before it in
    the transaction is lost by then.
    """

    @functools.wraps(function)
    def whole(*arguments: Parameters.args, **named: Parameters.kwargs) -> Result:
        if getattr(_inside, "depth", 0):
            raise RuntimeError(f"{function.__qualname__} is carried out again by itself: not within a transaction")
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
