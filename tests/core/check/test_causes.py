"""One event is one finding: stretches of any length and at the ends, lamps, exposure, flicker, views, softness,
hands."""

from collections.abc import Callable
from dataclasses import replace
from datetime import datetime, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from yarnkite.core.check.decisions import Check, Fill
from yarnkite.core.check.finding import Finding, ShotMeasurements
from yarnkite.core.check.findings import findings, from_breaks
from yarnkite.core.check.remedy import is_settled, remedied, restored
from yarnkite.core.check.stretches import stretches
from yarnkite.core.gather.measures import GRID
from yarnkite.core.light.decisions import Even
from yarnkite.core.light.remedy import evened, is_evened
from yarnkite.core.order.breaks import Break
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.split_join import part_of

BEGINS = datetime(2031, 5, 4, 9, 30)
COUNT = 90


def quiet(count: int = COUNT, *, falls: float = 0.0) -> ShotMeasurements:
    """Return the measures of a shot in which a little moves and nothing goes wrong; its light falls by so many
    stops."""
    rng = np.random.default_rng(4)
    view = rng.normal(-3, 0.8, GRID)
    drift = np.cumsum(rng.normal(0, 0.012, (count, *GRID)), axis=0)
    course = -falls / (1 + np.exp(-0.12 * (np.arange(count) - count / 2)))
    blocks = view + drift + course[:, None, None] + rng.normal(0, 0.004, (count, 1, 1))
    return ShotMeasurements(
        ids=range(1, count + 1),
        names=[f"{number:04}.JPG" for number in range(count)],
        captured=[BEGINS + timedelta(seconds=5 * number) for number in range(count)],
        blocks=blocks,
        **{name: rng.normal(0, 0.004, count) for name in ("red", "blue")},
        sharpness=rng.normal(-1, 0.02, count),
        **{name: np.zeros(count) for name in ("bright", "dark")},
        shifts=rng.normal(0, 0.00004, (count, 3)),
        trust=np.full(count, 0.9),
        exposure=np.full(count, 12.0),
        dhashes=[0] * count,
    )


def lit(
    shot: ShotMeasurements, stops: NDArray[np.floating], where: NDArray[np.bool_] | None = None
) -> ShotMeasurements:
    """Return a shot with the light of each still changed by so many stops, in some blocks of the view or in all."""
    change = stops[:, None, None] * (np.ones(GRID, bool) if where is None else where)
    return replace(shot, blocks=shot.blocks + change)


def said(shot: ShotMeasurements) -> list[tuple[str, int, int]]:
    return [(one.kind, one.stills[0] - 1, one.stills[-1] - 1) for one in findings(shot)]


def only(shot: ShotMeasurements) -> Finding:
    found = findings(shot)
    assert len(found) == 1, [one.sentence for one in found]
    return found[0]


def within(first: int, last: int, count: int = COUNT) -> NDArray[np.bool_]:
    places = np.arange(count)
    return (places >= first) & (places <= last)


@pytest.mark.parametrize("falls", [0.0, 5.0])
def test_a_shot_in_which_nothing_goes_wrong_is_silent(falls):
    assert said(quiet(falls=falls)) == []


@pytest.mark.parametrize(
    ("first", "last"), [(0, 0), (0, 3), (0, 11), (40, 40), (30, 34), (30, 41), (78, 89), (87, 89), (89, 89)]
)
@pytest.mark.parametrize("stops", [-1.3, 2.0])
def test_dark_and_bright_stretches_are_found_whole_wherever_they_lie(first, last, stops):
    found = only(lit(quiet(falls=1.0), stops * within(first, last)))
    assert (found.kind, found.stills[0] - 1, found.stills[-1] - 1) == ("misfire", first, last)
    assert found.evidence["stops"] == pytest.approx(stops, rel=0.15)
    assert set(found.remedies) >= {"bridge", "set aside", "repeat"}


