"""Six quantities that hang together: clip length, rate, stills, shooting time, interval, speed-up."""

from dataclasses import dataclass
from fractions import Fraction
from math import ceil

from yarnkite.core.base.errors import Refusal


@dataclass(frozen=True)
class ShootingPlan:
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


def shooting_plan(
    rate: Fraction,
    *,
    clip_s: Fraction | None = None,
    stills: int | None = None,
    interval_s: Fraction | None = None,
    shooting_s: Fraction | None = None,
) -> ShootingPlan:
    """Return the plan that two of the quantities beside the rate determine; stills are whole, so lengths are rounded up.

    Raises
    ------
    Refusal (``plan_not_possible``) for too few, too many, zero or negative quantities
    """
    given = (clip_s, stills, interval_s, shooting_s)
    if any(one is not None and one <= 0 for one in given):
        raise Refusal("plan_not_possible", "All quantities of a plan are more than zero.")
    if stills is None and clip_s is not None:
        stills = ceil(clip_s * rate)
    elif clip_s is not None:
        raise Refusal("plan_not_possible", "Clip length and stills say the same at a rate. Give one of them.")
    if stills is None:
        if interval_s is None or shooting_s is None:
            raise Refusal("plan_not_possible", "Give two of clip length or stills, interval, and shooting time.")
        return ShootingPlan(int(shooting_s / interval_s) + 1, rate, interval_s)
    if interval_s is not None and shooting_s is not None:
        raise Refusal("plan_not_possible", "With stills, interval and shooting time hang together. Give one of them.")
    if interval_s is None:
        if shooting_s is None or stills < 2:
            raise Refusal("plan_not_possible", "Give the interval, or the shooting time of two stills or more.")
        interval_s = shooting_s / (stills - 1)
    return ShootingPlan(stills, rate, interval_s)
