"""Where the sun stands at a place, and when it rises and sets, without a network."""

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta, tzinfo
from typing import Literal

from astral import Observer
from astral.sun import elevation

Edge = Literal["dawn", "sunrise", "sunset", "dusk"]

# The sun's centre at these heights, in degrees: its upper edge seen at the horizon through refraction, and the end of
# civil twilight, when one needs light to read.
_HEIGHT = {"sunrise": -0.8333, "sunset": -0.8333, "dawn": -6.0, "dusk": -6.0}
_RISING = {"sunrise", "dawn"}


@dataclass(frozen=True)
class Day:
    """When the light comes and goes on a date at a place, in universal time; ``None`` for what does not happen that
    day."""

    dawn: datetime | None
    sunrise: datetime | None
    sunset: datetime | None
    dusk: datetime | None
    highest_deg: float

    @property
    def sentence(self) -> str:
        """Say what does not happen on this day, or nothing."""
        if self.sunrise is None and self.sunset is None:
            if self.highest_deg > _HEIGHT["sunrise"]:
                return "The sun does not set here on this day."
            if self.highest_deg > _HEIGHT["dawn"]:
                return "The sun does not rise here on this day; it gets as light as at dusk."
            return "The sun does not rise here on this day, and there is no twilight of day."
        if self.sunset is None:
            return "The sun rises on this day and does not set."
        if self.sunrise is None:
            return "The sun sets on this day and does not rise."
        return ""


def height_deg(latitude: float, longitude: float, when: datetime) -> float:
    """Return how high the sun's centre stands over the horizon, in degrees, refraction left out.

    ``when`` is aware. Source: the equations of the NOAA solar calculator, after J. Meeus, Astronomical Algorithms.
    """
    return elevation(Observer(latitude, longitude), when, with_refraction=False)


def day(latitude: float, longitude: float, noon: datetime) -> Day:
    """Return when the light comes and goes on the day around ``noon``, an aware time at which clocks there say 12.

    Each edge is the moment the sun's centre passes a height, found between two samples to a second, so that days near
    the polar circles with one edge, or none, are told as they are.
    """
    start = noon.astimezone(UTC) - timedelta(hours=12)
    step = timedelta(minutes=10)
    times = [start + step * one for one in range(24 * 6 + 1)]
    heights = [height_deg(latitude, longitude, one) for one in times]
    edges: dict[Edge, datetime | None] = {}
    for edge in ("dawn", "sunrise", "sunset", "dusk"):
        wanted, rising = _HEIGHT[edge], edge in _RISING
        edges[edge] = None
        for index in range(len(times) - 1):
            before, after = heights[index] - wanted, heights[index + 1] - wanted
            if (before < 0 <= after) if rising else (before >= 0 > after):
                edges[edge] = _passing(latitude, longitude, times[index], times[index + 1], wanted)
                break
    return Day(edges["dawn"], edges["sunrise"], edges["sunset"], edges["dusk"], max(heights))


def noon_of(when: date, zone: tzinfo) -> datetime:
    """Return 12 o'clock of a date in a zone, aware."""
    return datetime(when.year, when.month, when.day, 12, tzinfo=zone)


def _passing(latitude: float, longitude: float, before: datetime, after: datetime, wanted: float) -> datetime:
    rising = height_deg(latitude, longitude, before) < wanted
    while after - before > timedelta(seconds=1):
        middle = before + (after - before) / 2
        if (height_deg(latitude, longitude, middle) < wanted) == rising:
            before = middle
        else:
            after = middle
    return before + (after - before) / 2
