"""Files that appear under their name only when they are complete, and that are there after the power went."""

import errno
import os
import re
from collections.abc import Collection, Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

from yarnkite.core.base.errors import DiskFull
from yarnkite.core.base.exclusive_rename import rename_exclusively

_UNFINISHED = re.compile(r"(.+)\.\d+\.part")


@contextmanager
def completed(
    target: Path, *, exclusive: bool = False, durable: bool = False, modified_ns: int | None = None
) -> Iterator[Path]:
    """Give a name to write to beside ``target``, put in its place when all went well and removed otherwise.

    ``exclusive`` never replaces a file; ``durable`` has the bytes on the disk before the name shows them, and the name
    there, too, before this ends;
    ``modified_ns`` is the time of change the file gets, in nanoseconds since 1970. Raises ``DiskFull`` if it cannot be
    written.
    """
    unfinished = target.with_name(f"{target.name}.{os.getpid()}.part")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        yield unfinished
        if durable:
            sync_file(unfinished)
        if modified_ns is not None:
            os.utime(unfinished, ns=(modified_ns, modified_ns))
        if exclusive:
            rename_exclusively(unfinished, target)
        else:
            unfinished.replace(target)
        if durable:
            sync_folders([target.parent])
    except OSError as error:
        unfinished.unlink(missing_ok=True)
        if not error.errno:
            raise
        raise DiskFull(
            "cannot_write",
            f"“{target.name}” cannot be written in {target.parent}: {os.strerror(error.errno)}. Free some space there, "
            "then start again; what is finished is kept.",
        ) from error
    except BaseException:
        unfinished.unlink(missing_ok=True)
        raise


def write_completed(
    target: Path,
    data: bytes | memoryview,
    *,
    exclusive: bool = False,
    durable: bool = False,
    modified_ns: int | None = None,
) -> None:
    """Write a whole file as ``completed`` does; raises ``DiskFull``."""
    with completed(target, exclusive=exclusive, durable=durable, modified_ns=modified_ns) as unfinished:
        unfinished.write_bytes(data)


def write_private(target: Path, text: str) -> None:
    """Write a file that only its owner may read, on the disk when this ends; raises ``DiskFull``."""
    with completed(target, durable=True) as unfinished:
        unfinished.touch(mode=0o600)
        unfinished.write_text(text)


def remove_unfinished(folder: Path, names: Collection[str]) -> None:
    """Remove what a killed process left beside files of these names, relative to ``folder``, that it was writing."""
    for path in list(folder.rglob("*.part")):
        found = _UNFINISHED.fullmatch(path.relative_to(folder).as_posix())
        if found and found[1] in names:
            path.unlink(missing_ok=True)


def sync_file(path: Path) -> None:
    """Have the bytes of a file on the disk; raises ``OSError``."""
    with path.open("rb+") as file:
        os.fsync(file.fileno())


def sync_folders(folders: Iterable[Path]) -> None:
    """Have the names in folders on the disk: what was made, renamed or taken away in them; raises ``OSError``."""
    for folder in dict.fromkeys(folders):
        descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(descriptor)
        except OSError as error:
            # A file system of another machine may have no such thing; it keeps names in its own way.
            if error.errno not in (errno.EINVAL, errno.ENOTSUP, errno.EROFS):
                raise
        finally:
            os.close(descriptor)
