"""What was changed since a clip was made, told from what would be made now."""

import pytest

from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.dust import DustSpot
from yarnkite.core.light.adjustment import UNADJUSTED, SharedLight
from yarnkite.core.move.decisions import Move, ViewAt
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import NO_CORRECTION, Bridge, Correction, Recipe
from yarnkite.core.render.recipe_changes import changed_since

STILLS = tuple(Still(path=f"/card/{n}.jpg", fingerprint=f"{n:032x}", width=600, height=400) for n in range(5))
LIT = Correction(light=UNADJUSTED.model_copy(update={"gain": 0.5}))
LAID = Correction(laid=(1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0))
SPOT = DustSpot(x=0.5, y=0.5, width=0.02, shade="8PDw" * 363, shape=(600, 400))
BRIDGE = Bridge(before=STILLS[1], after=STILLS[3], share="1/2")


def recipe(stills=STILLS, corrections=(), **steps):
    return Recipe(stills=stills, corrections=corrections, decisions=Decisions(**steps))


@pytest.mark.parametrize(
    ("now", "steps"),
    [
        (recipe(), ()),
        # Moved files, another format, and corrections that say nothing are no change.
        (recipe(stills=tuple(still.elsewhere(f"/disk{still.path}") for still in STILLS)), ()),
        (recipe(encode=Encode(format="prores", crf=12)), ()),
        (recipe(corrections=(NO_CORRECTION,) * 5), ()),
        (recipe(stills=STILLS[::-1]), ("stills",)),
        (recipe(stills=STILLS[:4]), ("stills",)),
        (recipe(stills=(*STILLS[:2], BRIDGE, *STILLS[3:])), ("stills",)),
        (recipe(corrections=(LIT,) * 5), ("light",)),
        (recipe(corrections=(*[NO_CORRECTION] * 4, LAID)), ("move",)),
        # What single stills get is not compared where others are shown.
        (recipe(stills=STILLS[1:], corrections=(LIT,) * 4), ("stills",)),
        (recipe(fit=Fit(zoom=1.5), pace=Pace(hold=2)), ("fit", "pace")),
        (recipe().model_copy(update={"light": SharedLight(dust=(SPOT,))}), ("dust",)),
        (recipe(move=Move(views=(ViewAt(at=0),))), ("move",)),
    ],
)  # fmt: skip
def test_each_change_is_told_by_the_step_it_was_made_in(now, steps):
    assert changed_since(recipe(), now) == steps
    assert changed_since(now, recipe()) == steps
