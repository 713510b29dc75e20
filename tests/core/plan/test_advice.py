"""What follows from a plan: which sides are spoken of, and which ask for another decision."""

import csv
import io
from datetime import UTC, datetime, timedelta
from fractions import Fraction

import pytest
from icalendar import Calendar

from yarnkite.core.base.errors import Refusal
from yarnkite.core.plan.advice import advice, course_of, day_of, ends_at, sums_text
from yarnkite.core.plan.as_shot import as_shot
from yarnkite.core.plan.daylight import Course, course_text, illuminance_lux
from yarnkite.core.plan.decisions import Exposing, Lens, PlannedShot, Spot, Supplies
from yarnkite.core.plan.exchange import COLUMNS, calendar_bytes, csv_text

DUSK = datetime(2031, 6, 20, 20, 0)
HERE = Spot(latitude=52.0, longitude=5.0, zone="Etc/GMT-2")


def about(plan):
    return {one.about: one for one in advice(plan)}


def test_only_sides_that_something_is_decided_of_are_spoken_of():
    assert list(about(PlannedShot())) == ["interval", "movement", "card"]
    plan = PlannedShot(
        subject="stars",
        lens=Lens(),
        exposing=Exposing(exposure_s=4, metered_s=4),
        supplies=Supplies(per_charge=900, next_number=9990, card_bytes=10**11),
        spot=HERE,
        starts=DUSK,
    )
    assert list(about(plan)) == [
        *("interval", "subject", "movement", "filter", "stars", "card", "battery", "counter", "sun", "light"),
    ]
    assert about(plan)["counter"].look
    assert not about(plan)["battery"].look


def test_an_exposure_that_draws_lines_is_told_of_stars_alone():
    # A sensor of 36 mm and 6000 pixels at 24 mm and f/2.8: 5.49 s.
    for subject, exposure, look in (("stars", 5.4, False), ("stars", 5.6, True), ("", 5.6, False)):
        found = about(PlannedShot(subject=subject, lens=Lens(), exposing=Exposing(exposure_s=exposure)))["stars"]
        assert found.look == look
        assert found.sentence.startswith("Stars stay points up to 5.49 s (pixels of 6.0 µm)")
        assert ("draws lines" in found.sentence) == look
    assert "this view of 74° in 4 h 5" in found.sentence


def test_the_sun_is_told_by_the_clock_there_and_only_where_place_and_start_are_known():
    assert day_of(PlannedShot(starts=DUSK)) is None
    assert day_of(PlannedShot(spot=HERE)) is None
    assert course_of(PlannedShot(spot=HERE)) is None
    found = about(PlannedShot(starts=DUSK, spot=HERE, stills=1000, interval_ms=10_000))
    # 52° north on the longest day: the sun sets at about 22:03 of that clock.
    assert "sunset 22:0" in found["sun"].sentence
    assert found["sun"].sentence.startswith("Dawn ")
    assert found["light"].look
    short = about(PlannedShot(starts=DUSK, spot=HERE, stills=10, interval_ms=1000))
    assert not short["light"].look


def test_a_course_is_at_most_three_days_long():
    plan = PlannedShot(starts=DUSK, spot=HERE, stills=1000, interval_ms=3_600_000)
    found = course_of(plan)
    assert found.times[-1] - found.times[0] == timedelta(days=3)


def test_a_shoot_ends_with_its_last_still_also_where_clocks_are_put_back():
    assert ends_at(PlannedShot()) is None
    plan = PlannedShot(
        starts=datetime(2031, 10, 26, 1, 0),
        spot=Spot(latitude=52, longitude=5, zone="Europe/Lisbon"),
        stills=181,
        interval_ms=60_000,
    )
    assert ends_at(plan) - plan.starts_at.astimezone(UTC) == timedelta(hours=3)
    # One of the three hours is there twice that night.
    assert ends_at(plan).hour == 3


def test_sums_are_said_in_a_sentence():
    said = sums_text(PlannedShot(stills=300, interval_ms=5000).sums)
    assert said.startswith("300 stills 5 s apart take 24 min 55 s and give")
    assert said.endswith("125 times as fast as life.")


def test_a_start_is_what_the_clock_shows_within_the_years_the_sun_is_known():
    with pytest.raises(ValueError, match="without an offset"):
        PlannedShot(starts=datetime(2031, 1, 1, tzinfo=UTC))
    for year in (1899, 2201):
        with pytest.raises(ValueError, match="1900 to 2200"):
            PlannedShot(starts=datetime(year, 1, 1))
    assert PlannedShot(starts=datetime(1900, 1, 1)).starts_at == datetime(1900, 1, 1, tzinfo=UTC)
    assert PlannedShot().starts_at is None
    with pytest.raises(ValueError, match="no time zone"):
        Spot(latitude=0, longitude=0, zone="Nowhere/Town")


def test_other_sums_are_kept_in_whole_thousandths():
    sums = PlannedShot(stills=120, rate=Fraction(24), interval_ms=1).sums
    plan = PlannedShot().with_sums(sums)
    assert (plan.stills, plan.rate, plan.interval_ms) == (120, 24, 1)
    assert plan.sums == sums
    assert PlannedShot(locked=("speed", "clip")).locked == ("clip", "speed")


