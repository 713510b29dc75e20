"""Who may enter: whoever can read a key in the data folder, and browsers that opened an address signed with it once.

A port asks nobody who knocks: every user of this machine could. The key is a file that only the person who started the
program can read; programs show it as it is (RFC 6750), a browser gets in by an address that works once, and is known by
a cookie from then on. Neither needs to be remembered: both are signed (RFC 2104), and hold as long as the key does.
"""

import base64
import hmac
import os
import secrets
import time
from pathlib import Path

KEY = "key"
# What an address that lets in goes on with, before its ticket.
ENTER = "/enter/"
_KEY_BYTES, _MARK_BYTES = 32, 16
# A browser that was let in is known for so long after it was here last.
KNOWN_S = 30 * 24 * 3600
_WAITS_S = 12 * 3600


class Entrance:
    """Lets in who has the key of a data folder, or something signed with it."""

    def __init__(self, folder: Path) -> None:
        """Open an entrance with the key of a data folder, which is made where there is none yet."""
        self._key = _key_of(folder, make=True)
        self._began_ns = time.time_ns()
        self._used: set[str] = set()

    def is_key(self, given: str) -> bool:
        """Tell whether a program shows the key."""
        return hmac.compare_digest(given.encode(), self._key.hex().encode())

    def admits(self, ticket: str) -> bool:
        """Tell whether a ticket lets in, which it does once; none of before this start does."""
        signed_ns = _signed_ns(self._key, "ticket", ticket)
        if signed_ns is None or not self._began_ns <= signed_ns <= time.time_ns() <= signed_ns + _WAITS_S * 1e9:
            return False
        if ticket in self._used:
            return False
        self._used.add(ticket)
        return True

    def session(self) -> str:
        """Return what a browser that was let in is known by."""
        return _signed(self._key, "session")

    def knows(self, session: str) -> bool:
        """Tell whether a browser was let in, and not too long ago."""
        signed_ns = _signed_ns(self._key, "session", session)
        return signed_ns is not None and time.time_ns() <= signed_ns + KNOWN_S * 1e9


def key_of(folder: Path) -> str:
    """Return the key of a data folder as programs show it; raises ``OSError`` where it cannot be read."""
    return _key_of(folder).hex()


def way_in(folder: Path, address: str) -> str:
    """Return an address that lets a browser in once at the program that holds a data folder and answers at ``address``.

    Who may not read its key gets the address alone.
    """
    try:
        return f"{address.rstrip('/')}{ENTER}{_signed(_key_of(folder), 'ticket')}"
    except (OSError, ValueError):
        return address


def _key_of(folder: Path, *, make: bool = False) -> bytes:
    path = folder / KEY
    if make and not path.exists():
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o600)
        with os.fdopen(descriptor, "w") as file:
            file.write(secrets.token_hex(_KEY_BYTES))
    if make:
        path.chmod(0o600)
    try:
        key = bytes.fromhex(path.read_text("ascii").strip())
    except ValueError:
        key = b""
    if len(key) == _KEY_BYTES:
        return key
    if not make:
        raise ValueError("no key")
    # Cut short when power went: those who were let in before are not known any more.
    path.unlink()
    return _key_of(folder, make=True)


def _signed(key: bytes, what: str) -> str:
    # Short, so that an address keeps to one line of a terminal.
    said = f"{time.time_ns():x}.{secrets.token_hex(4)}"
    return f"{said}.{_mark(key, what, said)}"


def _signed_ns(key: bytes, what: str, given: str) -> int | None:
    """Return when a text was signed for this and with this key, in nanoseconds since 1970, or ``None``."""
    said, _, mark = given.rpartition(".")
    if not hmac.compare_digest(mark.encode(), _mark(key, what, said).encode()):
        return None
    return int(said.partition(".")[0], 16)


def _mark(key: bytes, what: str, said: str) -> str:
    mark = hmac.new(key, f"{what} {said}".encode(), "sha256").digest()[:_MARK_BYTES]
    return base64.urlsafe_b64encode(mark).decode().rstrip("=")
