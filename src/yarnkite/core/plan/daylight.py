"""How light it is under a clear sky while the sun moves, and how many stops that changes over a shoot."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from math import log2

import numpy as np
from numpy.polynomial.polynomial import polyval

from yarnkite.core.plan.sun import height_deg

# From the sun's height in degrees: the coefficients of log10 lux by powers of a ninetieth of it.
_ILLUMINANCE: tuple[tuple[float, tuple[float, float, float, float]], ...] = (
    (20.0, (3.74, 3.97, -4.07, 1.47)),
    (5.0, (3.05, 13.28, -45.98, 64.33)),
    (-0.8, (2.88, 22.26, -207.64, 1034.30)),
    (-5.0, (2.88, 21.81, -258.11, -858.36)),
    (-12.0, (2.70, 12.17, -431.69, -1899.83)),
    (-18.0, (13.84, 262.72, 1447.42, 2797.93)),
)
# A clear night without a moon.
_NIGHT_LUX = 6.5e-4


@dataclass(frozen=True)
class Course:
    """The light over a shoot: at ``times``, the sun's height in degrees and stops against the first moment."""

    times: tuple[datetime, ...]
    heights_deg: tuple[float, ...]
    stops: tuple[float, ...]

    @property
    def range_stops(self) -> float:
        """From the darkest to the lightest moment, in stops."""
        return max(self.stops) - min(self.stops)

    @property
    def steepest_stops_per_min(self) -> float:
        """How quickly the light changes at most, in stops a minute."""
        minutes = np.array([(one - self.times[0]).total_seconds() / 60 for one in self.times])
        if len(minutes) < 2 or minutes[-1] == 0:
            return 0.0
        return float(np.max(np.abs(np.diff(self.stops) / np.diff(minutes))))


def illuminance_lux(height: float) -> float:
    """Return the light on level ground under a clear sky without a moon, in lux, from the sun's height in degrees.

    Source: P. M. Janiczek, J. A. DeYoung, US Naval Observatory Circular 171 (1987).
    """
    for least, coefficients in _ILLUMINANCE:
        if height >= least:
            return float(10 ** polyval(min(height, 90.0) / 90, coefficients))
    return _NIGHT_LUX


def course(latitude: float, longitude: float, start: datetime, length: timedelta, samples: int = 97) -> Course:
    """Return how the light goes from an aware ``start`` on, evenly sampled."""
    times = tuple(start + length * (one / (samples - 1)) for one in range(samples))
    heights = tuple(height_deg(latitude, longitude, one) for one in times)
    return Course(times, heights, _stops(heights))


def course_text(found: Course) -> str:
    """Say how much the light changes, and what that asks for."""
    change = found.stops[-1] - found.stops[0]
    if found.range_stops < 0.3:
        return "The light of a clear sky stays the same."
    if abs(change) > 0.7 * found.range_stops:
        way = f"falls by {-change:.1f} stops" if change < 0 else f"rises by {change:.1f} stops"
    else:
        way = f"changes by {found.range_stops:.1f} stops, and comes to {change:+.1f} at the end"
    minute = found.steepest_stops_per_min
    pace = f", at its quickest one stop in {1 / minute:.0f} min" if minute > 0.01 else ""
    asks = "" if found.range_stops < 2 else "; the exposure has to go with it"
    return f"The light of a clear sky {way}{pace}{asks}."


def _stops(heights: Sequence[float]) -> tuple[float, ...]:
    light = [log2(illuminance_lux(one)) for one in heights]
    return tuple(one - light[0] for one in light)
