"""Fit: which part of a still is shown, and where in the frame it lands."""

import math
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.geometry import Rect, Shape
from yarnkite.core.fit.decisions import Fit


@dataclass(frozen=True)
class Placement:
    """``source`` in pixels of the still is shown at ``target`` in pixels of the frame.

    The still is upright, turned by the fit's quarters, mirrored and straightened; ``source`` is turned about its
    centre by ``angle`` degrees against the clock. ``room`` is how far its centre may move, in pixels of the still.
    """

    source: Rect
    target: Rect
    angle: float = 0.0
    room: tuple[Fraction, Fraction] = (Fraction(0), Fraction(0))

    @property
    def scale(self) -> Fraction:
        """Frame pixels per still pixel along the side that is enlarged more: above 1 the still is enlarged."""
        return max(self.target.width / self.source.width, self.target.height / self.source.height)

    @cached_property
    def text(self) -> str:
        """All numbers of the placement that a picture depends on, exact, to be hashed."""
        source, target = self.source, self.target
        numbers = (
            *(source.left, source.top, source.width, source.height),
            *(target.left, target.top, target.width, target.height),
            round(self.angle, 6),
        )
        return " ".join(map(str, numbers))

    @property
    def stretched(self) -> Fraction:
        """How much wider than it was the picture is shown: 1 is without distortion."""
        return (self.target.width / self.source.width) / (self.target.height / self.source.height)


@dataclass(frozen=True)
class Cost:
    """What a placement loses: shares 0…1 of the still cut off at each edge, and of the frame left empty.

    ``scale`` is frame pixels per still pixel, ``stretched`` how much wider than it was the picture is shown, and
    ``push_in`` how many times closer a move can still go without enlarging (1 where there is no room).
    """

    left: float
    right: float
    top: float
    bottom: float
    empty: float
    scale: float
    stretched: float = 1.0
    push_in: float = 1.0


def turned_shape(width: int, height: int, fit: Fit) -> Shape:
    """Return the width and height of an upright still after the fit's quarter turns."""
    return (height, width) if fit.quarters % 2 else (width, height)


def placement_of(still_width: int, still_height: int, fit: Fit, usual: Shape | None = None) -> Placement:
    """Return where a still of the given upright size (pixels) goes in the frame of ``fit``.

    The target always has whole pixels, so edges stay crisp; the source gives up a sliver (less than one frame
    pixel's worth) where that is needed to keep the shapes equal. A levelled picture never shows an empty corner.
    ``usual`` is the size most stills of the shot have: one of another size shows the same field of view if it can.
    """
    width, height = turned_shape(still_width, still_height, fit)
    if usual is not None and usual != (still_width, still_height):
        same = _same_view(width, height, turned_shape(*usual, fit), fit)
        if same is not None:
            return same
    return _placed(width, height, fit)


def shows_the_same_view(still: Shape, fit: Fit, usual: Shape) -> bool:
    """Tell whether a still of another size can be shown with the field of view of the usual ones."""
    return still == usual or _same_view(*turned_shape(*still, fit), turned_shape(*usual, fit), fit) is not None


def cost(still_width: int, still_height: int, fit: Fit, placed: Placement | None = None) -> Cost:
    """Say what a fit costs a still of the given upright size (pixels), or what it does where it lies otherwise."""
    placement = placed or placement_of(still_width, still_height, fit)
    width, height = turned_shape(still_width, still_height, fit)
    source, target = placement.source, placement.target
    frame_area = fit.size.width * fit.size.height
    # At a levelled edge the loss is that at its middle.
    _, reach_down = _turned(0.0, float(source.height / 2), placement.angle)
    side_across, _ = _turned(float(source.width / 2), 0.0, placement.angle)
    across, down = (float(one) for one in source.centre)
    exact = placement.angle == 0
    return Cost(
        left=float(source.left / width) if exact else (across - side_across) / width,
        right=float(1 - source.right / width) if exact else 1 - (across + side_across) / width,
        top=float(source.top / height) if exact else (down - reach_down) / height,
        bottom=float(1 - source.bottom / height) if exact else 1 - (down + reach_down) / height,
        empty=float(1 - target.width * target.height / frame_area),
        scale=float(placement.scale),
        stretched=float(placement.stretched),
        push_in=max(1.0, float(1 / placement.scale)),
    )


def frame_points(across: Floats, down: Floats, still: Shape, fit: Fit) -> tuple[Floats, Floats]:
    """Return where points of an upright still lie in the part that is shown; what the lens bent is left as it is.

    Parameters
    ----------
    across, down : shares 0 … 1 of the still, of one shape
    still : its upright size in pixels
    fit : what of it is shown

    Returns
    -------
    shares of the part, -1/2 … 1/2 each way, across and down, shape as ``across``; beyond that they lie outside
    """
    for _ in range(fit.quarters):
        across, down = 1 - down, across
    if fit.mirror:
        across = 1 - across
    width, height = turned_shape(*still, fit)
    source = placement_of(*still, fit).source
    right, below = (float(one) for one in source.centre)
    x, y = across * width - right, down * height - below
    sine, cosine = math.sin(math.radians(fit.level)), math.cos(math.radians(fit.level))
    return (x * cosine - y * sine) / float(source.width), (x * sine + y * cosine) / float(source.height)


