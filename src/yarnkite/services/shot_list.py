"""Shot lists that other programs read and write."""

from dataclasses import dataclass
from typing import Literal

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import HIGHEST
from yarnkite.core.order.shot_list import Listed, MissingFrames, by_name, from_csv, from_otio, to_csv, to_otio
from yarnkite.resolve.slots import not_in_clip
from yarnkite.services.decisions import Decided, decide, latest
from yarnkite.services.running import Services
from yarnkite.store import shots, stills

_UNKNOWN_NAMED = 20


@dataclass(frozen=True)
class OpenedList:
    """What a list did: stills it placed, stills it set aside or did not name, and names the shot does not have."""

    revised: Decided
    placed: int
    aside: int
    unknown: list[str]


def as_csv(services: Services, shot_id: int) -> str:
    """Return the shot list as CSV (RFC 4180): position, name, capture time, set aside."""
    shots.one(services.database, shot_id)
    return to_csv(_listed(services, shot_id))


def as_otio(services: Services, shot_id: int, missing: MissingFrames) -> str:
    """Return the shot list as an OpenTimelineIO document with image sequences."""
    shot = shots.one(services.database, shot_id)
    pace = latest(services, shot_id).pace
    return to_otio(shot["name"], shots.folder_text(shot), _listed(services, shot_id), pace.rate / pace.hold, missing)


def open_list(services: Services, shot_id: int, seen: int, kind: Literal["csv", "otio"], text: str) -> OpenedList:
    """Put the shot's stills in the order of a list; those it sets aside or does not name are set aside.

    Raises ``Refusal`` for a list that cannot be read or is of another shot.
    """
    listed = from_csv(text) if kind == "csv" else from_otio(text)
    rows = stills.of_shot(services.database, shot_id)
    meant = by_name({row["name"]: row["id"] for row in rows}, listed.stills)
    known = [(still, one) for still, one in zip(meant, listed.stills, strict=True) if still is not None]
    if not known:
        raise Refusal("other_shot", "None of the names in this list is in this shot. Open it in the shot it is from.")
    shown = {still for still, one in known if not one.aside}
    aside = [row["id"] for row in rows if row["id"] not in shown]
    decisions = latest(services, shot_id)
    by_hand = {"by": "hand", "hand": tuple(dict.fromkeys(still for still, _ in known))}
    changed = decisions.model_copy(
        update={
            "order": decisions.order.model_copy(update=by_hand),
            "check": decisions.check.changed(aside=aside),
        }
    )
    if listed.rate is not None and (rate := listed.rate * decisions.pace.hold) <= HIGHEST:
        changed = changed.model_copy(update={"pace": decisions.pace.model_copy(update={"rate": rate})})
    unknown = [one.name for still, one in zip(meant, listed.stills, strict=True) if still is None]
    return OpenedList(decide(services, shot_id, seen, changed), len(shown), len(aside), unknown[:_UNKNOWN_NAMED])


def _listed(services: Services, shot_id: int) -> list[Listed]:
    aside = not_in_clip(services.database, shots.one(services.database, shot_id), latest(services, shot_id).check)
    return [
        Listed(row["name"], row["captured_at"], row["id"] in aside)
        for row in stills.of_shot(services.database, shot_id)
    ]
