"""Locations: the named folders stills may be read from, and the proof that a path stays inside one."""

import os
import stat
from collections.abc import Collection, Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from yarnkite.core.base.errors import Conflict, NotFound, Refusal

_DEEPEST = 60
_EARLIEST, _LATEST = datetime(1801, 1, 1), datetime(2999, 12, 31)


@dataclass(frozen=True)
class Location:
    """A folder that may be read, under the name people know it by."""

    name: str
    folder: Path

    def inside(self, relative: str) -> Path:
        """Return the real path of something in this location.

        Raises ``Refusal`` (``outside_location``) if it lies elsewhere, also by way of ``..`` or a link, and
        ``NotFound`` if there is nothing.
        """
        root = self.folder.resolve()
        if "\0" in relative:
            raise Refusal("outside_location", "A path cannot hold a zero character. Choose a folder from the list.")
        try:
            path = (root / relative).resolve(strict=True)
        except (FileNotFoundError, NotADirectoryError):
            raise NotFound(
                "no_such_folder", f"There is no “{relative}” in {self.name}. Choose another folder."
            ) from None
        except OSError as error:
            raise Refusal("no_such_folder", f"“{relative}” cannot be opened: {error.strerror}.") from None
        if not path.is_relative_to(root):
            raise Refusal(
                "outside_location",
                f"“{relative}” leads out of {self.name}. Choose a folder inside, or name that folder as a location.",
            )
        return path

    def new_inside(self, relative: str) -> Path:
        """Return the real path of something that is to be made in this location, or is there already.

        What exists of the path is resolved, so that a link on the way cannot lead out. Raises ``Refusal``
        (``outside_location``).
        """
        if "\0" in relative or ".." in Path(relative).parts:
            raise Refusal(
                "outside_location", f"“{relative[:200]}” is no path inside {self.name}. Choose a folder inside."
            )
        path = self.folder.resolve() / relative
        missing: list[str] = []
        while not os.path.lexists(path) and path != path.parent:
            missing.append(path.name)
            path = path.parent
        return self.inside(str(path)).joinpath(*reversed(missing))

    def new_folder(self, path: str, name: str) -> Path:
        """Return the real path of a folder called ``name`` below a path in this location, new or there already.

        Raises ``Refusal`` (``outside_location``, ``bad_name``) and ``NotFound``.
        """
        return self.new_inside(str(self.inside(path) / safe_relative(name)))


@dataclass(frozen=True)
class FoundFile:
    """A file in a folder, by its path relative to that folder; ``modified_ns`` and ``changed_ns``, of its inode, in
    nanoseconds since 1970.

    ``outside`` is a link that leads away; ``trouble`` says why it, or a folder, cannot be looked at or used.
    """

    name: str
    bytes: int
    modified_ns: int
    outside: bool = False
    trouble: str = ""
    changed_ns: int | None = None


def clock_of(modified_ns: int) -> datetime:
    """Return a file's time on this machine's clock, kept inside what a database holds."""
    try:
        return min(max(datetime.fromtimestamp(modified_ns / 1e9), _EARLIEST), _LATEST)
    except (ValueError, OverflowError, OSError):
        return _EARLIEST if modified_ns < 0 else _LATEST


def directly_inside(folder: Path) -> tuple[list[str], list[str]]:
    """Return the names of the folders and of the files right in a folder, hidden ones left out, in no special order.

    Raises ``Refusal`` (``no_permission``) if the folder may not be read.
    """
    try:
        with os.scandir(folder) as entries:
            shown = [(entry.name, entry.is_dir()) for entry in entries if _is_shown(entry.name)]
    except OSError as error:
        raise Refusal(
            "no_permission", f"The folder “{folder.name}” cannot be opened: {error.strerror}. Choose another one."
        ) from None
    return [name for name, is_folder in shown if is_folder], [name for name, is_folder in shown if not is_folder]


def files_below(folder: Path, root: Path, known: Collection[str] = ()) -> Iterator[FoundFile]:
    """Yield every file in a folder and its sub-folders but those ``known``; links to folders are not followed.

    ``root`` is the location's own folder: a link to a file outside it is marked. A folder that cannot be opened, or
    lies too deep, is yielded itself with its ``trouble``; the others go on.
    """
    root = root.resolve()
    # Folders still to be looked into, the next one last: folders may be nested deeper than calls can.
    waiting = [""]
    while waiting:
        relative = waiting.pop()
        try:
            with os.scandir(folder / relative) as found:
                others = (entry for entry in found if _below(relative, entry.name) not in known)
                entries = sorted(
                    (entry for entry in others if _is_shown(entry.name) or not _is_folder(entry)), key=_name
                )
        except OSError as error:
            if relative:
                yield FoundFile(relative, 0, 0, trouble=f"cannot be opened: {error.strerror}")
            continue
        inside = [entry for entry in entries if entry.is_dir(follow_symlinks=False)]
        if inside and relative.count("/") + 1 >= _DEEPEST:
            yield FoundFile(_below(relative, inside[0].name), 0, 0, trouble=f"lies more than {_DEEPEST} folders deep")
            inside = []
        yield from (_found(_below(relative, entry.name), entry, root) for entry in entries if not _is_folder(entry))
        waiting += [_below(relative, entry.name) for entry in reversed(inside)]


def _found(relative: str, entry: os.DirEntry[str], root: Path) -> FoundFile:
    try:
        status = entry.stat()
        outside = entry.is_symlink() and not Path(entry.path).resolve().is_relative_to(root)
    except (OSError, RuntimeError):
        return FoundFile(relative, 0, 0)
    trouble = "" if stat.S_ISREG(status.st_mode) else "is a pipe or a device, not a file"
    return FoundFile(relative, status.st_size, status.st_mtime_ns, outside, trouble, status.st_ctime_ns)


def _below(folder: str, name: str) -> str:
    return f"{folder}/{name}" if folder else name


def _name(entry: os.DirEntry[str]) -> str:
    return entry.name


def _is_folder(entry: os.DirEntry[str]) -> bool:
    try:
        return entry.is_dir(follow_symlinks=False) or (entry.is_symlink() and entry.is_dir())
    except OSError:
        return False


def check_new_or_empty(folder: Path) -> None:
    """Raise ``Conflict`` (``folder_not_empty``) for a folder that has something in it, or a file of its name."""
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise Conflict("folder_not_empty", f"There are files in {folder} already. Choose a new folder.")


def nearest_existing(folder: Path) -> Path:
    """Return a folder, or of one that is still to be made the nearest there is above it."""
    return next(parent for parent in (folder, *folder.parents) if parent.is_dir())


def safe_relative(name: str) -> Path:
    """Return an uploaded file's relative path, fit to be made below a folder of ours.

    Raises ``Refusal`` (``bad_name``) for absolute paths, ``..``, control characters, or a part over 255 bytes.
    """
    parts = name.replace("\\", "/").split("/")
    for part in parts:
        too_long = len(part.encode("utf-8", "surrogatepass")) > 255
        if (
            part in ("", ".", "..")
            or too_long
            or any(ord(character) < 32 or ord(character) == 127 for character in part)
        ):
            raise Refusal(
                "bad_name", f"“{name[:80]}” is not a name a file can be kept under. Rename it and add it again."
            )
    return Path(*parts)


def _is_shown(name: str) -> bool:
    return not name.startswith(".") and name not in ("__MACOSX", "lost+found", "System Volume Information")
