"""Move: how stills are steadied, what was measured for it, what it costs, and which of them go on best."""

from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.errors import Conflict
from yarnkite.core.base.homography import inverse, mapped
from yarnkite.core.base.still import Still
from yarnkite.core.base.wording import counted, percent
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import placement_of, turned_shape
from yarnkite.core.image.still_map import StillMap
from yarnkite.core.move.decisions import PlaceAt, Steady
from yarnkite.core.move.glide import jerk, proposed_length
from yarnkite.core.move.path import PLACES
from yarnkite.core.move.picking import picked
from yarnkite.core.move.region import MOST_CLOSER, half_sides
from yarnkite.core.move.travel import WHOLE, Sides, confined
from yarnkite.core.pace.decisions import Thin
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.laying import region_within
from yarnkite.resolve.move import ShotPath, ShotSteadying, path_of_shot, steadying_of_shot
from yarnkite.resolve.shot import maps_by_path
from yarnkite.services.decisions import Change, Decided, decide, latest, resolved_with, with_change
from yarnkite.services.pictures import original
from yarnkite.services.running import Services
from yarnkite.store import jobs, shots, snapshots
from yarnkite.store.database import Row

_LENGTHS = (6, 12, 24, 48, 96, 192)
_SHARES = (0.2, 0.4, 0.6, 0.8, 1.0)


@dataclass(frozen=True)
class LocatedObservation:
    """Where an anchored point is in a still, in shares of it as the fit turns it; how sure, 0 where it is hidden."""

    x: float
    y: float
    sure: float


@dataclass(frozen=True)
class Steadied:
    """How a shot's stills are laid against each other.

    ``job`` measures what is not known yet, while ``is_complete`` is false. ``as_shot`` and ``steadied`` are how far
    each still lies from the middle, in shares of the width; ``sure`` is for each anchored point how sure its place
    is in each still.
    ``region`` is what all stills cover (left, top, right, bottom, in shares), ``closer`` what it takes to show nothing
    else; ``left_px`` how far the scene still moves in the clip, rms; ``proposed`` over how many stills to smooth;
    ``lean_deg`` how far the horizon leans with the clock, if there is one.
    """

    is_complete: bool
    job: Row | None
    as_shot: list[float]
    steadied: list[float]
    sure: list[list[float]]
    region: Sides
    closer: float
    left_px: float
    proposed: int
    lean_deg: float | None
    sentence: str


@dataclass(frozen=True)
class TradeOff:
    """What a strength costs: a share done or a length in stills, how many times closer the view gets, what stays (0 …
    1)."""

    strength: float
    closer: float
    stays: float


def steadied(services: Services, shot_id: int, revision: int, change: Change) -> Steadied:
    """Return how decisions lay a shot's stills; what is not measured yet is not begun."""
    made = resolved_with(services, shot_id, revision, change)
    shot = shots.one(services.database, shot_id)
    found = steadying_of_shot(services.database, shot, made.decisions)
    job = jobs.measuring_movement(services.database, shot_id)
    recipe, of = made.recipe, found.of
    region = recipe.region or WHOLE
    closer, left_px = 1.0, 0.0
    if made.slots:
        base = placement_of(*recipe.usual, recipe.decisions.fit)
        shape = turned_shape(*recipe.usual, recipe.decisions.fit)
        shown = confined(base, shape, recipe.region)
        closer = float(base.source.width / shown.source.width)
        left_px = _left(found) * float(np.hypot(*shape)) / 2 * float(shown.scale)
    laid = found.laid
    return Steadied(
        is_complete=found.is_complete,
        job=job,
        as_shot=[] if laid is None else laid.as_shot.tolist(),
        steadied=[] if laid is None else laid.steadied.tolist(),
        sure=[one[:, 2].astype(float).round(3).tolist() for one in found.observations],
        region=region,
        closer=closer,
        left_px=left_px,
        proposed=proposed_length(of.path.matrices),
        lean_deg=_lean_deg(of),
        sentence=_said(made.decisions.move.steady, found, closer, left_px),
    )