def corners(placement: Placement) -> tuple[tuple[float, float], ...]:
    """Return the corners of what is shown, clockwise from the top left, in pixels of the turned still."""
    across, down = (float(one) for one in placement.source.centre)
    half_width, half_height = float(placement.source.width / 2), float(placement.source.height / 2)
    found = []
    for side, level in ((-1, -1), (1, -1), (1, 1), (-1, 1)):
        right, below = _turned(side * half_width, level * half_height, placement.angle)
        found.append((across + right, down + below))
    return tuple(found)


def level_along(line: tuple[float, float, float, float], fit: Fit) -> float:
    """Return the level that makes a line drawn on the frame (x, y of its ends, in pixels) lie flat or stand upright."""
    left, top, right, bottom = line
    slope = math.degrees(math.atan2(bottom - top, right - left))
    off = (slope + 45) % 90 - 45
    return max(-45.0, min(45.0, round(fit.level - off, 2)))


def _placed(width: int, height: int, fit: Fit) -> Placement:
    whole = Fraction(width), Fraction(height)
    frame = Fraction(fit.size.width), Fraction(fit.size.height)
    zoom = Fraction(str(fit.zoom))
    if fit.how == "contain":
        shown = _largest_within(*whole, whole[0] / whole[1], fit.level)
        fitted = _largest_within(*frame, whole[0] / whole[1], 0.0)
        target = tuple(
            min(side, Fraction(max(1, int(inner * zoom)))) for side, inner in zip(frame, fitted, strict=True)
        )
        # What sticks out of the frame is cut off; of what does not, a sliver makes the shapes equal.
        reach = min(shown[0] / fitted[0], shown[1] / fitted[1]) / zoom
        source = min(shown[0], target[0] * reach), min(shown[1], target[1] * reach)
        source = _largest_within(*source, target[0] / target[1], 0.0)
    else:
        shape = frame[0] / frame[1] if fit.how == "cover" else whole[0] / whole[1]
        largest = _largest_within(*whole, shape, fit.level)
        closer = max(Fraction(1), zoom)
        source, target = (largest[0] / closer, largest[1] / closer), frame
    room = _room(whole, source, fit.level)
    share = Fraction(str(fit.x)), Fraction(str(fit.y))
    left, top = (
        (side - inner) / 2 + free * (part - Fraction(1, 2))
        for side, inner, free, part in zip(whole, source, room, share, strict=True)
    )
    at = (round((side - inner) * part) for side, inner, part in zip(frame, target, share, strict=True))
    return Placement(
        source=Rect(left, top, *source), target=Rect(*map(Fraction, at), *target), angle=fit.level, room=room
    )


def _same_view(width: int, height: int, usual: Shape, fit: Fit) -> Placement | None:
    """Place a still as if it were cut from the middle of a usual one, or return ``None`` if that leaves a part
    empty."""
    if (width > height) != (usual[0] > usual[1]):
        return None
    wanted = _placed(*usual, fit)
    ratios = Fraction(usual[0], width), Fraction(usual[1], height)
    # A camera that cuts another shape from its sensor keeps one side; a reduced copy changes both alike.
    per_pixel = Fraction(1) if 1 in ratios else min(ratios)
    across, down = wanted.source.centre
    source = wanted.source.around(
        (across - Fraction(usual[0], 2)) / per_pixel + Fraction(width, 2),
        (down - Fraction(usual[1], 2)) / per_pixel + Fraction(height, 2),
        1 / per_pixel,
    )
    reach = _extent(source.width, source.height, wanted.angle)
    across, down = source.centre
    inside = reach[0] / 2 <= min(across, width - across) and reach[1] / 2 <= min(down, height - down)
    room = wanted.room[0] / per_pixel, wanted.room[1] / per_pixel
    return Placement(source, wanted.target, wanted.angle, room) if inside else None


def _largest_within(width: Fraction, height: Fraction, shape: Fraction, angle: float) -> tuple[Fraction, Fraction]:
    """Return the largest width and height of a given shape (width ÷ height), turned by ``angle``, in a rectangle."""
    if angle == 0:
        return (height * shape, height) if width / height > shape else (width, width / shape)
    across, down = _extent(shape, Fraction(1), angle)
    tall = min(width / across, height / down)
    return tall * shape, tall


def _room(
    whole: tuple[Fraction, Fraction], inner: tuple[Fraction, Fraction], angle: float
) -> tuple[Fraction, Fraction]:
    across, down = _extent(*inner, angle)
    return max(Fraction(0), whole[0] - across), max(Fraction(0), whole[1] - down)


def _extent(width: Fraction, height: Fraction, angle: float) -> tuple[Fraction, Fraction]:
    """Return how wide and high a rectangle is once it is turned, rounded up a little."""
    if angle == 0:
        return width, height
    sine, cosine = (Fraction(abs(one)) for one in (math.sin(math.radians(angle)), math.cos(math.radians(angle))))
    return width * cosine + height * sine, width * sine + height * cosine


def _turned(across: float, down: float, angle: float) -> tuple[float, float]:
    """Turn a point of the frame about its middle into the still's axes."""
    sine, cosine = math.sin(math.radians(angle)), math.cos(math.radians(angle))
    return across * cosine + down * sine, -across * sine + down * cosine
