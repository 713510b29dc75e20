"""The six quantities, held against an independent computation over random plans."""

import math
import random
from fractions import Fraction

import pytest

from yarnkite.core.base.errors import Refusal
from yarnkite.core.plan.sums import QUANTITIES, Sums, change, solve

RATES = [Fraction(24000, 1001), Fraction(24), Fraction(25), Fraction(30), Fraction(50)]


def sums_at(seed):
    dice = random.Random(seed)
    return Sums(dice.randint(2, 20_000), dice.choice(RATES), Fraction(dice.randint(1, 900), dice.choice([1, 2, 10])))


def as_numbers(sums):
    """The six quantities by plain arithmetic in floating point."""
    stills, rate, interval = sums.stills, float(sums.rate), float(sums.interval_s)
    return {
        "clip": stills / rate,
        "rate": rate,
        "stills": stills,
        "shooting": stills * interval - interval,
        "interval": interval,
        "speed": rate * interval,
    }


@pytest.mark.parametrize("count", [2_000, pytest.param(10_000, marks=pytest.mark.long)])
def test_thousands_of_random_plans_agree_with_plain_arithmetic_whichever_three_are_given(count):
    triples = [
        ("clip", "rate", "interval"),
        ("rate", "shooting", "interval"),
        ("stills", "rate", "speed"),
        ("clip", "speed", "rate"),
    ]
    for seed in range(count):
        sums = sums_at(seed)
        expected = as_numbers(sums)
        for name in QUANTITIES:
            assert float(sums.value(name)) == pytest.approx(expected[name], rel=1e-12)
        given = triples[seed % len(triples)]
        found = solve({name: sums.value(name) for name in given})
        assert found.stills == sums.stills
        assert found.rate == sums.rate
        # An interval that is worked out is one a camera can be set to.
        assert float(found.interval_s) == pytest.approx(float(sums.interval_s), abs=0.0501)


def test_stills_are_whole_a_clip_is_no_shorter_and_a_shoot_no_longer_than_asked():
    for seed in range(2_000):
        dice = random.Random(seed)
        rate, interval = dice.choice(RATES), Fraction(dice.randint(1, 300), 10)
        clip = Fraction(dice.randint(1, 60_000), 1000)
        if clip * rate > 1:
            found = solve({"clip": clip, "rate": rate, "interval": interval})
            assert found.stills == math.ceil(clip * rate)
            assert clip <= found.clip_s < clip + 1 / rate
        shooting = interval * Fraction(dice.randint(1000, 90_000), 997)
        found = solve({"shooting": shooting, "rate": rate, "interval": interval})
        assert shooting - interval < found.shooting_s <= shooting


def test_what_is_held_stays_and_what_moved_is_told():
    before = Sums(300, Fraction(25), Fraction(5))
    for changed, value in (
        ("clip", Fraction(30)),
        ("stills", Fraction(1000)),
        ("shooting", Fraction(7200)),
        ("speed", Fraction(500)),
    ):
        for locked in QUANTITIES:
            if locked == changed:
                continue
            found = change(before, changed, value, (locked,))
            if locked not in found.rounded:
                assert found.sums.value(locked) == before.value(locked), (changed, locked)
            for name in QUANTITIES:
                moved = found.sums.value(name) != before.value(name)
                assert moved == (name in found.moved or (name == changed))


def test_a_change_that_what_is_held_forbids_names_what_holds_it():
    before = Sums(300, Fraction(25), Fraction(5))
    with pytest.raises(Refusal, match="clip's length follows from the rate and the number of stills"):
        change(before, "clip", Fraction(20), ("rate", "stills", "interval"))
    with pytest.raises(Refusal, match="interval follows from the number of stills and the shooting time"):
        change(before, "interval", Fraction(2), ("stills", "shooting"))


def test_quantities_that_say_the_same_twice_or_too_little_are_refused():
    given = {"rate": Fraction(25), "interval": Fraction(5)}
    with pytest.raises(Refusal, match=r"follows from .* Give one of them less"):
        solve(given | {"clip": Fraction(3), "stills": Fraction(5)})
    with pytest.raises(Refusal, match="Give one more"):
        solve(given)


def test_a_shooting_time_moves_the_interval_and_says_what_rounding_did():
    found = change(Sums(300, Fraction(25), Fraction(5)), "shooting", Fraction(3600))
    assert (found.sums.stills, found.sums.interval_s) == (300, Fraction(12))
    assert found.sums.shooting_s == 3588
    assert "shooting" in found.rounded
    assert set(found.moved) == {"interval", "speed"}


@pytest.mark.parametrize(
    ("quantity", "value"),
    [
        ("clip", 0),
        ("clip", -3),
        ("clip", 10**9),
        ("stills", 1),
        ("interval", 0),
        ("rate", 0),
        ("rate", 5000),
        ("shooting", -1),
        ("speed", 0),
    ],
)
def test_zero_negative_and_huge_plans_are_refused_with_a_sentence(quantity, value):
    with pytest.raises(Refusal) as refused:
        change(Sums(300, Fraction(25), Fraction(5)), quantity, Fraction(value))
    assert refused.value.code == "plan_not_possible"
