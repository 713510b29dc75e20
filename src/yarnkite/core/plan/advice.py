"""What follows from a planned shot, in sentences; each says whether something is to be looked at."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import duration_text, span_text
from yarnkite.core.plan.daylight import Course, course, course_text
from yarnkite.core.plan.decisions import PlannedShot
from yarnkite.core.plan.exposure import filter_text, movement_text, room_text, span_or_fraction
from yarnkite.core.plan.interval import sky_crossing_s, subject_of, suits_text
from yarnkite.core.plan.media import battery_text, card_text, counter_text
from yarnkite.core.plan.stars import longest_star_exposure_s, pixel_um, view_width_deg
from yarnkite.core.plan.sums import Sums
from yarnkite.core.plan.sun import Day, day, noon_of

_REMEMBERED = 128


@dataclass(frozen=True)
class Advice:
    """A sentence ``about`` one side of the plan; ``look`` where it asks for another decision."""

    about: str
    sentence: str
    look: bool = False


def advice(plan: PlannedShot) -> tuple[Advice, ...]:
    """Return what follows from a plan, most pressing sides first as a photographer meets them."""
    return tuple(_advice(plan))


def _advice(plan: PlannedShot) -> Iterator[Advice]:
    sums = plan.sums
    exposing = plan.exposing
    yield Advice("interval", *room_text(exposing.exposure_s, exposing.writing_s, sums.interval_s))
    if plan.subject:
        yield Advice("subject", *suits_text(subject_of(plan.subject), sums.rate, sums.interval_s))
    if movement := movement_text(exposing.exposure_s, sums.interval_s):
        yield Advice("movement", movement)
    if exposing.metered_s is not None:
        yield Advice("filter", filter_text(exposing.metered_s, exposing.exposure_s))
    yield from _stars(plan)
    supplies = plan.supplies
    yield Advice("card", *card_text(sums.stills, supplies.still_bytes, supplies.card_bytes))
    if supplies.per_charge:
        yield Advice("battery", *battery_text(sums.stills, supplies.per_charge, supplies.charges))
    if supplies.next_number is not None:
        yield Advice("counter", *counter_text(sums.stills, supplies.next_number))
    yield from _sun(plan)


def _stars(plan: PlannedShot) -> Iterator[Advice]:
    lens = plan.lens
    if lens is None:
        return
    wide = pixel_um(lens.sensor_width_mm, lens.pixels)
    longest = longest_star_exposure_s(lens.focal_mm, lens.f_number, wide, lens.declination_deg)
    view = view_width_deg(lens.focal_mm, lens.sensor_width_mm)
    crossing = sky_crossing_s(view, lens.declination_deg)
    too_long = plan.subject == "stars" and plan.exposing.exposure_s > longest
    said = f"Stars stay points up to {span_or_fraction(longest)} (pixels of {wide:.1f} µm)"
    drawn = f"; {span_or_fraction(plan.exposing.exposure_s)} draws lines" if too_long else ""
    yield Advice(
        "stars",
        f"{said}{drawn}. They cross this view of {view:.0f}° in {span_text(timedelta(seconds=crossing))}.",
        too_long,
    )


def _sun(plan: PlannedShot) -> Iterator[Advice]:
    light = course_of(plan)
    there = day_of(plan)
    if there is None or plan.spot is None:
        return
    zone = ZoneInfo(plan.spot.zone)
    named = (("dawn", there.dawn), ("sunrise", there.sunrise), ("sunset", there.sunset), ("dusk ends", there.dusk))
    known = [f"{name} {when.astimezone(zone):%H:%M}" for name, when in named if when is not None]
    said = f"{', '.join(known)[0].upper()}{', '.join(known)[1:]}." if known else ""
    yield Advice("sun", " ".join(one for one in (said, there.sentence) if one))
    if light is not None:
        yield Advice("light", course_text(light), light.range_stops >= 2)


# A plan that is shown asks for its day and its light twice, and a list that is opened again for all of them.
@lru_cache(_REMEMBERED)
def day_of(plan: PlannedShot) -> Day | None:
    """Return when the light comes and goes on the day a plan starts, or ``None`` where place or start is open."""
    if plan.spot is None or plan.starts is None:
        return None
    return day(plan.spot.latitude, plan.spot.longitude, noon_of(plan.starts.date(), ZoneInfo(plan.spot.zone)))


@lru_cache(_REMEMBERED)
def course_of(plan: PlannedShot) -> Course | None:
    """Return how a clear sky's light goes over a plan, or ``None`` where place or start is open; at most three days of
    it."""
    if plan.spot is None or plan.starts_at is None:
        return None
    length = timedelta(seconds=min(float(plan.sums.shooting_s), 3 * 86400))
    return course(plan.spot.latitude, plan.spot.longitude, plan.starts_at, length)


def ends_at(plan: PlannedShot) -> datetime | None:
    """Return when the last still of a plan is taken, aware, or ``None`` where its start is open or it ends after
    2200."""
    if plan.starts_at is None:
        return None
    # In universal time first: clocks are put forward and back while a shot is taken.
    end = plan.starts_at.astimezone(ZoneInfo("UTC")) + timedelta(seconds=float(plan.sums.shooting_s))
    return end.astimezone(plan.starts_at.tzinfo)


def sums_text(sums: Sums) -> str:
    """Say the sums of a plan in one sentence."""
    return (
        f"{sums.stills:,} stills {span_or_fraction(float(sums.interval_s))} apart "
        f"take {span_text(sums.shooting_s)} and give {duration_text(sums.clip_s)} at "
        f"{rate_label(sums.rate)} fps: {float(sums.speed_up):,.4g} times as fast as life."
    )
