"""The schedule: which still each frame shows, exactly, for any pace."""

from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import parse_rate
from yarnkite.core.base.still import Still
from yarnkite.core.pace.decisions import Knot, Longer, Pace, Thin
from yarnkite.core.pace.schedule import Schedule, speeds, thinned
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe, schedule_of

thins = st.one_of(
    st.just(Thin()),
    st.builds(Thin, way=st.just("every"), every=st.integers(2, 9)),
    st.builds(Thin, way=st.just("leave"), use=st.integers(1, 5), leave=st.integers(1, 5)),
    st.builds(Thin, way=st.just("even"), count=st.integers(1, 80)),
)
curves = st.lists(st.builds(Knot, at=st.floats(0, 1), speed=st.floats(0.05, 20)), max_size=5).map(tuple)
plain_paces = st.builds(
    Pace,
    rate=st.sampled_from(["6", "15", "24000/1001", "24", "25", "30000/1001", "50", "60000/1001", "60"]),
    repeat=st.integers(1, 4),
    hold=st.integers(1, 9),
    last=st.one_of(st.none(), st.integers(1, 60)),
    thin=thins,
    direction=st.sampled_from(["on", "back", "there and back"]),
)
paces = st.builds(
    lambda pace, **changes: Pace.model_validate(pace.model_dump() | changes),
    plain_paces,
    blend=st.sampled_from(["none", "neighbours", "shutter", "motion"]),
    shutter=st.integers(10, 360),
    curve=curves.map(lambda curve: [knot.model_dump() for knot in curve]),
    by_clock=st.booleans(),
)
counts = st.integers(1, 120)


