"""Checking: stills that are set aside and brought back."""

from fastapi import APIRouter

from yarnkite.api.decisions import kept
from yarnkite.api.order import Chosen
from yarnkite.api.services import Needed
from yarnkite.api.views import Revised
from yarnkite.core.recipe import Check
from yarnkite.store import shots

router = APIRouter(prefix="/api/shots/{shot_id}", tags=["check"])


class Aside(Chosen):
    """``aside`` is false for stills that are brought back."""

    aside: bool


@router.post("/aside")
def set_aside(needed: Needed, shot_id: int, body: Aside) -> Revised:
    """Leave stills out of the clip, or bring them back; their files stay."""
    _, decisions = shots.latest(needed.database, shot_id)
    before = set(decisions.check.aside)
    after = before | set(body.stills) if body.aside else before - set(body.stills)
    decided = decisions.check.model_copy(update={"aside": Check(aside=tuple(after)).aside})
    return kept(needed, shot_id, body.seen, decisions.model_copy(update={"check": decided}))
