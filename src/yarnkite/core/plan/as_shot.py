"""What an existing shot was like, as a plan: the start of the plan for the next one."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.timecode import span_text
from yarnkite.core.plan.decisions import PlannedShot
from yarnkite.core.plan.exposure import span_or_fraction


@dataclass(frozen=True)
class AsShot:
    """A shot's usual interval and how far single ones were off it, its span, and a plan with the same interval."""

    plan: PlannedShot
    interval_s: float
    off_s: float
    span_s: float
    pauses: int

    @property
    def sentence(self) -> str:
        """Say what was really shot."""
        even = f", even to {span_or_fraction(self.off_s)}" if self.off_s >= 0.001 else ", all alike"
        broken = f"; {self.pauses} longer pauses" if self.pauses > 1 else "; one longer pause" if self.pauses else ""
        return (
            f"It has {self.plan.stills:,} stills, {span_or_fraction(self.interval_s)} apart{even}{broken}: "
            f"{span_text(Fraction(self.span_s).limit_denominator(1000))} from the first to the last, which each still "
            f"once shows {float(self.plan.sums.speed_up):,.4g} times as fast as life."
        )


def as_shot(
    name: str, times_ms: Sequence[int], rate: Fraction, exposure_s: float | None, still_bytes: int | None
) -> AsShot:
    """Return what a shot was like, from when each still was taken, in milliseconds and in order.

    Raises
    ------
    Refusal (``times_not_known``) where fewer than two moments are known
    """
    gaps = np.diff(np.asarray(times_ms, dtype=np.float64)) / 1000
    gaps = gaps[gaps > 0]
    if gaps.size == 0:
        raise Refusal(
            "times_not_known",
            f"When the stills of “{name}” were taken is not known, so nothing can be said of its interval.",
        )
    # Whole seconds of a clock jitter by one: the mean of what is not a pause is nearer than any single one.
    usual = float(np.median(gaps))
    regular = gaps[gaps < 2.5 * usual]
    interval = float(np.mean(regular))
    plan = PlannedShot(
        name=name,
        stills=max(2, len(times_ms)),
        rate=rate,
        interval_ms=max(1, round(interval * 1000)),
    )
    if exposure_s:
        plan = plan.model_copy(update={"exposing": plan.exposing.model_copy(update={"exposure_s": exposure_s})})
    if still_bytes:
        plan = plan.model_copy(update={"supplies": plan.supplies.model_copy(update={"still_bytes": still_bytes})})
    span = (times_ms[-1] - times_ms[0]) / 1000
    return AsShot(plan, interval, float(np.median(np.abs(regular - interval))), span, int((gaps >= 2.5 * usual).sum()))