def test_light_that_goes_for_longer_than_a_stretch_goes_for_good():
    assert [kind for kind, _, _ in said(lit(quiet(), -1.3 * within(30, 50)))] == ["light step", "light step"]


def test_what_is_blown_out_is_at_least_so_bright():
    shot = lit(quiet(), 4.0 * within(40, 41))
    blown = replace(shot, blocks=np.minimum(shot.blocks, 0.0), bright=0.8 * within(40, 41))
    found = only(blown)
    assert found.kind == "misfire"
    assert "at least" in found.evidence
    assert found.evidence["stops"] <= 4.05
    assert "at least" not in only(lit(quiet(), 1.5 * within(40, 41))).evidence


def switched(*lasts: int, begins: int = 15) -> NDArray[np.float64]:
    """Return a lamp that is on and off in turn, for so many stills each."""
    states = [1.0 if turn % 2 == 0 else 0.0 for turn, last in enumerate(lasts) for _ in range(last)]
    return np.concatenate([np.zeros(begins), states, np.zeros(COUNT - begins - len(states))])


def test_a_lamp_that_blinks_is_one_finding_and_no_row_of_steps():
    found = only(lit(quiet(), 0.6 * switched(4, 7, 3, 9, 5, 6, 8)))
    assert found.kind == "blinking lamp"
    assert (found.stills[0] - 1, found.stills[-1] - 1) == (15, 56)
    assert found.evidence["stops"] == pytest.approx(0.6, rel=0.15)


def test_light_that_changes_with_every_still_is_flicker_and_no_lamp():
    gain = 0.2 * np.where(np.arange(COUNT) % 2, 1, -1) * within(30, 42)
    found = only(lit(quiet(), gain))
    assert (found.kind, found.stills[0] - 1, found.stills[-1] - 1) == ("flicker", 30, 42)
    assert found.evidence["stops"] == pytest.approx(0.4, rel=0.15)


def test_misfires_now_and_then_are_no_lamp_however_close():
    spoiled = within(20, 20) | within(31, 32) | within(45, 45)
    assert said(lit(quiet(), -1.5 * spoiled)) == [("misfire", 20, 20), ("misfire", 31, 32), ("misfire", 45, 45)]
    often = [("misfire", first, first + first % 2) for first in range(9, 81, 7)]
    close = np.any([within(first, last) for _, first, last in often], axis=0)
    assert said(lit(quiet(), -1.5 * close)) == often


def thirds(seed: int = 3) -> NDArray[np.float64]:
    """Return the gain of a camera that exposes anew every few stills, in stops, from still 12 on."""
    rng = np.random.default_rng(seed)
    gain, now = np.zeros(COUNT), 0.0
    for place in range(12, 75, 6):
        now += float(rng.choice([-2, -1, 1, 2])) / 3
        gain[place:] = now
    return gain


def test_auto_exposure_is_one_finding_told_by_the_camera_or_seen_in_the_pictures():
    told = replace(lit(quiet(), thirds()), exposure=12.0 - thirds())
    seen = replace(lit(quiet(), thirds()), exposure=np.full(COUNT, np.nan))
    for shot in (told, seen):
        found = only(shot)
        assert found.kind == "auto exposure"
        assert (found.stills[0] - 1, found.stills[-1] - 1) == (12, 72)
        assert found.evidence["times"] == 11
        assert "even out" in found.remedies


def test_one_change_of_exposure_is_a_step():
    gain = 0.7 * within(40, COUNT)
    assert said(replace(lit(quiet(), gain), exposure=12.0 - gain)) == [("exposure step", 40, 40)]


@pytest.mark.parametrize("deviation", [0.04, 0.08, 0.15])
def test_random_flicker_is_found_in_one_piece_and_as_strong_as_it_is(deviation):
    gain = np.random.default_rng(8).normal(0, deviation, COUNT) * within(20, 75)
    found = only(lit(quiet(), gain))
    first, last = found.stills[0] - 1, found.stills[-1] - 1
    assert found.kind == "flicker"
    assert abs(first - 20) <= 5
    assert abs(last - 75) <= 5
    assert found.evidence["stops"] == pytest.approx(np.sqrt(np.mean(np.diff(gain[20:76]) ** 2)), rel=0.15, abs=0.01)


