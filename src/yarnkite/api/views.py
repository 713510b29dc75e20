"""What the interface says: the shapes of responses, from which the browser's types are made."""

from datetime import datetime

from pydantic import BaseModel, ConfigDict

from yarnkite.core.brief import Brief
from yarnkite.core.order import Kind
from yarnkite.core.recipe import Decisions, OrderBy
from yarnkite.core.sorting import LeftOutKind
from yarnkite.store.database import Row
from yarnkite.store.jobs import Kind as JobKind
from yarnkite.store.jobs import State


class View(BaseModel):
    """A response body; made from rows and dataclasses by their attribute or column names."""

    model_config = ConfigDict(from_attributes=True)


class ProjectView(View):
    id: int
    name: str
    created_at: datetime
    shots: int = 0
    stills: int = 0
    first_shot: int | None = None


class ShotSummary(View):
    id: int
    name: str
    gathered: bool
    created_at: datetime
    stills: int
    brief: str


class ProjectDetail(View):
    id: int
    name: str
    shots: list[ShotSummary]


class PartView(View):
    text: str
    control: str
    look: str


class CostView(View):
    left: float
    right: float
    top: float
    bottom: float
    empty: float
    scale: float


class BriefView(View):
    parts: list[PartView]
    remarks: list[str]
    stills: int
    frames: int
    seconds: float
    length: str
    timecode: str
    bytes: int
    cost: CostView | None


class ShotDetail(View):
    id: int
    project_id: int
    project_name: str
    name: str
    folder: str
    copied: bool
    gathered: bool
    revision: int
    decisions: Decisions
    brief: BriefView
    can_undo: bool
    can_redo: bool
    raws: bool


class Revised(View):
    revision: int
    decisions: Decisions
    brief: BriefView
    can_undo: bool
    can_redo: bool


class StillView(View):
    id: int
    position: int
    name: str
    kind: str
    bytes: int
    width: int
    height: int
    captured_at: datetime | None
    camera: str
    exposure_s: float | None
    aperture: float | None
    sensitivity: int | None
    luminance: float
    fingerprint: str
    interval_s: float | None = None


class LeftOutView(View):
    name: str
    reason: str
    kind: LeftOutKind


class StillsView(View):
    stills: list[StillView]
    left_out: list[LeftOutView]
    found: str


class CandidateView(View):
    by: OrderBy
    sentence: str


class BreakView(View):
    kind: Kind
    position: int
    sentence: str


class DigitGroupView(View):
    before: str
    digits: str
    after: str
    values: int


class OrderView(View):
    by: OrderBy
    group: int | None
    groups: list[DigitGroupView]
    recommended: OrderBy
    reason: str
    candidates: list[CandidateView]
    breaks: list[BreakView]


class JobView(View):
    id: int
    kind: JobKind
    shot_id: int
    shot_name: str
    project_id: int
    state: State
    done: int
    total: int
    message: str
    created_at: datetime
    seconds_to_go: float | None = None
    clip_id: int | None = None


class ClipView(View):
    id: int
    shot_id: int
    job_id: int
    name: str
    bytes: int
    frames: int
    summary: str
    differences: list[str]
    created_at: datetime


def brief_view(said: Brief) -> BriefView:
    return BriefView.model_validate(said)


def job_view(row: Row, seconds_to_go: float | None = None) -> JobView:
    return JobView.model_validate(row | {"seconds_to_go": seconds_to_go})
