"""Rectangles and shapes, exact."""

from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Protocol

Shape = tuple[int, int]


class HasShape(Protocol):
    """What has an upright width and height in pixels."""

    @property
    def width(self) -> int: ...

    @property
    def height(self) -> int: ...


def count_shapes(pictures: Iterable[HasShape]) -> Counter[Shape]:
    """Count how many pictures there are of each upright shape."""
    return Counter((picture.width, picture.height) for picture in pictures)


def usual_shape(counts: Mapping[Shape, int]) -> Shape | None:
    """Return the shape that most have, the first of those that are as many, or ``None`` for none at all."""
    return max(counts, key=lambda shape: counts[shape], default=None)


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

    @property
    def centre(self) -> tuple[Fraction, Fraction]:
        return self.left + self.width / 2, self.top + self.height / 2

    def scaled(self, across: Fraction, down: Fraction) -> "Rect":
        """Return the same rectangle on a grid that is ``across`` and ``down`` times as fine."""
        return Rect(self.left * across, self.top * down, self.width * across, self.height * down)

    def around(self, across: Fraction, down: Fraction, scale: Fraction) -> "Rect":
        """Return a rectangle ``scale`` times as large around another centre."""
        width, height = self.width * scale, self.height * scale
        return Rect(across - width / 2, down - height / 2, width, height)
