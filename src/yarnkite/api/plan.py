"""Planning: a project's list of shots to take."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, Field

from yarnkite.api.bodies import FileName, Seen, received
from yarnkite.api.dependencies import ServicesDep
from yarnkite.api.views import View
from yarnkite.core.base.rate import Rate
from yarnkite.core.plan.decisions import PlannedShot
from yarnkite.core.plan.exposure import span_or_fraction
from yarnkite.core.plan.media import still_bytes
from yarnkite.core.plan.reading import parse_duration
from yarnkite.core.plan.sums import NAMES, QUANTITIES, Quantity
from yarnkite.services import plan
from yarnkite.services.plan import Planned, Suited

router = APIRouter(prefix="/api", tags=["plan"])


class QuantityView(BaseModel):
    """One of the six quantities, for reading, and its exact number in seconds, frames a second, stills or times."""

    quantity: Quantity
    name: str
    text: str
    value: float
    locked: bool


class PlanAdviceView(View):
    about: str
    sentence: str
    look: bool


class LightPoint(BaseModel):
    """The light at a moment: ``at`` from 0 to 1 of the shoot, the sun's height in degrees, stops against the start."""

    at: float
    clock: str
    height_deg: float
    stops: float


class ExposingTexts(BaseModel):
    """How long a still is exposed and written, and what was metered, as photographers write it."""

    exposure: str
    writing: str
    metered: str


class PlannedView(BaseModel):
    """A planned shot with what follows from it; ``number`` is what a change says it saw."""

    id: int
    project_id: int
    number: int
    planned: PlannedShot
    sentence: str
    quantities: list[QuantityView]
    advice: list[PlanAdviceView]
    exposing: ExposingTexts
    starts: datetime | None
    ends: datetime | None
    course: list[LightPoint]
    usual_kit: list[str]
    moved: list[Quantity]
    rounding: list[str]


class KeepPlan(Seen):
    planned: PlannedShot


class ChangeQuantity(Seen):
    """One of the six quantities, as it was typed."""

    quantity: Quantity
    text: Annotated[str, Field(min_length=1, max_length=60)]


class PlanOrder(BaseModel):
    plans: Annotated[list[int], Field(max_length=1000)]


class PlanOfShot(BaseModel):
    """The plan for the next one, and what the shot was really like."""

    plan: PlannedView
    sentence: str


class SubjectView(BaseModel):
    """A subject, how long it takes to cross a view, and the intervals that suit it, in seconds."""

    key: str
    name: str
    why: str
    crossing_s: tuple[float, float]
    shortest_s: float
    longest_s: float


class DurationView(BaseModel):
    seconds: float
    text: str


class StillSize(BaseModel):
    bytes: int


class SuitedView(BaseModel):
    interval_s: float
    crossing_s: float
    sentence: str


Seconds = Annotated[float, Query(ge=0.001, le=3.2e8, allow_inf_nan=False)]
_TOO_LARGE = ("still_too_large", "Test stills have up to 120 MB each. Take JPEGs for this.")


@router.get("/projects/{project_id}/plans")
def list_plans(services: ServicesDep, project_id: int) -> list[PlannedView]:
    return [_view(one) for one in plan.every(services, project_id)]


@router.post("/projects/{project_id}/plans", status_code=201)
def add_plan(services: ServicesDep, project_id: int, body: PlannedShot) -> PlannedView:
    return _view(plan.add(services, project_id, body))


@router.post("/shots/{shot_id}/plan", status_code=201)
def plan_as_shot(services: ServicesDep, shot_id: int) -> PlanOfShot:
    """Plan the next shot after one that was taken."""
    made, sentence = plan.add_as_shot(services, shot_id)
    return PlanOfShot(plan=_view(made), sentence=sentence)


@router.put("/projects/{project_id}/plans/order")
def order_plans(services: ServicesDep, project_id: int, body: PlanOrder) -> list[PlannedView]:
    return [_view(one) for one in plan.put_in_order(services, project_id, body.plans)]


@router.get("/projects/{project_id}/plans.csv", response_class=Response)
def export_plans(services: ServicesDep, project_id: int) -> Response:
    """Return the list as CSV."""
    return _file(plan.as_csv(services, project_id).encode(), "text/csv; charset=utf-8", "plan.csv")


@router.get("/projects/{project_id}/plans.ics", response_class=Response)
def export_calendar(services: ServicesDep, project_id: int) -> Response:
    """Return the planned shots that have a start as calendar entries."""
    return _file(plan.as_calendar(services, project_id), "text/calendar; charset=utf-8", "plan.ics")


@router.put("/plans/{plan_id}")
def keep_plan(services: ServicesDep, plan_id: int, body: KeepPlan) -> PlannedView:
    return _view(plan.keep(services, plan_id, body.seen, body.planned))


@router.post("/plans/{plan_id}/change")
def change_plan(services: ServicesDep, plan_id: int, body: ChangeQuantity) -> PlannedView:
    """Change one of the six quantities; what is not locked moves with it."""
    return _view(plan.change_quantity(services, plan_id, body.seen, body.quantity, body.text))