def test_bands_of_lamp_light_are_told_from_waves():
    rng, count = np.random.default_rng(9), COUNT
    phases = rng.random(count)[:, None] * 6.28
    rows = 0.12 * np.sin(np.arange(GRID[0]) * 0.9 + phases) * within(15, 70)[:, None]
    found = only(replace(quiet(), blocks=quiet().blocks + rows[:, :, None]))
    assert found.kind == "lamp bands"
    assert found.evidence["stops"] == pytest.approx(0.12, rel=0.2)
    surf = np.zeros((count, *GRID))
    surf[:, GRID[0] // 2 :] = rng.normal(0, 0.3, (count, GRID[0] // 2, GRID[1]))
    assert said(replace(quiet(), blocks=quiet().blocks + surf)) == []


def test_a_step_of_light_must_take_most_of_the_view():
    part = np.zeros(GRID, bool)
    part[:, : int(GRID[1] * 0.55)] = True
    gain = 0.9 * within(40, COUNT)
    assert said(lit(quiet(), gain, part)) == []
    assert said(lit(quiet(), gain)) == [("light step", 40, 40)]


def test_colours_that_change_with_a_lamp_are_no_finding_of_their_own():
    gain, warmer = 0.8 * within(40, COUNT), 0.3 * within(40, COUNT)
    alone = replace(quiet(), red=quiet().red + warmer)
    assert said(alone) == [("colour step", 40, 40)]
    assert said(replace(lit(quiet(), gain), red=alone.red)) == [("light step", 40, 40)]


def patch(share: float) -> NDArray[np.bool_]:
    """Return a part of the view, connected and about as large as said."""
    where = np.zeros(GRID, bool)
    where[:, : round(share * GRID[1])] = True
    return where


@pytest.mark.parametrize(("first", "last"), [(0, 0), (0, 2), (40, 40), (40, 48), (40, 51), (88, 89)])
@pytest.mark.parametrize("share", [0.25, 0.625])
def test_a_view_that_is_blocked_is_found_whole_and_as_large_as_it_is(first, last, share):
    found = only(lit(quiet(), -1.6 * within(first, last), patch(share)))
    assert (found.kind, found.stills[0] - 1, found.stills[-1] - 1) == ("blocked view", first, last)
    assert found.evidence["share"] == pytest.approx(patch(share).mean(), rel=0.15)


def coloured(shot: ShotMeasurements, red: float, when: NDArray[np.bool_]) -> ShotMeasurements:
    """Return a shot whose left quarter is redder by so many stops in some stills, with colours that hardly stray."""
    rng = np.random.default_rng(9)
    colours = rng.normal(0, 0.3, (*GRID, 2)) + rng.normal(0, 0.004, (COUNT, *GRID, 2))
    colours[..., 0] += red * when[:, None, None] * patch(0.25)
    return replace(shot, colours=colours)


@pytest.mark.parametrize(("first", "last"), [(0, 2), (40, 40), (40, 48), (88, 89)])
def test_what_is_as_bright_as_what_it_hides_is_told_by_its_colour(first, last):
    found = only(coloured(quiet(), 0.6, within(first, last)))
    assert (found.kind, found.stills[0] - 1, found.stills[-1] - 1) == ("blocked view", first, last)
    assert found.evidence["share"] == pytest.approx(0.25, rel=0.15)


def test_colour_that_stays_or_is_that_of_all_or_of_the_dark_blocks_no_view():
    assert said(coloured(quiet(), 0.6, within(40, COUNT))) == []
    everywhere = coloured(quiet(), 0.0, within(0, 0))
    warmer = replace(everywhere, colours=everywhere.colours + 0.6 * within(40, 44)[:, None, None, None])
    assert said(warmer) == []
    # At 10 stops down a step of 8 bits is more than a stop of colour.
    night = replace(quiet(), blocks=quiet().blocks - 8.0)
    assert said(coloured(night, 0.6, within(40, 44))) == []
    assert [kind for kind, _, _ in said(lit(night, -1.6 * within(40, 44), patch(0.25)))] == ["blocked view"]


def test_colour_of_which_there_is_next_to_none_does_not_follow_the_light():
    # Petals, a part of the view, whose blue is below one code: what there is of it stays at the bottom.
    gain = 0.4 * within(40, 44)[:, None, None]
    petals = patch(0.25)
    colours = coloured(quiet(), 0.0, within(0, 0)).colours
    colours[..., 1] = np.where(petals, -12 - (quiet().blocks + gain), colours[..., 1])
    shot = replace(quiet(), blocks=quiet().blocks + gain, colours=colours)
    assert not any(kind == "blocked view" for kind, _, _ in said(shot))


def test_exposure_that_leaves_what_is_blown_out_as_it_is_blocks_no_view():
    bright = replace(quiet(), blocks=np.where(patch(0.4), 0.0, quiet().blocks))
    gain = 0.7 * within(40, 42)
    found = said(replace(bright, blocks=np.minimum(bright.blocks + gain[:, None, None], 0.0)))
    assert not any(kind == "blocked view" for kind, _, _ in found)


def jerked(shot: ShotMeasurements, when: NDArray[np.bool_] = within(0, COUNT)) -> ShotMeasurements:
    """Return a shot whose camera is jerked and turned at random in some stills, and stands in the others."""
    jerks = np.random.default_rng(5).normal(0, 0.004, (COUNT, 3)) * (1, 1, 30)
    return replace(shot, shifts=jerks * when[:, None])


def test_a_hand_that_shakes_moves_colours_about_and_what_blocks_its_view_changes_light_too():
    carried = jerked(quiet())
    assert [kind for kind, _, _ in said(coloured(carried, 0.6, within(40, 41)))] == ["by hand"]
    wide = patch(0.45)[None] & within(40, 41)[:, None, None]
    blocked = coloured(replace(carried, blocks=carried.blocks - 1.6 * wide), 0.6, within(40, 41))
    assert ("blocked view", 40, 41) in said(blocked)


def test_what_is_off_here_and_there_hides_nothing():
    when = within(40, 44)
    here_and_there = patch(0.25) & (np.indices(GRID).sum(axis=0) % 3 == 0)
    turned = lit(lit(quiet(), -0.3 * when, patch(0.25)), -0.4 * when, here_and_there)
    assert said(turned) == []
    assert said(lit(quiet(), -0.7 * when, patch(0.25))) == [("blocked view", 40, 44)]


def test_what_comes_for_good_blocks_no_view():
    assert not any(kind == "blocked view" for kind, _, _ in said(lit(quiet(), -1.6 * within(40, COUNT), patch(0.2))))


@pytest.mark.parametrize(("first", "last"), [(0, 0), (0, 5), (40, 43), (40, 51), (84, 89)])
def test_soft_stretches_are_found_whole(first, last):
    found = only(replace(quiet(), sharpness=quiet().sharpness - 0.6 * within(first, last)))
    assert (found.kind, found.stills[0] - 1, found.stills[-1] - 1) == ("soft", first, last)
    assert found.evidence["stops"] == pytest.approx(-0.6, rel=0.15)


def test_beside_a_stretch_in_which_nothing_happens_stills_are_not_soft():
    rng = np.random.default_rng(12)
    idle = within(30, 50)
    sharpness = np.where(idle, -0.5 + rng.normal(0, 0.004, COUNT), -0.6 + rng.normal(0, 0.12, COUNT))
    assert said(replace(quiet(), sharpness=sharpness)) == []


def test_a_loss_at_once_among_much_that_strays_is_told_at_its_place():
    strays = np.random.default_rng(2).normal(0, 0.12, COUNT)
    found = only(replace(quiet(), sharpness=quiet().sharpness + strays - 0.7 * within(55, COUNT)))
    assert (found.kind, found.stills[0] - 1) == ("lasting softness", 55)


def test_sharpness_that_is_lost_for_good_is_one_finding_at_once_and_slowly():
    at_once = only(replace(quiet(), sharpness=quiet().sharpness - 0.7 * within(50, COUNT)))
    assert (at_once.kind, at_once.stills[0] - 1) == ("lasting softness", 50)
    creeping = -1.2 * np.clip((np.arange(COUNT) - 40) / 25, 0, 1)
    slowly = only(replace(quiet(), sharpness=quiet().sharpness + creeping))
    assert slowly.kind == "lasting softness"
    assert 40 <= slowly.stills[0] - 1 <= 55
    # At dusk there is less detail to see, and nobody touched the lens.
    assert said(replace(quiet(falls=5.0), sharpness=quiet().sharpness + creeping)) == []


def moved(shot: ShotMeasurements, at: int, x: float, turn: float = 0.0) -> ShotMeasurements:
    shifts = shot.shifts.copy()
    shifts[at] = (x, 0.3 * x, turn)
    return replace(shot, shifts=shifts)


@pytest.mark.parametrize("at", [2, 3, 40, 86, 87])
def test_knocks_are_found_up_to_the_ends(at):
    found = only(moved(quiet(), at, 0.01))
    assert (found.kind, found.stills[0] - 1) == ("knock", at)


def test_a_small_turn_is_a_knock_and_what_little_of_the_view_agrees_on_is_none():
    found = only(moved(quiet(), 40, 0.0, 0.5))
    assert (found.kind, found.evidence["rotation_deg"]) == ("knock", 0.5)
    assert "turned by 0.5°" in found.sentence
    trust = np.full(COUNT, 0.9)
    trust[40] = 0.3
    assert said(replace(moved(quiet(), 40, 0.01), trust=trust)) == []


def test_a_shot_that_is_carried_by_hand_is_exactly_one_finding():
    found = only(jerked(quiet()))
    assert found.kind == "by hand"
    assert len(found.stills) == COUNT
    ((kind, first, last),) = said(jerked(quiet(), within(30, 50)))
    assert kind == "shake"
    assert abs(first - 30) <= 2
    assert abs(last - 50) <= 2


def test_a_camera_that_a_motor_moves_does_not_shake():
    assert said(replace(quiet(), shifts=quiet().shifts + np.array([0.004, 0.001, 0.0]))) == []


def frozen(
    change: Callable[[NDArray[np.floating]], NDArray[np.floating]], when: slice = slice(30, 60)
) -> ShotMeasurements:
    """Return a shot with a stretch of stills whose view is changed."""
    blocks = quiet().blocks.copy()
    blocks[when] = change(blocks[when])
    return replace(quiet(), blocks=blocks)


def standing(blocks: NDArray[np.floating]) -> NDArray[np.floating]:
    """Return the first view of a stretch all through, with grain."""
    return np.asarray(blocks[:1] + np.random.default_rng(6).normal(0, 0.002, blocks.shape))


@pytest.mark.parametrize(
    ("first", "last", "best"), [(0, 25, "begin here"), (30, 55, "set aside"), (64, 89, "end here")]
)
def test_where_nothing_happens_the_shot_begins_later_ends_sooner_or_does_without(first, last, best):
    found = only(frozen(standing, slice(first, last + 1)))
    assert found.kind == "nothing happens"
    assert found.remedies == (best, "dismiss")


def test_a_view_that_stands_still_is_told_from_one_that_changes_slowly():
    stands = frozen(standing)
    assert [kind for kind, _, _ in said(stands)] == ["nothing happens"]
    slowly = frozen(lambda blocks: blocks[:1] + 0.5 * (blocks - blocks[:1]))
    assert said(slowly) == []


def test_a_pause_is_a_finding_that_can_be_filled():
    pause = Break("pause", 10, "A pause of 25 s after “0009.JPG”, where 5 s is usual.", 4)
    (found,) = from_breaks(quiet(), [pause])
    assert (found.kind, found.stills, found.remedies[0]) == ("pause", (10, 11), "fill")
    assert found.evidence["missing"] == 4
    filled = remedied(Check(), [found], "fill")
    assert filled.filled == (Fill(after=10, count=4),)
    assert is_settled(filled, found)
    assert not is_settled(restored(filled, [found]), found)
    # Pictures made of two stills do not make up for a night.
    (night,) = from_breaks(quiet(), [replace(pause, count=9_000)])
    assert night.remedies == ("dismiss",)


def test_taking_a_remedy_back_leaves_what_does_away_with_another_finding():
    both = evened(evened(Even(), ["flicker"], "even out"), ["blinking lamp"], "even out")
    assert is_evened(both, "blinking lamp")
    left = evened(both, ["blinking lamp"], "none", others=["flicker"])
    assert is_evened(left, "flicker")
    assert not is_evened(left, "blinking lamp")
    assert not is_evened(evened(both, ["blinking lamp"], "none"), "flicker")


@settings(max_examples=60)
@given(
    st.integers(40, 120),
    st.integers(1, 12),
    st.floats(0, 1),
    st.sampled_from([-1, 1]),
    st.floats(0.9, 3),
    st.floats(-0.04, 0.04),
    st.integers(0, 99),
)
def test_a_stretch_is_found_exactly_on_any_slope(count, length, place, sign, height, slope, seed):
    values = np.cumsum(np.random.default_rng(seed).normal(0, 0.008, count)) + slope * np.arange(count)
    first = round(place * (count - length))
    # Two stills beyond a stretch are too few to tell which of the two is off.
    first = 0 if first < 4 else count - length if count - length - first < 4 else first
    assert stretches(values, least=0.5) == []
    (found,) = stretches(
        values + sign * height * ((np.arange(count) >= first) & (np.arange(count) < first + length)), least=0.5
    )
    assert (found.first, found.last) == (first, first + length - 1)
    assert found.off == pytest.approx(sign * height, rel=0.25)


def about(kind: str, stills: range, where: dict[str, float] | None = None) -> Finding:
    return Finding(kind, tuple(stills), "", where or {}, ("dismiss",))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("before", "after", "stays"),
    [
        (about("by hand", range(1, 97)), about("by hand", range(1, 121)), True),
        (about("flicker", range(20, 60)), about("flicker", range(20, 75)), True),
        (about("flicker", range(20, 60)), about("flicker", range(20, 40)), True),
        (about("flicker", range(20, 60)), about("flicker", range(62, 90)), False),
        (about("flicker", range(20, 60)), about("shake", range(20, 60)), False),
        (about("misfire", range(20, 22)), about("misfire", range(20, 23)), False),
        (
            about("dirt", range(1, 97), {"x": 0.2, "y": 0.3}),
            about("dirt", range(5, 60), {"x": 0.203, "y": 0.299}),
            True,
        ),
        (about("dirt", range(1, 97), {"x": 0.2, "y": 0.3}), about("dirt", range(1, 97), {"x": 0.6, "y": 0.3}), False),
    ],
    ids=lambda one: one.key if isinstance(one, Finding) else None,
)
def test_what_was_left_stays_so_when_stills_come_or_go(before, after, stays):
    left = remedied(Check(), [before], "dismiss")
    assert is_settled(left, before)
    assert is_settled(left, after) == stays
    assert not is_settled(restored(left, [after if stays else before]), before)


