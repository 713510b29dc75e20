"""Treating shots like another: tried, decided, taken back and taken again; and the clips of several shots at once."""

from collections.abc import Collection, Sequence
from dataclasses import dataclass, field, replace

from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.brief.treatment import TreatedPart, TreatedShot, treated
from yarnkite.core.render.decisions import Decisions
from yarnkite.services import encode
from yarnkite.services.decisions import brief_of
from yarnkite.services.running import Services
from yarnkite.store import jobs, projects, revisions, shots, stills, treatments
from yarnkite.store.database import Row
from yarnkite.store.treatments import Treatment, Wanted


@dataclass(frozen=True)
class Tried:
    """What a shot would be made like: the brief of it, what it keeps of its own, and what the clip is expected to take.

    ``seen`` is the revision it is tried on, ``changes`` tells whether it would be another then, ``cannot`` why there is
    no clip of it.
    """

    shot_id: int
    name: str
    seen: int
    sentence: str
    exceptions: list[str] = field(default_factory=list)
    changes: bool = False
    bytes: int = 0
    seconds: float = 0.0
    cannot: str = ""


@dataclass(frozen=True)
class Listed:
    """A treatment that stands; ``is_behind`` says that the model was changed since in a part that was taken."""

    id: int
    model_id: int
    model: str
    parts: tuple[TreatedPart, ...]
    shots: list[int]
    names: list[str]
    is_behind: bool


@dataclass(frozen=True)
class TakenBack:
    """Of a treatment that was taken back, the shots that are as they were, and those that were changed since."""

    shots: list[int]
    changed: list[str]


@dataclass(frozen=True)
class Making:
    """How far a shot's clip is: its job, if it has begun, or why it has not."""

    shot_id: int
    name: str
    job: Row | None
    sentence: str
    is_made: bool


def tried(
    services: Services, project_id: int, model_id: int, shot_ids: Sequence[int], parts: Collection[TreatedPart]
) -> tuple[int, list[Tried]]:
    """Return the revision of a model, and what shots of its project would be like, treated like it; raises
    ``NotFound``."""
    rows = _shots_of(services, project_id, [model_id, *shot_ids])
    seen, model = _as_treated(services, rows[model_id])
    others = [shot for shot in dict.fromkeys(shot_ids) if shot != model_id]
    return seen, [_tried(services, rows[one], model, parts) for one in others]


def as_they_are(services: Services, project_id: int, shot_ids: Sequence[int]) -> list[Tried]:
    """Say what shots of a project are decided to be, and what their clips are expected to take."""
    rows = _shots_of(services, project_id, shot_ids)
    found = []
    for row in rows.values():
        number, own = _as_treated(services, row)
        found.append(_said(services, row, number, own.decisions))
    return found


def treat(
    services: Services,
    project_id: int,
    model: tuple[int, int],
    seen: Sequence[tuple[int, int]],
    parts: Collection[TreatedPart],
) -> Listed | None:
    """Treat shots like a model, each by the revision that was seen of it, all or none; ``None`` where nothing changes.

    Raises ``NotFound``, ``Conflict`` (``stale_revision``).
    """
    model_id, _ = model
    wanted_revisions = {shot: revision for shot, revision in seen if shot != model_id}
    rows = _shots_of(services, project_id, [model_id, *wanted_revisions])
    like = _as_treated(services, rows[model_id])[1]
    wanted = [
        Wanted(shot, rows[shot]["name"], revision, _like(services, rows[shot], like, parts))
        for shot, revision in wanted_revisions.items()
    ]
    made = treatments.add(services.database, project_id, model, parts, wanted)
    return next((one for one in listed(services, project_id) if one.id == made), None)


def take_back(services: Services, project_id: int, treatment_id: int) -> TakenBack:
    """Take a treatment back as one deed; shots that were changed since stay as they are. Raises ``NotFound``."""
    projects.one(services.database, project_id)
    undone, changed = treatments.undo(services.database, project_id, treatment_id)
    names = {row["id"]: row["name"] for row in shots.of_project(services.database, project_id)}
    return TakenBack(undone, [names[one] for one in changed if one in names])


