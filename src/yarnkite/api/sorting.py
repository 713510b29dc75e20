"""Sorting out what was gathered: proposals, shots split and joined, stills taken out, raw or developed."""

import os
from collections import Counter
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field, StringConstraints

from yarnkite.api.decisions import Seen
from yarnkite.api.gather import ShotStarted, begin
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import View
from yarnkite.core.base.counter import numbering
from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.gather.proposals import Action, Proposal, ProposalKind, propose
from yarnkite.core.gather.sorting import LeftOutKind
from yarnkite.store import jobs, revisions, shots, sorting, stills, used
from yarnkite.store.database import Row

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


class SortingView(BaseModel):
    """What a folder held besides the shot's stills, and what is proposed for stills that do not go with the rest."""

    left_out: list[Kinds]
    proposals: list[ProposalView]
    siblings: list["Sibling"]


class Sibling(BaseModel):
    """Another shot of the project, which could be joined with this one."""

    id: int
    name: str
    stills: int


class Choice(BaseModel):
    key: str
    action: Action


class Choices(Seen):
    choices: Annotated[list[Choice], Field(max_length=1000)]


class Sorted(BaseModel):
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


class Made(BaseModel):
    shots: list[int]


@router.get("/sorting")
def sorting_of_shot(needed: Needed, shot_id: int) -> SortingView:
    shot = shots.one(needed.database, shot_id)
    places = {still: place for place, still in enumerate(stills.ids(needed.database, shot_id))}
    kinds = Counter(row["kind"] for row in stills.left_out(needed.database, shot_id))
    others = shots.of_project(needed.database, shot["project_id"])
    return SortingView(
        left_out=[Kinds(kind=kind, files=files) for kind, files in kinds.most_common()],
        proposals=[
            ProposalView(
                **{field: getattr(one, field) for field in ("key", "kind", "sentence", "action")},
                stills=list(one.stills),
                first=min(places[still] for still in one.stills),
            )
            for one in _proposals(needed, shot)
        ],
        siblings=[
            Sibling(id=other["id"], name=other["name"], stills=other["stills"])
            for other in others
            if other["id"] != shot_id
        ],
    )


@router.post("/sorting")
def apply_sorting(needed: Needed, shot_id: int, body: Choices) -> Sorted:
    """Do what was chosen for each proposal: set aside, make a shot of its own, or keep in the shot for good."""
    shot = shots.one(needed.database, shot_id)
    proposed = {proposal.key: proposal for proposal in _proposals(needed, shot)}
    chosen = [(proposed[choice.key], choice.action) for choice in body.choices if choice.key in proposed]
    if len(chosen) < len(body.choices):
        raise Conflict("proposal_gone", "The shot was changed since this list was made. Look at it again.")
    aside = tuple(still for proposal, action in chosen if action == "set aside" for still in proposal.stills)
    made = sorting.sort_out(
        needed.database,
        shot_id,
        body.seen,
        aside=aside,
        keep=[proposal.key for proposal, action in chosen if action == "keep"],
        parts=[
            sorting.Part(proposal.stills, f"{shot['name']}, {proposal.title}"[:120])
            for proposal, action in chosen
            if action == "own shot"
        ],
    )
    return Sorted(shots=made, aside=len(aside))


@router.post("/split")
def split_shot(needed: Needed, shot_id: int, body: SplitAt) -> Made:
    """Split a shot by hand before each of some stills; what comes before the first of them stays."""
    shot = shots.one(needed.database, shot_id)
    ids = stills.ids(needed.database, shot_id)
    places = sorted({ids.index(still) for still in body.before if still in ids})
    if len(places) < len(set(body.before)):
        raise NotFound("no_such_still", "The shot does not have these stills any more. Look at it again.")
    if places[0] == 0:
        raise Conflict("nothing_left", "The shot begins with this still. Choose a later one to split before it.")
    cuts = zip(places, [*places[1:], len(ids)], strict=True)
    parts = [
        sorting.Part(tuple(ids[low:high]), f"{shot['name'][:110]} {number}")
        for number, (low, high) in enumerate(cuts, 2)
    ]
    return Made(shots=sorting.split(needed.database, shot_id, parts))


@router.post("/join")
def join_shots(needed: Needed, shot_id: int, body: Join) -> Made:
    """Put another shot's stills into this one; the other shot is gone then, its files stay where they are."""
    shot, other = shots.one(needed.database, shot_id), shots.one(needed.database, body.other)
    if shot_id == body.other or shot["project_id"] != other["project_id"]:
        raise Conflict("cannot_join", "Choose another shot of the same project.")
    sorting.join(needed.database, shot_id, body.other, _common_folder(needed, shot, other))
    return Made(shots=[shot_id])


@router.post("/take-out")
def take_out(needed: Needed, shot_id: int, body: ByIds) -> Response:
    """Take stills out of a shot; their files stay, and gathering again leaves them out."""
    sorting.take_out(needed.database, shot_id, body.stills)
    return Response(status_code=204)


@router.post("/bring-back", status_code=202)
def bring_back(needed: Needed, shot_id: int) -> ShotStarted:
    """Gather again, with what was taken out."""
    sorting.bring_back(needed.database, shot_id)
    return begin(needed, shot_id)


@router.put("/raws", status_code=202)
def use_raws(needed: Needed, shot_id: int, body: Raws) -> ShotStarted:
    """Use the other file of each pair, and gather those."""
    _check_idle(needed, shot_id)
    shots.set_raws(needed.database, shot_id, body.raws)
    return begin(needed, shot_id)


@router.put("/name")
def rename_shot(needed: Needed, shot_id: int, body: ShotName) -> Response:
    shots.one(needed.database, shot_id)
    shots.rename(needed.database, shot_id, body.name)
    return Response(status_code=204)


def _proposals(needed: Services, shot: Row) -> list[Proposal]:
    if not shot["gathered"]:
        return []
    _, decisions = revisions.latest(needed.database, shot["id"])
    seen = sorting.seen(needed.database, shot["id"], used.not_in_clip(needed.database, shot["id"], decisions.check))
    found = numbering([still.name for still in seen], decisions.order.group)
    return propose(seen, found, shots.kept(shot))


def _check_idle(needed: Services, shot_id: int) -> None:
    if jobs.busy(needed.database, shot_id):
        raise Conflict("shot_busy", "This shot is being worked on. Wait until its jobs are done, or cancel them.")


def _common_folder(needed: Services, shot: Row, other: Row) -> Path:
    one, two = shots.folder_of(shot), shots.folder_of(other)
    if one == two:
        return one
    common = Path(os.path.commonpath([one, two]))
    roots = [place.folder.resolve() for place in needed.places]
    if shot["copied"] or other["copied"] or not any(common.is_relative_to(root) for root in roots):
        raise Conflict(
            "cannot_join", f"{one} and {two} do not lie in one place. Put them in one folder, and gather that."
        )
    return common
