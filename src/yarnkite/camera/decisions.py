"""What is decided about a capture before it begins."""

from datetime import datetime
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yarnkite.core.base.frozen import Frozen

MOST_STILLS = 1_000_000
# Why a beat has no still, or a late one.
Why = Literal["paused", "away", "failed", "late", "stopped"]


class Capture(Frozen):
    """A camera, an interval, how long, and when it starts; ``follow`` has the exposure go with the light.

    It ends after ``count`` stills, or with the last interval within ``span_s``, whichever is given, the first of both;
    with neither it goes on until it is stopped. ``starts_at`` is aware; without it, now. ``most_exposure`` is the share
    of the interval that an exposure may take.
    """

    camera: Annotated[str, Field(min_length=1, max_length=200)]
    interval_ms: Annotated[int, Field(ge=20, le=30 * 86_400_000)] = 5000
    count: Annotated[int | None, Field(ge=1, le=MOST_STILLS)] = None
    span_s: Annotated[float | None, Field(gt=0, le=20 * 366 * 86400, allow_inf_nan=False)] = None
    starts_at: datetime | None = None
    follow: bool = False
    most_exposure: Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)] = 0.5

    @model_validator(mode="after")
    def _start_is_a_moment(self) -> Self:
        if self.starts_at is not None and self.starts_at.tzinfo is None:
            raise ValueError("A start needs an offset from universal time.")
        return self

    @property
    def interval_s(self) -> float:
        """From one still to the next, in seconds."""
        return self.interval_ms / 1000

    @property
    def most_beats(self) -> int:
        """How many beats there are at most."""
        by_span = MOST_STILLS if self.span_s is None else int(self.span_s / self.interval_s) + 1
        return min(MOST_STILLS, by_span)
