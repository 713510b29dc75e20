"""A list of planned shots as CSV (RFC 4180) and as a calendar (iCalendar, RFC 5545)."""

import csv
import io
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta

from icalendar import Alarm, Calendar, Event

from yarnkite.core.base.rate import rate_text
from yarnkite.core.plan.advice import advice, ends_at, sums_text
from yarnkite.core.plan.decisions import PlannedShot

COLUMNS = (
    "name",
    "starts",
    "ends",
    "stills",
    "rate",
    "interval_s",
    "shooting_s",
    "clip_s",
    "speed_up",
    "exposure_s",
    "latitude",
    "longitude",
    "note",
    "kit",
)
# What a spreadsheet would take for a formula.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def csv_text(plans: Sequence[PlannedShot]) -> str:
    """Return planned shots as CSV with a head line; times are ISO 8601 with their offset."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for plan in plans:
        sums, starts, ends = plan.sums, plan.starts_at, ends_at(plan)
        writer.writerow(
            [
                _cell(plan.name),
                starts.isoformat() if starts else "",
                ends.isoformat() if ends else "",
                sums.stills,
                rate_text(sums.rate),
                f"{float(sums.interval_s):g}",
                f"{float(sums.shooting_s):.3f}",
                f"{float(sums.clip_s):.3f}",
                f"{float(sums.speed_up):g}",
                f"{plan.exposing.exposure_s:g}",
                plan.spot.latitude if plan.spot else "",
                plan.spot.longitude if plan.spot else "",
                _cell(plan.note),
                _cell("; ".join(one.what for one in plan.kit)),
            ]
        )
    return out.getvalue()


def calendar_bytes(plans: Sequence[tuple[int, PlannedShot]], written: datetime) -> bytes:
    """Return planned shots that have a start as calendar entries, each under its number, with a reminder an hour
    before."""
    calendar = Calendar()
    calendar.add("prodid", "-//Yarn Kite//plan//EN")
    calendar.add("version", "2.0")
    for number, plan in plans:
        starts, ends = plan.starts_at, ends_at(plan)
        if starts is None or ends is None:
            continue
        event = Event()
        event.add("uid", f"plan-{number}@yarnkite.invalid")
        event.add("dtstamp", written.astimezone(UTC))
        event.add("dtstart", starts.astimezone(UTC))
        event.add("dtend", ends.astimezone(UTC))
        event.add("summary", plan.name)
        said = (sums_text(plan.sums), *(one.sentence for one in advice(plan)), plan.note, *_kit_lines(plan))
        event.add("description", "\n".join(said).strip())
        if plan.spot is not None:
            event.add("geo", (plan.spot.latitude, plan.spot.longitude))
        reminder = Alarm()
        reminder.add("action", "DISPLAY")
        reminder.add("description", plan.name)
        reminder.add("trigger", timedelta(hours=-1))
        event.add_component(reminder)
        calendar.add_component(event)
    return bytes(calendar.to_ical())


def _kit_lines(plan: PlannedShot) -> tuple[str, ...]:
    return tuple(f"{'☑' if one.ready else '☐'} {one.what}" for one in plan.kit)


def _cell(text: str) -> str:
    return f"'{text}" if text.startswith(_FORMULA) else text
