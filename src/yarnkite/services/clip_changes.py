"""Clips that are out of date: what was changed since they were made, and making them anew."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, TypeVar

from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.reel.recipe_changes import reel_changed_since
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe
from yarnkite.core.render.recipe_changes import changed_since
from yarnkite.resolve.shot import resolved
from yarnkite.services import encode, reel
from yarnkite.services.running import Services
from yarnkite.store import clips, jobs, revisions, shots, versions
from yarnkite.store.database import Row

# So many clips, the newest, are held against what would be made now.
_HELD_AGAINST = 8

Made = TypeVar("Made", Recipe, ReelRecipe)


@dataclass(frozen=True)
class ClipChanges:
    """In what a clip would be another by now: a shot's in steps, a reel's also in its shots; ``is_open`` says that it
    is not of a version that is put aside."""

    clip_id: int
    changed: tuple[str, ...]
    is_open: bool


def changes_since(services: Services, shot_id: int) -> list[ClipChanges]:
    """Return which of a shot's newest clips are not what would be made now, each held against its own version.

    A clip of a stretch, or of a version that is gone, is what it is; so is one that was made anew since.
    """
    shot = shots.one(services.database, shot_id)
    found = []
    for row, version in _newest(services, clips.of_shot(services.database, shot_id)):
        decided = _decided_now(services, shot_id, version)
        made = _recipe_of(services, row, Recipe)
        if decided is not None and made is not None:
            changed = changed_since(made, resolved(services.database, shot, decided[0]).recipe)
            found.append(ClipChanges(row["id"], changed, decided[1]))
    return [one for one in found if one.changed]


def changes_of_reel(services: Services, reel_id: int) -> list[ClipChanges]:
    """Return which of a reel's newest files are not what would be made now: of its own decisions, or of its shots."""
    now = reel.encodable(services, reel_id).recipe
    assert isinstance(now, ReelRecipe)
    newest = _newest(services, clips.of_reel(services.database, reel_id))
    held = ((row, _recipe_of(services, row, ReelRecipe)) for row, _ in newest)
    found = [ClipChanges(row["id"], reel_changed_since(made, now), is_open=True) for row, made in held if made]
    return [one for one in found if one.changed]


def _newest(services: Services, rows: Sequence[Row]) -> list[tuple[Row, str]]:
    """Return of clips, newest first, the newest whole one of each version, format and folder, with its version."""
    newest: dict[Hashable, tuple[Row, str]] = {}
    for row in rows:
        wanted = _wanted(services, row)
        version, folder = wanted.get("version", ""), (wanted.get("into") or {}).get("folder")
        if not wanted.get("stretch"):
            newest.setdefault((version, row["format"], folder), (row, version))
    return list(newest.values())[:_HELD_AGAINST]


def make_anew(services: Services, clip_id: int, seen: int) -> Row:
    """Make a clip again as its shot or reel is decided now, in its own format, under its own name and where it was
    put.

    Raises ``Conflict`` for a clip of a version that is not open, and as ``encode`` does.
    """
    clip = clips.one(services.database, clip_id)
    wanted = _wanted(services, clip)
    subject = (
        reel.ready(services, clip["reel_id"], seen) if clip["reel_id"] else _shot_now(services, clip, wanted, seen)
    )
    into = wanted.get("into")
    wish = encode.Wish(into=_again_into(into, clip) if into else None, pattern=wanted.get("pattern", ""))
    return encode.begin(services, replace(subject, encode=clip["encode"]), wish)


def _shot_now(services: Services, clip: Row, wanted: dict[str, Any], seen: int) -> encode.Encodable:
    decided = _decided_now(services, clip["shot_id"], wanted.get("version", ""))
    if decided is None or not decided[1]:
        raise Conflict("other_version", "This clip is of a version that is not open. Open that one, then make it anew.")
    subject = encode.encodable(services, clip["shot_id"], seen)
    encode.check_ready(services, subject)
    return subject


def _wanted(services: Services, clip: Row) -> dict[str, Any]:
    return jobs.wanted_of(services.database, clip["job_id"])


def _decided_now(services: Services, shot_id: int, version: str) -> tuple[Decisions, bool] | None:
    """Return what is decided about a version by now, and whether it is the one that is open; ``None`` if it is
    gone."""
    every, current = versions.of_shot(services.database, shot_id), versions.current(services.database, shot_id)
    # The first version has no name until there is a second one.
    named = every[:1] if not version else [row for row in every if row["name"] == version]
    if (not every and not version) or (current and named and current["id"] == named[0]["id"]):
        return revisions.latest(services.database, shot_id)[1], True
    decided = versions.decided(services.database, shot_id, named[0]["id"]) if named else None
    return (decided[1], False) if decided else None


def _recipe_of(services: Services, clip: Row, kind: type[Made]) -> Made | None:
    """Return what a clip was made of, or ``None`` where an earlier edition wrote it in another way."""
    try:
        return kind.model_validate_json(jobs.recipe_text(services.database, clip["job_id"]))
    except (NotFound, ValueError):
        return None


def _again_into(into: dict[str, Any], clip: Row) -> encode.Into:
    """Return where a file was put. It is replaced if it is the clip that is out of date, and not another by its
    name."""
    folder, location = Path(into["folder"]), Path(into["location"]).resolve()
    if not folder.is_relative_to(location):
        raise NotFound("no_such_folder", f"{folder} is in no folder the program may use any more. Encode it anew.")
    path = folder.relative_to(location)
    return encode.Into(into["name"], "" if path == Path() else str(path), replace=_is_the_clip(clip))


def _is_the_clip(clip: Row) -> bool:
    try:
        return bool(Path(clip["path"]).stat().st_size == clip["bytes"])
    except OSError:
        return False
