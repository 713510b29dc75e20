"""Frozen data: what all decisions are made of, and the digest that names it."""

import hashlib
from fractions import Fraction
from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from yarnkite.core.base.geometry import Shape

SMALLEST_SIDE = 16
LARGEST_SIDE = 8192


class Frozen(BaseModel):
    """Immutable data with no unknown fields."""

    model_config = ConfigDict(frozen=True, extra="forbid")


def _even(side: int) -> int:
    if side % 2:
        raise ValueError(f"{side} is odd; a video's sides are even. {side - 1} and {side + 1} both work.")
    return side


Side = Annotated[int, Field(ge=SMALLEST_SIDE, le=LARGEST_SIDE), AfterValidator(_even)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False), AfterValidator(lambda share: round(share, 4))]
Fine = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False), AfterValidator(lambda share: round(share, 6))]


def even_side(side: Fraction | float) -> int:
    """Return the even whole number of pixels nearest to a side, at least 16."""
    return max(SMALLEST_SIDE, round(side / 2) * 2)


class Size(Frozen):
    """A picture's width and height in pixels."""

    width: Side
    height: Side

    def __str__(self) -> str:
        return f"{self.width} × {self.height}"

    @classmethod
    def as_wide(cls, width: float, shape: Shape) -> "Size":
        """Return the size about ``width`` pixels wide that has the shape of ``shape`` (width, height)."""
        return cls(width=even_side(width), height=even_side(shape[1] * width / shape[0]))


StillIds = tuple[Annotated[int, Field(ge=1)], ...]


def _sorted_ids(ids: tuple[int, ...]) -> tuple[int, ...]:
    return tuple(sorted(set(ids)))


ChosenIds = Annotated[StillIds, Field(max_length=100_000), AfterValidator(_sorted_ids)]


def rounded(places: int) -> AfterValidator:
    return AfterValidator(lambda value: round(value, places))


def digest(*parts: object) -> str:
    """Return 32 hex digits (BLAKE2b, 128 bit) of the parts in order, each set apart from the next."""
    state = hashlib.blake2b(digest_size=16)
    for part in parts:
        text = str(part).encode()
        state.update(f"{len(text)}:".encode() + text)
    return state.hexdigest()