def test_either_part_of_a_split_shot_keeps_what_was_left_of_a_stretch_and_of_the_whole():
    stretch, whole = about("flicker", range(20, 60)), about("by hand", range(1, 91))
    decided = Decisions(check=remedied(Check(), [stretch, whole, about("soft", range(50, 51))], "dismiss"))
    first = part_of(decided, range(1, 91), set(range(1, 41))).check
    other = part_of(decided, range(1, 91), set(range(41, 91))).check
    assert is_settled(first, about("flicker", range(20, 41)))
    assert is_settled(other, about("flicker", range(41, 60)))
    assert is_settled(first, about("by hand", range(1, 41)))
    assert is_settled(other, about("by hand", range(41, 91)))
    assert is_settled(other, about("soft", range(50, 51)))
    assert not is_settled(first, about("soft", range(50, 51)))


def test_detail_that_is_gained_or_that_light_takes_along_or_that_the_end_cuts_off_is_no_lasting_loss():
    gained = replace(quiet(), sharpness=quiet().sharpness + 0.7 * within(50, COUNT))
    assert said(gained) == []
    with_light = replace(lit(quiet(), 0.8 * within(45, COUNT)), sharpness=quiet().sharpness - 0.7 * within(45, COUNT))
    assert said(with_light) == [("light step", 45, 45)]
    late = replace(quiet(), sharpness=quiet().sharpness - 0.7 * within(80, COUNT))
    assert said(late) == [("soft", 80, 89)]
    made_up_for = -0.7 * within(40, 60)
    assert said(replace(quiet(), sharpness=quiet().sharpness + made_up_for)) == []


