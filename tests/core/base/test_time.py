"""Rates, schedule and timecode: exact, and agreeing with an independent library."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from timecode import Timecode
from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import OFFERED, parse_rate, rate_label
from yarnkite.core.base.timecode import duration_text, timecode, timecode_from
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.pace.schedule import Schedule

NAMES = {Fraction(24000, 1001): "23.98", Fraction(30000, 1001): "29.97", Fraction(60000, 1001): "59.94"}


@pytest.mark.parametrize("rate", OFFERED, ids=rate_label)
def test_timecode_agrees_with_an_independent_library_over_a_day(rate):
    other = Timecode(NAMES.get(rate, str(rate)), frames=1)
    day = round(86400 * rate)
    near_minutes = [round(60 * minute * rate) + step for minute in range(1440) for step in range(-3, 4)]
    for frame in sorted({*range(4000), *near_minutes, *range(0, day, 9973)}):
        if 0 <= frame < day:
            other.frames = frame + 1
            assert timecode(frame, rate) == str(other), f"frame {frame}"


def test_drop_frame_skips_numbers_but_not_in_every_tenth_minute():
    rate = Fraction(30000, 1001)
    assert timecode(1799, rate) == "00:00:59;29"
    assert timecode(1800, rate) == "00:01:00;02"
    assert timecode(17982, rate) == "00:10:00;00"


@given(stills=st.integers(0, 3000), hold=st.integers(1, 60), rate=st.sampled_from(OFFERED))
def test_every_still_is_shown_for_its_hold_and_none_is_missed(stills, hold, rate):
    schedule = Schedule(stills, Pace(rate=rate, hold=hold))
    assert len(schedule) == stills * hold
    assert schedule.seconds * rate == stills * hold
    for still in {0, stills // 2, stills - 1} if stills else ():
        first = schedule.frame_of(still)
        assert {schedule.still_at(first + step) for step in range(hold)} == {still}
        assert first == 0 or schedule.still_at(first - 1) == still - 1
    with pytest.raises(IndexError):
        schedule.still_at(len(schedule))


@pytest.mark.parametrize(
    ("written", "exact"),
    [
        ("25", 25),
        (24, 24),
        ("24000/1001", Fraction(24000, 1001)),
        ("23.976", Fraction(24000, 1001)),
        ("29.97", Fraction(30000, 1001)),
        ("59.94", Fraction(60000, 1001)),
        ("12.5", Fraction(25, 2)),
    ],
)
def test_rates_are_read_exactly(written, exact):
    assert parse_rate(written) == exact


@pytest.mark.parametrize("written", ["0", "-25", "fast", "1/0", "", "1000", None, "nan", "inf"])
def test_a_rate_that_cannot_be_used_is_refused_with_a_sentence(written):
    with pytest.raises(Refusal, match=r"frame rate|cannot be used"):
        parse_rate(written)


def test_lengths_for_reading():
    assert duration_text(Fraction(48, 5)) == "9.6 s"
    assert duration_text(Fraction(5999, 100)) == "1 min 00.0 s"
    assert duration_text(Fraction(125)) == "2 min 05.0 s"


@pytest.mark.parametrize("rate", [Fraction(30000, 1001), Fraction(60000, 1001), Fraction(25), Fraction(24000, 1001)])
@pytest.mark.parametrize("drops", [False, True])
def test_timecodes_from_a_start_agree_with_an_independent_library(rate, drops):
    if (drops and rate.denominator == 1) or (drops and rate.numerator == 24000):
        pytest.skip("no numbers are dropped at this rate")
    named = {
        Fraction(30000, 1001): "29.97",
        Fraction(60000, 1001): "59.94",
        Fraction(25): "25",
        Fraction(24000, 1001): "23.98",
    }
    for start in ("00:00:00:00", "01:00:00:00", "00:59:58:12", "23:59:59:20"):
        begin = f"{start[:8]};{start[9:]}" if drops else start
        first = Timecode(named[rate], begin, force_non_drop_frame=not drops)
        for frame in (0, 1, 59, 1799, 1800, 1801, 17981, 17982, 107_892):
            theirs = str(first + frame) if frame else str(first)
            assert timecode_from(begin, frame, rate) == theirs, (begin, frame)


def test_a_start_that_is_no_timecode_is_refused():
    with pytest.raises(ValueError, match="no timecode"):
        timecode_from("one o'clock", 0, Fraction(25))
