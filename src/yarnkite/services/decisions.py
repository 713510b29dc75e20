"""What is decided about a shot: its revisions, changes that are being tried, and what they make."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from yarnkite.core.base.frozen import Frozen
from yarnkite.core.brief.sentence import Brief
from yarnkite.core.check.decisions import Check
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.light.decisions import Light
from yarnkite.core.move.decisions import Move
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.pace.schedule import schedule
from yarnkite.core.render.decisions import Decisions
from yarnkite.resolve.shot import ResolvedShot, resolved
from yarnkite.services import file_size
from yarnkite.services.running import Services
from yarnkite.store import projects, revisions, shots, stills, versions
from yarnkite.store.database import Row

_LISTED = 60


class Change(Frozen):
    """Decisions that are being tried, over those of a revision; which stills there are is not among them."""

    light: Light | None = None
    fit: Fit | None = None
    move: Move | None = None
    pace: Pace | None = None
    encode: Encode | None = None


@dataclass(frozen=True)
class Decided:
    """A revision, what it decides and makes, and the versions there are."""

    revision: int
    decisions: Decisions
    brief: Brief
    can_undo: bool
    can_redo: bool
    versions: list[Row]
    version: int | None


@dataclass(frozen=True)
class OpenedShot:
    """A shot with its newest decisions; ``notice`` says what about its revisions a person should know."""

    shot: Row
    project_name: str
    folder: str
    decided: Decided
    notice: str


@dataclass(frozen=True)
class PastRevision:
    """An earlier or the present revision; ``changed`` names the steps it changed."""

    number: int
    created_at: datetime
    version: str | None
    changed: str


def opened_shot(services: Services, shot_id: int) -> OpenedShot:
    """Return a shot with its newest decisions; raises ``NotFound``."""
    shot = shots.one(services.database, shot_id)
    number, decisions = revisions.latest(services.database, shot_id)
    return OpenedShot(
        shot=shot,
        project_name=projects.one(services.database, shot["project_id"])["name"],
        folder=shots.folder_text(shot),
        decided=_decided(services, shot_id, number, decisions),
        notice=notice_of(revisions.unreadable_since(services.database, shot_id)),
    )


def decide(services: Services, shot_id: int, seen: int, decisions: Decisions) -> Decided:
    """Save decisions as a new revision made from the one that was seen; raises ``Conflict`` if there is a newer one."""
    return decided(services, shot_id, revisions.revise(services.database, shot_id, seen, decisions))


def decide_check(services: Services, shot_id: int, seen: int, changed: Callable[[Check], Check]) -> Decided:
    """Change what checking decided and nothing else, as ``decide`` does."""
    decisions = latest(services, shot_id)
    return decide(services, shot_id, seen, decisions.model_copy(update={"check": changed(decisions.check)}))


def undo(services: Services, shot_id: int, seen: int) -> Decided:
    """Take the newest change back, as a new revision."""
    return decided(services, shot_id, revisions.undo(services.database, shot_id, seen))


def redo(services: Services, shot_id: int, seen: int) -> Decided:
    """Make the change again that was undone last, as a new revision."""
    return decided(services, shot_id, revisions.redo(services.database, shot_id, seen))


def decided(services: Services, shot_id: int, number: int) -> Decided:
    """Return what a revision decides and makes."""
    return _decided(services, shot_id, number, revisions.decided_by(services.database, shot_id, number))


def latest(services: Services, shot_id: int) -> Decisions:
    """Return the newest decisions about a shot; raises ``NotFound``."""
    return revisions.latest(services.database, shot_id)[1]


def history(services: Services, shot_id: int) -> list[PastRevision]:
    """Return the newest revisions, the newest first, each with what it changed."""
    found = revisions.listed(services.database, shot_id, _LISTED + 1)
    before = [row["decisions"] for row in found[1:]] + [None] * (len(found) <= _LISTED)
    return [
        PastRevision(row["number"], row["created_at"], row["version"], _difference(older, row["decisions"]))
        for row, older in zip(found, before, strict=False)
    ]


def brief_of(services: Services, shot_id: int, decisions: Decisions) -> Brief:
    """Say what decisions would make, without saving them."""
    shot = shots.one(services.database, shot_id)
    every = stills.count(services.database, shot_id)
    return said(services, shot, resolved(services.database, shot, decisions), every)


def said(services: Services, shot: Row, made: ResolvedShot, every: int) -> Brief:
    """Say what is made of a shot of so many stills, with the size that was measured where one was."""
    return made.said(shots.size_model_of(shot), every, _expected(services, made))


def _expected(services: Services, made: ResolvedShot) -> int | None:
    """Return the bytes a shot's clip was found to take, if that was measured."""
    recipe = made.recipe
    if not recipe.stills:
        return None
    found = schedule(len(recipe.stills), recipe.decisions.pace, recipe.times)
    if found.is_too_long:
        return None
    return file_size.expected_bytes(services, recipe, made.decisions.encode, float(found.seconds))


