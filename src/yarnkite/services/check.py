"""Checking: findings and their remedies, plots, pictures to look closely by, and stretches put together."""

import threading
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from typing import Literal

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.cache import Cache
from yarnkite.core.base.errors import Conflict, NotFound
from yarnkite.core.base.still import Still
from yarnkite.core.check.compare import difference, spot, with_clipping
from yarnkite.core.check.decisions import Check, How, Note
from yarnkite.core.check.dust import place_of, with_dust
from yarnkite.core.check.finding import Finding, Remedy, ShotMeasurements
from yarnkite.core.check.ratings import ratings
from yarnkite.core.check.remedy import is_settled, remedied, restored
from yarnkite.core.check.stack_statistics import StackStatistics
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.light.adjustment import SharedLight
from yarnkite.core.light.remedy import evened, is_evened
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.picture import fitted
from yarnkite.jobs import together
from yarnkite.resolve.check import findings_of_shot
from yarnkite.resolve.slots import slots_of_shot
from yarnkite.services import dust
from yarnkite.services.decisions import Decided, decide, decide_check, latest
from yarnkite.services.pictures import as_shot, jpeg, original, read_from, read_original
from yarnkite.services.running import Services
from yarnkite.store import jobs, revisions, shots, sidecars, snapshots
from yarnkite.store.database import Row

Mending = Literal["bridged", "repeated", "as it is"]
StackKind = Literal["mean", "brightest", "darkest", "activity"]
_STACKS_MOST_BYTES = 120_000_000


@dataclass(frozen=True)
class LocatedFinding:
    """A finding with the positions of its first and last still; ``settled`` says that something was decided about
    it."""

    finding: Finding
    first: int
    last: int
    settled: bool


@dataclass(frozen=True)
class CheckResult:
    """What the check found, worst first; ``measuring`` says that more may be found once all neighbours are measured."""

    findings: list[LocatedFinding]
    measuring: bool


@dataclass(frozen=True)
class Plot:
    """One value a still, in order, not a number where it is not known."""

    name: str
    unit: str
    values: Floats


@dataclass(frozen=True)
class StackProgress:
    """Whether a stretch is put together, and else the job that does it."""

    ready: bool
    job: Row | None


def found(services: Services, shot_id: int) -> CheckResult:
    """Return what the check found, worst first; what is not measured yet begins to be."""
    shot = shots.one(services.database, shot_id)
    decisions = latest(services, shot_id)
    measurements, found, is_complete = findings_of_shot(services.database, shot, decisions.order)
    if not is_complete and shot["gathered"] and not jobs.checking(services.database, shot_id):
        services.runner.start("check", shot_id, 0)
    return CheckResult([_located(finding, measurements, decisions) for finding in found], not is_complete)


def of_shot_measured(services: Services, shot_id: int) -> ShotMeasurements:
    """Return what was measured of a shot's stills, in order; raises ``NotFound``."""
    shot = shots.one(services.database, shot_id)
    return findings_of_shot(services.database, shot, latest(services, shot_id).order)[0]


def plots(services: Services, shot_id: int) -> list[Plot]:
    """Return what can run beside the tail."""
    measured = of_shot_measured(services, shot_id)
    every = (
        Plot("brightness", "stops", measured.light),
        Plot("sharpness", "stops", measured.sharpness),
        Plot("movement", "% of the width", np.hypot(measured.shifts[:, 0], measured.shifts[:, 1]) * 100),
        Plot("warmth", "stops", measured.red - measured.blue),
        Plot("exposure", "EV", measured.exposure),
        Plot("interval", "s", measured.intervals),
        Plot("blown out", "%", measured.bright * 100),
        Plot("black", "%", measured.dark * 100),
        Plot("rating", "of 5", _ratings(services, shot_id, measured.ids)),
    )
    return [plot for plot in every if np.isfinite(plot.values).any()]


def _ratings(services: Services, shot_id: int, order: Sequence[int]) -> Floats:
    said = {row["id"]: row["rating"] for row in sidecars.said(services.database, shot_id)}
    found = ratings(latest(services, shot_id).check, said)
    return np.array([found.get(still, np.nan) for still in order], float)


