"""Travel: the course of the view over the clip, where that lies in each frame, and the usual ways to begin with."""

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.geometry import Rect, Shape
from yarnkite.core.base.monotone import monotone
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import Placement, corners, placement_of, turned_shape
from yarnkite.core.move.decisions import ModelLook, Move, ViewAt
from yarnkite.core.move.model_look import Band

Usual = Literal["push in", "pull out", "drift left", "drift right", "rise", "sink", "turn"]

# Positions are exact to so many parts of a pixel of the still, so that nothing trembles and marks stay short.
_PARTS = 1 << 12
_TURN_DEG = 3.0

Sides = tuple[float, float, float, float]
WHOLE: Sides = (0.0, 0.0, 1.0, 1.0)


@dataclass(frozen=True)
class Course:
    """The view in each frame: its middle in shares of the turned still, its closeness and its level, shape
    (frames,)."""

    x: Floats
    y: Floats
    closeness: Floats
    level_deg: Floats

    def __len__(self) -> int:
        return len(self.x)


def course_of(move: Move, frames: int) -> Course:
    """Return where the view is in each frame of a clip.

    Middle and level go by monotone cubics, closeness by one of its logarithm, so that it grows evenly to the eye.
    """
    at = np.linspace(0, 1, frames) if frames > 1 else np.zeros(frames)
    places = [one.at for one in move.views]
    soft = move.ends == "soft"

    def through(values: list[float]) -> Floats:
        return monotone(places, values, at, level_ends=soft)

    return Course(
        through([one.x for one in move.views]),
        through([one.y for one in move.views]),
        np.exp(through([math.log(one.closeness) for one in move.views])),
        through([one.level_deg for one in move.views]),
    )


def band_at(model: ModelLook, at: float) -> Band | None:
    """Return what stays sharp at a time of the clip, 0 … 1, or ``None`` where nothing is made to look like a model."""
    if not model.strength:
        return None
    places, when = [one.at for one in model.bands], np.array([at])

    def through(name: str) -> float:
        return round(float(monotone(places, [getattr(one, name) for one in model.bands], when)[0]), 5)

    x, y, angle, width, softness = (through(name) for name in ("x", "y", "angle_deg", "width", "softness"))
    return Band(x, y, angle, width, softness, model.strength)


def placed(
    base: Placement,
    still: Shape,
    x: float,
    y: float,
    closeness: float,
    level_deg: float,
    *,
    region: Sides = WHOLE,
) -> tuple[Placement, bool]:
    """Return where a still lies for a view, and whether the view had to be held inside the still, or a region of it.

    Parameters
    ----------
    base : where the fit has it
    still : its width and height as the fit turns it, in pixels
    x, y : the wanted middle of the view, in shares of the turned still
    closeness : 1 or more
    level_deg : turned besides the fit's own level, with the clock
    region : left, top, right and bottom, in shares of the turned still
    """
    left, top, right, bottom = (side * edge for side, edge in zip((*still, *still), region, strict=True))
    width, height = still
    angle = base.angle + level_deg
    inverse = Fraction(round(_PARTS * _PARTS / closeness), _PARTS * _PARTS)
    wide, high = base.source.width * inverse, base.source.height * inverse
    across, down = _extent(float(wide), float(high), angle)
    # Turned it may not fit any more: then it is as close as it must be.
    least = max(across / (right - left), down / (bottom - top), 1.0)
    if least > 1:
        smaller = Fraction(math.floor(_PARTS * _PARTS / least), _PARTS * _PARTS)
        wide, high = wide * smaller, high * smaller
        across, down = across * float(smaller), down * float(smaller)
    middle_x, held_x = _held(x * width, across, left, right)
    middle_y, held_y = _held(y * height, down, top, bottom)
    source = Rect(middle_x - wide / 2, middle_y - high / 2, wide, high)
    return Placement(source, base.target, angle, base.room), held_x or held_y or least > 1.0001


def confined(base: Placement, still: Shape, region: Sides | None) -> Placement:
    """Return where a still lies by its fit, as much closer as it takes to stay inside a region of it; see
    ``placed``."""
    if region is None:
        return base
    x, y = (float(one) for one in base.source.centre)
    return placed(base, still, x / still[0], y / still[1], 1.0, 0.0, region=region)[0]


