"""Locations: the folders on this machine that may be looked into."""

from fastapi import APIRouter

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import View
from yarnkite.services import locations
from yarnkite.services.locations import FolderListing

router = APIRouter(prefix="/api/locations", tags=["gather"])


class LocationView(View):
    name: str
    folder: str


@router.get("")
def list_locations(services: ServicesDep) -> list[LocationView]:
    return [LocationView(name=location.name, folder=str(location.folder)) for location in services.locations]


@router.get("/{name}/folder")
def list_folder(services: ServicesDep, name: str, path: str = "") -> FolderListing:
    return locations.list_folder(services, name, path)
