"""What requests of several routers say."""

from typing import Annotated

from fastapi import Query, Request
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, Field, ValidationError

from yarnkite.core.base.errors import Refusal
from yarnkite.core.order.renaming import PatternPart
from yarnkite.core.reel.decisions import Reel
from yarnkite.services.decisions import Change


class Seen(BaseModel):
    """The number of the revision the person was looking at."""

    seen: int


class Chosen(Seen):
    """Stills by id, and the revision the person saw."""

    stills: Annotated[list[int], Field(max_length=100_000)]


class InLocation(BaseModel):
    """A folder or file in a location, by its path from there."""

    location: str
    path: Annotated[str, Field(max_length=4096)]


class NewFolder(InLocation):
    """A folder, new or empty, below ``path`` in a location."""

    folder: Annotated[str, Field(min_length=1, max_length=200)]


ChangeText = Annotated[str, Query(max_length=60_000)]
Share = Annotated[float, Query(ge=0, le=1)]
Position = Annotated[int, Query(ge=0)]
LastPosition = Annotated[int | None, Query(ge=0)]
FileName = Annotated[str, Query(min_length=1, max_length=255)]


async def received(request: Request, most: int, code: str, sentence: str) -> bytes:
    """Return a file that is sent as it is; raises ``Refusal`` with a code and a sentence beyond ``most`` bytes."""
    pieces, size = [], 0
    async for piece in request.stream():
        pieces.append(piece)
        size += len(piece)
        if size > most:
            raise Refusal(code, sentence)
    return b"".join(pieces)


def read_change(text: str) -> Change:
    """Read decisions that are being tried, as JSON in an address; raises ``RequestValidationError``."""
    try:
        return Change.model_validate_json(text)
    except ValidationError as error:
        raise RequestValidationError(error.errors()) from None


TriedText = Annotated[
    str, Query(max_length=120_000, description="Decisions about a reel that are being tried, as JSON.")
]


def read_tried(text: str) -> Reel | None:
    """Read decisions that are being tried, as JSON in an address; raises ``RequestValidationError``."""
    if not text:
        return None
    try:
        return Reel.model_validate_json(text)
    except ValidationError as error:
        raise RequestValidationError(error.errors()) from None


class PatternBody(BaseModel):
    """A pattern of names; ``aside`` includes the stills that are set aside, without it they keep their names."""

    parts: Annotated[list[PatternPart], Field(max_length=20)]
    aside: bool = True
