"""Opening files that may be anything: only regular ones are opened, and a file that changes meanwhile is noticed."""

import io
import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.fingerprint import NEWEST, Kind, fingerprint, kind_of

MOST_BYTES = 2_000_000_000
_PIECE = 8_000_000


@dataclass(frozen=True)
class OpenedFile:
    """A regular file that is open for reading; ``size`` its bytes, ``modified_ns`` its time of change in nanoseconds
    since 1970, ``changed_ns`` that of its inode."""

    path: Path
    handle: BinaryIO
    size: int
    modified_ns: int
    changed_ns: int

    def read(self) -> bytes:
        """Return all bytes; raises ``UnreadableStill`` (``changing``) if there are more or fewer by now."""
        try:
            self.handle.seek(0)
            data = self.handle.read(self.size + 1)
        except OSError as error:
            raise _unreadable(self.path.name, error) from None
        if len(data) != self.size:
            raise self._changing()
        return data

    def fingerprint(self, data: bytes | None = None, kind: Kind = NEWEST) -> str:
        """Return the fingerprint of the bytes: of ``data`` if they were read, else of the file, a piece at a time."""
        return fingerprint((data,) if data is not None else self._pieces(), kind)

    def has(self, wanted: str) -> bool:
        """Tell whether the bytes have a fingerprint, however that was made."""
        return self.fingerprint(kind=kind_of(wanted)) == wanted

    def _pieces(self) -> Iterator[bytes]:
        try:
            self.handle.seek(0)
            while piece := self.handle.read(_PIECE):
                yield piece
        except OSError as error:
            raise _unreadable(self.path.name, error) from None

    def check_unchanged(self) -> None:
        """Raise ``UnreadableStill`` (``changing``) if the file was written to since it was opened."""
        status = os.fstat(self.handle.fileno())
        if (status.st_size, status.st_mtime_ns) != (self.size, self.modified_ns):
            raise self._changing()

    def _changing(self) -> UnreadableStill:
        return UnreadableStill(
            "changing",
            f"“{self.path.name}” was written to while it was read. Gather the folder again when it is complete.",
        )


@contextmanager
def safe_open(path: Path, *, least: int = 1) -> Iterator[OpenedFile]:
    """Open a regular file of ``least`` bytes to 2 GB; raises ``UnreadableStill`` that says why not and what to do.

    A pipe or a device is refused without waiting for it.
    """
    name = path.name
    try:
        handle = io.BufferedReader(io.FileIO(str(path), opener=open_at_once))
    except FileNotFoundError:
        raise UnreadableStill("lost", f"“{name}” is no longer in {path.parent}. Put it back there.") from None
    except PermissionError:
        raise UnreadableStill(
            "no_permission", f"“{name}” may not be read. Give yourself permission to read it, then gather again."
        ) from None
    except IsADirectoryError:
        raise _not_a_file(name) from None
    except OSError as error:
        raise _unreadable(name, error) from None
    with handle:
        status = os.fstat(handle.fileno())
        if not stat.S_ISREG(status.st_mode):
            raise _not_a_file(name)
        if status.st_size < least:
            raise UnreadableStill("empty", f"“{name}” is empty (0 bytes). Copy it again from the card.")
        if status.st_size > MOST_BYTES:
            size = f"{status.st_size / 1e9:.1f} GB"
            raise UnreadableStill("too_large", f"“{name}” is {size}; a still may have up to 2 GB.")
        yield OpenedFile(path, handle, status.st_size, status.st_mtime_ns, status.st_ctime_ns)


def _unreadable(name: str, error: OSError) -> UnreadableStill:
    return UnreadableStill("unreadable", f"“{name}” cannot be read: {error.strerror}. Check the disk.")


def _not_a_file(name: str) -> UnreadableStill:
    return UnreadableStill("not_a_file", f"“{name}” is a pipe, a device or a folder, not a file. Take it away.")


def open_at_once(path: str, flags: int) -> int:
    """Open a file; a pipe that nobody writes to would else be waited for, for ever."""
    return os.open(path, flags | os.O_NONBLOCK)


def read_bytes(path: Path) -> bytes:
    """Return a file's bytes; raises ``UnreadableStill`` as ``safe_open`` does."""
    with safe_open(path) as file:
        return file.read()


def has_fingerprint(path: Path, wanted: str) -> bool:
    """Tell whether a file's bytes have a fingerprint; raises ``UnreadableStill`` as ``safe_open`` does."""
    with safe_open(path) as file:
        return file.has(wanted)


def first_bytes(path: Path, count: int) -> bytes:
    """Return how a file begins, or nothing for one that cannot be read or is no regular file."""
    try:
        with safe_open(path) as file:
            return file.handle.read(count)
    except UnreadableStill:
        return b""
