"""Treating shots like another: what is taken, what lies where, and what each keeps of its own."""

import pytest

from yarnkite.core.base.frozen import Size
from yarnkite.core.brief.treatment import TREATED_PARTS, TreatedShot, treated
from yarnkite.core.check.decisions import Check
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.lens import Lens
from yarnkite.core.light.decisions import Even, Keyframe, Light, Setting
from yarnkite.core.move.decisions import AnchoredPoint, Move, PlaceAt, Steady, ViewAt
from yarnkite.core.order.decisions import Order
from yarnkite.core.pace.decisions import Longer, Pace, Thin
from yarnkite.core.render.decisions import Decisions

STILLS = tuple(range(101, 202))
OTHERS = tuple(range(501, 552))


def shot(name="Cove", stills=OTHERS, lenses=("35 mm",), **steps):
    return TreatedShot(name, Decisions(**steps), stills, lenses)


def model(**steps):
    return shot("Reach", STILLS, **steps)


def keyframes(**values):
    return tuple(Keyframe(still=int(still[1:]), value=value) for still, value in values.items())


def test_all_that_is_not_of_one_shot_alone_is_taken():
    wanted = model(
        light=Light(exposure=Setting(value=0.4), even=Even(flicker=True, steps=True), monochrome=True),
        fit=Fit(size=Size(width=1080, height=1080), how="contain", zoom=1.2),
        move=Move(views=(ViewAt(at=0), ViewAt(at=1, closeness=1.5)), steady=Steady(how="glide", place_over=90)),
        pace=Pace(rate="24000/1001", hold=2, blend="neighbours", thin=Thin(way="every", every=3)),
        encode=Encode(format="prores", crf=16),
    )
    found = treated(shot(), wanted, TREATED_PARTS)
    assert found.decisions == wanted.decisions
    assert found.exceptions == ()


def test_only_the_parts_that_are_asked_for_change_and_order_and_check_never_do():
    own = shot(check=Check(aside=(502,)), order=Order(by="time"), pace=Pace(hold=4), fit=Fit(zoom=2.0))
    wanted = model(check=Check(aside=(103,)), order=Order(by="text"), pace=Pace(hold=2), fit=Fit(zoom=1.5))
    for part in TREATED_PARTS:
        found = treated(own, wanted, [part]).decisions
        changed = {name for name, value in found if value != getattr(own.decisions, name)}
        assert changed == ({part} if part in ("pace", "fit") else set())
    assert treated(own, wanted, TREATED_PARTS).decisions.check == own.decisions.check
    assert treated(own, wanted, TREATED_PARTS).decisions.order == own.decisions.order


def test_what_changes_over_the_model_lies_at_the_same_share_of_the_way():
    falling = Setting(value=0.0, keyframes=keyframes(s101=1.0, s151=0.5, s201=-1.0))
    light = treated(shot(), model(light=Light(exposure=falling)), ["light"]).decisions.light
    assert light.exposure.keyframes == keyframes(s501=1.0, s526=0.5, s551=-1.0)
    # Both ways: a longer shot than the model.
    back = treated(model(), shot(light=light), ["light"]).decisions.light
    assert back.exposure.keyframes == falling.keyframes


@pytest.mark.parametrize("stills", [(), (9,)])
def test_a_shot_with_hardly_a_still_takes_what_the_model_begins_with(stills):
    falling = Setting(value=0.0, keyframes=keyframes(s101=1.0, s201=-1.0))
    light = treated(shot(stills=stills), model(light=Light(exposure=falling)), ["light"]).decisions.light
    values = {one.value for one in light.exposure.keyframes} or {light.exposure.value}
    assert values <= {1.0, -1.0}
    assert all(one.still in stills for one in light.exposure.keyframes)


def test_a_drawn_course_stays_with_the_shot_it_is_drawn_for():
    drawn = Even(flicker=True, course="drawn", drawn=Setting(keyframes=keyframes(s101=-2.0, s201=-3.0)))
    own = Even(course="drawn", drawn=Setting(keyframes=keyframes(s501=-1.0)))
    found = treated(shot(light=Light(even=own)), model(light=Light(even=drawn)), ["light"])
    assert found.decisions.light.even == drawn.model_copy(update={"drawn": own.drawn})
    assert found.exceptions == ("keeps its own course of light: that of “Reach” is drawn for its stills",)
    undrawn = treated(shot(), model(light=Light(even=drawn)), ["light"]).decisions.light.even
    assert (undrawn.flicker, undrawn.course, undrawn.is_drawn) == (True, "followed", False)


def test_what_belongs_to_a_lens_is_taken_for_the_same_lens_only():
    wanted = {"light": Light(fringe_red=0.5), "fit": Fit(lens=Lens(k1=0.1))}
    same = treated(shot(), model(**wanted), TREATED_PARTS)
    assert (same.decisions.light.fringe_red, same.decisions.fit.lens.k1, same.exceptions) == (0.5, 0.1, ())
    for lenses in ((), ("20 mm",), ("35 mm", "20 mm")):
        other = treated(shot(lenses=lenses, light=Light(fringe_red=0.2)), model(**wanted), TREATED_PARTS)
        assert (other.decisions.light.fringe_red, other.decisions.fit.lens.k1) == (0.2, 0.0)
        assert len(other.exceptions) == 2


def test_the_camera_of_each_shot_stood_where_it_stood():
    own = shot(fit=Fit(level=1.5, quarters=1, mirror=True))
    found = treated(own, model(fit=Fit(level=-2.0, how="contain")), ["fit"])
    assert found.decisions.fit == Fit(how="contain", level=1.5, quarters=1, mirror=True)
    assert found.exceptions == ("keeps its own level", "is turned and mirrored as it was")


def test_points_and_single_stills_are_each_shots_own():
    point = AnchoredPoint(places=(PlaceAt(still=101, x=0.5, y=0.5),))
    mine = AnchoredPoint(places=(PlaceAt(still=501, x=0.2, y=0.2),))
    own = shot(
        move=Move(steady=Steady(how="still", points=(mine,))),
        pace=Pace(longer=(Longer(still=503, frames=9),), picked=(501, 505), thin=Thin(way="picked")),
    )
    wanted = model(
        move=Move(steady=Steady(how="anchor", points=(point,))),
        pace=Pace(rate="30", longer=(Longer(still=110, frames=5),), picked=(101,), thin=Thin(way="picked", every=7)),
    )
    found = treated(own, wanted, TREATED_PARTS)
    assert found.decisions.move.steady == own.decisions.move.steady
    pace = found.decisions.pace
    assert (pace.rate, pace.longer, pace.picked) == (30, own.decisions.pace.longer, own.decisions.pace.picked)
    assert pace.thin == own.decisions.pace.thin
    assert len(found.exceptions) == 3
    onto = treated(own, model(move=Move(steady=Steady(how="still", reference=140, turn=False))), ["move"])
    assert onto.decisions.move.steady == Steady(how="still", turn=False, points=(mine,))
    assert "middle of its stills" in onto.exceptions[0]


def test_what_is_said_in_a_clip_is_its_own():
    own = shot(encode=Encode(title="The cove", start="02:00:00:00"))
    found = treated(own, model(encode=Encode(title="The reach", format="av1")), ["encode"]).decisions.encode
    assert found == Encode(title="The cove", start="02:00:00:00", format="av1")
