"""What checking decided about single stills."""

from typing import Annotated, Literal

from pydantic import AliasChoices, Field

from yarnkite.core.base.frozen import ChosenIds, Frozen
from yarnkite.core.image.dust import MOST_SPOTS, DustSpot

How = Literal["blend", "motion"]


class Fill(Frozen):
    """Missing stills put in after a still, by id."""

    after: Annotated[int, Field(ge=1)]
    count: Annotated[int, Field(ge=1, le=100)]


class Note(Frozen):
    """A person's note about a still, by id."""

    still: Annotated[int, Field(ge=1)]
    text: Annotated[str, Field(max_length=500)]


class Rated(Frozen):
    """How good a person finds a still, by id: 1 to 5, 0 for not rated, -1 for rejected, as in XMP (ISO 16684-1)."""

    still: Annotated[int, Field(ge=1)]
    rating: Annotated[int, Field(ge=-1, le=5)]


class Check(Frozen):
    """What checking decided about stills, by id; all files stay as they are.

    ``aside`` are left out; ``bridged`` are shown as what lies between the sound stills beside them, in the way ``how``
    says; for ``repeated`` ones the still before is shown again; ``filled`` puts missing ones in. ``begin`` and ``end``
    are the first and last still of the stretch that is used. ``dismissed`` are findings that are not to be mentioned
    again. ``dust`` are spots on the sensor whose light is given back; ``rated`` counts more than what files and
    sidecars say.
    """

    aside: ChosenIds = ()
    bridged: ChosenIds = ()
    repeated: Annotated[ChosenIds, Field(validation_alias=AliasChoices("repeated", "held"))] = ()
    filled: Annotated[tuple[Fill, ...], Field(max_length=1000)] = ()
    how: How = "blend"
    begin: Annotated[int, Field(ge=1)] | None = None
    end: Annotated[int, Field(ge=1)] | None = None
    dismissed: Annotated[tuple[Annotated[str, Field(max_length=100)], ...], Field(max_length=10_000)] = ()
    notes: Annotated[tuple[Note, ...], Field(max_length=10_000)] = ()
    dust: Annotated[tuple[DustSpot, ...], Field(max_length=MOST_SPOTS)] = ()
    rated: Annotated[tuple[Rated, ...], Field(max_length=100_000)] = ()

    def changed(self, **changes: object) -> "Check":
        """Return what is decided once some of it is changed, checked and in order like any other."""
        return Check.model_validate(self.model_dump() | changes)
