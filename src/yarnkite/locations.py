"""The locations a person has named: remembered in a small JSON file in the data folder."""

import json
import threading
from collections.abc import Iterable
from pathlib import Path

from yarnkite.core.base.atomic import write_private
from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.locations import Location
from yarnkite.workspace import Workspace

_changing = threading.Lock()


class UnusableLocation(Refusal):
    """A folder that cannot be a location; the sentence says why."""

    def __init__(self, sentence: str) -> None:
        super().__init__("no_such_folder", sentence)


def add(workspace: Workspace, folders: Iterable[Path]) -> None:
    """Add folders to the remembered locations; raises ``UnusableLocation`` for one that is no folder."""
    with _changing:
        remembered = _folders(workspace)
        for folder in folders:
            folder = folder.expanduser().resolve()
            if not folder.is_dir():
                raise UnusableLocation(f"{folder} is not a folder. Give --location a folder that exists.")
            if folder not in remembered:
                remembered.append(folder)
        _remember(workspace, remembered)


def forget(workspace: Workspace, folder: Path) -> None:
    """Look into a folder no more; shots whose stills lie there stay."""
    with _changing:
        _remember(workspace, [one for one in _folders(workspace) if one != folder])


def known(workspace: Workspace) -> tuple[Location, ...]:
    """Return the locations that exist now, each under a name of its own.

    A name stays that of its folder also while another one that is called alike is away.
    """
    named: dict[str, Location] = {}
    for folder in _folders(workspace):
        name = folder.name or str(folder)
        while name in named:
            name += " (2)"
        named[name] = Location(name, folder)
    return tuple(location for location in named.values() if location.folder.is_dir())


def _remember(workspace: Workspace, folders: Iterable[Path]) -> None:
    text = json.dumps([str(folder) for folder in folders], indent=2) + "\n"
    write_private(workspace.locations, text)


def _folders(workspace: Workspace) -> list[Path]:
    if workspace.earlier_locations.exists() and not workspace.locations.exists():
        workspace.earlier_locations.rename(workspace.locations)
    if workspace.locations.exists():
        return [Path(folder) for folder in json.loads(workspace.locations.read_text())]
    pictures = Path.home() / "Pictures"
    return [pictures] if pictures.is_dir() else []
