"""Move: how the view travels, what that costs, and the usual ways to begin with."""

from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.geometry import Shape
from yarnkite.core.base.wording import counted
from yarnkite.core.fit.placement import Placement, corners, placement_of, turned_shape
from yarnkite.core.move.decisions import Move
from yarnkite.core.move.travel import WHOLE, Usual, confined, course_of, fastest, placed, usual_move
from yarnkite.core.render.recipe import schedule_of
from yarnkite.services.decisions import Change, resolved_with, with_change
from yarnkite.services.running import Services

_PATH, _LOOKED_AT = 64, 600
_SOFT_FROM, _FAST_FROM = 1.02, 0.25

Points = list[tuple[float, float]]


@dataclass(frozen=True)
class Travel:
    """How a view travels, in shares of the turned still.

    ``outlines`` are the corners of the view at each of its keyframes, clockwise from the top left; ``path`` is the way
    of its middle; ``held`` how many frames were held inside the still; ``enlarges`` how many pixels of the frame one of
    the still becomes at the closest; ``fastest`` is in widths a second.
    """

    outlines: list[Points]
    path: Points
    held: int
    enlarges: float
    fastest: float
    sentence: str


def travel(services: Services, shot_id: int, revision: int, change: Change) -> Travel:
    """Return how decisions let the view of a shot travel."""
    made = resolved_with(services, shot_id, revision, change)
    decisions, recipe = made.decisions, made.recipe
    if not made.slots:
        return Travel([], [], 0, 0.0, 0.0, "")
    fit, move = decisions.fit, decisions.move
    width, height = turned_shape(*recipe.usual, fit)
    base = placement_of(*recipe.usual, fit)
    base = confined(base, (width, height), recipe.region)
    if not move.travels:
        return Travel(
            [_outline(base, width, height)], [], 0, float(base.scale), 0.0, "The view stays where the fit has it."
        )
    frames = len(schedule_of(recipe))
    course = course_of(move, frames)

    region = recipe.region or WHOLE

    def seen(frame: int) -> tuple[Placement, bool]:
        at = (float(one[frame]) for one in (course.x, course.y, course.closeness, course.level_deg))
        return placed(base, (width, height), *at, region=region)

    # Of a long clip some frames tell: the view goes smoothly between them.
    looked_at = np.unique(np.linspace(0, frames - 1, min(frames, _LOOKED_AT)).round().astype(int)).tolist()
    every = [seen(frame) for frame in looked_at]
    held = round(sum(was_held for _, was_held in every) / len(every) * frames)
    placements = [one for one, _ in every]
    enlarges = max(float(one.scale) for one in placements)
    step = (frames - 1) / max(1, len(every) - 1) or 1.0
    speed = fastest(placements, float(decisions.pace.rate) / step)
    some = placements[:: max(1, len(placements) // _PATH)]
    path = [(float(one.source.centre[0]) / width, float(one.source.centre[1]) / height) for one in some]
    outlines = [_outline(seen(round(view.at * (frames - 1)))[0], width, height) for view in move.views]
    return Travel(outlines, path, held, enlarges, speed, _said(enlarges, speed, held, frames))


def usual(services: Services, shot_id: int, revision: int, change: Change, name: Usual, amount: float) -> Move:
    """Return one of the usual ways for a shot; raises ``Refusal`` (``no_stills``) for one without stills."""
    made = resolved_with(services, shot_id, revision, change)
    if not made.slots:
        raise Refusal("no_stills", "This shot has no stills. Bring some in first.")
    ends = with_change(services, shot_id, revision, change).move.ends
    shape: Shape = made.recipe.usual
    return usual_move(name, amount, made.decisions.fit, shape).model_copy(update={"ends": ends})


def _outline(placement: Placement, width: int, height: int) -> Points:
    return [(x / width, y / height) for x, y in corners(placement)]


def _said(enlarges: float, speed: float, held: int, frames: int) -> str:
    said = [
        f"Enlarges the stills {enlarges:.2f} × at the closest: soft."
        if enlarges > _SOFT_FROM
        else f"Nowhere enlarged: at the closest the stills are shown at {enlarges:.0%} of their size.",
        f"At its fastest the picture moves {speed:.2f} of its width a second"
        + (": that is quick, and judders." if speed > _FAST_FROM else "."),
    ]
    if held:
        many = "all frames" if held == frames else counted(held, "frame")
        said.append(f"In {many} it is held inside the still, which ends there.")
    return " ".join(said)
