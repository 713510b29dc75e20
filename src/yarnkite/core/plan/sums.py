"""Six quantities that hang together: clip length, rate, stills, shooting time, interval, speed-up."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import combinations
from math import ceil, floor
from typing import Literal, get_args

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import HIGHEST, OFFERED

Quantity = Literal["clip", "rate", "stills", "shooting", "interval", "speed"]
QUANTITIES: tuple[Quantity, ...] = get_args(Quantity)
NAMES: Mapping[Quantity, str] = {
    "clip": "the clip's length",
    "rate": "the rate",
    "stills": "the number of stills",
    "shooting": "the shooting time",
    "interval": "the interval",
    "speed": "the speed-up",
}
MOST_STILLS = 1_000_000
LONGEST_INTERVAL_S = Fraction(30 * 86400)
LONGEST_SHOOTING_S = Fraction(20 * 366 * 86400)

# Two of a row give the third. The last row is only nearly so (a shoot has one interval fewer than stills), too nearly
# to work a number of stills out of it.
_ROWS: tuple[tuple[Quantity, Quantity, Quantity], ...] = (
    ("clip", "rate", "stills"),
    ("shooting", "interval", "stills"),
    ("speed", "interval", "rate"),
    ("clip", "speed", "shooting"),
)
# What stays first, when one is changed and nothing is locked.
_STAYING: Mapping[Quantity, tuple[Quantity, ...]] = {
    "clip": ("rate", "interval"),
    "rate": ("interval", "clip"),
    "stills": ("rate", "interval"),
    "shooting": ("rate", "clip"),
    "interval": ("rate", "clip"),
    "speed": ("rate", "clip"),
}


@dataclass(frozen=True)
class Sums:
    """A plan in exact numbers: ``stills`` taken ``interval_s`` apart give ``stills / rate`` seconds of clip."""

    stills: int
    rate: Fraction
    interval_s: Fraction

    @property
    def clip_s(self) -> Fraction:
        """The length of the clip in seconds, a frame for each still."""
        return self.stills / self.rate

    @property
    def shooting_s(self) -> Fraction:
        """The time from the first exposure to the last, in seconds."""
        return (self.stills - 1) * self.interval_s

    @property
    def speed_up(self) -> Fraction:
        """How many times faster than life the clip runs."""
        return self.interval_s * self.rate

    def value(self, quantity: Quantity) -> Fraction:
        """Return a quantity by its name, in seconds, frames a second, stills or times."""
        return {
            "clip": self.clip_s,
            "rate": self.rate,
            "stills": Fraction(self.stills),
            "shooting": self.shooting_s,
            "interval": self.interval_s,
            "speed": self.speed_up,
        }[quantity]


@dataclass(frozen=True)
class Changed:
    """What a change led to: the new sums, what moved with it, what whole stills made of what was asked or locked."""

    sums: Sums
    moved: tuple[Quantity, ...]
    rounded: tuple[Quantity, ...]


def change(sums: Sums, quantity: Quantity, value: Fraction, locked: Collection[Quantity] = ()) -> Changed:
    """Return the sums with one quantity changed; those ``locked`` stay, of the rest as few move as can.

    Stills are whole: a clip gets at least the length asked for, a shoot lasts at most the time asked for. An interval
    that moves is rounded to what cameras can be set to (tenths of a second, hundredths below one), a rate that moves to
    one that is in use.

    Raises
    ------
    Refusal (``plan_locked``) where what is locked already says what the changed one is,
    (``plan_not_possible``) for values that are not above zero or lead beyond what can be shot
    """
    _check(quantity, value)
    fixed: list[Quantity] = [one for one in QUANTITIES if one in locked and one != quantity]
    if quantity in _following(fixed):
        raise Refusal("plan_locked", _why_locked(quantity, fixed))
    fixed.append(quantity)
    for one in (*_STAYING[quantity], *QUANTITIES):
        if one not in _following(fixed):
            fixed.append(one)
    asked = {one: value if one == quantity else sums.value(one) for one in fixed}
    result = solve(asked)
    moved = tuple(one for one in QUANTITIES if one != quantity and result.value(one) != sums.value(one))
    minded = {quantity, *locked}
    rounded = tuple(one for one in QUANTITIES if one in minded and one in asked and result.value(one) != asked[one])
    return Changed(result, moved, rounded)


def solve(asked: Mapping[Quantity, Fraction]) -> Sums:
    """Return the sums that three independent quantities, in seconds, frames a second, stills and times, determine.

    Raises
    ------
    Refusal (``plan_not_possible``) for values that are not above zero, lead beyond what can be shot, or say too little
    """
    for one, value in asked.items():
        _check(one, value)
        others = [other for other in asked if other != one]
        if one in _following(others):
            raise Refusal("plan_not_possible", f"{_follows(one, others)}. Give one of them less.")
    known = dict(asked)
    while not {"rate", "stills", "interval"} <= known.keys():
        if not any(_derive(one, known) for one in ("rate", "stills", "interval") if one not in known):
            raise Refusal("plan_not_possible", "These quantities do not say enough to plan a shot. Give one more.")
    stills = known["stills"]
    if stills.denominator != 1:
        raise Refusal("plan_not_possible", "Stills are whole: there is no part of one.")
    result = Sums(int(stills), known["rate"], known["interval"])
    for one in QUANTITIES:
        _check(one, result.value(one))
    return result


def _derive(quantity: Quantity, known: dict[Quantity, Fraction]) -> bool:
    """Add one of rate, stills and interval to what is known, rounded to what can be set; say whether it could be."""
    clip, rate, stills = known.get("clip"), known.get("rate"), known.get("stills")
    shooting, interval, speed = known.get("shooting"), known.get("interval"), known.get("speed")
    if quantity == "rate":
        if stills is not None and clip is not None:
            known["rate"] = usable_rate(stills / clip)
        elif speed is not None and interval is not None:
            known["rate"] = usable_rate(speed / interval)
    elif quantity == "stills":
        if clip is not None and rate is not None:
            known["stills"] = Fraction(ceil(clip * rate))
        elif shooting is not None and interval is not None:
            known["stills"] = Fraction(floor(shooting / interval) + 1)
    elif speed is not None and rate is not None:
        known["interval"] = usable_interval(speed / rate)
    elif shooting is not None and stills is not None and stills > 1:
        known["interval"] = usable_interval(shooting / (stills - 1))
    return quantity in known


def usable_rate(rate: Fraction) -> Fraction:
    """Return the rate in use that is nearest: one of those offered, or a whole number of frames a second, 1 … 240."""
    whole = Fraction(min(max(round(rate), 1), HIGHEST))
    return min((whole, *OFFERED), key=lambda one: (abs(one - rate), one))


def usable_interval(interval_s: Fraction) -> Fraction:
    """Return the interval a camera can be set to that is nearest, in seconds: tenths, finer below a second."""
    step = (
        Fraction(1, 10) if interval_s >= 1 else Fraction(1, 100) if interval_s >= Fraction(1, 10) else Fraction(1, 1000)
    )
    return max(Fraction(floor(interval_s / step + Fraction(1, 2))), Fraction(1)) * step


def _following(fixed: Collection[Quantity]) -> set[Quantity]:
    """Return what is said by some quantities, themselves included."""
    said = set(fixed)
    while more := {one for row in _ROWS for one in row if set(row) - {one} <= said} - said:
        said |= more
    return said


def _why_locked(quantity: Quantity, locked: Collection[Quantity]) -> str:
    return f"{_follows(quantity, locked)}, which are locked. Let one of them move."


def _follows(quantity: Quantity, others: Collection[Quantity]) -> str:
    """Say of which others a quantity follows, as few of them as do."""
    for count in range(1, len(others) + 1):
        for some in combinations(others, count):
            if quantity in _following(some):
                named = _listed([NAMES[one] for one in some])
                return f"{NAMES[quantity][0].upper()}{NAMES[quantity][1:]} follows from {named}"
    raise AssertionError(quantity)


def _listed(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


_LIMITS: Mapping[Quantity, tuple[Fraction, Fraction, str]] = {
    "clip": (Fraction(0), Fraction(86400), "a clip lasts more than no time and at most 24 hours"),
    "rate": (Fraction(1), Fraction(HIGHEST), f"a rate is 1 to {HIGHEST} frames a second"),
    "stills": (Fraction(2), Fraction(MOST_STILLS), f"a shot has 2 to {MOST_STILLS:,} stills"),
    "shooting": (Fraction(0), LONGEST_SHOOTING_S, "a shoot lasts more than no time and at most 20 years"),
    "interval": (Fraction(1, 1000), LONGEST_INTERVAL_S, "an interval is a thousandth of a second to 30 days"),
    "speed": (Fraction(0), Fraction(10**9), "a speed-up is more than nothing and at most a thousand million times"),
}


def _check(quantity: Quantity, value: Fraction) -> None:
    least, most, sentence = _LIMITS[quantity]
    if not (least <= value <= most and value > 0):
        raise Refusal("plan_not_possible", f"This cannot be planned: {sentence}.")
    if quantity == "stills" and value.denominator != 1:
        raise Refusal("plan_not_possible", "Stills are whole: there is no part of one.")
