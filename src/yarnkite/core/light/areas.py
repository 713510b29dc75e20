"""Areas: parts of the picture that get a grade of their own; they lie in the still, so they stay on what they cover."""

from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, StringConstraints

from yarnkite.core.base.frozen import Frozen, Share, rounded
from yarnkite.core.light.grade import Degrees, Grade
from yarnkite.core.light.settings import Adjustable

MOST_AREAS, MOST_PARTS, MOST_STROKES = 12, 12, 200
# All strokes of a shot together; they go along in addresses while something is tried.
MOST_STROKE_TEXT = 24_000
# Points of strokes are written with two characters a coordinate, from half a picture before it to half beyond.
_ALPHABET = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_"
_FROM, _TO, _STEPS = -0.5, 1.5, 4095
_SLACK = 0.0012

Place = Annotated[float, Field(ge=-3, le=4, allow_inf_nan=False), rounded(4)]
Reach = Annotated[float, Field(ge=0.002, le=4, allow_inf_nan=False), rounded(4)]
Points = NDArray[np.float64]


class Gradient(Frozen):
    """All of it at the first end and beyond, nothing at the other: a straight way between, in shares of the still."""

    kind: Literal["gradient"] = "gradient"
    x: Place
    y: Place
    to_x: Place
    to_y: Place


class Ellipse(Frozen):
    """An ellipse around (x, y); radii are shares of the still's width and height, ``angle_deg`` turns it with the
    clock.

    ``softness`` is how far in from its edge it thins out, 1 as far as its middle.
    """

    kind: Literal["ellipse"] = "ellipse"
    x: Place
    y: Place
    x_radius: Reach
    y_radius: Reach
    angle_deg: Annotated[float, Field(ge=-180, le=180, allow_inf_nan=False), rounded(1)] = 0.0
    softness: Share = 0.4


class Stroke(Frozen):
    """A stroke of the brush: its points (``stroke_text``), its width as a share of the still's, and how soft it is."""

    points: Annotated[str, StringConstraints(pattern=r"^([A-Za-z0-9_-]{4})+$", max_length=8000)]
    width: Annotated[float, Field(ge=0.002, le=1, allow_inf_nan=False), rounded(4)]
    softness: Share = 0.5
    erases: bool = False


class Brush(Frozen):
    """What was painted over, stroke by stroke."""

    kind: Literal["brush"] = "brush"
    strokes: Annotated[tuple[Stroke, ...], Field(max_length=MOST_STROKES)] = ()


class Everything(Frozen):
    """The whole picture, for an area that its limits alone make."""

    kind: Literal["everything"] = "everything"


Shape = Annotated[Gradient | Ellipse | Brush | Everything, Field(discriminator="kind")]


class Part(Frozen):
    """A shape that is added to an area, or taken away from what was there before."""

    shape: Shape
    takes_away: bool = False


class HueLimit(Frozen):
    """Only colours around a hue, in degrees of Oklab, within ``width`` degrees on either side."""

    hue: Degrees
    width: Annotated[float, Field(ge=5, le=180, allow_inf_nan=False), rounded(1)] = 40.0


class Mask(Frozen):
    """Where an area is: its parts in order, turned round if ``inverted``, within its limits.

    ``darkest`` and ``brightest`` limit it by code value 0 … 1.
    """

    parts: Annotated[tuple[Part, ...], Field(min_length=1, max_length=MOST_PARTS)]
    inverted: bool = False
    darkest: Share = 0.0
    brightest: Share = 1.0
    hue: HueLimit | None = None

    @property
    def has_limits(self) -> bool:
        """Whether the picture itself says where it is, too."""
        return self.darkest > 0 or self.brightest < 1 or self.hue is not None


class Area(Adjustable):
    """A part of the picture with a name, and what is decided about it alone."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
    mask: Mask
    grade: Grade = Grade()
    is_on: bool = True

    @property
    def changes_nothing(self) -> bool:
        """Whether the light is as it would be without it."""
        return not self.is_on or self.grade.changes_nothing


def check_strokes(areas: tuple[Area, ...]) -> None:
    """Raise ``ValueError`` if more was painted than a shot keeps."""
    strokes = (
        stroke
        for area in areas
        for part in area.mask.parts
        if isinstance(part.shape, Brush)
        for stroke in part.shape.strokes
    )
    if sum(len(stroke.points) for stroke in strokes) > MOST_STROKE_TEXT:
        raise ValueError("more was painted than a shot keeps. Paint with fewer or wider strokes, or use an ellipse.")


def stroke_text(points: Points) -> str:
    """Return the text of a stroke's points; those that change nothing are left out (Douglas and Peucker 1973).

    Parameters
    ----------
    points : shares of the still, shape (n, 2), n at least 1; what lies more than half a picture outside is its edge
    """
    near = np.clip(np.asarray(points, float), _FROM, _TO)
    steps = np.rint((near[_needed(near)] - _FROM) / (_TO - _FROM) * _STEPS).astype(int).reshape(-1)
    return "".join(_ALPHABET[step >> 6] + _ALPHABET[step & 63] for step in steps)


def _needed(points: Points) -> list[int]:
    """Return which points are needed for all others to lie near the lines between them."""
    needed = {0, len(points) - 1}
    stretches = [(0, len(points) - 1)]
    while stretches:
        first, last = stretches.pop()
        if last - first < 2:
            continue
        begin, along = points[first], points[last] - points[first]
        between = points[first + 1 : last] - begin
        share = np.clip(between @ along / max(float(along @ along), 1e-12), 0, 1)
        off = np.hypot(*(between - share[:, None] * along).T)
        furthest = int(np.argmax(off))
        if off[furthest] > _SLACK:
            middle = first + 1 + furthest
            needed.add(middle)
            stretches += [(first, middle), (middle, last)]
    return sorted(needed)


def stroke_points(text: str) -> Points:
    """Return the points of a stroke's text, in shares of the still, shape (n, 2)."""
    digits = np.array([_ALPHABET.index(character) for character in text]).reshape(-1, 2)
    return np.asarray((digits[:, 0] * 64 + digits[:, 1]).reshape(-1, 2) / _STEPS * (_TO - _FROM) + _FROM)
