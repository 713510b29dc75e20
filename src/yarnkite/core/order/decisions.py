"""What is decided about the order of a shot's stills."""

from typing import Annotated, Literal

from pydantic import Field

from yarnkite.core.base.frozen import Frozen, StillIds

OrderBy = Literal["recommended", "counter", "time", "file time", "text", "hand"]


class Order(Frozen):
    """By what the stills are ordered; ``recommended`` is whatever fits the stills best.

    ``group`` is the group of digits in the names that counts, from 0, if a person picked it; ``hand`` is the order
    made by hand, as ids.
    """

    by: OrderBy = "recommended"
    group: Annotated[int, Field(ge=0, le=40)] | None = None
    hand: Annotated[StillIds, Field(max_length=100_000)] = ()
