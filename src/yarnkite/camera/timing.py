"""The beats of a capture, the moments at which a still is due: a grid that never drifts."""

from dataclasses import dataclass

# A still that comes a little late is still the one of its beat: up to this share of an interval, and this long.
_LATE_SHARE = 0.5
_LATE_MOST_S = 2.0
# What is later than this is said to be late.
LATE_S = 0.02


@dataclass(frozen=True)
class Beats:
    """Moments ``interval_s`` apart, counted from 0 at ``start``, on whichever clock gave ``start``."""

    start: float
    interval_s: float

    def due(self, beat: int) -> float:
        """Return when a beat is due. It is worked out from the start, not from the beat before: errors never add up."""
        return self.start + beat * self.interval_s

    def next_after(self, last: int, now: float) -> int:
        """Return the beat to take after beat ``last``: the next one, or the first that can still be kept at ``now``.

        Beats between are missed. A beat is never returned twice.
        """
        nearest = last + 1
        if now <= self.due(nearest) + self.grace_s:
            return nearest
        passed = (now - self.grace_s - self.start) / self.interval_s
        reached = max(nearest, int(passed))
        while now > self.due(reached) + self.grace_s:
            reached += 1
        return reached

    @property
    def grace_s(self) -> float:
        """How late a still may be and still stand for its beat, in seconds."""
        return min(self.interval_s * _LATE_SHARE, _LATE_MOST_S)
