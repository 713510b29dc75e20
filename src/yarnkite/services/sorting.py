"""Sorting out what was gathered: proposals, shots split and joined, stills taken out, raw or developed."""

import os
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path

from yarnkite.core.base.counter import numbering
from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.gather.proposals import Action, Proposal, propose
from yarnkite.core.gather.remarks import remarks, remarks_beside
from yarnkite.resolve.slots import not_in_clip
from yarnkite.services.decisions import latest
from yarnkite.services.gather import Begun, begin
from yarnkite.services.running import Services
from yarnkite.store import jobs, shots, sidecars, snapshots, sorting, stills
from yarnkite.store.database import Row


@dataclass(frozen=True)
class LocatedProposal:
    """A proposal, and the position of its first still."""

    proposal: Proposal
    first: int


@dataclass(frozen=True)
class SortingOfShot:
    """How many files of each kind were left out, what is odd about stills that are used, what is proposed for those
    that do not go with the rest, and the other shots of the project, which could be joined.
    """

    left_out: list[tuple[str, int]]
    remarks: list[str]
    proposals: list[LocatedProposal]
    siblings: list[Row]


@dataclass(frozen=True)
class Sorted:
    """What came of the choices: the shots that were made, and how many stills were set aside."""

    shots: list[int]
    aside: int


def of_shot(services: Services, shot_id: int) -> SortingOfShot:
    """Return what a folder held besides the shot's stills, and what is proposed."""
    shot = shots.one(services.database, shot_id)
    positions = snapshots.of_shot(services.database, shot).positions
    kinds = Counter(row["kind"] for row in stills.left_out(services.database, shot_id))
    others = shots.of_project(services.database, shot["project_id"])
    return SortingOfShot(
        left_out=kinds.most_common(),
        remarks=[
            *remarks(stills.alike(services.database, shot_id)),
            *_beside(services, shot_id, len(positions), has_pairs=kinds["pair"] > 0),
        ],
        proposals=[
            LocatedProposal(one, min(positions[still] for still in one.stills)) for one in _proposals(services, shot)
        ],
        siblings=[other for other in others if other["id"] != shot_id],
    )


def apply(services: Services, shot_id: int, seen: int, choices: Sequence[tuple[str, Action]]) -> Sorted:
    """Do what was chosen for each proposal, by its key: set aside, make a shot of its own, or keep in the shot for
    good.

    Raises ``Conflict`` if a proposal does not stand any more.
    """
    shot = shots.one(services.database, shot_id)
    proposed: Mapping[str, Proposal] = {proposal.key: proposal for proposal in _proposals(services, shot)}
    chosen = [(proposed[key], action) for key, action in choices if key in proposed]
    if len(chosen) < len(choices):
        raise Conflict("proposal_gone", "The shot was changed since this list was made. Look at it again.")
    aside = tuple(still for proposal, action in chosen if action == "set aside" for still in proposal.stills)
    made = sorting.sort_out(
        services.database,
        shot_id,
        seen,
        aside=aside,
        keep=[proposal.key for proposal, action in chosen if action == "keep"],
        parts=[
            sorting.Part(proposal.stills, f"{shot['name']}, {proposal.title}"[:120])
            for proposal, action in chosen
            if action == "own shot"
        ],
    )
    return Sorted(shots=made, aside=len(aside))


def split(services: Services, shot_id: int, before: Sequence[int]) -> list[int]:
    """Split a shot by hand before each of some stills, by id; returns the shots that were made.

    What comes before the first of them stays.
    """
    shot = shots.one(services.database, shot_id)
    ids = stills.ids(services.database, shot_id)
    positions = sorted({ids.index(still) for still in before if still in ids})
    if len(positions) < len(set(before)):
        raise NotFound("no_such_still", "The shot does not have these stills any more. Look at it again.")
    if positions[0] == 0:
        raise Conflict("nothing_left", "The shot begins with this still. Choose a later one to split before it.")
    cuts = zip(positions, [*positions[1:], len(ids)], strict=True)
    parts = [
        sorting.Part(tuple(ids[low:high]), f"{shot['name'][:110]} {number}")
        for number, (low, high) in enumerate(cuts, 2)
    ]
    return sorting.split(services.database, shot_id, parts)


def split_off(services: Services, shot_id: int, chosen: Sequence[int]) -> list[int]:
    """Make a shot of its own of some stills, by id, wherever they lie; returns it. Raises as ``split`` does."""
    shot = shots.one(services.database, shot_id)
    names = {row["name"] for row in shots.of_project(services.database, shot["project_id"])}
    wanted = (f"{shot['name'][:110]} {number}" for number in range(2, len(names) + 3))
    title = next(name for name in wanted if name not in names)
    return sorting.split(services.database, shot_id, [sorting.Part(tuple(dict.fromkeys(chosen)), title)])


def join(services: Services, shot_id: int, other_id: int) -> None:
    """Put another shot's stills into this one; the other shot is gone then, its files stay where they are."""
    shot, other = shots.one(services.database, shot_id), shots.one(services.database, other_id)
    if shot_id == other_id or shot["project_id"] != other["project_id"]:
        raise Conflict("cannot_join", "Choose another shot of the same project.")
    sorting.join(services.database, shot_id, other_id, _common_folder(services, shot, other))


def take_out(services: Services, shot_id: int, chosen: Sequence[int]) -> None:
    """Take stills out of a shot; their files stay, and gathering again leaves them out."""
    sorting.take_out(services.database, shot_id, chosen)


def bring_back(services: Services, shot_id: int) -> Begun:
    """Gather again, with what was taken out."""
    sorting.bring_back(services.database, shot_id)
    return begin(services, shot_id)


def use_raws(services: Services, shot_id: int, *, raws: bool) -> Begun:
    """Say whether, of a raw file and a picture of the same exposure, the raw file is the still; gathers those."""
    if jobs.busy(services.database, shot_id):
        raise Conflict("shot_busy", "This shot is being worked on. Wait until its jobs are done, or cancel them.")
    shots.set_raws(services.database, shot_id, raws)
    return begin(services, shot_id)


def rename_shot(services: Services, shot_id: int, name: str) -> None:
    """Give a shot another name."""
    shots.one(services.database, shot_id)
    shots.rename(services.database, shot_id, name)


def _beside(services: Services, shot_id: int, total: int, *, has_pairs: bool) -> list[str]:
    said = sidecars.said(services.database, shot_id)
    edited = [row["name"] for row in said if row["has_edits"]]
    troubles = [row["trouble"] for row in said if row["trouble"]]
    return remarks_beside(edited, troubles, total, has_pairs=has_pairs)


def _proposals(services: Services, shot: Row) -> list[Proposal]:
    if not shot["gathered"]:
        return []
    decisions = latest(services, shot["id"])
    out = not_in_clip(services.database, shot, decisions.check)
    seen = sorting.seen(services.database, shot["id"], out)
    return propose(seen, numbering([still.name for still in seen], decisions.order.group), shots.dismissed(shot))


def _common_folder(services: Services, shot: Row, other: Row) -> Path:
    one, two = shots.folder_of(shot), shots.folder_of(other)
    if one == two:
        return one
    common = Path(os.path.commonpath([one, two]))
    locations = [one.folder.resolve() for one in services.locations]
    if shot["copied"] or other["copied"] or not any(common.is_relative_to(one) for one in locations):
        raise Conflict(
            "cannot_join", f"{one} and {two} do not lie in one place. Put them in one folder, and gather that."
        )
    return common
