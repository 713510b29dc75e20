"""Which interval suits, and how long stars stay points: by hand, from what their sources say."""

from fractions import Fraction

import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.plan.interval import SUBJECTS, sky_crossing_s, subject_of, suiting, suiting_range, suits_text
from yarnkite.core.plan.stars import longest_star_exposure_s, pixel_um, view_width_deg

RATE = Fraction(25)


@pytest.mark.parametrize(
    ("crossing", "on_screen", "interval"), [(60, 4, "0.6"), (400, 4, 4), (7200, 8, 36), (1, 1, "0.04"), (1500, 4, 15)]
)
def test_what_crosses_in_a_time_takes_so_long_in_the_clip(crossing, on_screen, interval):
    # A hundred frames of four seconds at 25 a second: a hundredth of the crossing lies between two of them.
    assert suiting(crossing, RATE, on_screen) == Fraction(interval)


@pytest.mark.parametrize(("crossing", "on_screen"), [(0.0009, 1), (4e8, 1), (10, 0.0009), (10, 4e8)])
def test_times_that_nobody_shoots_are_refused(crossing, on_screen):
    with pytest.raises(Refusal, match="thousandth of a second to ten years"):
        suiting(crossing, RATE, on_screen)
    assert suiting(0.001, RATE, 1) == Fraction(1, 1000)
    assert suiting(3.2e8, Fraction(240), 3.2e8) > 0


def test_a_range_of_intervals_suits_a_subject_ends_included():
    clouds = subject_of("fast clouds")
    low, high = suiting_range(clouds, RATE)
    assert (low, high) == (Fraction("0.6"), Fraction("2.4"))
    for interval, look, word in (
        (low, False, "suits"),
        (high, False, "suits"),
        (low / 2, True, "slow"),
        (3, True, "quick"),
    ):
        said, asks = suits_text(clouds, RATE, Fraction(interval))
        assert asks == look
        assert word in said
    # 60 to 240 s at one still a second are 60 to 240 frames, 2.4 to 9.6 s of the clip.
    assert "cross the picture in 2.4 to 9.6 s" in suits_text(clouds, RATE, Fraction(1))[0]
    assert suits_text(clouds, RATE, Fraction(1))[0].startswith("Clouds in a wind")


def test_every_subject_is_found_and_its_quickest_comes_first():
    for one in SUBJECTS:
        assert subject_of(one.key) is one
        assert one.crossing_s[0] < one.crossing_s[1]
    with pytest.raises(Refusal, match="“snails” is not in the table"):
        subject_of("snails")


def test_the_sky_turns_once_in_a_sidereal_day():
    # 23 h 56 min 4 s for 360 degrees.
    assert sky_crossing_s(360) == pytest.approx(86164, rel=1e-4)
    assert sky_crossing_s(10, 60) == pytest.approx(2 * sky_crossing_s(10), rel=1e-6)
    assert sky_crossing_s(10, 90) == pytest.approx(50 * sky_crossing_s(10))


def test_the_longest_exposure_of_stars_is_what_the_rule_gives():
    # t = (16.856 · 2.8 + 0.0997 · 24 + 13.713 · 6) / 24 = (47.197 + 2.393 + 82.278) / 24
    assert longest_star_exposure_s(24, 2.8, 6.0) == pytest.approx(5.4945, abs=1e-3)
    assert longest_star_exposure_s(24, 2.8, 6.0, 60) == pytest.approx(10.989, abs=2e-3)
    assert longest_star_exposure_s(24, 2.8, 6.0, 90) == pytest.approx(20 * 5.4945, abs=0.03)


@pytest.mark.parametrize(
    "lens", [(0.9, 2.8, 6), (5001, 2.8, 6), (24, 0.4, 6), (24, 129, 6), (24, 2.8, 0.4), (24, 2.8, 51)]
)
def test_a_lens_that_cannot_be_is_refused_and_ends_are_not(lens):
    with pytest.raises(Refusal, match="A lens is 1 to 5000 mm"):
        longest_star_exposure_s(*lens)
    for one in ((1, 0.5, 0.5), (5000, 128, 50)):
        assert longest_star_exposure_s(*one, 90) > 0
        assert longest_star_exposure_s(*one, -90) > 0
    with pytest.raises(Refusal, match="declination"):
        longest_star_exposure_s(24, 2.8, 6, 90.5)


def test_pixels_and_views_of_a_sensor_36_mm_wide():
    assert pixel_um(36, 6000) == pytest.approx(6.0)
    # A lens as long as half the sensor is wide sees a right angle.
    assert view_width_deg(18, 36) == pytest.approx(90)
    assert view_width_deg(50, 36) == pytest.approx(39.6, abs=0.05)
    for wrong in ((0, 6000), (36, 0)):
        with pytest.raises(Refusal, match="sensor"):
            pixel_um(*wrong)
