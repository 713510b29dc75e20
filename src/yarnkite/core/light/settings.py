"""Settings: a value for the whole shot, or one that changes over it between keyframes."""

from collections.abc import Iterator, Mapping
from typing import Annotated, Self

from pydantic import AfterValidator, Field

from yarnkite.core.base.frozen import Frozen, rounded

Number = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False), rounded(3)]
Range = tuple[float, float]


class Keyframe(Frozen):
    """What a setting is at a still, by id."""

    still: Annotated[int, Field(ge=1)]
    value: Number


def _one_a_still(keyframes: tuple[Keyframe, ...]) -> tuple[Keyframe, ...]:
    return tuple(sorted({one.still: one for one in keyframes}.values(), key=lambda one: one.still))


class Setting(Frozen):
    """A value for the whole shot, or, where there are ``keyframes``, what it is at these stills."""

    value: Number = 0.0
    keyframes: Annotated[tuple[Keyframe, ...], Field(max_length=500), AfterValidator(_one_a_still)] = ()

    @property
    def is_neutral(self) -> bool:
        """Whether it changes nothing anywhere."""
        return not any(one.value for one in self.keyframes) if self.keyframes else not self.value

    @property
    def values(self) -> Iterator[float]:
        """Every value it has."""
        yield self.value
        yield from (one.value for one in self.keyframes)


class Adjustable(Frozen):
    """Decisions with settings, by paths: its own by their names, those of what it holds by place and name."""

    @property
    def settings(self) -> dict[str, Setting]:
        """Every setting by its path, such as ``exposure`` or ``hues.0.turn``."""
        found: dict[str, Setting] = {}
        for name in type(self).model_fields:
            value = getattr(self, name)
            if isinstance(value, Setting):
                found[name] = value
            elif isinstance(value, Adjustable):
                found |= {f"{name}.{path}": one for path, one in value.settings.items()}
            elif isinstance(value, tuple):
                for place, inner in enumerate(value):
                    if isinstance(inner, Adjustable):
                        found |= {f"{name}.{place}.{path}": one for path, one in inner.settings.items()}
        return found

    def with_settings(self, changed: Mapping[str, Setting]) -> Self:
        """Return the same with some settings, by their paths, in place of those there are."""
        update: dict[str, object] = {}
        inner: dict[str, dict[str, Setting]] = {}
        for path, setting in changed.items():
            name, _, rest = path.partition(".")
            if rest:
                inner.setdefault(name, {})[rest] = setting
            else:
                update[name] = setting
        for name, below in inner.items():
            value = getattr(self, name)
            if isinstance(value, Adjustable):
                update[name] = value.with_settings(below)
            else:
                update[name] = tuple(
                    one.with_settings(_below(below, place)) if isinstance(one, Adjustable) else one
                    for place, one in enumerate(value)
                )
        return self.model_copy(update=update)


def _below(settings: Mapping[str, Setting], place: int) -> dict[str, Setting]:
    begin = f"{place}."
    return {path.removeprefix(begin): one for path, one in settings.items() if path.startswith(begin)}


def check_ranges(settings: Mapping[str, Setting], ranges: Mapping[str, Range]) -> None:
    """Raise ``ValueError`` that names the first setting with a value out of its range."""
    for name, (least, most) in ranges.items():
        for value in settings[name].values:
            if not least <= value <= most:
                raise ValueError(f"{name} is {value:g}; it may be {least:g} to {most:g}.")
