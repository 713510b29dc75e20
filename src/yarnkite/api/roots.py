"""Roots: the folders on this machine that may be looked into, which the pages call places."""

from fastapi import APIRouter

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import View
from yarnkite.services import roots
from yarnkite.services.roots import FolderListing

router = APIRouter(prefix="/api/roots", tags=["gather"])


class RootView(View):
    name: str
    folder: str


@router.get("")
def list_roots(services: ServicesDep) -> list[RootView]:
    return [RootView(name=root.name, folder=str(root.folder)) for root in services.roots]


@router.get("/{name}/folder")
def list_folder(services: ServicesDep, name: str, path: str = "") -> FolderListing:
    return roots.list_folder(services, name, path)
