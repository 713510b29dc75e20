"""One program a data folder: a lock held while it runs, and the address under which it answers."""

import fcntl
import json
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from yarnkite.core.base.errors import Conflict, DiskFull
from yarnkite.entrance import way_in


class Held:
    """A data folder that no other program uses."""

    def __init__(self, descriptor: int) -> None:
        self._descriptor = descriptor

    def announce(self, address: str) -> None:
        """Note where this program answers, for one that is started on the same folder."""
        os.ftruncate(self._descriptor, 0)
        os.pwrite(self._descriptor, json.dumps({"address": address, "process": os.getpid()}).encode(), 0)


@contextmanager
def alone_in(folder: Path) -> Iterator[Held]:
    """Hold a data folder; raises ``Conflict`` (``runs_already``) that says where the program that holds it answers, or
    ``DiskFull`` (``cannot_write``) where nothing can be kept.

    The lock ends with the process, however it ends.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        descriptor = os.open(folder / "running.json", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
    except OSError as error:
        raise DiskFull(
            "cannot_write",
            f"Nothing can be kept in {folder}: {error.strerror}. Make it writable, or name another folder with --data.",
        ) from error
    try:
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise _runs_already(folder, os.pread(descriptor, 4096, 0)) from None
        os.ftruncate(descriptor, 0)
        yield Held(descriptor)
        os.ftruncate(descriptor, 0)
    finally:
        os.close(descriptor)


def address_of(folder: Path) -> str | None:
    """Return where the program that holds a data folder answers, or ``None`` where none does yet."""
    try:
        with (folder / "running.json").open("rb") as file:
            try:
                fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
            except BlockingIOError:
                return _address_in(file.read(4096))
    except OSError:
        return None
    # What nobody holds was left by a program that was killed.
    return None


def _address_in(noted: bytes) -> str | None:
    try:
        return str(json.loads(noted)["address"])
    except (ValueError, KeyError, TypeError):
        return None


def _runs_already(folder: Path, noted: bytes) -> Conflict:
    address = _address_in(noted)
    where = "it is just starting" if address is None else f"open {way_in(folder, address)}"
    return Conflict(
        "runs_already",
        f"Yarn Kite runs already with the data in {folder}: {where}. "
        "To run a second one, give it a folder of its own with --data.",
    )
