"""The locations a person has named: remembered in a small JSON file in the data folder."""

import json
from collections.abc import Iterable
from pathlib import Path

from yarnkite.core.base.atomic import write_private
from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.locations import Location
from yarnkite.workspace import Workspace


class UnusableLocation(Refusal):
    """A folder that cannot be a location; the sentence says why."""

    def __init__(self, sentence: str) -> None:
        super().__init__("no_such_folder", sentence)


def add(workspace: Workspace, folders: Iterable[Path]) -> None:
    """Add folders to the remembered locations; raises ``UnusableLocation`` for one that is no folder."""
    remembered = _folders(workspace)
    for folder in folders:
        folder = folder.expanduser().resolve()
        if not folder.is_dir():
            raise UnusableLocation(f"{folder} is not a folder. Give --location a folder that exists.")
        if folder not in remembered:
            remembered.append(folder)
    text = json.dumps([str(folder) for folder in remembered], indent=2) + "\n"
    write_private(workspace.locations, text)


def known(workspace: Workspace) -> tuple[Location, ...]:
    """Return the locations that exist now, each under a name of its own."""
    found: dict[str, Location] = {}
    for folder in _folders(workspace):
        name = folder.name or str(folder)
        while name in found:
            name += " (2)"
        if folder.is_dir():
            found[name] = Location(name, folder)
    return tuple(found.values())


def _folders(workspace: Workspace) -> list[Path]:
    if workspace.earlier_locations.exists() and not workspace.locations.exists():
        workspace.earlier_locations.rename(workspace.locations)
    if workspace.locations.exists():
        return [Path(folder) for folder in json.loads(workspace.locations.read_text())]
    pictures = Path.home() / "Pictures"
    return [pictures] if pictures.is_dir() else []
