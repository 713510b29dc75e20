"""What is decided about a shot's light."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from yarnkite.core.base.frozen import Frozen, rounded

Number = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False), rounded(3)]

# What each setting may be, least and most, in its own unit; 0 leaves the light as it is.
RANGES: dict[str, tuple[float, float]] = {
    "exposure": (-5, 5),
    "contrast": (-1, 1),
    "dark": (-1, 1),
    "middle": (-1, 1),
    "bright": (-1, 1),
    "soften": (0, 1),
    "warmth": (-250, 250),
    "tint": (-60, 60),
    "saturation": (-1, 1),
}


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


class Even(Frozen):
    """How light is made even.

    ``flicker`` brings each still's light onto a smooth course; ``smooth`` is how many stills the course takes for its ups
    and downs, 0 as measured. ``steps`` takes changes of the camera's exposure out; what they did is laid over the shot
    evenly, or left out as the eye had it.
    """

    flicker: bool = False
    steps: bool = False
    smooth: Annotated[int, Field(ge=0, le=3000)] = 0
    course: Literal["even", "as seen"] = "even"

    @property
    def is_wished(self) -> bool:
        """Whether anything is made even."""
        return self.flicker or self.steps


class Light(Frozen):
    """What is decided about light; each setting holds for the whole shot or changes over it.

    ``exposure`` is in stops; ``contrast`` turns the curve about its middle; ``dark``, ``middle`` and ``bright`` pull it at
    a quarter, half and three quarters of the code values; ``soften`` lets highlights roll off before they clip. ``warmth``
    is in mired, warmer above 0; ``tint`` in thousandths of the CIE 1960 diagram, across the colours of lamps and daylight,
    redder above 0. ``saturation`` is -1 for black and white, 1 for twice as much colour.
    """

    even: Even = Even()
    exposure: Setting = Setting()
    contrast: Setting = Setting()
    dark: Setting = Setting()
    middle: Setting = Setting()
    bright: Setting = Setting()
    soften: Setting = Setting()
    warmth: Setting = Setting()
    tint: Setting = Setting()
    saturation: Setting = Setting()

    @model_validator(mode="after")
    def _within_ranges(self) -> "Light":
        for name, (least, most) in RANGES.items():
            setting: Setting = getattr(self, name)
            for value in (setting.value, *(one.value for one in setting.keyframes)):
                if not least <= value <= most:
                    raise ValueError(f"{name} is {value:g}; it may be {least:g} to {most:g}.")
        return self

    @property
    def settings(self) -> dict[str, Setting]:
        """The settings by name."""
        return {name: getattr(self, name) for name in RANGES}

    @property
    def is_neutral(self) -> bool:
        """Whether light is left as it is."""
        return not self.even.is_wished and all(one.is_neutral for one in self.settings.values())
