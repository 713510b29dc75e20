"""Planning: a project's list of shots to take, and the sums that hang together in each."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from fractions import Fraction

import numpy as np
import simplejpeg

from yarnkite.core.base.errors import Refusal
from yarnkite.core.image.decode import decode
from yarnkite.core.image.header import Header, read_header
from yarnkite.core.image.pixels import EightBit, as_eight
from yarnkite.core.image.scene import developed
from yarnkite.core.plan.advice import Advice, advice, course_of, day_of, ends_at, sums_text
from yarnkite.core.plan.as_shot import as_shot
from yarnkite.core.plan.crossing import crossing_s
from yarnkite.core.plan.daylight import Course
from yarnkite.core.plan.decisions import PlannedShot
from yarnkite.core.plan.exchange import calendar_bytes, csv_text
from yarnkite.core.plan.interval import SUBJECTS, Subject, suiting, suiting_range
from yarnkite.core.plan.kit import usual_kit
from yarnkite.core.plan.reading import parse_quantity, quantity_text, rounding_text
from yarnkite.core.plan.sums import QUANTITIES, Quantity, change
from yarnkite.core.plan.sun import Day
from yarnkite.resolve.shot import resolved
from yarnkite.services.running import Services
from yarnkite.store import plan as plans
from yarnkite.store import revisions, shots, stills
from yarnkite.store.plan import Listed


@dataclass(frozen=True)
class Planned:
    """A planned shot with all that follows from it; ``moved`` and ``rounding`` say what a change did."""

    listed: Listed
    sentence: str
    quantities: dict[Quantity, str]
    advice: tuple[Advice, ...]
    ends: datetime | None
    day: Day | None
    course: Course | None
    usual_kit: tuple[str, ...]
    moved: tuple[Quantity, ...] = ()
    rounding: tuple[str, ...] = ()


def every(services: Services, project_id: int) -> list[Planned]:
    """Return a project's planned shots in order."""
    return [_planned(listed) for listed in plans.of_project(services.database, project_id)]


def add(services: Services, project_id: int, planned: PlannedShot) -> Planned:
    """Put a planned shot at the end of a project's list."""
    return _planned(plans.one(services.database, plans.add(services.database, project_id, planned)))


def add_as_shot(services: Services, shot_id: int) -> tuple[Planned, str]:
    """Plan the next one after a shot that was taken; returns it, and a sentence on what the shot was really like."""
    shot = shots.one(services.database, shot_id)
    _, decisions = revisions.latest(services.database, shot_id)
    rows = stills.of_shot(services.database, shot_id)
    times = resolved(services.database, shot, decisions).times
    exposures = [row["exposure_s"] for row in rows if row["exposure_s"]]
    found = as_shot(
        shot["name"],
        times,
        decisions.pace.rate,
        float(np.median(exposures)) if exposures else None,
        round(float(np.median([row["bytes"] for row in rows]))) if rows else None,
    )
    return add(services, shot["project_id"], found.plan), found.sentence


def keep(services: Services, plan_id: int, seen: int, planned: PlannedShot) -> Planned:
    """Keep another state of a planned shot made from the one that was seen; raises ``Conflict`` if there is a newer
    one."""
    return _planned(plans.change(services.database, plan_id, seen, planned))


def change_quantity(services: Services, plan_id: int, seen: int, quantity: Quantity, text: str) -> Planned:
    """Change one of the six quantities of a planned shot as it was typed; what it does not hold may move."""
    listed = plans.one(services.database, plan_id)
    asked = parse_quantity(quantity, text)
    before = listed.planned.sums
    found = change(before, quantity, asked, listed.planned.locked)
    kept = plans.change(services.database, plan_id, seen, listed.planned.with_sums(found.sums))
    wanted = {one: asked if one == quantity else before.value(one) for one in found.rounded}
    rounding = tuple(said for one, value in wanted.items() if (said := rounding_text(one, value, found.sums)))
    return _planned(kept, found.moved, rounding)


def put_in_order(services: Services, project_id: int, order: Sequence[int]) -> list[Planned]:
    """Put a project's list in an order given by ids."""
    plans.put_in_order(services.database, project_id, order)
    return every(services, project_id)


