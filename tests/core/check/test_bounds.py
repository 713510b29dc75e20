"""From how much on a fault is told: a little more than docs/check.md says is found, a little less is left alone."""

import re
from collections.abc import Callable
from dataclasses import fields, replace
from datetime import timedelta
from functools import cache
from pathlib import Path

import numpy as np
import pytest

from tests.core.check import test_causes as causes
from tests.core.check.test_causes import BEGINS, COUNT, only, quiet, standing, within
from yarnkite.core.check.finding import ShotMeasurements
from yarnkite.core.check.findings import findings, from_breaks
from yarnkite.core.gather.measures import GRID

DOCUMENT = Path(__file__).parents[3] / "docs" / "check.md"
NEAR = 0.06


@cache
def calm() -> ShotMeasurements:
    """Return the measures of a shot so calm that only what a fault must have at least decides whether it is told."""
    rng, shot = np.random.default_rng(4), quiet()
    drift = shot.blocks - np.median(shot.blocks, axis=(1, 2), keepdims=True)
    return replace(
        shot,
        blocks=drift - 3 + rng.normal(0, 0.0002, (COUNT, 1, 1)),
        **{name: rng.normal(0, 0.0004, COUNT) for name in ("red", "blue", "sharpness")},
        shifts=rng.normal(0, 0.000004, (COUNT, 3)),
    )


def lit(stops, part=...) -> ShotMeasurements:
    """Return the calm shot with each still brighter by so many stops, or a part of the view."""
    where = np.zeros(GRID, bool)
    where[part] = True
    return causes.lit(calm(), stops, where)


def exposed(stops) -> ShotMeasurements:
    """Return the same where the camera said so."""
    return replace(lit(stops), exposure=12.0 - stops)


def moved(**moves) -> ShotMeasurements:
    shifts = calm().shifts.copy()
    for axis, name in enumerate(("x", "y", "turn")):
        shifts[:, axis] += moves.get(name, 0.0)
    return replace(calm(), shifts=shifts)


def softer(by) -> ShotMeasurements:
    return replace(calm(), sharpness=calm().sharpness - by)


def coloured(red=0.0, blue=0.0) -> ShotMeasurements:
    return replace(calm(), red=calm().red + red * FOR_GOOD, blue=calm().blue + blue * FOR_GOOD)


