"""Splitting and joining shots: what the clip shows, and all that was decided about its stills, goes along."""

from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.still import Still
from yarnkite.core.check.decisions import Check, Fill, Note
from yarnkite.core.order.decisions import Order
from yarnkite.core.pace.decisions import Longer, Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.slots import slots_of
from yarnkite.core.render.split_join import joined, part_of


def stills(ids):
    return [(number, Still(path=f"{number}.jpg", fingerprint=f"print-{number}", width=60, height=40)) for number in ids]


def shown(ids, decisions):
    """The stills of a shot that its clip is made of, by id."""
    return [one.still for one in slots_of(stills(ids), decisions.check)]


@st.composite
def decided(draw, ids):
    some = st.lists(st.sampled_from(ids), max_size=6, unique=True)
    begin, end = sorted(draw(st.lists(st.integers(0, len(ids) - 1), min_size=2, max_size=2)))
    aside, bridged, held = draw(some), draw(some), draw(some)
    check = Check(
        aside=tuple(aside),
        bridged=tuple(set(bridged) - set(held)),
        repeated=tuple(held),
        filled=tuple(Fill(after=still, count=2) for still in draw(some)),
        notes=tuple(Note(still=still, text=f"note {still}") for still in draw(some)),
        dismissed=tuple(f"soft:{still}-{still}" for still in draw(some)),
        begin=draw(st.sampled_from([None, ids[begin]])),
        end=draw(st.sampled_from([None, ids[end]])),
    )
    longer = tuple(Longer(still=still, frames=3) for still in draw(some))
    return Decisions(
        check=check, pace=Pace(longer=longer), order=Order(by="hand", hand=tuple(draw(st.permutations(ids))))
    )


SHOT = list(range(101, 121))


@given(decided(SHOT), st.sets(st.sampled_from(SHOT), min_size=1, max_size=19))
def test_each_part_of_a_split_shows_what_the_shot_showed_of_it(decisions, own):
    before = set(shown(SHOT, decisions))
    for part in (own, set(SHOT) - own):
        ids = [still for still in SHOT if still in part]
        kept = part_of(decisions, SHOT, part)
        wanted = [still for still in ids if still in before]
        if not any(still in before for still in ids if still not in decisions.check.aside):
            continue  # the stretch said nothing about this part: all of it but what is set aside is shown
        assert set(shown(ids, kept)) == set(wanted)


@given(decided(SHOT), st.sets(st.sampled_from(SHOT), min_size=1, max_size=19))
def test_no_decision_about_a_still_is_lost_or_doubled_by_a_split(decisions, own):
    parts = [part_of(decisions, SHOT, own), part_of(decisions, SHOT, set(SHOT) - own)]
    for field in ("aside", "bridged", "repeated", "filled", "notes", "dismissed"):
        together = [one for part in parts for one in getattr(part.check, field)]
        assert sorted(map(str, together)) == sorted(map(str, getattr(decisions.check, field)))
    assert sorted(one.still for part in parts for one in part.pace.longer) == sorted(
        one.still for one in decisions.pace.longer
    )
    for part, ids in zip(parts, (own, set(SHOT) - own), strict=True):
        assert part.order.hand == tuple(still for still in decisions.order.hand if still in ids)


OTHER = list(range(201, 213))


@given(decided(SHOT), decided(OTHER), st.randoms(use_true_random=False))
def test_a_joined_shot_shows_what_both_showed_and_keeps_every_decision(one, other, mixed):
    ordered = [*SHOT, *OTHER]
    mixed.shuffle(ordered)
    now = joined(one, SHOT, other, OTHER, ordered)
    before = {*shown(SHOT, one), *shown(OTHER, other)}
    assert set(shown(ordered, now)) == before
    for field in ("bridged", "repeated", "filled", "notes", "dismissed"):
        both = {*map(str, getattr(one.check, field)), *map(str, getattr(other.check, field))}
        assert set(map(str, getattr(now.check, field))) == both
    assert {*one.check.aside, *other.check.aside} <= set(now.check.aside)
    assert now.order.hand == (*SHOT, *OTHER)


def test_a_shot_that_was_not_put_in_order_by_hand_keeps_its_own_order_when_joined():
    now = joined(Decisions(order=Order(by="time")), SHOT, Decisions(), OTHER, [*SHOT, *OTHER])
    assert now.order == Order(by="time")


def test_the_stretch_of_the_first_shot_and_that_of_the_second_leave_out_what_lies_between_them():
    one = Decisions(check=Check(begin=103, end=118))
    other = Decisions(check=Check(begin=204))
    now = joined(one, SHOT, other, OTHER, [*SHOT, *OTHER])
    assert (now.check.begin, now.check.end) == (103, None)
    assert now.check.aside == (119, 120, 201, 202, 203)
