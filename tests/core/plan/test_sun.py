"""Sunrise, dusk and the light between, held against tables of an own computation by another algorithm."""

import json
from datetime import UTC, date, datetime, timedelta
from itertools import pairwise
from pathlib import Path
from zoneinfo import ZoneInfo

import pytest

from tests.core.plan import meeus
from yarnkite.core.plan.daylight import course, course_text, illuminance_lux
from yarnkite.core.plan.sun import day, height_deg, noon_of

TABLE = json.loads((Path(__file__).parent / "sunrise.json").read_text())


def test_the_table_is_what_its_algorithm_gives():
    one = TABLE[17]
    found = meeus.passings(
        one["latitude"], one["longitude"], datetime.fromisoformat(one["noon"]) - timedelta(hours=12), -0.8333
    )
    expected = [datetime.fromisoformat(when) for when in (one["sunrise"], one["sunset"])]
    assert sorted(when for when, _ in found) == sorted(expected)


@pytest.mark.parametrize("one", TABLE, ids=lambda one: f"{one['latitude']},{one['longitude']},{one['noon'][:10]}")
def test_edges_of_the_day_are_within_a_minute_of_the_table(one):
    found = day(one["latitude"], one["longitude"], datetime.fromisoformat(one["noon"]))
    for edge in ("dawn", "sunrise", "sunset", "dusk"):
        expected, got = one[edge], getattr(found, edge)
        assert (expected is None) == (got is None), edge
        if got is not None:
            assert abs((got - datetime.fromisoformat(expected)).total_seconds()) <= 60, edge


def test_the_sun_stands_where_another_algorithm_puts_it():
    for days in range(0, 3650, 73):
        when = datetime(2024, 1, 1, tzinfo=UTC) + timedelta(days=days, hours=days % 24)
        for latitude, longitude in ((0, 0), (52, 5), (-33, 151), (69, 19)):
            assert height_deg(latitude, longitude, when) == pytest.approx(
                meeus.height_deg(latitude, longitude, when), abs=0.02
            )


def test_a_place_without_sunset_or_sunrise_that_day_is_told_so():
    north = (78.2, 15.6)
    summer, winter = (day(*north, noon_of(date(2026, month, 21), ZoneInfo("Arctic/Longyearbyen"))) for month in (6, 12))
    assert summer.sunset is None
    assert "does not set" in summer.sentence
    assert winter.sunrise is None
    assert "does not rise" in winter.sentence


def test_light_falls_as_the_published_figures_say_and_never_rises_as_the_sun_sinks():
    # Full daylight, sunset, and the end of each twilight: figures of the same circular's table, in lux.
    for height, lux in ((90, 129_000), (0, 759), (-6, 3.4), (-12, 0.0083), (-18, 6.5e-4)):
        assert illuminance_lux(height) == pytest.approx(lux, rel=0.15)
    heights = [90 - step / 4 for step in range(4 * 115)]
    light = [illuminance_lux(height) for height in heights]
    assert all(later <= earlier * 1.02 for earlier, later in pairwise(light))


def test_an_evening_loses_stops_and_says_how_quickly():
    found = course(52, 5, datetime(2026, 6, 21, 19, 0, tzinfo=UTC), timedelta(hours=2))
    assert found.stops[0] == 0
    assert found.stops[-1] < -8
    assert "falls by" in course_text(found)
    assert 0.1 < found.steepest_stops_per_min < 0.5