def with_change(services: Services, shot_id: int, revision: int, change: Change) -> Decisions:
    """Return the decisions of a revision with a change on top."""
    decisions = revisions.decided_by(services.database, shot_id, revision)
    update = {name: value for name, value in change if value is not None}
    if change.pace is not None and not change.pace.picked:
        # A long list that was decided is not sent along with every try.
        update["pace"] = change.pace.model_copy(update={"picked": decisions.pace.picked})
    return decisions.model_copy(update=update)


def resolved_with(services: Services, shot_id: int, revision: int, change: Change) -> ResolvedShot:
    """Return what a revision, with a change on top, makes of a shot."""
    shot = shots.one(services.database, shot_id)
    return resolved(services.database, shot, with_change(services, shot_id, revision, change))


def add_version(services: Services, shot_id: int, seen: int, name: str) -> Decided:
    """Begin a version from what is decided now, and open it."""
    return decided(services, shot_id, versions.add(services.database, shot_id, seen, name))


def open_version(services: Services, shot_id: int, seen: int, version_id: int) -> Decided:
    """Go on with another version; order and check are shared."""
    return decided(services, shot_id, versions.switch(services.database, shot_id, seen, version_id))


def rename_version(services: Services, shot_id: int, version_id: int, name: str) -> list[Row]:
    """Give a version another name; returns all versions of the shot."""
    shots.one(services.database, shot_id)
    versions.rename(services.database, shot_id, version_id, name)
    return versions.of_shot(services.database, shot_id)


def delete_version(services: Services, shot_id: int, version_id: int) -> list[Row]:
    """Forget a version that is not open; returns those that are left."""
    shots.one(services.database, shot_id)
    versions.delete(services.database, shot_id, version_id)
    return versions.of_shot(services.database, shot_id)


def _decided(services: Services, shot_id: int, number: int, decisions: Decisions) -> Decided:
    can_undo, can_redo = revisions.steps(services.database, shot_id)
    now = versions.current(services.database, shot_id)
    return Decided(
        revision=number,
        decisions=decisions,
        brief=brief_of(services, shot_id, decisions),
        can_undo=can_undo,
        can_redo=can_redo,
        versions=versions.of_shot(services.database, shot_id),
        version=now["id"] if now else None,
    )


def _difference(before: Decisions | None, after: Decisions) -> str:
    if before is None:
        return "as it began"
    return " and ".join(name for name, value in after if value != getattr(before, name)) or "nothing"


def notice_of(unreadable: int) -> str:
    """Say that the newest revisions cannot be read, if some cannot."""
    if not unreadable:
        return ""
    many = "The newest decision" if unreadable == 1 else f"The newest {unreadable:,} decisions"
    return (
        f"{many} cannot be read: saved by another edition, or damaged. What "
        "was decided before counts, and is saved anew with your next change."
    )
