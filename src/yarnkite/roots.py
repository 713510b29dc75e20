"""The places a person has named: remembered in a small JSON file in the data folder."""

import json
from collections.abc import Iterable
from pathlib import Path

from yarnkite.core.base.atomic import write_private
from yarnkite.core.base.errors import Refusal
from yarnkite.core.gather.roots import Root
from yarnkite.workspace import Workspace


class UnusableRoot(Refusal):
    """A folder that cannot be a place; the sentence says why."""

    def __init__(self, sentence: str) -> None:
        super().__init__("no_such_folder", sentence)


def add(workspace: Workspace, folders: Iterable[Path]) -> None:
    """Add folders to the remembered places; raises ``UnusableRoot`` for one that is no folder."""
    remembered = _folders(workspace)
    for folder in folders:
        folder = folder.expanduser().resolve()
        if not folder.is_dir():
            raise UnusableRoot(f"{folder} is not a folder. Give --place a folder that exists.")
        if folder not in remembered:
            remembered.append(folder)
    text = json.dumps([str(folder) for folder in remembered], indent=2) + "\n"
    write_private(workspace.places, text)


def known(workspace: Workspace) -> tuple[Root, ...]:
    """Return the places that exist now, each under a name of its own."""
    places: dict[str, Root] = {}
    for folder in _folders(workspace):
        name = folder.name or str(folder)
        while name in places:
            name += " (2)"
        if folder.is_dir():
            places[name] = Root(name, folder)
    return tuple(places.values())


def _folders(workspace: Workspace) -> list[Path]:
    if workspace.places.exists():
        return [Path(folder) for folder in json.loads(workspace.places.read_text())]
    pictures = Path.home() / "Pictures"
    return [pictures] if pictures.is_dir() else []
