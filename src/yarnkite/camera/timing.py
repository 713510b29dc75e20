"""When each still of a capture is due: a grid of slots that never drifts."""

from dataclasses import dataclass

# A still that comes a little late is still the one of its slot: up to this share of an interval, and this long.
_LATE_SHARE = 0.5
_LATE_MOST_S = 2.0
# What is later than this is said to be late.
LATE_S = 0.02


@dataclass(frozen=True)
class Slots:
    """Moments ``interval_s`` apart, counted from 0 at ``start``, on whichever clock gave ``start``."""

    start: float
    interval_s: float

    def due(self, slot: int) -> float:
        """Return when a slot is due. It is worked out from the start, not from the slot before: errors never add up."""
        return self.start + slot * self.interval_s

    def next_after(self, last: int, now: float) -> int:
        """Return the slot to take after slot ``last``: the next one, or the first that can still be kept at ``now``.

        Slots between are missed. A slot is never returned twice.
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
        """How late a still may be and still stand for its slot, in seconds."""
        return min(self.interval_s * _LATE_SHARE, _LATE_MOST_S)
