"""Connections: a pool, and transactions in plain SQL."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from importlib.resources import as_file, files
from typing import Any, TypeVar, cast

import pymysql
import yoyo
from dbutils.pooled_db import PooledDB
from pymysql.cursors import DictCursor

from yarnkite.store.server import SCHEMA, USER, Address

Row = dict[str, Any]
Made = TypeVar("Made")

_REMEMBERED_MOST = 40


class Database:
    """A pool of connections to one schema."""

    def __init__(self, address: Address) -> None:
        self._address = address
        self._remembered: OrderedDict[Hashable, object] = OrderedDict()
        self._lock = threading.Lock()
        self._pool = PooledDB(
            creator=pymysql,
            maxconnections=24,
            blocking=True,
            ping=7,
            host=address.host,
            port=address.port,
            user=USER,
            password=address.password,
            database=SCHEMA,
            charset="utf8mb4",
            cursorclass=DictCursor,
            autocommit=False,
            init_command="SET time_zone = '+00:00'",
        )

    def migrate(self) -> None:
        """Bring the schema up to date with the numbered files in ``migrations``."""
        address = self._address
        backend = yoyo.get_backend(f"mysql://{USER}:{address.password}@{address.host}:{address.port}/{SCHEMA}")
        with as_file(files("yarnkite.store") / "migrations") as folder, backend.lock():
            backend.apply_migrations(backend.to_apply(yoyo.read_migrations(str(folder))))

    @contextmanager
    def transaction(self) -> Iterator[DictCursor]:
        """Give a cursor whose statements take effect together, or not at all if an exception leaves the block."""
        connection = self._pool.connection()
        try:
            with connection.cursor() as cursor:
                yield cursor
            connection.commit()
        except BaseException:
            connection.rollback()
            raise
        finally:
            connection.close()

    def remember(self, key: Hashable, make: Callable[[], Made]) -> Made:
        """Return what ``make`` made for a key before, or makes now; what was used longest ago is forgotten."""
        with self._lock:
            if key in self._remembered:
                self._remembered.move_to_end(key)
                return cast(Made, self._remembered[key])
        made = make()
        with self._lock:
            self._remembered[key] = made
            while len(self._remembered) > _REMEMBERED_MOST:
                self._remembered.popitem(last=False)
        return made

    def close(self) -> None:
        self._pool.close()
