"""Roots: the folders on this machine that may be looked into, which the pages call places."""

from fastapi import APIRouter

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import View
from yarnkite.services import roots

router = APIRouter(prefix="/api/roots", tags=["gather"])


class RootView(View):
    name: str
    folder: str


class FolderView(View):
    """A folder in a root: the folders in it, how many files look like stills, the first and last
    of those, and the video files.
    """

    root: str
    path: str
    folders: list[str]
    stills: int
    others: int
    footage: list[str]
    first: str | None
    last: str | None


@router.get("")
def list_roots(services: ServicesDep) -> list[RootView]:
    return [RootView(name=root.name, folder=str(root.folder)) for root in services.roots]


@router.get("/{name}/folder")
def list_folder(services: ServicesDep, name: str, path: str = "") -> FolderView:
    return FolderView.model_validate(roots.list_folder(services, name, path))
