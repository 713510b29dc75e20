"""Emptying a card with proof: what is on it, where its files go, copying them, and making shots of them."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import Field

from yarnkite.api.bodies import InLocation, NewFolder
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import JobView, ShotStarted, View, job_view, shot_started
from yarnkite.core.order.card import FOLDERS
from yarnkite.core.order.renaming import PatternPart
from yarnkite.services import offload
from yarnkite.services.offload import Example, Into, LookedAt, Names

router = APIRouter(prefix="/api", tags=["gather"])

Parts = Annotated[list[PatternPart], Field(max_length=20)]


class CardShotView(View):
    """Stills of a card that belong together; times by the camera's clock."""

    stills: int
    files: int
    bytes: int
    first: str
    last: str
    taken: datetime | None
    until: datetime | None
    camera: str


class CardView(View):
    """What is on a card: ``listing`` stands for all of it, ``left`` says what cannot be copied."""

    listing: str
    name: str
    shots: list[CardShotView]
    others: int
    others_bytes: int
    left: list[str]
    folders: list[PatternPart]


class CardNames(InLocation):
    """A card, and patterns of names: of the folders of its shots, and of stills, which keep theirs without one."""

    folders: Parts
    stills: Parts | None = None

    @property
    def names(self) -> Names:
        return Names(tuple(self.folders), tuple(self.stills) if self.stills is not None else None)


class OffloadBody(CardNames):
    """What of a card is copied where: shots by their place in what was ``seen`` of it."""

    seen: str
    shots: Annotated[list[Annotated[int, Field(ge=0)]], Field(max_length=10_000)]
    others: bool = True
    into: Annotated[list[NewFolder], Field(min_length=1, max_length=2)]


class OffloadView(View):
    """A card that was emptied, or is being; ``to_make`` of its shots are not in the project."""

    job: JobView
    targets: list[str]
    to_make: int


@router.post("/card")
def look_at_card(services: ServicesDep, body: InLocation) -> CardView:
    """Return what a card, or any folder, holds; reads how each still's file begins."""
    return _card(offload.look(services, body.location, body.path))


@router.post("/card/names")
def name_card(services: ServicesDep, body: CardNames) -> list[Example]:
    """Return what the shots of a card and their stills would be called."""
    return offload.examples(services, body.location, body.path, body.names)


@router.post("/projects/{project_id}/offloads", status_code=202)
def begin_offload(services: ServicesDep, project_id: int, body: OffloadBody) -> JobView:
    """Begin to copy what was chosen of a card, with proof."""
    into = [Into(one.location, one.path, one.folder) for one in body.into]
    job = offload.begin(
        services,
        project_id,
        (body.location, body.path),
        body.seen,
        body.shots,
        others=body.others,
        names=body.names,
        into=into,
    )
    return job_view(job)


@router.get("/projects/{project_id}/offloads")
def list_offloads(services: ServicesDep, project_id: int) -> list[OffloadView]:
    return [
        OffloadView(job=job_view(one.job), targets=one.targets, to_make=one.to_make)
        for one in offload.of_project(services, project_id)
    ]


@router.post("/offloads/{job_id}/shots", status_code=201)
def make_shots(services: ServicesDep, job_id: int) -> list[ShotStarted]:
    """Make a shot of each folder a card's shots were copied into, where they lie."""
    return [shot_started(one) for one in offload.make_shots(services, job_id)]


def _card(looked: LookedAt) -> CardView:
    card = looked.card
    return CardView(
        listing=looked.listing,
        name=looked.folder.name,
        shots=[
            CardShotView(
                stills=len(shot.stills),
                files=len(shot.stills) + len(shot.beside),
                bytes=shot.bytes,
                first=shot.stills[0],
                last=shot.stills[-1],
                taken=shot.first_taken,
                until=shot.last_taken,
                camera=shot.camera,
            )
            for shot in card.shots
        ],
        others=len(card.others),
        others_bytes=card.others_bytes,
        left=list(looked.left),
        folders=list(FOLDERS),
    )
