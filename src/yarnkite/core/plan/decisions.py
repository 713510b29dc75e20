"""What is decided about a shot before it is taken."""

from datetime import datetime
from fractions import Fraction
from typing import Annotated, Self
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import AfterValidator, Field, model_validator

from yarnkite.core.base.frozen import Frozen
from yarnkite.core.base.rate import Rate
from yarnkite.core.plan.interval import subject_of
from yarnkite.core.plan.sums import LONGEST_INTERVAL_S, MOST_STILLS, QUANTITIES, Quantity, Sums

LONGEST_NAME = 120
MOST_KIT = 60


def _zone(name: str) -> str:
    try:
        ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise ValueError(f"“{name[:60]}” is no time zone. Write it like Europe/Lisbon, or UTC.") from None
    return name


def _subject(key: str) -> str:
    if key:
        subject_of(key)
    return key


def _one_each(locked: tuple[Quantity, ...]) -> tuple[Quantity, ...]:
    return tuple(one for one in QUANTITIES if one in locked)


class Spot(Frozen):
    """Where on earth a shot is taken, and which clock is looked at there."""

    latitude: Annotated[float, Field(ge=-90, le=90, allow_inf_nan=False)]
    longitude: Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False)]
    zone: Annotated[str, Field(max_length=60), AfterValidator(_zone)] = "UTC"


class Lens(Frozen):
    """A lens as set, on a sensor of some width."""

    focal_mm: Annotated[float, Field(ge=1, le=5000, allow_inf_nan=False)] = 24.0
    f_number: Annotated[float, Field(ge=0.5, le=128, allow_inf_nan=False)] = 2.8
    sensor_width_mm: Annotated[float, Field(ge=1, le=200, allow_inf_nan=False)] = 36.0
    pixels: Annotated[int, Field(ge=100, le=100_000)] = 6000
    declination_deg: Annotated[float, Field(ge=-90, le=90, allow_inf_nan=False)] = 0.0


class Exposing(Frozen):
    """How long each still is exposed, how long the camera takes to write it, and what it metered without a filter."""

    exposure_s: Annotated[float, Field(gt=0, le=86400, allow_inf_nan=False)] = 0.02
    writing_s: Annotated[float, Field(ge=0, le=3600, allow_inf_nan=False)] = 1.0
    metered_s: Annotated[float, Field(gt=0, le=86400, allow_inf_nan=False)] | None = None


class Supplies(Frozen):
    """What the shoot may use up; 0 for what is not asked about."""

    still_bytes: Annotated[int, Field(ge=1, le=4_000_000_000)] = 27_600_000
    card_bytes: Annotated[int, Field(ge=0, le=10**15)] = 0
    per_charge: Annotated[int, Field(ge=0, le=10_000_000)] = 0
    charges: Annotated[int, Field(ge=1, le=1000)] = 1
    next_number: Annotated[int, Field(ge=0, le=9999)] | None = None


class KitItem(Frozen):
    """Something to bring, or to set, and whether that is done."""

    what: Annotated[str, Field(min_length=1, max_length=120)]
    ready: bool = False


class PlannedShot(Frozen):
    """A shot as it is planned: its sums, which of them are locked, and what it is to be taken of, with, where and
    when."""

    name: Annotated[str, Field(min_length=1, max_length=LONGEST_NAME)] = "A shot"
    stills: Annotated[int, Field(ge=2, le=MOST_STILLS)] = 300
    rate: Rate = Fraction(25)
    interval_ms: Annotated[int, Field(ge=1, le=int(LONGEST_INTERVAL_S * 1000))] = 5000
    locked: Annotated[tuple[Quantity, ...], AfterValidator(_one_each)] = ()
    subject: Annotated[str, Field(max_length=40), AfterValidator(_subject)] = ""
    starts: datetime | None = None
    spot: Spot | None = None
    lens: Lens | None = None
    exposing: Exposing = Exposing()
    supplies: Supplies = Supplies()
    note: Annotated[str, Field(max_length=1000)] = ""
    kit: Annotated[tuple[KitItem, ...], Field(max_length=MOST_KIT)] = ()

    @model_validator(mode="after")
    def _on_the_clock_there(self) -> Self:
        if self.starts is not None and self.starts.tzinfo is not None:
            raise ValueError("A start is what the clock shows where the shot is taken, without an offset.")
        if self.starts is not None and not 1900 <= self.starts.year <= 2200:
            raise ValueError("The sun is known for the years 1900 to 2200.")
        return self

    @property
    def sums(self) -> Sums:
        """The quantities of this plan in exact numbers."""
        return Sums(self.stills, self.rate, Fraction(self.interval_ms, 1000))

    def with_sums(self, sums: Sums) -> "PlannedShot":
        """Return the same plan with other quantities; intervals are kept in whole thousandths of a second."""
        return self.model_copy(
            update={"stills": sums.stills, "rate": sums.rate, "interval_ms": max(1, round(sums.interval_s * 1000))}
        )

    @property
    def starts_at(self) -> datetime | None:
        """The moment it starts, aware, or ``None`` where no start or no place is planned."""
        if self.starts is None:
            return None
        return self.starts.replace(tzinfo=ZoneInfo(self.spot.zone if self.spot else "UTC"))
