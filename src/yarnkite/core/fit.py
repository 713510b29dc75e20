"""Fit: which part of a still is shown, and where in the frame it lands, in exact fractions."""

from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.recipe import Fit


@dataclass(frozen=True)
class Rect:
    """A rectangle in pixels, edges between pixels, y downwards."""

    left: Fraction
    top: Fraction
    width: Fraction
    height: Fraction

    @property
    def right(self) -> Fraction:
        return self.left + self.width

    @property
    def bottom(self) -> Fraction:
        return self.top + self.height

    def scaled(self, across: Fraction, down: Fraction) -> "Rect":
        """Return the same rectangle on a grid that is ``across`` and ``down`` times as fine."""
        return Rect(self.left * across, self.top * down, self.width * across, self.height * down)


@dataclass(frozen=True)
class Placement:
    """``source`` in pixels of the upright still is shown at ``target`` in pixels of the frame, without distortion."""

    source: Rect
    target: Rect

    @property
    def scale(self) -> Fraction:
        """Frame pixels per still pixel: above 1 the still is enlarged."""
        return self.target.width / self.source.width


@dataclass(frozen=True)
class Cost:
    """What a placement loses: shares 0…1 of the still cut off at each edge, and of the frame left empty."""

    left: float
    right: float
    top: float
    bottom: float
    empty: float
    scale: float


def place(still_width: int, still_height: int, fit: Fit) -> Placement:
    """Return where a still of the given upright size (pixels) goes in the frame of ``fit``.

    The target always has whole pixels, so edges stay crisp; the source gives up a sliver (less than one frame
    pixel's worth) where that is needed to keep the shapes equal.
    """
    target = _target(still_width, still_height, fit)
    source = _largest_within(Fraction(still_width), Fraction(still_height), target.width / target.height)
    left = (still_width - source[0]) * Fraction(str(fit.across))
    top = (still_height - source[1]) * Fraction(str(fit.down))
    return Placement(source=Rect(left, top, *source), target=target)


def cost(still_width: int, still_height: int, fit: Fit) -> Cost:
    """Say what a fit costs a still of the given upright size (pixels)."""
    placement = place(still_width, still_height, fit)
    source, target = placement.source, placement.target
    frame_area = fit.size.width * fit.size.height
    return Cost(
        left=float(source.left / still_width),
        right=float(1 - source.right / still_width),
        top=float(source.top / still_height),
        bottom=float(1 - source.bottom / still_height),
        empty=float(1 - target.width * target.height / frame_area),
        scale=float(placement.scale),
    )


def _target(still_width: int, still_height: int, fit: Fit) -> Rect:
    width, height = Fraction(fit.size.width), Fraction(fit.size.height)
    if fit.how == "cover":
        return Rect(Fraction(0), Fraction(0), width, height)
    inner_width, inner_height = _largest_within(width, height, Fraction(still_width, still_height))
    inner_width, inner_height = Fraction(max(1, int(inner_width))), Fraction(max(1, int(inner_height)))
    left = Fraction(round((width - inner_width) * Fraction(str(fit.across))))
    top = Fraction(round((height - inner_height) * Fraction(str(fit.down))))
    return Rect(left, top, inner_width, inner_height)


def _largest_within(width: Fraction, height: Fraction, shape: Fraction) -> tuple[Fraction, Fraction]:
    """Return the largest width and height of a given shape (width ÷ height) inside a rectangle."""
    if width / height > shape:
        return height * shape, height
    return width, width / shape
