"""Sorting out what was gathered: proposals, shots split and joined, stills taken out, raw or developed."""

from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field, StringConstraints

from yarnkite.api.bodies import Seen
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import ShotStarted, View, shot_started
from yarnkite.core.gather.proposals import Action, ProposalKind
from yarnkite.core.gather.sorting import LeftOutKind
from yarnkite.services import sorting

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["gather"])


class ProposalView(View):
    key: str
    kind: ProposalKind
    stills: list[int]
    sentence: str
    action: Action
    first: int


class Kinds(BaseModel):
    """How many files of a kind were left out."""

    kind: LeftOutKind
    files: int


class Sibling(View):
    """Another shot of the project, which could be joined with this one."""

    id: int
    name: str
    stills: int


class SortingView(BaseModel):
    """What a folder held besides the shot's stills, what is odd about those, and what is proposed for stills that do
    not go with the rest."""

    left_out: list[Kinds]
    remarks: list[str]
    proposals: list[ProposalView]
    siblings: list[Sibling]


class Choice(BaseModel):
    key: str
    action: Action


class Choices(Seen):
    choices: Annotated[list[Choice], Field(max_length=1000)]


class Sorted(View):
    """What came of the choices: the shots that were made, and how many stills were set aside."""

    shots: list[int]
    aside: int


class SplitAt(BaseModel):
    """The first stills, by id, of the shots that are split off."""

    before: Annotated[list[int], Field(min_length=1, max_length=1000)]


class Join(BaseModel):
    other: int


class ByIds(BaseModel):
    stills: Annotated[list[int], Field(min_length=1, max_length=100_000)]


class ShotName(BaseModel):
    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]


class Raws(BaseModel):
    """Whether, of a raw file and a picture of the same exposure, the raw file is the still."""

    raws: bool


class ShotsMade(BaseModel):
    shots: list[int]


@router.get("/sorting")
def sorting_of_shot(services: ServicesDep, shot_id: int) -> SortingView:
    found = sorting.of_shot(services, shot_id)
    return SortingView.model_validate(
        {
            "left_out": [{"kind": kind, "files": files} for kind, files in found.left_out],
            "remarks": found.remarks,
            "proposals": [_proposal_view(one) for one in found.proposals],
            "siblings": [Sibling.model_validate(other) for other in found.siblings],
        }
    )


@router.post("/sorting")
def apply_sorting(services: ServicesDep, shot_id: int, body: Choices) -> Sorted:
    """Do what was chosen for each proposal: set aside, make a shot of its own, or keep in the shot for good."""
    choices = [(choice.key, choice.action) for choice in body.choices]
    return Sorted.model_validate(sorting.apply(services, shot_id, body.seen, choices))


@router.post("/split")
def split_shot(services: ServicesDep, shot_id: int, body: SplitAt) -> ShotsMade:
    """Split a shot by hand before each of some stills; what comes before the first of them stays."""
    return ShotsMade(shots=sorting.split(services, shot_id, body.before))


@router.post("/split-off")
def split_off(services: ServicesDep, shot_id: int, body: ByIds) -> ShotsMade:
    """Make a shot of its own of some stills, wherever they lie."""
    return ShotsMade(shots=sorting.split_off(services, shot_id, body.stills))


@router.post("/join")
def join_shots(services: ServicesDep, shot_id: int, body: Join) -> ShotsMade:
    """Put another shot's stills into this one; the other shot is gone then, its files stay where they are."""
    sorting.join(services, shot_id, body.other)
    return ShotsMade(shots=[shot_id])


@router.post("/take-out")
def take_out(services: ServicesDep, shot_id: int, body: ByIds) -> Response:
    """Take stills out of a shot; their files stay, and gathering again leaves them out."""
    sorting.take_out(services, shot_id, body.stills)
    return Response(status_code=204)


@router.post("/bring-back", status_code=202)
def bring_back(services: ServicesDep, shot_id: int) -> ShotStarted:
    """Gather again, with what was taken out."""
    return shot_started(sorting.bring_back(services, shot_id))


@router.put("/raws", status_code=202)
def use_raws(services: ServicesDep, shot_id: int, body: Raws) -> ShotStarted:
    """Use the other file of each pair, and gather those."""
    return shot_started(sorting.use_raws(services, shot_id, raws=body.raws))


@router.put("/name")
def rename_shot(services: ServicesDep, shot_id: int, body: ShotName) -> Response:
    sorting.rename_shot(services, shot_id, body.name)
    return Response(status_code=204)


def _proposal_view(one: sorting.LocatedProposal) -> ProposalView:
    fields = {field: getattr(one.proposal, field) for field in ("key", "kind", "sentence", "action")}
    return ProposalView(**fields, stills=list(one.proposal.stills), first=one.first)
