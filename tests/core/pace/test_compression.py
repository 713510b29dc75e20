"""Time of the clip against time of the day."""

from fractions import Fraction

from yarnkite.core.pace.compression import compression, compression_text, disagreement, filmed_rate
from yarnkite.core.pace.decisions import Pace, Thin
from yarnkite.core.pace.schedule import Schedule


def test_a_second_of_clip_is_as_many_intervals_as_it_shows_stills():
    times = tuple(range(0, 300 * 6400, 6400))
    assert compression(times, Schedule(300, Pace(rate="25"))) == Fraction(64, 10) * 25
    assert compression(times, Schedule(300, Pace(rate="25", hold=2))) == Fraction(64, 10) * 25 / 2
    every = compression(times, Schedule(300, Pace(rate="25", thin=Thin(way="every", every=3))))
    assert every == Fraction(64, 10) * 75


def test_there_and_back_counts_one_way():
    times = tuple(range(0, 100 * 4000, 4000))
    one_way = compression(times, Schedule(100, Pace()))
    there_and_back = compression(times, Schedule(100, Pace(direction="there and back")))
    assert abs(there_and_back / one_way - 1) < Fraction(2, 100)


def test_compression_is_said_with_the_day_and_the_factor():
    assert compression_text(Fraction(160)) == "1 s of clip is 2 min 40 s of the day (160 ×)"


def test_times_that_are_not_known_give_no_compression():
    assert compression((), Schedule(10, Pace())) is None
    assert compression((0, 0, 0), Schedule(3, Pace())) is None


def test_stills_from_footage_that_play_nearly_as_filmed_are_pointed_out():
    times = tuple(frame * 1000 // 30 for frame in range(120))
    said = disagreement(times, compression(times, Schedule(120, Pace(rate="25"))))
    assert "30" in said
    assert "0.83 ×" in said
    assert disagreement(times, compression(times, Schedule(120, Pace(rate="30")))) == ""
    assert filmed_rate(tuple(range(0, 50_000, 5000))) is None


def test_what_was_not_filmed_or_plays_far_from_life_disagrees_with_nothing():
    slow, filmed = tuple(range(0, 500_000, 5000)), tuple(frame * 40 for frame in range(120))
    assert disagreement(slow, Fraction(2)) == ""
    assert disagreement(filmed, None) == ""
    assert disagreement(filmed, Fraction(3)) == ""
    assert disagreement(filmed, Fraction(1, 3)) == ""
    assert "taken 25 a second" in disagreement(filmed, Fraction(29, 10))
    # A hundredth is nothing anybody sees.
    assert disagreement(filmed, Fraction(1005, 1000)) == ""


def test_a_camera_films_from_four_stills_a_second_on():
    assert filmed_rate(tuple(range(0, 5000, 250))) == 4
    assert filmed_rate(tuple(range(0, 5000, 251))) is None
    assert filmed_rate((0, 40)) is None
    assert filmed_rate((0, 0, 0)) is None