def banded(stops) -> ShotMeasurements:
    """Return the shot with level bands, four blocks high, that change places from still to still."""
    rows = np.where(np.arange(GRID[0]) // 4 % 2, 1.0, -1.0)
    amount = 0.5 * stops * IN_TURN * within(20, 70)
    return replace(calm(), blocks=calm().blocks + amount[:, None, None] * rows[:, None])


IN_TURN = np.where(np.arange(COUNT) % 2, 1.0, -1.0)
ONE = within(40, 40)
FOR_GOOD = within(45, COUNT)
FOUR_TIMES = sum(within(at, COUNT) * sign for at, sign in zip((20, 30, 40, 50), (1, -1, 1, -1), strict=True))

# what is said in docs/check.md, in that unit -> the shot that has it
FAULTS: dict[str, tuple[str, Callable[[float], ShotMeasurements]]] = {
    "misfire": ("misfire", lambda stops: lit(-stops * within(40, 41))),
    "misfire at an end": ("misfire", lambda stops: lit(stops * within(0, 1))),
    "loss of sharpness": ("soft", lambda stops: softer(stops * within(40, 42))),
    "loss of sharpness at an end": ("soft", lambda stops: softer(stops * within(87, COUNT))),
    "lasting loss of sharpness": ("lasting softness", lambda stops: softer(stops * FOR_GOOD)),
    "knock": ("knock", lambda percent: moved(x=0.6 * percent / 100 * ONE, y=-0.8 * percent / 100 * ONE)),
    "knock that turns": ("knock", lambda degrees: moved(turn=degrees * ONE)),
    "shake": ("shake", lambda percent: moved(y=percent / 100 * IN_TURN * within(30, 50))),
    "flicker": ("flicker", lambda stops: lit(0.5 * stops * IN_TURN * within(20, 70))),
    "bands of lamp light": ("lamp bands", banded),
    "light switched": ("light step", lambda stops: lit(stops * FOR_GOOD)),
    "exposure step": ("exposure step", lambda stops: exposed(-stops * FOR_GOOD)),
    "auto exposure": ("auto exposure", lambda stops: exposed(stops * FOUR_TIMES)),
    "lamp that blinks": ("blinking lamp", lambda stops: lit(stops * FOUR_TIMES)),
    "change of white balance, red": ("colour step", lambda stops: coloured(red=stops)),
    "change of white balance, blue": ("colour step", lambda stops: coloured(blue=-stops)),
}


def least() -> dict[str, float]:
    """Return what the document says each fault has at least."""
    lines = re.findall(r"^\| ([a-z ,]+?) \| ([\d.]+) ?(?:stops|%|°)", DOCUMENT.read_text(), re.MULTILINE)
    return {name: float(value) for name, value in lines}


def kinds(shot: ShotMeasurements) -> list[str]:
    return [one.kind for one in findings(shot)]


def test_the_document_names_every_bound_that_is_held_here():
    assert least().keys() == FAULTS.keys()


@pytest.mark.parametrize("fault", FAULTS)
def test_a_little_more_than_is_said_is_told_and_a_little_less_is_left_alone(fault):
    kind, shot = FAULTS[fault]
    assert kinds(shot(least()[fault] * (1 + NEAR))) == [kind]
    assert kinds(shot(least()[fault] * (1 - NEAR))) == []


@pytest.mark.parametrize(("length", "told"), [(12, ["misfire"]), (13, ["light step", "light step"])])
def test_a_stretch_is_up_to_twelve_stills_long(length, told):
    assert kinds(lit(-1.0 * within(40, 39 + length))) == told


@pytest.mark.parametrize(("columns", "told"), [(19, "misfire"), (18, "blocked view")])
def test_a_misfire_takes_more_than_three_quarters_of_the_view(columns, told):
    assert only(lit(-1.6 * within(40, 41), np.s_[:, :columns])).kind == told


@pytest.mark.parametrize(("columns", "told"), [(15, ["light step"]), (14, [])])
def test_light_is_switched_where_five_eighths_of_the_view_change(columns, told):
    assert kinds(lit(0.9 * FOR_GOOD, np.s_[:, :columns])) == told


@pytest.mark.parametrize(("part", "told"), [(np.s_[4:8, 6:10], ["blocked view"]), (np.s_[4:7, 6:11], [])])
def test_a_blocked_view_takes_a_twenty_fifth_of_it(part, told):
    # 16 and 15 of 384 blocks.
    assert kinds(lit(-1.6 * within(40, 44), part)) == told


@pytest.mark.parametrize(("stops", "told"), [(0.42, ["blocked view"]), (0.39, [])])
def test_what_blocks_the_view_is_off_by_four_tenths_of_a_stop(stops, told):
    assert kinds(lit(-stops * within(40, 44), np.s_[3:13, 4:14])) == told


@pytest.mark.parametrize(("apart", "told"), [(20, ["auto exposure"]), (21, ["exposure step"] * 4)])
def test_exposures_that_are_set_anew_are_one_finding_if_they_are_close(apart, told):
    changes = sum(within(12 + apart * turn, COUNT) * (-1) ** turn for turn in range(4))
    assert kinds(exposed(0.5 * changes)) == told


@pytest.mark.parametrize(("times", "told"), [(4, ["auto exposure"]), (3, ["exposure step"] * 3)])
def test_it_takes_four_exposures_to_be_one_finding(times, told):
    assert kinds(exposed(0.5 * sum(within(20 + 9 * turn, COUNT) for turn in range(times)))) == told


@pytest.mark.parametrize(("share", "told"), [(0.63, "by hand"), (0.57, "shake")])
def test_a_shot_in_which_three_of_five_stills_are_jerked_was_carried(share, told):
    jerked = np.floor(np.arange(COUNT) * share) != np.floor((np.arange(COUNT) + 1) * share)
    assert {one.kind for one in findings(moved(x=0.004 * np.cumprod(np.where(jerked, -1, 1)) * jerked))} == {told}


@pytest.mark.parametrize(("length", "told"), [(18, ["nothing happens"]), (17, [])])
def test_nothing_happens_in_twenty_stills_at_least(length, told):
    # With the one before and the one after, which differ by no more than neighbours do.
    blocks = calm().blocks.copy()
    blocks[30 : 30 + length] = standing(blocks[30 : 30 + length])
    # What comes after goes on from there.
    blocks[30 + length :] += blocks[30] - calm().blocks[29 + length]
    assert kinds(replace(calm(), blocks=blocks)) == told


@pytest.mark.parametrize(("seconds", "told"), [(1.7, ["extra"]), (1.8, [])])
def test_a_still_is_extra_if_it_follows_sooner_than_a_third_of_the_usual_interval(seconds, told):
    captured = list(calm().captured)
    captured[40] = BEGINS + timedelta(seconds=5 * 39 + seconds)
    assert [one.kind for one in from_breaks(replace(calm(), captured=captured), [])] == told


@pytest.mark.parametrize(("count", "told"), [(12, ["misfire"]), (11, [])])
def test_a_dozen_stills_say_what_is_usual(count, told):
    whole = lit(-2.0 * within(5, 5))
    given = {one.name: getattr(whole, one.name) for one in fields(whole) if one.init}
    per_still = {name: values[:count] for name, values in given.items() if len(values) == COUNT}
    assert kinds(replace(whole, **per_still)) == told
