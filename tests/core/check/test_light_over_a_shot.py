"""What the light of a shot tells, from measures alone: planted changes are found where they are, and how high."""

from dataclasses import replace

import numpy as np
import pytest

from yarnkite.core.check.finding import ShotMeasurements
from yarnkite.core.check.light_changes import colour_steps, exposure_steps, light_steps
from yarnkite.core.check.misfires import misfires
from yarnkite.core.check.series import exposure_changes, in_unison, series_of_light

COUNT = 60
NONE = np.zeros(COUNT, bool)


def shot(light=0.0, *, partly=None, bright=0.0, red=0.0, exposure=np.nan, level=-3.0, seed=1) -> ShotMeasurements:
    """Return measures of a quiet shot: ``light`` in stops is added to all of the view, ``partly`` to a third of it."""
    rng = np.random.default_rng(seed)
    texture = rng.normal(0, 0.7, (16, 24))
    blocks = level + texture + np.broadcast_to(light, COUNT)[:, None, None] + rng.normal(0, 0.01, (COUNT, 16, 24))
    if partly is not None:
        blocks[:, :, :8] += np.broadcast_to(partly, COUNT)[:, None, None]
    of = lambda value: np.array(np.broadcast_to(value, COUNT), float)  # noqa: E731
    return ShotMeasurements(
        ids=range(100, 100 + COUNT),
        names=[f"{number}.jpg" for number in range(COUNT)],
        captured=[None] * COUNT,
        blocks=blocks,
        red=of(red) + rng.normal(0, 0.004, COUNT),
        blue=rng.normal(0, 0.004, COUNT),
        sharpness=of(5.0),
        bright=of(bright),
        dark=of(0.0),
        shifts=np.zeros((COUNT, 3)),
        trust=of(1.0),
        exposure=of(exposure),
        dhashes=[0] * COUNT,
    )


def at(*changes):
    """Return light over the shot that changes: ``(first, end, stops)``."""
    light = np.zeros(COUNT)
    for first, end, stops in changes:
        light[first:end] += stops
    return light


def ends(measurements, found):
    return [(one.kind, *measurements.ends_of(one)) for one in found]


@pytest.mark.parametrize(("first", "end", "stops"), [(20, 21, 1.5), (20, 23, -2.0), (0, 1, 1.2), (58, 60, -1.0)])
def test_stills_far_off_in_all_of_the_view_are_misfires_with_their_strength(first, end, stops):
    measured = shot(at((first, end, stops)))
    (one,) = misfires(measured, NONE)
    assert ends(measured, [one]) == [("misfire", first, end - 1)]
    assert one.evidence["stops"] == pytest.approx(stops, abs=0.1)
    assert ("darker" if stops < 0 else "brighter") in one.sentence
    assert ("are " if end - first > 1 else "is ") in one.sentence
    assert misfires(measured, ~NONE) == []


@pytest.mark.parametrize(("stops", "level", "bright", "words"), [(-8, -3, 0, "black"), (3, -3, 0.9, "blown out")])
def test_what_is_black_or_blown_out_is_called_so(stops, level, bright, words):
    measured = shot(at((30, 31, stops)), level=level, bright=at((30, 31, bright)))
    (one,) = misfires(measured, NONE)
    assert words in one.sentence
    half = shot(at((30, 31, stops / 3)), level=level, bright=at((30, 31, bright / 2)))
    assert words not in misfires(half, NONE)[0].sentence


def test_what_takes_a_part_of_the_view_is_no_misfire():
    assert misfires(shot(partly=at((20, 21, 3))), NONE) == []


@pytest.mark.parametrize(("position", "stops"), [(30, 0.8), (20, -0.5)])
def test_a_step_that_stays_is_told_where_it_is_and_what_goes_again_is_not(position, stops):
    measured = shot(at((position, COUNT, stops)))
    (one,) = light_steps(measured, measured.light, NONE, [])
    assert ends(measured, [one]) == [("light step", position, position)]
    assert one.evidence["stops"] == pytest.approx(stops, abs=0.1)
    assert light_steps(measured, measured.light, ~NONE, []) == []
    for passing in (shot(at((30, 32, 0.8))), shot(np.linspace(0, 3, COUNT)), shot(partly=at((30, COUNT, 0.8)))):
        assert light_steps(passing, passing.light, NONE, []) == []


