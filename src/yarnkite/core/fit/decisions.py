"""How a still's shape becomes the video's."""

from typing import Annotated, Literal

from pydantic import Field

from yarnkite.core.base.frozen import Frozen, Share, Size, rounded
from yarnkite.core.image.lens import Lens

Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


class Surround(Frozen):
    """What fills the rest when a still does not cover: a colour (sRGB), or the same still enlarged and blurred."""

    kind: Literal["colour", "blurred"] = "colour"
    colour: Colour = "#000000"


class Fit(Frozen):
    """How a still's shape becomes the video's.

    ``x`` and ``y`` say which part is kept (0 left/top … 1); ``zoom`` how much closer than ``how`` asks for;
    ``level`` turns the picture clockwise, in degrees, after ``quarters`` clockwise quarter turns and ``mirror``, which
    swaps left and right. ``linear`` averages light instead of code values, which keeps small bright points bright.
    """

    size: Size = Size(width=1920, height=1080)
    how: Literal["cover", "contain", "stretch"] = "cover"
    x: Share = 0.5
    y: Share = 0.5
    zoom: Annotated[float, Field(ge=0.1, le=20, allow_inf_nan=False), rounded(4)] = 1.0
    level: Annotated[float, Field(ge=-45, le=45, allow_inf_nan=False), rounded(2)] = 0.0
    quarters: Annotated[int, Field(ge=0, le=3)] = 0
    mirror: bool = False
    surround: Surround = Surround()
    lens: Lens = Lens()
    sharpen: Literal["none", "screen", "strong"] = "none"
    linear: bool = False
