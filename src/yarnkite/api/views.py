"""What the interface says: the shapes of responses, from which the browser's types are made."""

from datetime import datetime

from pydantic import BaseModel, ConfigDict

from yarnkite.core.base.counter import DigitGroup
from yarnkite.core.base.rate import explained
from yarnkite.core.brief.sentence import Brief
from yarnkite.core.encode.decisions import Encode, FormatName
from yarnkite.core.fit.placement import Cost, corners, turned_shape
from yarnkite.core.gather.sorting import LeftOutKind
from yarnkite.core.order.breaks import Kind
from yarnkite.core.order.decisions import OrderBy
from yarnkite.core.render.decisions import Decisions
from yarnkite.services.decisions import Decided
from yarnkite.services.gather import Begun
from yarnkite.services.showing import plays_as
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
    warning: str
    hint: str


class SeenView(View):
    """What of a still is seen: ``corners`` clockwise from the top left, in shares of the turned still, and its shape.

    ``room`` is how far the picture can be moved, in pixels of the frame; ``target`` where it lies in the frame, in
    shares: left, top, width, height.
    """

    width: int
    height: int
    corners: list[tuple[float, float]]
    room: tuple[float, float]
    target: tuple[float, float, float, float]


class RemedyView(View):
    """A change that would settle what is doubtful, by the words for its button."""

    name: str
    decisions: Decisions


class BriefView(View):
    parts: list[PartView]
    clock: str
    rate_note: str
    seen: SeenView | None
    remedies: list[RemedyView]
    remarks: list[str]
    stills: int
    frames: int
    seconds: float
    length: str
    timecode: str
    bytes: int
    cost: Cost | None


class VersionView(View):
    id: int
    name: str


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
    versions: list[VersionView]
    version: int | None
    raws: bool
    notice: str


class RevisedView(View):
    revision: int
    decisions: Decisions
    brief: BriefView
    can_undo: bool
    can_redo: bool
    versions: list[VersionView]
    version: int | None


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
    away: bool
    rating: int | None = None
    label: str = ""
    caption: str = ""
    interval_s: float | None = None


class LeftOutView(View):
    name: str
    reason: str
    kind: LeftOutKind


class StillsView(View):
    """``state`` names the state the stills are in, for the addresses of their pictures; ``away`` how many are away."""

    stills: list[StillView]
    left_out: list[LeftOutView]
    found: str
    state: str
    away: int


class CandidateView(View):
    by: OrderBy
    sentence: str


class BreakView(View):
    kind: Kind
    position: int
    sentence: str


class OrderView(View):
    by: OrderBy
    group: int | None
    groups: list[DigitGroup]
    recommended: OrderBy
    reason: str
    candidates: list[CandidateView]
    breaks: list[BreakView]


class JobView(View):
    id: int
    kind: JobKind
    shot_id: int | None
    reel_id: int | None = None
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
    shot_id: int | None
    reel_id: int | None = None
    job_id: int
    name: str
    bytes: int
    frames: int
    summary: str
    differences: list[str]
    created_at: datetime
    evidence: str = ""
    lowest_at: int | None = None
    path: str | None = None
    format: FormatName = "h264"
    width: int | None = None
    height: int | None = None
    rate: str | None = None
    plays_as: str = ""


class SegmentView(BaseModel):
    key: str
    first: int
    frames: int


class ShotStarted(BaseModel):
    """A shot that is being gathered, and the job that does it."""

    shot_id: int
    job: JobView


def shot_started(begun: Begun) -> ShotStarted:
    return ShotStarted(shot_id=begun.shot_id, job=job_view(begun.job))


def revised_view(decided: Decided) -> RevisedView:
    """Return a revision as the pages read it."""
    return RevisedView(
        **{name: getattr(decided, name) for name in ("revision", "decisions", "can_undo", "can_redo", "version")},
        brief=brief_view(decided.brief, decided.decisions),
        versions=[VersionView.model_validate(row) for row in decided.versions],
    )


def brief_view(said: Brief, decisions: Decisions) -> BriefView:
    """Return a brief as the pages read it; what remedies change is put into the shot's own ``decisions``."""
    remedies = [
        RemedyView(name=name, decisions=decisions.model_copy(update={step: getattr(wanted, step)}))
        for name, step, wanted in said.remedies
    ]
    note = explained(decisions.pace.written_rate, said.frames)
    names = ("parts", "remarks", "stills", "frames", "seconds", "length", "timecode", "bytes", "clock", "cost")
    fields = {name: getattr(said, name) for name in names}
    return BriefView.model_validate(fields | {"rate_note": note, "seen": _seen(said, decisions), "remedies": remedies})


def _seen(said: Brief, decisions: Decisions) -> SeenView | None:
    placement, fit = said.placement, decisions.fit
    if placement is None:
        return None
    width, height = turned_shape(*said.usual, fit)
    target, scale = (
        placement.target,
        (
            placement.target.width / placement.source.width,
            placement.target.height / placement.source.height,
        ),
    )
    return SeenView(
        width=width,
        height=height,
        corners=[(across / width, down / height) for across, down in corners(placement)],
        room=(float(placement.room[0] * scale[0]), float(placement.room[1] * scale[1])),
        target=(
            float(target.left / fit.size.width),
            float(target.top / fit.size.height),
            float(target.width / fit.size.width),
            float(target.height / fit.size.height),
        ),
    )


def clip_view(row: Row) -> ClipView:
    encode: Encode = row["encode"]
    return ClipView.model_validate(row | {"format": encode.format, "plays_as": plays_as(row)})


def job_view(row: Row, seconds_to_go: float | None = None) -> JobView:
    return JobView.model_validate(row | {"seconds_to_go": seconds_to_go})