def test_in_unison_is_what_most_of_the_view_does_by_half_of_it_at_least():
    measured = shot(at((30, COUNT, 1.0)))
    assert in_unison(measured, 30, 1.0)
    assert not in_unison(measured, 30, -1.0)
    assert not in_unison(measured, 30, 2.5)
    assert not in_unison(shot(partly=at((30, COUNT, 1.0))), 30, 1.0)


def test_what_the_camera_says_it_exposed_otherwise_is_told_if_the_picture_confirms_it():
    exposure = 10 - at((30, COUNT, 1.0))
    told = shot(at((30, COUNT, 1.0)), exposure=exposure)
    (one,) = exposure_steps(told, told.light, NONE)
    assert ends(told, [one]) == [("exposure step", 30, 30)]
    assert one.evidence["by Exif"] == pytest.approx(1.0)
    assert one.evidence["in the picture"] == pytest.approx(1.0, abs=0.1)
    assert "brighter" in one.sentence
    # The light itself made up for it.
    unseen = shot(exposure=exposure)
    assert exposure_steps(unseen, unseen.light, NONE) == []
    gap = replace(told, exposure=np.where(np.arange(COUNT) == 29, np.nan, exposure))
    changes, known = exposure_changes(gap)
    assert (changes[30], known[30], known[29], known[28]) == (0, False, False, True)


@pytest.mark.parametrize(("stops", "word"), [(0.2, "warmer"), (-0.2, "colder")])
def test_a_step_of_the_balance_alone_is_one_of_colour(stops, word):
    measured = shot(red=at((30, COUNT, stops)))
    (one,) = colour_steps(measured, NONE, NONE)
    assert ends(measured, [one]) == [("colour step", 30, 30)]
    assert word in one.sentence
    assert one.evidence["red"] == pytest.approx(stops, abs=0.02)
    # Where most is blown out, or nearly black, colours mean nothing.
    for unclear in (shot(red=at((30, COUNT, stops)), bright=0.6), shot(red=at((30, COUNT, stops)), level=-8.5)):
        assert colour_steps(unclear, NONE, NONE) == []


def blinking(*, on, off, stops=0.6, begins=12, times=4):
    changes, place = [], begins
    for _ in range(times):
        changes.append((place, place + on, stops))
        place += on + off
    return at(*changes)


def test_a_lamp_that_goes_on_and_off_in_turn_is_one_finding_from_its_first_to_its_last():
    measured = shot(blinking(on=4, off=5))
    (one,) = series_of_light(measured, measured.light)
    assert ends(measured, [one]) == [("blinking lamp", 12, 12 + 4 * 9 - 5 - 1)]
    assert one.evidence["stops"] == pytest.approx(0.6, abs=0.1)
    assert one.evidence["times"] == 8
    # On for a still or two at either end belongs to it, too.
    light = blinking(on=4, off=5) + at((5, 6, 0.6), (50, 51, 0.6))
    ragged = shot(light)
    (whole,) = series_of_light(ragged, ragged.light)
    assert ends(ragged, [whole]) == [("blinking lamp", 5, 50)]


def test_exposure_set_anew_again_and_again_is_auto_exposure():
    rng = np.random.default_rng(3)
    steps = np.zeros(COUNT)
    steps[[10, 16, 23, 30, 38, 45]] = rng.choice([-1, 1], 6) * rng.uniform(0.4, 0.9, 6)
    measured = shot(np.cumsum(steps), exposure=10 - np.cumsum(steps))
    (one,) = series_of_light(measured, measured.light)
    assert ends(measured, [one]) == [("auto exposure", 10, 45)]
    assert (one.evidence["times"], "The camera says so" in one.sentence) == (6, True)
    assert one.evidence["stops"] == pytest.approx(np.abs(steps).max(), abs=0.1)
    quiet = shot(np.cumsum(steps) * 0.1)
    assert series_of_light(quiet, quiet.light) == []