@router.delete("/plans/{plan_id}", status_code=204)
def delete_plan(services: ServicesDep, plan_id: int) -> Response:
    plan.delete(services, plan_id)
    return Response(status_code=204)


@router.post("/plans/{plan_id}/take-back")
def take_plan_back(services: ServicesDep, plan_id: int) -> PlannedView:
    return _view(plan.take_back(services, plan_id))


@router.get("/plan/subjects")
def list_subjects(rate: Rate) -> list[SubjectView]:
    """Return the table of subjects with the intervals that suit each at a rate."""
    return [
        SubjectView(
            key=one.subject.key,
            name=one.subject.name,
            why=one.subject.why,
            crossing_s=one.subject.crossing_s,
            shortest_s=float(one.shortest_s),
            longest_s=float(one.longest_s),
        )
        for one in plan.subjects(rate)
    ]


@router.get("/plan/duration")
def read_duration(text: Annotated[str, Query(min_length=1, max_length=60)]) -> DurationView:
    """Read a length of time as it is typed: ``1/50``, ``12 s``, ``2 h 30 min``."""
    seconds = float(parse_duration(text))
    return DurationView(seconds=seconds, text=span_or_fraction(seconds))


@router.get("/plan/still-size")
def still_size(
    megapixels: Annotated[float, Query(gt=0, le=1000, allow_inf_nan=False)], raw: bool = True, jpeg: bool = False
) -> StillSize:
    """Return about how many bytes a still takes, from its megapixels and the files written of it."""
    return StillSize(bytes=max(1, still_bytes(megapixels, raw=raw, jpeg=jpeg)))


@router.get("/plan/suiting")
def suiting_interval(crossing_s: Seconds, rate: Rate, on_screen_s: Seconds = 4.0) -> SuitedView:
    """Return the interval that suits what crosses the view in so many seconds."""
    return _suited(plan.suited(crossing_s, rate, on_screen_s))


@router.post("/plan/crossing")
async def measure_crossing(
    request: Request,
    first: FileName,
    second: FileName,
    first_bytes: Annotated[int, Query(ge=1, le=plan.TEST_STILL_MOST_BYTES)],
    rate: Rate,
    on_screen_s: Seconds = 4.0,
    apart_s: Annotated[float | None, Query(ge=0.001, le=3.2e8, allow_inf_nan=False)] = None,
) -> SuitedView:
    """Measure on two test stills, one after the other in the body, how fast things cross the view."""
    content = await received(request, 2 * plan.TEST_STILL_MOST_BYTES, *_TOO_LARGE)
    one, two = content[:first_bytes], content[first_bytes:]
    return _suited(await run_in_threadpool(plan.crossing_of, (first, one), (second, two), apart_s, rate, on_screen_s))


@router.post("/plan/test-still", response_class=Response)
async def show_test_still(request: Request, name: FileName) -> Response:
    """Return a test still of any kind that is read here as a small JPEG, to be looked at in several shapes."""
    content = await received(request, plan.TEST_STILL_MOST_BYTES, *_TOO_LARGE)
    return Response(await run_in_threadpool(plan.shown_still, name, content), media_type="image/jpeg")


def _view(one: Planned) -> PlannedView:
    planned = one.listed.planned
    exposing = planned.exposing
    zone = planned.starts_at.tzinfo if planned.starts_at else None
    last = len(one.course.times) - 1 if one.course else 0
    return PlannedView(
        id=one.listed.id,
        project_id=one.listed.project_id,
        number=one.listed.number,
        planned=planned,
        sentence=one.sentence,
        quantities=[
            QuantityView(
                quantity=quantity,
                name=NAMES[quantity],
                text=one.quantities[quantity],
                value=float(planned.sums.value(quantity)),
                locked=quantity in planned.locked,
            )
            for quantity in QUANTITIES
        ],
        advice=[PlanAdviceView.model_validate(said) for said in one.advice],
        exposing=ExposingTexts(
            exposure=span_or_fraction(exposing.exposure_s),
            writing=span_or_fraction(exposing.writing_s),
            metered="" if exposing.metered_s is None else span_or_fraction(exposing.metered_s),
        ),
        starts=planned.starts_at,
        ends=one.ends,
        course=[
            LightPoint(
                at=index / last,
                clock=f"{when.astimezone(zone):%H:%M}",
                height_deg=round(height, 2),
                stops=round(stops, 3),
            )
            for index, (when, height, stops) in enumerate(
                zip(one.course.times, one.course.heights_deg, one.course.stops, strict=True)
            )
        ]
        if one.course
        else [],
        usual_kit=list(one.usual_kit),
        moved=list(one.moved),
        rounding=list(one.rounding),
    )


def _suited(one: Suited) -> SuitedView:
    return SuitedView(interval_s=float(one.interval_s), crossing_s=one.crossing_s, sentence=one.sentence)


def _file(content: bytes, media_type: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"', "Cache-Control": "no-store"}
    return Response(content, media_type=media_type, headers=headers)
