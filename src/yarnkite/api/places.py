"""Places: the folders on this machine that may be looked into."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, Field

from yarnkite.api.services import Needed, Services
from yarnkite.core.base.errors import NotFound
from yarnkite.core.gather.roots import Place, directly_inside
from yarnkite.core.image.kinds import category, worth_reading
from yarnkite.core.order.natural import natural_order

router = APIRouter(prefix="/api/places", tags=["gather"])


class InPlace(BaseModel):
    """A folder or file in a place, by its path from there."""

    place: str
    path: Annotated[str, Field(max_length=4096)]


class PlaceView(BaseModel):
    name: str
    folder: str


class FolderView(BaseModel):
    """A folder in a place: the folders in it, how many files look like stills, the first and last
    of those, and the video files.
    """

    place: str
    path: str
    folders: list[str]
    stills: int
    others: int
    footage: list[str]
    first: str | None
    last: str | None


@router.get("")
def list_places(needed: Needed) -> list[PlaceView]:
    return [PlaceView(name=place.name, folder=str(place.folder)) for place in needed.places]


@router.get("/{name}/folder")
def look_into(needed: Needed, name: str, path: str = "") -> FolderView:
    place = place_named(needed, name)
    folder = place.inside(path)
    if not folder.is_dir():
        raise NotFound("no_such_folder", f"“{path}” is a file, not a folder. Choose the folder it lies in.")
    folders, files = directly_inside(folder)
    candidates = [file for file in files if worth_reading(file)]
    ordered = [candidates[index] for index in natural_order(candidates)]
    return FolderView(
        place=name,
        path=str(folder.relative_to(place.folder.resolve())) if folder != place.folder.resolve() else "",
        folders=[folders[index] for index in natural_order(folders)],
        stills=len(ordered),
        others=len(files) - len(ordered),
        footage=[file for file in sorted(files) if category(file) == "footage"],
        first=ordered[0] if ordered else None,
        last=ordered[-1] if ordered else None,
    )


def place_named(needed: Services, name: str) -> Place:
    """Return a place by its name; raises ``NotFound``."""
    for place in needed.places:
        if place.name == name:
            return place
    raise NotFound("no_such_place", f"There is no place called “{name}”. Start Yarn Kite with --place and its folder.")
