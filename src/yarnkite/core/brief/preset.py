"""Presets: size, rate, hold and format under a name, with light and steadying on wish, to be used again and exchanged
as JSON."""

from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, ValidationError

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Frozen, Size
from yarnkite.core.base.rate import Rate
from yarnkite.core.brief.treatment import carried_steady
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.purposes import saying_as
from yarnkite.core.light.looks import PARTS, Look
from yarnkite.core.move.decisions import Steady
from yarnkite.core.render.decisions import Decisions

MOST_PRESETS = 500
PresetName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]


class Preset(Frozen):
    """What a preset decides; everything else about a shot stays.

    ``light`` and ``steady`` are ``None`` where it says nothing about them. An anchored point is of one shot only, so
    that no preset has one.
    """

    name: PresetName
    size: Size
    rate: Rate
    repeat: Annotated[int, Field(ge=1, le=10)] = 1
    hold: Annotated[int, Field(ge=1, le=1000)] = 1
    encode: Encode = Encode()
    light: Look | None = None
    steady: Steady | None = None

    @property
    def written_rate(self) -> Fraction:
        """Frames a second in the file: each is written as often as it is repeated."""
        return self.rate * self.repeat

    @classmethod
    def of(
        cls,
        name: str,
        decisions: Decisions,
        stills: Sequence[int] = (),
        *,
        light: bool = False,
        steadying: bool = False,
    ) -> "Preset":
        """Return the preset that would decide the same about a shot, with its ``stills`` by id in order."""
        pace, steady = decisions.pace, carried_steady(decisions.move.steady, Steady())
        return cls(
            name=name,
            size=decisions.fit.size,
            rate=pace.rate,
            repeat=pace.repeat,
            hold=pace.hold,
            encode=decisions.encode,
            light=Look.of(name, PARTS, decisions.light, stills) if light else None,
            steady=steady if steadying else None,
        )

    def applied(self, decisions: Decisions, stills: Sequence[int] = ()) -> Decisions:
        """Return decisions about a shot, its ``stills`` by id in order, with those of the preset in their place."""
        light, move = decisions.light, decisions.move
        if self.steady is not None:
            move = move.model_copy(update={"steady": carried_steady(self.steady, move.steady)})
        return decisions.model_copy(
            update={
                "fit": decisions.fit.model_copy(update={"size": self.size}),
                "pace": decisions.pace.model_copy(update={"rate": self.rate, "repeat": self.repeat, "hold": self.hold}),
                "encode": self.encode,
                "light": light if self.light is None else self.light.applied(light, stills),
                "move": move,
            }
        )

    def has_format_of(self, encode: Encode) -> bool:
        """Tell whether a clip is written as a preset has it; what is said in its file is its own."""
        return saying_as(self.encode, encode) == encode


def nearly_like(presets: Iterable[Preset], encode: Encode, size: Size, rate: Fraction) -> list[Preset]:
    """Return the presets that a clip is like but for its size alone, or its rate alone; none if it is just like one."""
    alike = [one for one in presets if one.has_format_of(encode)]
    same = [(one.size == size, one.written_rate == rate) for one in alike]
    if any(all(both) for both in same):
        return []
    return [one for one, both in zip(alike, same, strict=True) if any(both)]


class PresetFile(Frozen):
    """A file of presets."""

    kind: Literal["yarn-kite presets"] = "yarn-kite presets"
    edition: Literal[1, 2] = 2
    presets: Annotated[tuple[Preset, ...], Field(max_length=MOST_PRESETS)]


def read_presets(text: str) -> tuple[Preset, ...]:
    """Read a file of presets; raises ``Refusal`` (``not_presets``) that says what is wrong with it."""
    try:
        return PresetFile.model_validate_json(text).presets
    except ValidationError as error:
        first = error.errors()[0]
        if first["loc"] == ("edition",):
            raise Refusal(
                "not_presets",
                "This is not a file of presets that can be read here: a newer edition of Yarn Kite wrote it.",
            ) from None
        place = " ".join(str(part) for part in first["loc"]) or "the file"
        raise Refusal(
            "not_presets",
            f"This is not a file of presets that can be read: {place}: {first['msg']}. Export one to compare.",
        ) from None
