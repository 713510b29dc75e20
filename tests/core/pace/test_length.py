"""Ways to a wanted length, and times that are typed."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.base.errors import Refusal
from yarnkite.core.pace.decisions import Knot, Pace, Thin
from yarnkite.core.pace.length import frames_of, length_text, parse_length, ways
from yarnkite.core.pace.schedule import Schedule


@given(
    stills=st.integers(2, 5000),
    rate=st.sampled_from(["12", "24", "25", "30000/1001", "60"]),
    hold=st.integers(1, 4),
    wanted=st.fractions(Fraction(1, 2), 120, max_denominator=10),
    direction=st.sampled_from(["on", "there and back"]),
)
def test_every_way_is_as_long_as_it_says(stills, rate, hold, wanted, direction):
    for way in ways(stills, Pace(rate=rate, hold=hold, direction=direction), wanted):
        schedule = Schedule(stills, way.pace)
        assert (len(schedule), schedule.seconds) == (way.frames, way.seconds)
        assert way.sentence.endswith(".")


def test_six_hundred_stills_in_twelve_seconds():
    found = ways(600, Pace(rate="25"), Fraction(12))
    assert {way.name for way in found} >= {"another rate", "fewer stills"}
    by_name = {way.name: way for way in reversed(found)}
    assert by_name["another rate"].pace.rate == 50
    assert by_name["another rate"].seconds == 12
    assert by_name["fewer stills"].seconds == 12
    assert by_name["fewer stills"].pace.thin == Thin(way="even", count=300)
    every = [way for way in found if way.pace.thin.way == "every"]
    assert every[0].pace.thin.every == 2
    assert every[0].sentence == "Every second still: things move 2 × as fast, and evenly."


def test_few_stills_for_a_long_clip_are_held():
    found = ways(48, Pace(rate="24"), Fraction(12))
    held = next(way for way in found if way.name == "another hold")
    assert (held.pace.hold, held.seconds) == (6, 12)
    assert "it is a show of stills" in held.sentence
    assert all(way.name != "fewer stills" for way in found)


@given(stills=st.integers(2, 2000), wanted=st.integers(2, 200))
def test_there_is_always_a_way_within_a_tenth(stills, wanted):
    # The longest still of a slowed shot is shown 20 times as long; past that there is none to be honest about.
    pace = Pace(rate="25")
    if stills / 25 * 19 < wanted:
        return
    near = min(abs(way.seconds - wanted) for way in ways(stills, pace, Fraction(wanted)))
    assert near <= max(Fraction(wanted, 10), Fraction(1, 5))


def test_a_length_between_two_holds_is_reached_by_slowing_throughout():
    found = ways(40, Pace(rate="25"), Fraction(2))
    slower = next(way for way in found if way.name == "slower throughout")
    assert (slower.frames, slower.pace.blend) == (50, "neighbours")
    assert slower.sentence.startswith("All stills, 1.25 frames each on average")
    held = next(way for way in ways(40, Pace(rate="25", hold=2), Fraction(5)) if way.name == "slower throughout")
    assert (held.frames, held.sentence[:25]) == (125, "All stills, 3.12 frames e")


def test_a_shot_that_is_too_long_already_is_not_slowed_down():
    for wanted in (Fraction(1), Fraction(3, 2), Fraction(8, 5)):
        assert all(way.name != "slower throughout" for way in ways(40, Pace(rate="25"), wanted))


def test_the_ways_to_a_length_keep_what_they_do_not_change():
    pace = Pace(rate="25", direction="back", blend="neighbours", curve=(Knot(at=0.5, speed=2),))
    for way in ways(500, pace, Fraction(10)):
        assert (way.pace.direction, way.pace.blend) == ("back", "neighbours")
        assert way.pace.by_clock == pace.by_clock
        if way.name == "another rate":
            assert (way.pace.hold, way.pace.thin) == (1, Thin())


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("12", 12),
        ("12 s", 12),
        ("1 min 30 s", 90),
        ("2 min", 120),
        ("1:30", 90),
        ("0,5 s", Fraction(1, 2)),
        ("00:00:12:12", 12 + Fraction(12, 25)),
    ],
)
def test_lengths_are_read(text, seconds):
    assert parse_length(text, Fraction(25)) == seconds


@pytest.mark.parametrize("text", ["", "soon", "12 parsecs", "1:2:3", "-4"])
def test_what_is_no_length_is_refused_with_an_example(text):
    with pytest.raises(Refusal, match="12 s"):
        parse_length(text, Fraction(25))


def test_a_clip_of_no_time_or_of_days_is_refused():
    for wanted in (Fraction(0), Fraction(10**6)):
        with pytest.raises(Refusal, match="24 hours"):
            ways(100, Pace(), wanted)


def test_seconds_become_whole_frames_and_the_rounding_is_said():
    assert frames_of("3", Fraction(25)) == (3, "")
    assert frames_of("2 s", Fraction(25)) == (50, "")
    frames, sentence = frames_of("0.5 s", Fraction(25))
    assert frames == 13
    assert "12.50 frames" in sentence
    assert "0.52 s" in sentence


@given(seconds=st.fractions(Fraction(1, 10), 50, max_denominator=100), rate=st.sampled_from([24, 25, 30, 60]))
def test_the_nearest_number_of_frames_is_taken(seconds, rate):
    frames, _ = frames_of(f"{float(seconds):.4f} s", Fraction(rate))
    assert abs(frames - round(float(seconds), 4) * rate) <= 0.5001 or frames == 1


def test_a_hold_that_cannot_be_is_refused():
    for text in ("long", "99999999", "1 h"):
        with pytest.raises(Refusal):
            frames_of(text, Fraction(25))


def test_a_length_is_said_with_its_frames():
    way = ways(1200, Pace(rate="25"), Fraction(24))[0]
    assert length_text(way) == "24.0 s, 1,200 frames"


def test_a_choice_that_is_not_even_says_that_it_may_tremble():
    by_count = {
        wanted: next(way for way in ways(600, Pace(rate="25"), Fraction(wanted)) if way.pace.thin.way == "even")
        for wanted in (8, 10)
    }
    # 200 of 600 is every third, 250 of 600 is not every so many.
    assert by_count[8].sentence.endswith("things move 3 × as fast.")
    assert by_count[10].sentence.endswith(
        "2.4 × as fast; where a step is one still longer, movement may tremble a little."
    )


@pytest.mark.parametrize(
    ("hold", "said"), [(1, "each still once: smooth"), (2, "it steps"), (4, "it steps"), (5, "it is a show")]
)
def test_how_a_hold_looks_follows_how_often_the_still_changes(hold, said):
    begun = Pace(rate="24", hold=3)
    way = next(one for one in ways(48, begun, Fraction(2 * hold)) if one.name == "another hold")
    assert way.pace.hold == hold
    assert said in way.sentence


def test_what_was_bent_by_hand_is_tried_only_where_nothing_else_reaches_a_length():
    bent = Pace(rate="25", curve=(Knot(at=0.5, speed=0.5),))
    found = ways(300, bent, Fraction(6))
    assert found
    assert all(way.pace.curve == () or way.name == "slower throughout" for way in found)


def test_rounding_says_in_which_unit_it_was_asked():
    assert frames_of("0.5 s", Fraction(25)) == (13, "0.5 s would be 12.50 frames; 13 frames last 0.52 s.")
    assert frames_of("2.5 frames", Fraction(25)) == (3, "2.5 frames would be 2.50 frames; 3 frames last 0.12 s.")
    assert frames_of("1 second", Fraction(25)) == (25, "")
    assert frames_of("100000", Fraction(25)) == (100_000, "")
    with pytest.raises(Refusal, match="less than 100,000"):
        frames_of("100001", Fraction(25))