def observations(
    services: Services, shot_id: int, position: int, revision: int, change: Change
) -> list[LocatedObservation]:
    """Return where the anchored points are in a still; raises ``NotFound``."""
    made = resolved_with(services, shot_id, revision, change)
    shot = shots.one(services.database, shot_id)
    _, still = snapshots.of_shot(services.database, shot).at(position)
    found = steadying_of_shot(services.database, shot, made.decisions)
    whole = _whole(still, made.decisions.fit)
    height, width = whole.shape
    result = []
    for points in found.observations:
        if position >= len(points):
            # The shot was changed between two readings.
            continue
        places = (points[position, :2] / half_sides(found.of.stills.aspect) + 1) / 2
        x, y = whole.to_points(places[:1].astype(float), places[1:].astype(float))
        result.append(LocatedObservation(float(x[0]) / width, float(y[0]) / height, float(points[position, 2])))
    return result


def pointed(
    services: Services, shot_id: int, position: int, revision: int, change: Change, x: float, y: float
) -> PlaceAt:
    """Return what a person points at in a still that is shown whole as the fit turns it, ``x`` and ``y`` in shares of
    it."""
    fit = with_change(services, shot_id, revision, change).fit
    number, still = original(services, shot_id, position)
    whole = _whole(still, fit)
    height, width = whole.shape
    right, below = whole.of_points(np.array([x * width]), np.array([y * height]))
    return PlaceAt(still=number, x=float(np.clip(right[0], 0, 1)), y=float(np.clip(below[0], 0, 1)))


def _whole(still: Still, fit: Fit) -> StillMap:
    """Return the map of a still that is shown whole, turned and straightened as a fit says."""
    turned = turned_shape(still.width, still.height, fit)
    return StillMap.whole(*turned, lens=fit.lens, quarters=fit.quarters, mirror=fit.mirror)


def measure(services: Services, shot_id: int) -> Row | None:
    """Begin to measure a shot's movement, and to follow the points its newest decisions anchor; returns the job.

    There is none where all is known already.
    """
    shot = shots.one(services.database, shot_id)
    if not shot["gathered"]:
        raise Conflict("not_gathered", "This shot is still being gathered. Steady it when all its stills are there.")
    under_way = jobs.measuring_movement(services.database, shot_id)
    if under_way is not None:
        return under_way
    decisions = latest(services, shot_id)
    wanted = decisions.move.steady.model_copy(
        update={"how": decisions.move.steady.how if decisions.move.steady.is_wished else "still"}
    )
    tried = decisions.model_copy(update={"move": decisions.move.model_copy(update={"steady": wanted})})
    if steadying_of_shot(services.database, shot, tried).is_complete:
        return None
    job_id = services.runner.start("move", shot_id, 0)
    return jobs.one(services.database, job_id)


def check_measured(services: Services, shot: Row, decisions: Decisions) -> None:
    """Raise ``Conflict`` (``not_measured``) where stills are to be steadied and their movement is not known; it begins
    to be."""
    if not decisions.move.steady.is_wished or steadying_of_shot(services.database, shot, decisions).is_complete:
        return
    measure(services, shot["id"])
    raise Conflict(
        "not_measured", "How this shot moves is still being measured. Encode when that is done, or turn steadying off."
    )


def pick(services: Services, shot_id: int, seen: int, every: int) -> Decided:
    """Use of every few stills the one that continues the camera's path best, as a decision of pace.

    Raises ``Conflict`` (``not_measured``) where the path is not known yet; it begins to be.
    """
    shot, decisions = shots.one(services.database, shot_id), latest(services, shot_id)
    path = path_of_shot(services.database, shot_id, decisions.check)
    if path.missing:
        measure(services, shot["id"])
        raise Conflict("not_measured", "How this shot moves is still being measured. Choose stills when that is done.")
    ids = [number for number, used in zip(path.stills.ids, path.used, strict=True) if used]
    chosen = [ids[place] for place in picked(path.path.matrices[path.used], every)]
    thin = Thin(way="picked", every=every)
    pace = decisions.pace.model_copy(update={"thin": thin, "picked": tuple(chosen)})
    return decide(services, shot_id, seen, decisions.model_copy(update={"pace": pace}))


