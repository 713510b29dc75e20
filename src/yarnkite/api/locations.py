"""Locations: the folders on this machine that may be looked into."""

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, Field

from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import View
from yarnkite.services import locations
from yarnkite.services.locations import FolderListing, MachineFolder

router = APIRouter(prefix="/api/locations", tags=["gather"])
machine_router = APIRouter(prefix="/api/machine", tags=["gather"])


class LocationView(View):
    name: str
    folder: str


class FolderOfMachine(BaseModel):
    """A folder by its whole path."""

    folder: Annotated[str, Field(min_length=1, max_length=4096)]


class DiskView(View):
    """Something mounted, and where; ``is_card`` says that a camera wrote on it."""

    name: str
    folder: str
    is_card: bool


class MachineView(View):
    home: str
    disks: list[DiskView]


@router.get("")
def list_locations(services: ServicesDep) -> list[LocationView]:
    return [LocationView(name=location.name, folder=str(location.folder)) for location in services.locations]


@router.get("/{name}/folder")
def list_folder(services: ServicesDep, name: str, path: str = "") -> FolderListing:
    return locations.list_folder(services, name, path)


@router.post("", status_code=201)
def name_location(services: ServicesDep, body: FolderOfMachine) -> LocationView:
    """Have a folder of this machine be looked into from now on."""
    location = locations.name(services, body.folder)
    return LocationView(name=location.name, folder=str(location.folder))


@router.delete("/{name}", status_code=204)
def forget_location(services: ServicesDep, name: str) -> None:
    """Look into a location no more; shots whose stills lie there stay."""
    locations.forget(services, name)


@machine_router.get("")
def show_machine() -> MachineView:
    """Return where to begin to look for a folder that is no location yet."""
    found = locations.machine()
    disks = [DiskView(name=disk.name, folder=str(disk.folder), is_card=is_card) for disk, is_card in found.disks]
    return MachineView(home=found.home, disks=disks)


@machine_router.get("/folder")
def look_around(path: Annotated[str, Query(min_length=1, max_length=4096)]) -> MachineFolder:
    """Return what lies in a folder anywhere on this machine."""
    return locations.look_around(path)