def remedy(services: Services, shot_id: int, seen: int, keys: list[str], wanted: Remedy | Literal["none"]) -> Decided:
    """Apply a remedy to findings, or take it away again; raises ``Conflict`` if they are not found any more."""
    decisions = latest(services, shot_id)
    _, found, _ = findings_of_shot(services.database, shots.one(services.database, shot_id), decisions.order)
    chosen = [finding for finding in found if finding.key in set(keys)]
    if len(chosen) < len(set(keys)):
        raise Conflict("finding_gone", "The shot was changed since this list was made. Look at it again.")
    check = restored(decisions.check, chosen) if wanted == "none" else remedied(decisions.check, chosen, wanted)
    if wanted == "remove":
        spots = [dust.measured(services, shot_id, place_of(one)).spot for one in chosen if one.kind == "dirt"]
        check = with_dust(check, spots)
    kinds = {one.kind for one in chosen}
    others = {one.kind for one in found} - kinds
    even = evened(decisions.light.even, kinds, wanted, others=others)
    light = decisions.light.model_copy(update={"even": even})
    return decide(services, shot_id, seen, decisions.model_copy(update={"check": check, "light": light}))


def set_aside(services: Services, shot_id: int, seen: int, stills: list[int], *, aside: bool) -> Decided:
    """Leave stills out of the clip, or bring them back; their files stay."""

    def changed(check: Check) -> Check:
        before = set(check.aside)
        return check.changed(aside=before | set(stills) if aside else before - set(stills))

    return decide_check(services, shot_id, seen, changed)


def mend(services: Services, shot_id: int, seen: int, stills: list[int], how: Mending) -> Decided:
    """Have stills bridged or the still before repeated in their place, whatever was found about them, or shown as they
    are again."""

    def changed(check: Check) -> Check:
        others = {name: set(getattr(check, name)) - set(stills) for name in ("aside", "bridged", "repeated")}
        if how != "as it is":
            others[how] |= set(stills)
        return check.changed(**others)

    return decide_check(services, shot_id, seen, changed)


def use_stretch(services: Services, shot_id: int, seen: int, begin: int | None, end: int | None) -> Decided:
    """Use only the stills from one to another, by id; nothing stands for the shot's own."""
    return decide_check(services, shot_id, seen, lambda check: check.changed(begin=begin, end=end))


def bridge_how(services: Services, shot_id: int, seen: int, how: How) -> Decided:
    """Blend neighbours where a still is bridged, or move them along what moves between them."""
    return decide_check(services, shot_id, seen, lambda check: check.changed(how=how))


def note(services: Services, shot_id: int, seen: int, still: int, text: str) -> Decided:
    """Write a note about a still; an empty one takes it away."""
    text = text.strip()

    def changed(check: Check) -> Check:
        others = [note for note in check.notes if note.still != still]
        return check.changed(notes=[*others, Note(still=still, text=text)] if text else others)

    return decide_check(services, shot_id, seen, changed)


def real_pixels(
    services: Services, shot_id: int, position: int, at: tuple[float, float], size: tuple[int, int], revision: int = 0
) -> ImageArray:
    """Return the real pixels of an original around a spot (x, y in shares), one for one, of a width and height.

    Dust that a ``revision`` removes is not in them.
    """
    spots = revisions.decided_by(services.database, shot_id, revision).check.dust if revision else ()
    return spot(original(services, shot_id, position)[1], *at, *size, read=partial(read_original, dust=spots))


def difference_picture(services: Services, shot_id: int, position: int, width: int) -> ImageArray:
    """Return a still less the one before it, amplified around middle grey."""
    still, before = (original(services, shot_id, one)[1] for one in (position, max(0, position - 1)))
    fit, read = as_shot(still, width), read_from(services.workspace.proxies)
    return difference(*(fitted(one, fit, fit.size, read=read) for one in (still, before)))