def trade_offs(services: Services, shot_id: int, revision: int, change: Change) -> list[TradeOff]:
    """Return what more or less steadying would cost: by length for gliding, by share for the rest."""
    made = resolved_with(services, shot_id, revision, change)
    decisions = made.decisions
    steady = decisions.move.steady
    shot = shots.one(services.database, shot_id)
    if not made.slots or not steady.is_wished or not steadying_of_shot(services.database, shot, decisions).is_complete:
        return []
    if steady.how == "glide":
        # Over more stills than there are nothing becomes smoother.
        lengths = [one for one in _LENGTHS if one <= len(made.slots)] or _LENGTHS[:1]
        tries = [(float(one), _over(steady, one)) for one in lengths]
    else:
        tries = [(share, steady.model_copy(update={"share": share})) for share in _SHARES]
    stills = snapshots.of_shot(services.database, shot).stills
    found = []
    for strength, one in tries:
        tried = decisions.model_copy(update={"move": decisions.move.model_copy(update={"steady": one})})
        laid = steadying_of_shot(services.database, shot, tried)
        maps = maps_by_path(stills, laid)
        region = region_within(made.slots, decisions.fit, made.recipe.light, maps, "crop")
        found.append(TradeOff(strength, region.closer if region else 1.0, _stays(laid)))
    return found


def _lean_deg(of: ShotPath) -> float | None:
    """Return how far the horizon leans with the clock in most stills as they were shot, if there is one."""
    if of.tilt is None or not of.used.any():
        return None
    return float(np.degrees(np.median(of.tilt - of.path.numbers[of.used, 2])))


def _over(steady: Steady, length: int) -> Steady:
    """Return the same with all that is smoothed smoothed over another length."""
    names = ("place_over", "level_over", "size_over")
    return steady.model_copy(update={name: length for name in names if getattr(steady, name)})


def _left(found: ShotSteadying) -> float:
    """Return how far places of the scene lie from where they are in most stills once these are laid, rms in half
    diagonals."""
    of = found.of
    if found.laid is None or not of.used.any():
        return of.path.left
    places = mapped((of.path.matrices @ inverse(found.laid.maps))[of.used][:, None], PLACES[None])
    stray = ((places - np.median(places, axis=0)) ** 2).sum(axis=-1).mean()
    # What pairs contradict each other by is not seen in the path.
    return float(np.sqrt(stray + of.path.left**2))


def _stays(found: ShotSteadying) -> float:
    """Return what share of the movement from still to still stays."""
    if found.laid is None or found.of.used.sum() < 4:
        return 1.0
    used = found.of.used
    shot, laid = found.of.path.matrices[used], found.laid.maps[used]
    return float(min(1.0, jerk(shot @ inverse(laid)) / max(jerk(shot), 1e-12)))


def _said(steady: Steady, found: ShotSteadying, closer: float, left_px: float) -> str:
    if steady.how == "anchor" and not steady.points:
        return "Point at something in the picture that shall stay where it is."
    if not steady.is_wished:
        return "Stills lie as they were shot."
    if not found.is_complete:
        return "How the stills lie against each other is not measured yet."
    if steady.how == "anchor" and not found.observations:
        return "The stills in which the point was pointed at are not in this shot any more. Point at it again."
    if found.laid is None or not found.of.path.joined.any():
        return "Nothing was found by which these stills could be laid against each other. They stay as they were shot."
    said = []
    lost = 1 - 1 / closer
    if steady.how == "still":
        whole = steady.share == 1 and steady.turn and steady.size
        begins = "Nothing but the scene moves: what is left" if whole else "What is left of the movement"
        said.append(f"{begins} is {left_px:.2f} pixels of the clip.")
    else:
        said.append(f"From still to still {percent(1 - _stays(found))} of the unrest goes.")
    said.append(
        f"That costs {percent(lost)} of the width and height." if lost > 0.0005 else "That costs nothing of the edge."
    )
    if closer >= MOST_CLOSER - 0.01:
        said.append("Stills lie too far apart to be laid like this: edges are drawn out. Steady less of it.")
    apart = int((~found.of.path.joined & found.of.used).sum())
    if apart:
        said.append(f"{counted(apart, 'still')} showed nothing to go by and lie between their neighbours.")
    for number, observations in enumerate(found.observations):
        lost_from = _lost_from(observations[:, 2])
        if lost_from is not None:
            which = "The point" if len(found.observations) == 1 else f"Point {number + 1}"
            said.append(f"{which} is lost from still {lost_from + 1} on: point at it again there.")
    return " ".join(said)


def _lost_from(sure: Floats) -> int | None:
    """Return from which still on a point was not seen again, if it was lost for good and not just at the very end."""
    seen = np.flatnonzero(sure > 0)
    last = int(seen[-1]) if len(seen) else -1
    return last + 1 if last < len(sure) - 3 else None