def clock(stills: int, seed: int) -> tuple[int, ...]:
    """Times in milliseconds at uneven intervals, with a clock that once stands still."""
    steps = np.random.default_rng(seed).integers(200, 9000, stills)
    steps[stills // 2] = 0
    return tuple(int(time) for time in np.cumsum(steps))


@given(stills=counts, pace=paces, seed=st.integers(0, 5))
def test_no_frame_is_without_a_still_and_weights_are_whole(stills, pace, seed):
    schedule = Schedule(stills, pace, clock(stills, seed))
    assert len(schedule) >= 1
    assert len(schedule) % pace.repeat == 0
    for frame in {0, len(schedule) // 3, len(schedule) // 2, len(schedule) - 1}:
        shown = schedule.shown(frame)
        assert shown.parts
        assert sum(weight for _, weight in shown.parts) == 1
        assert all(0 <= place < stills and weight > 0 for place, weight in shown.parts)
    assert schedule.seconds * pace.rate * pace.repeat == len(schedule)


@given(stills=counts, pace=plain_paces)
def test_without_a_curve_the_count_is_what_multiplication_says(stills, pace):
    way = [place for place in range(stills) if place in set(thinned(stills, pace.thin))]
    shown = len(way) if pace.direction != "there and back" else len(way) + max(0, len(way) - 2)
    held = pace.hold * shown if pace.last is None else pace.hold * (shown - 1) + pace.last
    assert len(Schedule(stills, pace)) == held * pace.repeat


@given(stills=counts, pace=plain_paces)
def test_each_still_of_the_sequence_stays_for_exactly_its_hold(stills, pace):
    schedule = Schedule(stills, pace)
    expected = [place for place in schedule.sequence for _ in range(pace.hold * pace.repeat)]
    if pace.last is not None:
        expected = expected[: -pace.hold * pace.repeat] + [schedule.sequence[-1]] * (pace.last * pace.repeat)
    assert schedule.mains() == expected


@given(stills=counts, pace=paces, seed=st.integers(0, 5))
def test_the_list_of_stills_is_what_each_frame_says(stills, pace, seed):
    schedule = Schedule(stills, pace, clock(stills, seed))
    mains = schedule.mains()
    assert len(mains) == len(schedule)
    for frame in range(0, len(schedule), max(1, len(schedule) // 40)):
        assert mains[frame] == schedule.still_at(frame)


@given(stills=st.integers(2, 120), pace=paces, seed=st.integers(0, 5))
def test_going_on_never_goes_back(stills, pace, seed):
    mains = Schedule(stills, pace.model_copy(update={"direction": "on"}), clock(stills, seed)).mains()
    assert all(after >= before for before, after in pairwise(mains))


@given(stills=counts, pace=paces, seed=st.integers(0, 5), at=st.floats(0, 1))
def test_the_frame_of_a_still_shows_it_or_the_nearest_one_that_is_used(stills, pace, seed, at):
    pace = pace.model_copy(update={"blend": "none"})
    schedule = Schedule(stills, pace, clock(stills, seed))
    still = round(at * (stills - 1))
    seen = set(schedule.mains())
    shown = schedule.still_at(schedule.frame_of(still))
    assert abs(shown - still) == min(abs(one - still) for one in seen)


@given(stills=counts, pace=plain_paces, seed=st.integers(0, 3))
def test_changes_counts_the_frames_that_differ_from_the_one_before(stills, pace, seed):
    schedule = Schedule(stills, pace)
    mains = schedule.mains()
    elements = 1 + sum(before != after for before, after in pairwise(mains))
    assert schedule.changes == elements


def test_a_curve_holds_each_still_in_proportion_to_its_speed():
    curve = (Knot(at=0.25, speed=0.5), Knot(at=0.75, speed=4))
    schedule = Schedule(100, Pace(hold=8, curve=curve))
    held = schedule.frames_held / 1000
    assert held[10] == pytest.approx(16, rel=1e-3)
    assert held[90] == pytest.approx(2, rel=1e-3)
    # Half way between the knots, by equal factors: the square root of 0.5 × 4.
    assert held[50] == pytest.approx(8 / np.sqrt(2), rel=0.03)
    assert len(schedule) == round(held.sum())
    seen = np.bincount(schedule.mains(), minlength=100)
    assert np.abs(seen - held).max() <= 1.001


def test_a_fast_stretch_shows_fewer_stills_than_it_has():
    schedule = Schedule(100, Pace(curve=(Knot(at=0.5, speed=4),)))
    assert len(schedule) == 25
    assert schedule.used == len(set(schedule.mains())) == 25


def test_a_clip_past_a_day_is_refused_before_anything_is_made_of_it():
    stills = tuple(Still(path=f"{n}.jpg", fingerprint=f"{n}", width=600, height=400) for n in range(100))
    pace = Pace(hold=1000, curve=(Knot(at=0.5, speed=0.05),))
    recipe = Recipe(stills=stills, decisions=Decisions(pace=pace))
    assert Schedule(100, pace).seconds == 80_000
    schedule_of(recipe)
    longer = recipe.model_copy(
        update={"decisions": Decisions(pace=pace.model_copy(update={"last": 100_000, "repeat": 10}))}
    )
    assert Schedule(100, longer.decisions.pace).seconds == 99 * 800 + 4000
    late = pace.model_copy(update={"rate": parse_rate("1")})
    with pytest.raises(Refusal, match="24 hours"):
        schedule_of(recipe.model_copy(update={"decisions": Decisions(pace=late)}))


def test_speed_between_knots_goes_by_equal_factors_and_is_level_outside():
    curve = (Knot(at=0.2, speed=1), Knot(at=0.6, speed=4))
    assert speeds(curve, np.array([0.0, 0.2, 0.4, 0.6, 1.0])) == pytest.approx([1, 1, 2, 4, 4])


def test_by_the_clock_uneven_intervals_play_evenly():
    times = (0, 1000, 2000, 6000, 7000, 15000, 16000)
    pace = Pace(rate="25", hold=10, by_clock=True)
    schedule = Schedule(7, pace, times)
    held = schedule.frames_held / 1000
    assert len(schedule) == 70
    # The clip's clock runs evenly: a still's time on screen is its interval, all by the same factor.
    assert held[:6] / np.diff(times) == pytest.approx(np.full(6, held[0] / 1000), rel=1e-3)
    assert np.bincount(schedule.mains())[[2, 4]] == pytest.approx(held[[2, 4]], abs=1)


def test_single_stills_stay_longer_and_no_frame_is_lost():
    pace = Pace(hold=2, last=50, longer=(Longer(still=3, frames=9),))
    mains = Schedule(6, pace).mains()
    assert [mains.count(still) for still in range(6)] == [2, 2, 2, 9, 2, 50]


def test_there_and_back_shows_the_ends_once():
    assert Schedule(4, Pace(direction="there and back")).mains() == [0, 1, 2, 3, 2, 1]


def test_thinning_in_turn_uses_and_leaves():
    assert thinned(10, Thin(way="leave", use=2, leave=3)) == (0, 1, 5, 6)
    assert thinned(10, Thin(way="every", every=4)) == (0, 4, 8)


@given(stills=st.integers(1, 500), count=st.integers(1, 500))
def test_an_even_choice_has_the_count_both_ends_and_steps_that_differ_by_one_at_most(stills, count):
    chosen = thinned(stills, Thin(way="even", count=count))
    assert len(chosen) == min(stills, count) == len(set(chosen))
    assert chosen[0] == 0
    if 1 < count <= stills:
        assert chosen[-1] == stills - 1
        steps = set(np.diff(chosen))
        assert max(steps) - min(steps) <= 1


def test_neighbours_are_blended_by_how_near_they_are():
    schedule = Schedule(3, Pace(hold=4, blend="neighbours"))
    assert schedule.shown(1).parts == ((0, Fraction(3, 4)), (1, Fraction(1, 4)))
    assert schedule.shown(6).parts == ((1, Fraction(1, 2)), (2, Fraction(1, 2)))
    assert schedule.shown(4).parts == ((1, Fraction(1)),)
    assert [len(schedule.shown(frame).parts) for frame in range(8, 12)] == [1, 1, 1, 1]


@pytest.mark.parametrize(("shutter", "seen"), [(360, 4), (180, 2), (90, 1)])
def test_motion_blur_averages_the_stills_a_shutter_would_see(shutter, seen):
    pace = Pace(thin=Thin(way="every", every=4), blend="shutter", shutter=shutter)
    parts = Schedule(40, pace).shown(3).parts
    assert [place for place, _ in parts] == list(range(12, 12 + seen))
    assert {weight for _, weight in parts} == {Fraction(1, seen)}


def test_motion_blur_looks_the_same_way_backwards():
    pace = Pace(thin=Thin(way="every", every=4), blend="shutter", shutter=180, direction="back")
    parts = Schedule(41, pace).shown(2).parts
    assert [place for place, _ in parts] == [32, 31]


def test_in_betweens_name_the_two_stills_and_the_share():
    shown = Schedule(5, Pace(hold=3, blend="motion")).shown(4)
    assert shown.moving
    assert shown.parts == ((1, Fraction(2, 3)), (2, Fraction(1, 3)))


@pytest.mark.parametrize("every", [48, 49, 200])
def test_many_stills_in_one_frame_are_averaged_by_a_bounded_number_spread_over_them(every):
    pace = Pace(thin=Thin(way="every", every=every), blend="shutter", shutter=360)
    parts = Schedule(10 * every, pace).shown(2).parts
    places = [place for place, _ in parts]
    assert len(parts) == min(48, every)
    assert sum(weight for _, weight in parts) == 1
    assert (places[0], places[-1] < 3 * every) == (2 * every, True)
    assert places[-1] >= 3 * every - every // 40 - 1
    assert places == sorted(set(places))
