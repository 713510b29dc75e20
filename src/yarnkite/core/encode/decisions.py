"""How frames become a file."""

from typing import Annotated, Literal

from pydantic import Field

from yarnkite.core.base.frozen import Frozen


class Encode(Frozen):
    """How frames become a file.

    ``crf`` is the constant rate factor of H.264, smaller is better and larger on disk; ``depth`` are its bits a sample.
    """

    crf: Annotated[int, Field(ge=10, le=35)] = 18
    preset: Literal["ultrafast", "fast", "medium", "slow"] = "medium"
    depth: Literal[8, 10] = 8
