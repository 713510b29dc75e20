"""Looks: a light under a name, or taken from another shot or version; tables of colours brought in and written."""

import re
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.light.adjustment import Adjustment, colours_of
from yarnkite.core.light.colour_table import SIDE, identity
from yarnkite.core.light.cube import MOST_BYTES, ColourTable, cube_text, read_cube
from yarnkite.core.light.decisions import AppliedTable, Light
from yarnkite.core.light.looks import OWN_LOOKS, Look, LookPart
from yarnkite.resolve.light import adjustments_of_shot
from yarnkite.services.decisions import Change, Decided, decide, latest, resolved_with, with_change
from yarnkite.services.pictures import FramePicture, still_as_frame
from yarnkite.services.running import Services
from yarnkite.store import looks, revisions, shots, snapshots


@dataclass(frozen=True)
class NamedLook:
    """A look by its id, or one of the program's own, which has none."""

    id: int | None
    look: Look


def every(services: Services) -> list[NamedLook]:
    """Return the program's own looks, and those that were saved by name."""
    saved = [NamedLook(number, look) for number, look in looks.every(services.database)]
    return [*(NamedLook(None, look) for look in OWN_LOOKS), *saved]


def save(services: Services, shot_id: int, name: str, parts: list[LookPart]) -> list[NamedLook]:
    """Save parts of a shot's light under a name; a saved one of the same name is replaced."""
    if name.strip().casefold() in {look.name.casefold() for look in OWN_LOOKS}:
        raise Refusal("name_taken", f"“{name.strip()}” is the name of one of the looks to start from. Choose another.")
    light = latest(services, shot_id).light
    looks.save(services.database, Look.of(name, parts, light, _ids(services, shot_id)))
    return every(services)


def delete(services: Services, look_id: int) -> list[NamedLook]:
    """Forget a saved look; the shots that have it keep their light."""
    looks.delete(services.database, look_id)
    return every(services)


def preview(
    services: Services, shot_id: int, position: int, revision: int, width: int, look_id: int | None, name: str
) -> Callable[[], FramePicture]:
    """Return what makes a picture of a still as a look would have it."""
    light = with_change(services, shot_id, revision, Change()).light
    light = _named(services, look_id, name).applied(light, _ids(services, shot_id))
    return still_as_frame(services, shot_id, position, revision, Change(light=light), width, quickly=True)


def apply(services: Services, shot_id: int, seen: int, look_id: int | None, name: str) -> Decided:
    """Decide for a shot's light what a look does: a saved one by its id, else one of the program's own by its name."""
    return _applied(services, shot_id, seen, _named(services, look_id, name))


def _named(services: Services, look_id: int | None, name: str) -> Look:
    if look_id is not None:
        return looks.one(services.database, look_id)
    own = next((one for one in OWN_LOOKS if one.name == name), None)
    if own is None:
        raise NotFound("no_such_look", "This look does not exist any more.")
    return own


def copy(
    services: Services, shot_id: int, seen: int, source: int, version: int | None, parts: list[LookPart]
) -> Decided:
    """Decide for a shot's light what parts of another shot's do, or of another version's."""
    light = latest(services, source).light if version is None else _of_version(services, source, version)
    return _applied(services, shot_id, seen, Look.of("copied", parts, light, _ids(services, source)))


def _of_version(services: Services, shot_id: int, version: int) -> Light:
    with services.database.transaction() as cursor:
        decided = revisions.of_version(cursor, shot_id, version)
    if decided is None:
        raise NotFound("no_such_version", "This version does not exist any more.")
    return decided.light


def _applied(services: Services, shot_id: int, seen: int, look: Look) -> Decided:
    decisions = latest(services, shot_id)
    light = look.applied(decisions.light, _ids(services, shot_id))
    return decide(services, shot_id, seen, decisions.model_copy(update={"light": light}))


def _ids(services: Services, shot_id: int) -> list[int]:
    shot = shots.one(services.database, shot_id)
    return snapshots.of_shot(services.database, shot).ids


def add_table(services: Services, shot_id: int, seen: int, name: str, text: str) -> Decided:
    """Apply a table of colours, the text of a ``.cube`` file, to a shot; raises ``Refusal`` that says what is wrong."""
    plain = " ".join("".join(c if c.isprintable() else " " for c in name).split())[:120] or "table"
    if len(text) > MOST_BYTES:
        raise Refusal(
            "not_a_table", f"“{plain}” is larger than {MOST_BYTES // 1_000_000} MB. Save it with fewer steps a side."
        )
    table = ColourTable.of(read_cube(text, plain))
    looks.save_table(services.database, table, plain)
    decisions = latest(services, shot_id)
    light = decisions.light.model_copy(update={"table": AppliedTable(digest=table.digest, name=plain)})
    return decide(services, shot_id, seen, decisions.model_copy(update={"light": light}))


def as_cube(services: Services, shot_id: int, position: int, revision: int, change: Change) -> tuple[str, str]:
    """Return a file name and the text of a ``.cube`` file that does to colours what a still's light does.

    What depends on where a pixel lies, on its neighbours or on the still alone is not part of it.
    """
    made = resolved_with(services, shot_id, revision, change)
    shot = shots.one(services.database, shot_id)
    number, _ = snapshots.of_shot(services.database, shot).at(position)
    adjustment = adjustments_of_shot(services.database, shot, made.decisions).get(number, Adjustment())
    colours = np.rint(identity(SIDE).reshape(1, -1, 3) * 65535).astype(np.uint16)
    shown = colours_of(colours, adjustment, made.recipe.light) / 65535
    stem = re.sub(r"[^\w.-]+", "-", shot["name"]).strip("-.") or "light"
    return f"{stem}.cube", cube_text(shown.reshape(SIDE, SIDE, SIDE, 3), shot["name"])
