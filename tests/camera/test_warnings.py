"""What is about to go wrong is said in time, and nothing where all is well."""

from dataclasses import replace

import pytest

from yarnkite.camera.warnings import SoFar, warnings

WELL = SoFar(
    light=[-2.0] * 40,
    sharpness=[-1.0] * 40,
    shifts=[0.0] * 40,
    interval_s=5,
    still_bytes=25_000_000,
    stills_left=400,
    disk_bytes=100_000_000_000,
    battery=0.8,
    stills_to_go=300,
)


def test_a_capture_that_goes_well_is_warned_of_nothing():
    assert warnings(WELL) == []
    assert warnings(replace(WELL, light=[], sharpness=[], shifts=[0.0])) == []
    # Without an end there is nothing a card could be too small for, until it is nearly full.
    assert warnings(replace(WELL, stills_to_go=None)) == []


@pytest.mark.parametrize(
    ("changed", "says"),
    [
        ({"light": [-2.0] * 20 + [-4.2] * 20}, "2.2 stops darker"),
        ({"light": [-6.0] * 20 + [-3.5] * 20}, "2.5 stops brighter"),
        ({"sharpness": [-1.0] * 20 + [-1.6] * 20}, "0.6 stops softer"),
        ({"shifts": [0.0] * 30 + [0.02] + [0.0] * 9}, "knocked before still 31"),
        ({"battery": 0.1}, "battery has 10% left"),
        ({"stills_left": 144}, "card is full in 12 min 00 s, after 144 more"),
        ({"disk_bytes": 2_500_000_000}, "disk is full in 8 min 20 s"),
        ({"stills_left": 0}, "card is full."),
        ({"stills_left": 100, "stills_to_go": None}, "card is full in 8 min 20 s"),
    ],
)
def test_what_goes_wrong_is_said_with_how_much_and_when(changed, says):
    (said,) = warnings(replace(WELL, **changed))
    assert says in said


def test_what_lies_long_back_and_softness_by_night_are_not_warned_of():
    shifts = [0.0] * 5 + [0.02] + [0.0] * 80
    assert warnings(replace(WELL, light=[-2.0] * 86, sharpness=[-1.0] * 86, shifts=shifts)) == []
    night = replace(WELL, light=[-9.0] * 20 + [-10.5] * 20, sharpness=[-1.0] * 20 + [-2.0] * 20)
    assert warnings(night) == []
