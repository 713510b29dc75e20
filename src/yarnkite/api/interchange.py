"""Shot lists that other programs read and write."""

from typing import Annotated, Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from yarnkite.api.decisions import Seen, kept
from yarnkite.api.services import Needed, Services
from yarnkite.api.views import Revised
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import HIGHEST
from yarnkite.core.order.shot_list import Listed, MissingFrames, by_name, from_csv, from_otio, to_csv, to_otio
from yarnkite.store import revisions, shots, stills, used

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["order"])


class ShotListText(Seen):
    """A shot list to open, as text."""

    format: Literal["csv", "otio"]
    text: Annotated[str, Field(max_length=40_000_000)]


class Opened(BaseModel):
    """What a list did: stills it placed, stills it set aside or did not name, and names the shot does not have."""

    revised: Revised
    placed: int
    aside: int
    unknown: list[str]


@router.get("/list.csv", response_class=Response)
def list_as_csv(needed: Needed, shot_id: int) -> Response:
    """Return the shot list as CSV (RFC 4180): position, name, capture time, set aside."""
    shots.one(needed.database, shot_id)
    return Response(to_csv(_listed(needed, shot_id)), media_type="text/csv; charset=utf-8")


@router.get("/list.otio", response_class=Response)
def list_as_otio(needed: Needed, shot_id: int, missing: MissingFrames = "error") -> Response:
    """Return the shot list as an OpenTimelineIO document with image sequences."""
    shot = shots.one(needed.database, shot_id)
    _, decisions = revisions.latest(needed.database, shot_id)
    rate = decisions.pace.rate / decisions.pace.hold
    folder = str(shots.folder_of(shot)).encode("utf-8", "replace").decode()
    text = to_otio(shot["name"], folder, _listed(needed, shot_id), rate, missing)
    return Response(text, media_type="application/json")


@router.post("/list")
def open_list(needed: Needed, shot_id: int, body: ShotListText) -> Opened:
    """Put the shot's stills in the order of a list; those it sets aside or does not name are set aside."""
    listed = from_csv(body.text) if body.format == "csv" else from_otio(body.text)
    rows = stills.of_shot(needed.database, shot_id)
    meant = by_name({row["name"]: row["id"] for row in rows}, listed.stills)
    known = [(still, one) for still, one in zip(meant, listed.stills, strict=True) if still is not None]
    if not known:
        raise Refusal("other_shot", "None of the names in this list is in this shot. Open it in the shot it is from.")
    placed = [still for still, _ in known]
    shown = {still for still, one in known if not one.aside}
    aside = [row["id"] for row in rows if row["id"] not in shown]
    _, decisions = revisions.latest(needed.database, shot_id)
    changed = decisions.model_copy(
        update={
            "order": decisions.order.model_copy(update={"by": "hand", "hand": tuple(dict.fromkeys(placed))}),
            "check": decisions.check.changed(aside=aside),
        }
    )
    if listed.rate is not None:
        rate = listed.rate * decisions.pace.hold
        if rate <= HIGHEST:
            changed = changed.model_copy(update={"pace": decisions.pace.model_copy(update={"rate": rate})})
    return Opened(
        revised=kept(needed, shot_id, body.seen, changed),
        placed=len(shown),
        aside=len(aside),
        unknown=[one.name for still, one in zip(meant, listed.stills, strict=True) if still is None][:20],
    )


def _listed(needed: Services, shot_id: int) -> list[Listed]:
    _, decisions = revisions.latest(needed.database, shot_id)
    aside = used.not_in_clip(needed.database, shot_id, decisions.check)
    return [
        Listed(row["name"], row["captured_at"], row["id"] in aside) for row in stills.of_shot(needed.database, shot_id)
    ]