@pytest.mark.parametrize(
    ("stops", "said"),
    [
        ((0.0, 0.1, 0.2), "stays the same"),
        ((0.0, -1.0, -3.0), "falls by 3.0 stops, at its quickest one stop in 5 min; the exposure has to go with it."),
        ((0.0, 0.5, 1.5), "rises by 1.5 stops, at its quickest one stop in 10 min."),
        ((0.0, 4.0, 1.0), "changes by 4.0 stops, and comes to +1.0 at the end"),
    ],
)
def test_how_light_goes_is_said(stops, said):
    times = tuple(DUSK + timedelta(minutes=10 * number) for number in range(3))
    found = Course(times, (0.0, 0.0, 0.0), stops)
    assert said in course_text(found)
    assert found.range_stops == max(stops) - min(stops)
    assert Course(times[:1], (0.0,), (0.0,)).steepest_stops_per_min == 0


@pytest.mark.parametrize("height", [20, 5, -0.8, -5, -12, -18])
def test_light_is_one_curve_also_where_its_pieces_meet(height):
    assert illuminance_lux(height - 1e-6) == pytest.approx(illuminance_lux(height), rel=0.06)


def test_what_was_shot_is_the_start_of_the_next_plan():
    times = [5000 * number for number in range(40)]
    times[20:] = [one + 60_000 for one in times[20:]]
    found = as_shot("Reach", times, Fraction(25), 0.5, 9_000_000)
    assert (found.interval_s, found.off_s, found.pauses) == (5.0, 0.0, 1)
    assert found.span_s == 255.0
    assert (found.plan.stills, found.plan.interval_ms, found.plan.exposing.exposure_s) == (40, 5000, 0.5)
    assert found.plan.supplies.still_bytes == 9_000_000
    assert found.sentence == (
        "It has 40 stills, 5 s apart, all alike; one longer pause: 4 min 15 s from the first to the last, which each "
        "still once shows 125 times as fast as life."
    )
    plain = as_shot("Reach", [0, 4000, 10_000, 14_000, 20_000], Fraction(25), None, None)
    assert (plain.interval_s, plain.off_s, plain.pauses) == (5.0, 1.0, 0)
    assert ", even to 1 s:" in plain.sentence
    assert plain.plan.exposing == Exposing()
    assert plain.plan.supplies == Supplies()
    with pytest.raises(Refusal, match="not known"):
        as_shot("Reach", [7000, 7000], Fraction(25), None, None)


def test_a_gap_of_two_and_a_half_intervals_is_a_pause_and_less_is_none():
    almost = [0, 1000, 2000, 3000, 5499, 6499]
    assert as_shot("a", almost, Fraction(25), None, None).pauses == 0
    paused = [0, 1000, 2000, 3000, 5500, 6500]
    assert as_shot("a", paused, Fraction(25), None, None).pauses == 1


def plans():
    full = PlannedShot(name="=Dusk", starts=DUSK, spot=HERE, note="Tripod 2", stills=601, interval_ms=6000)
    return full, PlannedShot(name="Some day")


def test_a_list_of_plans_is_a_table_others_read():
    rows = list(csv.DictReader(io.StringIO(csv_text(plans()))))
    assert tuple(rows[0]) == COLUMNS
    first, other = rows
    # What a spreadsheet would take for a formula is text.
    assert first["name"] == "'=Dusk"
    assert datetime.fromisoformat(first["ends"]) - datetime.fromisoformat(first["starts"]) == timedelta(hours=1)
    assert (first["stills"], first["rate"], first["interval_s"], first["shooting_s"]) == ("601", "25", "6", "3600.000")
    assert (first["clip_s"], first["speed_up"], first["latitude"], first["note"]) == (
        "24.040",
        "150",
        "52.0",
        "Tripod 2",
    )
    assert (other["starts"], other["ends"], other["latitude"], other["longitude"]) == ("", "", "", "")


def test_a_calendar_has_what_has_a_start_with_a_reminder_an_hour_before():
    full, open_one = plans()
    written = datetime(2031, 1, 1, tzinfo=UTC)
    calendar = Calendar.from_ical(calendar_bytes([(7, full), (8, open_one)], written))
    (event,) = calendar.walk("VEVENT")
    assert event["uid"] == "plan-7@yarnkite.invalid"
    assert event.decoded("dtstart") == datetime(2031, 6, 20, 18, 0, tzinfo=UTC)
    assert event.decoded("dtend") - event.decoded("dtstart") == timedelta(hours=1)
    assert event.decoded("dtstamp") == written
    assert event["geo"].to_ical() == "52.0;5.0"
    assert str(event["description"]).endswith("Tripod 2")
    (reminder,) = event.walk("VALARM")
    assert reminder.decoded("trigger") == timedelta(hours=-1)
    nowhere = PlannedShot(starts=DUSK)
    (without,) = Calendar.from_ical(calendar_bytes([(9, nowhere)], written)).walk("VEVENT")
    assert "geo" not in without
