"""Locations: the folders on this machine that may be looked into."""

from dataclasses import dataclass
from pathlib import Path

from yarnkite import locations as named
from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.base.wording import is_text, printable
from yarnkite.core.gather.disks import Disk, disks_in
from yarnkite.core.gather.locations import Location, directly_inside
from yarnkite.core.image.kinds import category, worth_reading
from yarnkite.core.order.natural import in_natural_order
from yarnkite.services.running import Services

MOUNTS = Path("/proc/self/mountinfo")


@dataclass(frozen=True)
class Machine:
    """Where a person may look for a folder: at home, on the disks and cards that are there, each with whether a camera
    wrote on it."""

    home: str
    disks: list[tuple[Disk, bool]]


@dataclass(frozen=True)
class MachineFolder:
    """A folder anywhere on this machine: its whole path, that above it, the folders in it, and how many files look like
    stills."""

    path: str
    above: str | None
    folders: list[str]
    stills: int


@dataclass(frozen=True)
class FolderListing:
    """A folder in a location: the folders in it, how many files look like stills, the first and last of those, and the
    video files.
    """

    location: str
    path: str
    folders: list[str]
    stills: int
    others: int
    footage: list[str]
    first: str | None
    last: str | None


def location_named(services: Services, name: str) -> Location:
    """Return a location by its name; raises ``NotFound``."""
    for location in services.locations:
        if location.name == name:
            return location
    raise NotFound("no_such_location", f"There is no location called “{name}”. Name its folder once more.")


def folder_in(services: Services, location: str, path: str) -> Path:
    """Return a folder in a location; raises ``NotFound`` for a file or nothing at all, ``Refusal`` outside."""
    folder = location_named(services, location).inside(path)
    if not folder.is_dir():
        raise NotFound("no_such_folder", f"“{path}” is a file, not a folder. Choose the folder it lies in.")
    return folder


def file_in(services: Services, location: str, path: str) -> Path:
    """Return a file in a location; raises ``NotFound`` for a folder or nothing at all, ``Refusal`` outside."""
    file = location_named(services, location).inside(path)
    if not file.is_file():
        raise NotFound("no_such_file", f"“{path}” is a folder. Choose the video file in it.")
    return file


def list_folder(services: Services, name: str, path: str) -> FolderListing:
    """Return what lies in a folder of a location."""
    top = location_named(services, name).folder.resolve()
    folder = folder_in(services, name, path)
    folders, files = directly_inside(folder)
    candidates = [file for file in files if worth_reading(file)]
    ordered = in_natural_order(candidates)
    return FolderListing(
        location=name,
        path=str(folder.relative_to(top)) if folder != top else "",
        folders=in_natural_order(folders),
        stills=len(ordered),
        others=len(files) - len(ordered),
        footage=[file for file in sorted(files) if category(file) == "footage"],
        first=ordered[0] if ordered else None,
        last=ordered[-1] if ordered else None,
    )


def machine() -> Machine:
    """Return where to begin to look for a folder that is no location yet."""
    there = [disk for disk in disks() if disk.folder.is_dir()]
    # How a camera's files lie on a card (JEITA CP-3461, Design rule for Camera File system).
    return Machine(str(Path.home()), [(disk, (disk.folder / "DCIM").is_dir()) for disk in there])


def disks() -> tuple[Disk, ...]:
    """Return the disks, cards and shares that are mounted now, as far as the system tells."""
    try:
        found = disks_in(MOUNTS.read_text("utf-8", "surrogateescape"))
    except OSError:
        return ()
    return tuple(disk for disk in found if is_text(str(disk.folder)))


def look_around(path: str) -> MachineFolder:
    """Return what lies in a folder anywhere on this machine, so that one can be found and named.

    Raises ``NotFound`` for nothing or a file, ``Refusal`` for one that may not be read, or a path that is not whole.
    """
    folder = _anywhere(path)
    folders, files = directly_inside(folder)
    shown = in_natural_order([name for name in folders if is_text(name)])
    above = str(folder.parent) if folder != folder.parent else None
    return MachineFolder(str(folder), above, shown, sum(map(worth_reading, files)))


def name(services: Services, path: str) -> Location:
    """Have a folder of this machine be a location from now on; one that is one already is what it was."""
    folder = _anywhere(path)
    if folder == folder.parent:
        raise Refusal("no_such_folder", "The whole machine cannot be one location. Choose a folder in it.")
    directly_inside(folder)
    named.add(services.workspace, [folder])
    return next(location for location in services.locations if location.folder == folder)


def forget(services: Services, location: str) -> None:
    """Look into a location no more; shots whose stills lie there stay. Raises ``NotFound``."""
    named.forget(services.workspace, location_named(services, location).folder)


def _anywhere(path: str) -> Path:
    if "\0" in path or not path.startswith(("/", "~")):
        raise Refusal("no_such_folder", f"“{printable(path)[:200]}” is no whole path. Write it from / on, or from ~.")
    try:
        folder = Path(path).expanduser().resolve(strict=True)
    except (OSError, RuntimeError):
        raise NotFound("no_such_folder", f"There is no folder {printable(path)[:200]}. Choose another one.") from None
    if not is_text(str(folder)):
        raise Refusal("no_such_folder", f"“{printable(folder.name)}” has a name that is not readable text. Rename it.")
    if not folder.is_dir():
        raise NotFound("no_such_folder", f"{folder} is a file, not a folder. Choose the folder it lies in.")
    return folder
