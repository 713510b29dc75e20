"""Quantities as people type and read them."""

from fractions import Fraction

import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.plan.reading import parse_duration, parse_quantity, quantity_text, rounding_text
from yarnkite.core.plan.sums import Sums


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("12", 12), ("12,5", "12.5"), ("12 s", 12), ("2 h 30 min", 9000), ("1/2 s", "0.5"), ("1 / 250", "1/250"),
        ("1:30", 90), ("1:30:00", 5400), ("0:01.5", "1.5"), ("3 days", 259_200), ("1 d", 86_400), ("250 ms", "0.25"),
        ("5 milliseconds", "0.005"), ("2 hrs", 7200), ("4 hours", 14_400), ("3m", 180), ("2 minutes", 120),
        ("7 secs", 7),
        ("1min30s", 90),
    ],
)  # fmt: skip
def test_lengths_of_time_are_read_as_they_are_typed(text, seconds):
    assert parse_duration(text) == Fraction(seconds)
    assert parse_duration(f" {text.upper()} ") == Fraction(seconds)


@pytest.mark.parametrize("text", ["", "soon", "1/0", "1:2:3:4", "5 parsecs", "-3", "1" * 61])
def test_what_is_no_length_of_time_is_refused_with_an_example(text):
    with pytest.raises(Refusal, match=r"is no length of time\. Write 12 s"):
        parse_duration(text)


@pytest.mark.parametrize(
    ("quantity", "text", "value"),
    [
        ("stills", "1,200 stills", 1200),
        ("speed", "125 ×", 125),
        ("speed", "2.5", "2.5"),
        ("rate", "25 fps", 25),
        ("interval", "1/2", "0.5"),
    ],
)
def test_each_quantity_is_read_in_its_own_way(quantity, text, value):
    assert parse_quantity(quantity, text) == Fraction(value)


def test_what_is_no_number_says_of_what():
    with pytest.raises(Refusal, match="“many” is not a number of stills"):
        parse_quantity("stills", "many")
    with pytest.raises(Refusal, match="“fast” is not a number of times"):
        parse_quantity("speed", "fast")


@pytest.mark.parametrize(
    ("quantity", "value", "said"),
    [
        ("clip", "0.5", "0.5 s"), ("rate", 25, "25 fps"), ("stills", 12_000, "12,000"), ("interval", 5, "5 s"),
        ("interval", "0.004", "1/250 s"),
        ("interval", 60, "1 min"), ("interval", 90, "1 min 30 s"), ("interval", 7200, "2 h"),
        ("interval", 5400, "90 min"),
        ("interval", 3600, "1 h"),
        ("speed", "99.96", "100"), ("speed", "12.5", "12.5"), ("speed", 1250, "1,250"), ("shooting", 90, "1 min 30 s"),
    ],
)  # fmt: skip
def test_quantities_are_written_for_reading(quantity, value, said):
    assert quantity_text(quantity, Fraction(value)) == said


def test_what_whole_stills_made_of_a_wish_is_said():
    sums = Sums(301, Fraction(25), Fraction(5))
    assert rounding_text("clip", Fraction(12), sums) == "Stills are whole: 12.0 s comes out +0.04 s."
    assert rounding_text("clip", Fraction(11), sums).startswith("301 whole stills make 12.0 s")
    assert rounding_text("speed", Fraction(99), sums) == "What can be set makes 125 of the 99 asked for."
    assert (
        rounding_text("shooting", sums.shooting_s - Fraction(1, 5), sums)
        == "Stills are whole: 25 min 00 s comes out +0.2 s."
    )
    assert rounding_text("stills", Fraction(301), sums) == ""
