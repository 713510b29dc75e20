"""Places: the named folders stills may be read from, and the proof that a path stays inside one."""

import os
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.errors import NotFound, Refusal


@dataclass(frozen=True)
class Place:
    """A folder that may be read, under the name people know it by."""

    name: str
    folder: Path

    def inside(self, relative: str) -> Path:
        """Return the real path of something in this place.

        Raises ``Refusal`` (``outside_place``) if it lies elsewhere, also by way of ``..`` or a link, and
        ``NotFound`` if there is nothing.
        """
        root = self.folder.resolve()
        if "\0" in relative:
            raise Refusal("outside_place", "A path cannot hold a zero character. Choose a folder from the list.")
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
                "outside_place",
                f"“{relative}” leads out of {self.name}. Choose a folder inside, or start Yarn Kite with "
                "--place and that folder.",
            )
        return path


@dataclass(frozen=True)
class FoundFile:
    """A file in a folder, by its path relative to that folder; ``outside`` if it is a link that leads away."""

    name: str
    bytes: int
    modified: float
    outside: bool = False


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


def files_below(folder: Path, root: Path) -> Iterator[FoundFile]:
    """Yield every file in a folder and its sub-folders; links to folders are not followed.

    ``root`` is the place's own folder: a link to a file outside it is marked. Unreadable folders are passed over.
    """
    root = root.resolve()
    for parent, folders, names in os.walk(folder):
        folders[:] = sorted(name for name in folders if _is_shown(name))
        for name in sorted(names):
            path = Path(parent, name)
            try:
                status = path.stat()
                outside = path.is_symlink() and not path.resolve().is_relative_to(root)
            except OSError:
                yield FoundFile(str(path.relative_to(folder)), 0, 0.0)
                continue
            yield FoundFile(str(path.relative_to(folder)), status.st_size, status.st_mtime, outside)


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