def clipped_picture(services: Services, shot_id: int, position: int, width: int) -> ImageArray:
    """Return a still with its blown-out areas striped and its black ones dotted."""
    _, still = original(services, shot_id, position)
    fit = as_shot(still, width)
    return with_clipping(fitted(still, fit, fit.size, read=read_from(services.workspace.proxies)))


def used_picture(services: Services, shot_id: int, position: int, revision: int, width: int) -> bytes:
    """Return what the clip shows in a still's place by a revision, in the still's own shape, as JPEG."""
    check = revisions.decided_by(services.database, shot_id, revision).check
    return _mended(services, shot_id, position, check, width)


def tried_picture(
    services: Services,
    shot_id: int,
    position: int,
    revision: int,
    wanted: Literal["bridge", "repeat", "fill"],
    stretch: tuple[int, int],
    width: int,
) -> bytes:
    """Return what a remedy would show for a still, or after it, if it were applied to a stretch (first, last)."""
    every = snapshots.of_shot(services.database, shots.one(services.database, shot_id)).stills
    spoiled = tuple(number for number, _ in every[stretch[0] : stretch[1] + 1])
    if not spoiled:
        raise NotFound("no_such_still", f"This shot has no still number {position + 1}.")
    finding = Finding("missing" if wanted == "fill" else "misfire", spoiled, "", {"missing": 1}, ())
    check = remedied(revisions.decided_by(services.database, shot_id, revision).check, [finding], wanted)
    return _mended(services, shot_id, position, check, width, after=wanted == "fill")


def put_together(services: Services, shot_id: int, first: int, last: int | None) -> StackProgress:
    """Begin to put a stretch together, unless that is done or under way; says how far it is."""
    stills = together.stretch(services.database, shot_id, first, last)
    if _cached_stack(services, stills) is not None:
        return StackProgress(ready=True, job=None)
    wanted = {"first": first, "last": last, "name": together.name_of(stills)}
    for row in jobs.unfinished(services.database):
        if row["kind"] == "together" and jobs.wanted_of(services.database, row["id"]).get("name") == wanted["name"]:
            return StackProgress(ready=False, job=row)
    job_id = services.runner.start("together", shot_id, len(stills), wanted=wanted)
    return StackProgress(ready=False, job=jobs.one(services.database, job_id))


def stack_picture(services: Services, shot_id: int, kind: StackKind, first: int, last: int | None) -> ImageArray:
    """Return the mean, brightest, darkest or activity of a stretch; raises ``Conflict`` before it was put together."""
    stack = _cached_stack(services, together.stretch(services.database, shot_id, first, last))
    if stack is None:
        raise Conflict("not_put_together", "These stills are not put together yet. Ask for that first.")
    picture: ImageArray = getattr(stack, kind)
    return picture


def _cached_stack(services: Services, stills: list[Still]) -> StackStatistics | None:
    name = together.name_of(stills)
    stack = _stacks.peek(name) or together.cached(services.workspace.together, name)
    if stack is not None:
        _stacks.put(name, stack)
    return stack


_stacks: Cache[StackStatistics] = Cache(_STACKS_MOST_BYTES, lambda stack: stack.nbytes, threading.Lock())


def _mended(
    services: Services, shot_id: int, position: int, decided: Check, width: int, *, after: bool = False
) -> bytes:
    """Return the picture in a still's place; ``after`` is for the first one put in behind it."""
    shot = shots.one(services.database, shot_id)
    number, still = snapshots.of_shot(services.database, shot).at(position)
    pictures = [one.picture for one in slots_of_shot(services.database, shot, decided) if one.still == number]
    shown = pictures[min(int(after), len(pictures) - 1)] if pictures else still
    fit = as_shot(still, width)
    return jpeg(shown, fit, fit.size, services.workspace.proxies, SharedLight(dust=decided.dust))


def _located(finding: Finding, measurements: ShotMeasurements, decided: Decisions) -> LocatedFinding:
    first, last = measurements.ends_of(finding)
    settled = is_settled(decided.check, finding) or is_evened(decided.light.even, finding.kind)
    return LocatedFinding(finding, first, last, settled)