def delete(services: Services, plan_id: int) -> None:
    """Take a planned shot off its list."""
    plans.delete(services.database, plan_id)


def take_back(services: Services, plan_id: int) -> Planned:
    """Put a deleted planned shot back on its list."""
    plans.take_back(services.database, plan_id)
    return _planned(plans.one(services.database, plan_id))


def as_csv(services: Services, project_id: int) -> str:
    """Return a project's list as CSV."""
    return csv_text([one.planned for one in plans.of_project(services.database, project_id)])


def as_calendar(services: Services, project_id: int) -> bytes:
    """Return a project's planned shots that have a start as a calendar."""
    listed = plans.of_project(services.database, project_id)
    return calendar_bytes([(one.id, one.planned) for one in listed], datetime.now(UTC))


@dataclass(frozen=True)
class SuitedSubject:
    """A subject of the table, and the shortest and longest interval that suit it, in seconds."""

    subject: Subject
    shortest_s: Fraction
    longest_s: Fraction


def subjects(rate: Fraction) -> list[SuitedSubject]:
    """Return the table of subjects with the intervals that suit each at a rate."""
    return [SuitedSubject(one, *suiting_range(one, rate)) for one in SUBJECTS]


@dataclass(frozen=True)
class Suited:
    """An interval, in seconds, that lets a thing take ``on_screen_s`` to cross the picture; ``sentence`` says why."""

    interval_s: Fraction
    crossing_s: float
    sentence: str


def suited(crossing_s: float, rate: Fraction, on_screen_s: float) -> Suited:
    """Return the interval that suits what crosses the view in so many seconds."""
    interval = suiting(crossing_s, rate, on_screen_s)
    said = f"What crosses the view in {quantity_text('shooting', Fraction(crossing_s).limit_denominator(1000))} "
    said += f"takes {on_screen_s:g} s in the clip with a still every {quantity_text('interval', interval)}."
    return Suited(interval, crossing_s, said)


TEST_STILL_MOST_BYTES = 120_000_000
_TEST_WIDTH = 960
_SHOWN_QUALITY = 88


def crossing_of(
    first: tuple[str, bytes], second: tuple[str, bytes], apart_s: float | None, rate: Fraction, on_screen_s: float
) -> Suited:
    """Measure on two test stills, by name and content, how fast things cross the view, and the interval that suits.

    ``apart_s`` is needed only where the stills do not say when they were taken.
    """
    headers = [read_header(data, name) for name, data in (first, second)]
    if apart_s is None:
        times = [one.captured for one in headers]
        if times[0] is None or times[1] is None or (times[0].tzinfo is None) != (times[1].tzinfo is None):
            raise Refusal(
                "times_not_known",
                "The two stills do not say when they were taken. Enter how many seconds lie between them.",
            )
        apart_s = abs((times[1] - times[0]).total_seconds())
    pictures = [_small(name, data, header) for (name, data), header in zip((first, second), headers, strict=True)]
    return suited(crossing_s(pictures[0], pictures[1], apart_s), rate, on_screen_s)


def shown_still(name: str, data: bytes) -> bytes:
    """Return a test still as a small JPEG; raises ``Refusal`` for what cannot be read."""
    picture = np.ascontiguousarray(_small(name, data, read_header(data, name)))
    return bytes(simplejpeg.encode_jpeg(picture, quality=_SHOWN_QUALITY))


def _small(name: str, data: bytes, header: Header) -> EightBit:
    return as_eight(developed(decode(data, header, name, Fraction(max(1, header.width // _TEST_WIDTH)))).array)


def _planned(listed: Listed, moved: tuple[Quantity, ...] = (), rounding: tuple[str, ...] = ()) -> Planned:
    planned = listed.planned
    sums = planned.sums
    return Planned(
        listed=listed,
        sentence=sums_text(sums),
        quantities={one: quantity_text(one, sums.value(one)) for one in QUANTITIES},
        advice=advice(planned),
        ends=ends_at(planned),
        day=day_of(planned),
        course=course_of(planned),
        usual_kit=usual_kit(planned),
        moved=moved,
        rounding=rounding,
    )
