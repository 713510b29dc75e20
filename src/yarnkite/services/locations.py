"""Locations: the folders on this machine that may be looked into."""

from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.base.errors import NotFound
from yarnkite.core.gather.locations import Location, directly_inside
from yarnkite.core.image.kinds import category, worth_reading
from yarnkite.core.order.natural import natural_order
from yarnkite.services.running import Services


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
    raise NotFound(
        "no_such_location", f"There is no location called “{name}”. Start Yarn Kite with --location and its folder."
    )


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
    ordered = [candidates[index] for index in natural_order(candidates)]
    return FolderListing(
        location=name,
        path=str(folder.relative_to(top)) if folder != top else "",
        folders=[folders[index] for index in natural_order(folders)],
        stills=len(ordered),
        others=len(files) - len(ordered),
        footage=[file for file in sorted(files) if category(file) == "footage"],
        first=ordered[0] if ordered else None,
        last=ordered[-1] if ordered else None,
    )
