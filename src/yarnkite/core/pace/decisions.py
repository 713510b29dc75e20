"""Which still each frame shows, and for how long."""

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from yarnkite.core.base.frozen import Frozen, Share, rounded
from yarnkite.core.base.rate import Rate, parse_rate

MOST_SKIPPED = 1000


class Thin(Frozen):
    """Which of the stills are used: all, every k-th, so many used and so many left in turn, ``count`` evenly, or those
    that were picked, one of every ``every``.
    """

    way: Literal["all", "every", "leave", "even", "picked"] = "all"
    every: Annotated[int, Field(ge=2, le=MOST_SKIPPED)] = 2
    use: Annotated[int, Field(ge=1, le=1000)] = 1
    leave: Annotated[int, Field(ge=1, le=1000)] = 1
    count: Annotated[int, Field(ge=1, le=100_000)] = 100


class Longer(Frozen):
    """A still that stays longer: by id in a shot's decisions, by its place (from 0) in a recipe."""

    still: Annotated[int, Field(ge=0)]
    frames: Annotated[int, Field(ge=1, le=100_000)]


class Knot(Frozen):
    """A point of the speed curve: how many times as fast, at a share of the way through the shot."""

    at: Share
    speed: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False), rounded(3)]


def _in_order(knots: tuple[Knot, ...]) -> tuple[Knot, ...]:
    return tuple(sorted({knot.at: knot for knot in knots}.values(), key=lambda knot: knot.at))


class Pace(Frozen):
    """Which still each frame shows, and for how long.

    ``rate`` is how many frames are shown a second; each is written ``repeat`` times, so that a low rate becomes a
    standard one. ``hold`` is how many frames a still stays, ``last`` and ``longer`` are for single ones. ``blend``
    says what is shown between stills, ``shutter`` (degrees) over how much of a frame's time stills are averaged.
    ``curve`` is the speed over the shot, ``by_clock`` spends on each still what the clock spent. ``picked`` are the
    stills that were picked: by id in a shot's decisions, by their slots in a recipe.
    """

    rate: Rate = parse_rate("25")
    repeat: Annotated[int, Field(ge=1, le=10)] = 1
    hold: Annotated[int, Field(ge=1, le=1000)] = 1
    last: Annotated[int, Field(ge=1, le=100_000)] | None = None
    longer: Annotated[tuple[Longer, ...], Field(max_length=1000)] = ()
    thin: Thin = Thin()
    picked: Annotated[tuple[Annotated[int, Field(ge=0)], ...], Field(max_length=100_000)] = ()
    direction: Literal["on", "back", "there and back"] = "on"
    blend: Literal["none", "neighbours", "shutter", "motion"] = "none"
    shutter: Annotated[int, Field(ge=10, le=360)] = 180
    curve: Annotated[tuple[Knot, ...], Field(max_length=40), AfterValidator(_in_order)] = ()
    by_clock: bool = False

    @property
    def written_rate(self) -> Fraction:
        """Frames per second of the file."""
        return self.rate * self.repeat
