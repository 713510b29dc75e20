"""Pieces of clips that are being played: made when a page asks for them, and kept for when it asks again."""

import threading
from collections import OrderedDict
from collections.abc import Iterable
from concurrent.futures import Future

from yarnkite.core.errors import NotFound
from yarnkite.core.gather import Proxies
from yarnkite.core.playing import Piece, made

# Pieces are made by threads of the server, which the workers' long pieces of work do not hold up.
_AT_ONCE = 2
_KEPT_BYTES = 250_000_000
_KNOWN = 60_000


class Pieces:
    """Knows which pieces were offered, makes each once however many ask for it, and keeps the newest."""

    def __init__(self, proxies: Proxies) -> None:
        self._read = proxies.read_quickly
        self._known: OrderedDict[str, Piece] = OrderedDict()
        self._made: OrderedDict[str, bytes] = OrderedDict()
        self._coming: dict[str, Future[bytes]] = {}
        self._bytes = 0
        self._lock = threading.Lock()
        self._turns = threading.Semaphore(_AT_ONCE)

    def offer(self, pieces: Iterable[Piece]) -> None:
        """Note pieces that may be asked for."""
        with self._lock:
            for piece in pieces:
                self._known[piece.key] = piece
                self._known.move_to_end(piece.key)
            while len(self._known) > _KNOWN:
                self._known.popitem(last=False)

    def get(self, key: str) -> bytes:
        """Return a piece; raises ``NotFound`` if it was never offered, or too long ago, and ``UnreadableStill``."""
        with self._lock:
            if key in self._made:
                self._made.move_to_end(key)
                return self._made[key]
            if key not in self._known:
                raise NotFound("no_such_piece", "This piece of the clip is not known any more. Start playing again.")
            coming, mine = self._coming.get(key), False
            if coming is None:
                coming, mine = self._coming.setdefault(key, Future()), True
        if mine:
            self._make(key, coming)
        return coming.result()

    def _make(self, key: str, coming: "Future[bytes]") -> None:
        try:
            with self._turns:
                data = made(self._known[key], self._read)
            with self._lock:
                self._keep(key, data)
            coming.set_result(data)
        except BaseException as error:
            coming.set_exception(error)
        finally:
            with self._lock:
                self._coming.pop(key, None)

    def _keep(self, key: str, data: bytes) -> None:
        self._made[key] = data
        self._bytes += len(data)
        while self._bytes > _KEPT_BYTES and len(self._made) > 1:
            _, old = self._made.popitem(last=False)
            self._bytes -= len(old)