def _held(middle: float, extent: float, begin: float, end: float) -> tuple[Fraction, bool]:
    """Return the middle nearest to the wanted one that leaves the view inside, and whether that is another."""
    low, high, centre = begin + extent / 2, end - extent / 2, (begin + end) / 2
    if low >= high:
        exact = (Fraction(begin) + Fraction(end)) / 2
        return exact, low > high + 0.5 or abs(middle - centre) > 0.5
    within = min(max(middle, low), high)
    # Rounded towards the middle, so that rounding never leads outside.
    parts = within * _PARTS
    rounded = math.floor(parts) if within > centre else math.ceil(parts)
    return Fraction(rounded, _PARTS), abs(within - middle) > 0.5


def _extent(width: float, height: float, angle: float) -> tuple[float, float]:
    sine, cosine = abs(math.sin(math.radians(angle))), abs(math.cos(math.radians(angle)))
    return width * cosine + height * sine, width * sine + height * cosine


def usual_move(name: Usual, amount: float, fit: Fit, still: Shape) -> Move:
    """Return one of the usual ways, for a still of an upright size in pixels.

    ``amount``, 0 … 1, is how much closer it comes or how much of the view's own width it drifts; a drift goes as far as
    there is room, and comes closer for what the fit leaves too little of.
    """
    width, height = turned_shape(*still, fit)
    source = placement_of(*still, fit).source
    x, y = float(source.centre[0] / width), float(source.centre[1] / height)
    first, last = _ends(name, amount, (x, y), (float(source.width / width), float(source.height / height)))
    return Move(views=(first, last))


def _ends(name: Usual, amount: float, middle: tuple[float, float], sides: tuple[float, float]) -> tuple[ViewAt, ViewAt]:
    x, y = middle
    near = 1 + amount
    match name:
        case "push in":
            return ViewAt(at=0, x=x, y=y), ViewAt(at=1, x=x, y=y, closeness=near)
        case "pull out":
            return ViewAt(at=0, x=x, y=y, closeness=near), ViewAt(at=1, x=x, y=y)
        case "turn":
            turn = _TURN_DEG * amount
            return (
                ViewAt(at=0, x=x, y=y, level_deg=-turn, closeness=near),
                ViewAt(at=1, x=x, y=y, level_deg=turn, closeness=near),
            )
        case "drift left" | "drift right":
            wide = sides[0]
            closeness = max(1.0, wide * (1 + amount))
            reach = min(amount * wide / closeness, 1 - wide / closeness) / 2
            low, high = ((x, y) for x in _around(x, reach, wide / closeness))
        case "rise" | "sink":
            high_side = sides[1]
            closeness = max(1.0, high_side * (1 + amount))
            reach = min(amount * high_side / closeness, 1 - high_side / closeness) / 2
            low, high = ((x, y) for y in _around(y, reach, high_side / closeness))
    # A view that rises begins below.
    first, last = (high, low) if name in ("drift left", "rise") else (low, high)
    return (
        ViewAt(at=0, x=first[0], y=first[1], closeness=closeness),
        ViewAt(at=1, x=last[0], y=last[1], closeness=closeness),
    )


def _around(middle: float, reach: float, side: float) -> tuple[float, float]:
    """Return the ends of a way about a middle, moved so far that a view of a side stays inside 0 … 1."""
    within = min(max(middle, side / 2 + reach), 1 - side / 2 - reach)
    return within - reach, within + reach


def fastest(placements: list[Placement], frames_per_second: float) -> float:
    """Return how fast the picture moves at its fastest, in widths of the frame a second: the corner that moves most."""
    if len(placements) < 2:
        return 0.0
    points = np.array([corners(one) for one in placements])
    widths = np.array([float(one.source.width) for one in placements])
    steps = np.hypot(*np.moveaxis(np.diff(points, axis=0), -1, 0)).max(axis=1) / widths[1:]
    return float(steps.max() * frames_per_second)
