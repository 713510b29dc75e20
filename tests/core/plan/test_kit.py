"""What a plan usually needs follows from the plan, and can be written on its list."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarnkite.core.plan.decisions import Exposing, KitItem, Lens, PlannedShot, Supplies
from yarnkite.core.plan.exchange import csv_text
from yarnkite.core.plan.kit import usual_kit


@pytest.mark.parametrize(
    ("planned", "line"),
    [
        ({"lens": Lens(focal_mm=35, f_number=5.6)}, "lens at 35 mm, f/5.6"),
        ({"exposing": Exposing(exposure_s=0.5, metered_s=0.008)}, "filter of 6 stops"),
        ({"exposing": Exposing(exposure_s=0.5, metered_s=0.25)}, "filter of 1 stop"),
        ({"exposing": Exposing(exposure_s=20)}, "noise reduction of long exposures off"),
        ({"subject": "stars"}, "heater against dew"),
        ({"stills": 300, "supplies": Supplies(still_bytes=30_000_000)}, "a card with room for 9.0 GB"),
        ({"stills": 300, "supplies": Supplies(still_bytes=30_000_000, card_bytes=8_000_000_000)}, "2 cards of 8.0 GB"),
        ({"stills": 300, "supplies": Supplies(per_charge=300)}, "a charged battery"),
        ({"stills": 301, "supplies": Supplies(per_charge=300)}, "2 charged batteries, or power from outside"),
        ({"stills": 3001, "interval_ms": 5000}, "power for 4 h 10 min"),
    ],
)
def test_a_line_follows_from_what_is_planned(planned, line):
    assert line in usual_kit(PlannedShot(**planned))
    assert line not in usual_kit(PlannedShot(stills=20, interval_ms=1000, supplies=Supplies(still_bytes=1)))


def test_nothing_is_asked_for_twice_or_without_need():
    plain = usual_kit(PlannedShot(stills=100, interval_ms=1000, exposing=Exposing(metered_s=0.02, exposure_s=0.02)))
    assert not [line for line in plain if "filter" in line or "power" in line or "noise" in line or "lens" in line]


@given(st.integers(2, 100_000), st.integers(1, 10**9), st.integers(0, 10**12), st.integers(0, 5000))
def test_every_line_fits_on_the_list(stills, still_bytes, card_bytes, per_charge):
    supplies = Supplies(still_bytes=still_bytes, card_bytes=card_bytes, per_charge=per_charge)
    lines = usual_kit(PlannedShot(stills=stills, supplies=supplies))
    assert len(lines) == len(set(lines))
    assert [one.what for one in PlannedShot(kit=tuple(KitItem(what=line) for line in lines)).kit] == list(lines)


def test_the_list_goes_out_with_the_plan_and_begins_no_formula():
    text = csv_text([PlannedShot(kit=(KitItem(what="=tripod"), KitItem(what="heater", ready=True)))])
    assert text.splitlines()[1].endswith("'=tripod; heater")