def listed(services: Services, project_id: int) -> list[Listed]:
    """Return the treatments of a project that stand, the newest first; of shots treated alike again, the newest."""
    projects.one(services.database, project_id)
    names = {row["id"]: row["name"] for row in shots.of_project(services.database, project_id)}
    found: list[Listed] = []
    for one in treatments.standing(services.database, project_id):
        there = [shot for shot in one.shots if shot in names]
        again = any(
            new.model_id == one.model_id and {*one.parts} <= {*new.parts} and {*there} <= {*new.shots} for new in found
        )
        if there and not again and one.model_id in names:
            named = [names[shot] for shot in there]
            behind = _is_behind(services, one)
            found.append(Listed(one.id, one.model_id, names[one.model_id], one.parts, there, named, behind))
    return found


def make_clips(services: Services, project_id: int, seen: Sequence[tuple[int, int]]) -> list[Making]:
    """Put the clips of several shots into the queue, in this order; one that must be measured first is measured.

    Asked again, what was begun goes on and is not begun a second time.
    """
    rows = _shots_of(services, project_id, [shot for shot, _ in seen])
    return [_making(services, rows[shot], revision) for shot, revision in dict(seen).items()]


def _making(services: Services, shot: Row, seen: int) -> Making:
    named = (shot["id"], shot["name"])
    try:
        subject = encode.encodable(services, shot["id"], seen)
        known = jobs.encoding(services.database, shot["id"], subject.recipe.model_dump_json())
        if known is not None:
            return Making(*named, known, "", is_made=known["state"] == "finished")
        encode.check_ready(services, subject)
        return Making(*named, encode.begin(services, subject, encode.Wish()), "", is_made=False)
    except Refusal as refusal:
        waits = refusal.code == "not_measured"
        return Making(*named, None, "is measured first" if waits else refusal.sentence, is_made=False)


def _shots_of(services: Services, project_id: int, wanted: Sequence[int]) -> dict[int, Row]:
    projects.one(services.database, project_id)
    rows = {shot: shots.one(services.database, shot) for shot in dict.fromkeys(wanted)}
    strange = next((row for row in rows.values() if row["project_id"] != project_id), None)
    if strange is not None:
        raise NotFound("no_such_shot", "One of these shots is not in this project. Look at it again.")
    return rows


def _as_treated(services: Services, shot: Row) -> tuple[int, TreatedShot]:
    number, decisions = revisions.latest(services.database, shot["id"])
    ids, lenses = stills.ids(services.database, shot["id"]), stills.lenses(services.database, shot["id"])
    return number, TreatedShot(shot["name"], decisions, ids, lenses)


def _like(services: Services, shot: Row, model: TreatedShot, parts: Collection[TreatedPart]) -> Decisions:
    return treated(_as_treated(services, shot)[1], model, parts).decisions


def _tried(services: Services, shot: Row, model: TreatedShot, parts: Collection[TreatedPart]) -> Tried:
    number, own = _as_treated(services, shot)
    found = treated(own, model, parts)
    said = _said(services, shot, number, found.decisions)
    return replace(said, exceptions=list(found.exceptions), changes=found.decisions != own.decisions)


def _said(services: Services, shot: Row, number: int, decisions: Decisions) -> Tried:
    brief = brief_of(services, shot["id"], decisions)
    named = Tried(shot["id"], shot["name"], number, str(brief))
    if not brief.stills:
        return replace(named, cannot="It has no stills yet.")
    expected = encode.expected(services, encode.encodable_as(services, shot, decisions))
    return replace(named, bytes=expected.bytes, seconds=expected.seconds)


def _is_behind(services: Services, one: Treatment) -> bool:
    """Tell whether a model decides something else by now in a part that was taken over."""
    try:
        before = revisions.decided_by(services.database, one.model_id, one.model_revision)
    except NotFound:
        return False
    now = revisions.latest(services.database, one.model_id)[1]
    return any(getattr(before, part) != getattr(now, part) for part in one.parts)
