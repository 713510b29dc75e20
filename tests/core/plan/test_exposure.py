"""Exposing within an interval: what is left of it, how movement looks, which filter; what a shoot uses up."""

from fractions import Fraction

import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.plan.exposure import (
    exposure_for_angle_s,
    filter_stops,
    filter_text,
    movement_text,
    room_text,
    shutter_angle_deg,
    span_or_fraction,
)
from yarnkite.core.plan.media import battery_text, card_text, counter_text, still_bytes


@pytest.mark.parametrize(
    ("exposure", "writing", "said", "look"),
    [
        (2.0, 1.0, "2 s is left before the next.", False),
        (4.5, 1.0, "longer than the 5 s between stills: 5.5 s is the least.", True),
        (3.6, 1.0, "only 0.4 s is left before the next: any delay loses one.", True),
        (3.5, 1.0, "0.5 s is left before the next.", False),
        (4.0, 1.0, "only 0 s is left", True),
    ],
)
def test_what_is_left_of_five_seconds_is_said(exposure, writing, said, look):
    sentence, asks = room_text(exposure, writing, Fraction(5))
    assert said in sentence
    assert asks == look


def test_half_of_the_interval_is_half_a_turn():
    assert shutter_angle_deg(2.5, Fraction(5)) == 180
    assert exposure_for_angle_s(180, Fraction(5)) == 2.5


@pytest.mark.parametrize(
    ("exposure", "said"),
    [
        (0.02, "1.44° of 360: things jump"),
        (0.62, "44.6° of 360: things jump"),
        (0.63, "crisp"),
        (1.66, "crisp"),
        (1.67, "flows"),
        (5.0, "360° of 360: movement flows"),
    ],
)
def test_how_movement_looks_follows_the_angle(exposure, said):
    assert said in movement_text(exposure, Fraction(5))
    if "flows" not in said:
        assert "2.5 s (180°)" in movement_text(exposure, Fraction(5))


def test_nothing_is_said_of_an_exposure_that_does_not_fit():
    assert movement_text(5.01, Fraction(5)) == ""


def test_a_filter_is_as_many_stops_as_the_light_is_halved():
    assert filter_stops(0.01, 0.08) == pytest.approx(3)
    assert filter_stops(0.08, 0.01) == 0
    for wrong in ((0, 1), (1, 0)):
        with pytest.raises(Refusal, match="no time"):
            filter_stops(*wrong)


@pytest.mark.parametrize(
    ("wanted", "said"),
    [
        (0.0125, "No filter is needed: 1/100 s is right as it is."),
        (0.02, "1.0 stops: a filter of 1 stop (lets 1 in 2 through) comes nearest."),
        (0.5, "5.6 stops: a filter of 6 stops (lets 1 in 64 through) comes nearest."),
        (10.24, "10.0 stops: a filter of 10 stops (lets 1 in 1,024 through)"),
        (900, "16.5 stops: a filter of 16 stops (lets 1 in 65,536 through) comes nearest."),
        (1310.72, "17.0 stops: a filter of 16 stops is the strongest there is; 131,072 × less light needs two"),
    ],
)
def test_the_filter_that_comes_nearest_is_named(wanted, said):
    assert said in filter_text(0.01, wanted)


@pytest.mark.parametrize(
    ("seconds", "said"),
    [
        (1 / 250, "1/250 s"),
        (0.299, "1/3 s"),
        (0.3, "0.3 s"),
        (2.5, "2.5 s"),
        (0, "0 s"),
        (59.99, "59.99 s"),
        (90, "1 min 30 s"),
    ],
)
def test_seconds_are_written_as_cameras_write_them(seconds, said):
    assert span_or_fraction(seconds) == said


def test_a_still_takes_what_its_megapixels_take_in_each_file():
    assert still_bytes(24, raw=True, jpeg=False) == 27_600_000
    assert still_bytes(24, raw=False, jpeg=True) == 10_080_000
    assert still_bytes(24, raw=True, jpeg=True) == 37_680_000


def test_a_card_that_is_just_full_is_enough_and_one_still_more_is_not():
    assert card_text(100, 10_000_000, 1_000_000_000) == (
        "100 stills of 10 MB take 1.0 GB of the card's 1.0 GB; 0 more would fit.",
        False,
    )
    said, look = card_text(101, 10_000_000, 1_000_000_000)
    assert look
    assert "full after 100. Bring 2 cards." in said
    assert "Bring 3 cards" in card_text(201, 10_000_000, 1_000_000_000)[0]
    assert "Bring 200 cards" in card_text(200, 10_000_000, 5_000_000)[0]
    assert card_text(100, 10_000_000, 0) == ("100 stills of 10 MB take 1.0 GB.", False)


def test_charges_last_or_so_many_are_to_be_brought():
    assert battery_text(300, 300, 1) == ("1 of 1 charge of 300 stills is used up.", False)
    assert battery_text(301, 300, 2) == ("2 of 2 charges of 300 stills are used up.", False)
    assert battery_text(601, 300, 2) == ("2 charges of 300 stills end after 600: bring 3, or power from outside.", True)
    assert battery_text(301, 300, 1) == ("1 charge of 300 stills ends after 300: bring 2, or power from outside.", True)


def test_a_counter_that_ends_at_its_last_number_does_not_start_again():
    assert counter_text(100, 9900) == ("The counter goes from 9900 to 9999.", False)
    said, look = counter_text(101, 9900)
    assert look
    assert said.startswith("The counter starts again after 100 stills, at 9999.")
    assert counter_text(5, 7) == ("The counter goes from 0007 to 0011.", False)
    assert "at 99999" in counter_text(10, 99_995, digits=5)[0]