@pytest.mark.parametrize(("stops", "told"), [(0.95, True), (0.65, False)])
def test_a_still_is_soft_while_the_camera_shakes_only_if_it_is_much_softer_than_shaking_makes_others(stops, told):
    # Shaking makes one in seven soft, before and after alike.
    softer = 0.5 * (np.arange(COUNT) % 7 == 5) * within(25, 55) * ~within(40, 40) + stops * within(40, 40)
    found = said(jerked(replace(quiet(), sharpness=quiet().sharpness - softer), within(25, 55)))
    assert [one for one in found if one[0] == "soft"] == ([("soft", 40, 40)] if told else [])
    assert [kind for kind, *_ in found if kind != "soft"] == ["shake"]


def test_what_shaking_made_long_before_or_after_excuses_no_soft_still():
    softer = 0.9 * (within(14, 14) | within(40, 40) | within(68, 68))
    found = said(jerked(replace(quiet(), sharpness=quiet().sharpness - softer), within(8, 75)))
    assert [first for kind, first, _ in found if kind == "soft"] == [14, 40, 68]


@pytest.mark.parametrize("noisy_first", [True, False])
def test_how_far_off_is_too_far_goes_by_what_values_stray_by_there(noisy_first):
    rng = np.random.default_rng(7)
    strays = np.where(within(0, 44) == noisy_first, 0.15, 0.005)
    values = rng.normal(0, 1, COUNT) * strays
    calm, busy = (70, 20) if noisy_first else (20, 70)
    assert stretches(values + 0.6 * within(busy, busy + 4), least=0.3) == []
    (found,) = stretches(values + 0.6 * within(calm, calm + 4), least=0.3)
    assert (found.first, found.last) == (calm, calm + 4)


@pytest.mark.parametrize("gap", [3, 4, 6])
def test_stretches_close_to_each_other_are_each_found_and_what_lies_between_is_sound(gap):
    values = np.random.default_rng(3).normal(0, 0.01, COUNT)
    off = within(30, 33) | within(34 + gap, 36 + gap)
    found = stretches(values - 1.0 * off, least=0.5)
    assert [(one.first, one.last) for one in found] == [(30, 33), (34 + gap, 36 + gap)]
    assert all(one.off == pytest.approx(-1, abs=0.1) for one in found)


def test_a_misfire_next_to_a_change_of_exposure_is_one_all_the_same():
    changes = sum(within(20 + 9 * turn, COUNT) for turn in range(4))
    shot = replace(lit(quiet(), 0.5 * changes - 2.5 * within(70, 71)), exposure=12.0 - 0.5 * changes)
    assert said(shot) == [("auto exposure", 20, 47), ("misfire", 70, 71)]
