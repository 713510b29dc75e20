"""A grade: what is decided about brightness, colour and surface, of the whole picture or in an area of it."""

from collections.abc import Mapping
from typing import Annotated, Any, ClassVar

from pydantic import Field, model_validator

from yarnkite.core.base.frozen import Frozen, rounded
from yarnkite.core.light.settings import Adjustable, Range, Setting, check_ranges

MOST_PULLS = MOST_HUES = 8
Degrees = Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False), rounded(1)]

# What each setting may be, least and most, in its own unit; 0 leaves the light as it is.
RANGES: dict[str, Range] = {
    "exposure": (-5, 5),
    "contrast": (-1, 1),
    "dark": (-1, 1),
    "middle": (-1, 1),
    "bright": (-1, 1),
    "black": (-0.25, 0.25),
    "white": (-0.5, 0.5),
    "soften": (0, 1),
    "warmth": (-250, 250),
    "tint": (-60, 60),
    "saturation": (-1, 1),
    "muted": (-1, 1),
    "dark_warmth": (-1, 1),
    "dark_tint": (-1, 1),
    "bright_warmth": (-1, 1),
    "bright_tint": (-1, 1),
    "fine": (-1, 1),
    "coarse": (-1, 1),
    "haze": (-1, 1),
    "sharpen": (0, 2),
    "fringes": (0, 1),
}


class _Ranged(Adjustable):
    ranges: ClassVar[dict[str, Range]]

    @model_validator(mode="after")
    def _within_ranges(self) -> "_Ranged":
        check_ranges(self.settings, self.ranges)
        return self


class CurvePull(_Ranged):
    """A place of the curve, ``at`` a code value 0 … 1, that is pulled as ``dark``, ``middle`` and ``bright`` are."""

    ranges: ClassVar[dict[str, Range]] = {"by": (-1, 1)}
    at: Annotated[float, Field(ge=0.02, le=0.98, allow_inf_nan=False), rounded(3)]
    by: Setting = Setting()


class HuePull(_Ranged):
    """Colours around a hue, in degrees of Oklab, within ``width`` degrees on either side.

    ``turn`` leads to other hues, in degrees; ``colour`` is -1 for none of it, 1 for twice as much; ``lightness`` makes
    these colours darker or lighter, also once they are grey.
    """

    ranges: ClassVar[dict[str, Range]] = {"turn": (-60, 60), "colour": (-1, 1), "lightness": (-1, 1)}
    hue: Degrees
    width: Annotated[float, Field(ge=10, le=180, allow_inf_nan=False), rounded(1)] = 40.0
    turn: Setting = Setting()
    colour: Setting = Setting()
    lightness: Setting = Setting()


class Grade(_Ranged):
    """What is decided about brightness, colour and surface; each setting holds for the whole shot or changes over it.

    Brightness: ``exposure`` is in stops; ``contrast`` turns the curve about its middle; ``dark``, ``middle`` and
    ``bright`` pull it at a quarter, half and three quarters of the code values, ``pulls`` where they say; what is as
    dark as ``black`` becomes black, what is as bright as 1 - ``white`` white, below 0 black becomes so bright, white so
    dark; ``soften`` lets highlights roll off before they clip.

    Colour: ``warmth`` is in mired, warmer above 0; ``tint`` in thousandths of the CIE 1960 diagram, redder above 0.
    ``saturation`` is -1 for none, 1 for twice as much colour, ``muted`` the same for what has little colour;
    ``hues`` change parts of the hue circle; ``monochrome`` makes grey what is left of it. Dark and bright parts have
    a warmth and a tint of their own, 1 the most.

    Surface: ``fine`` and ``coarse`` are contrast among neighbours, near and far; ``haze`` is taken away above 0;
    ``sharpen`` is how much edges stand out, ``fringes`` how much of the purple and green beside them goes.
    """

    ranges: ClassVar[dict[str, Range]] = RANGES

    exposure: Setting = Setting()
    contrast: Setting = Setting()
    dark: Setting = Setting()
    middle: Setting = Setting()
    bright: Setting = Setting()
    black: Setting = Setting()
    white: Setting = Setting()
    soften: Setting = Setting()
    pulls: Annotated[tuple[CurvePull, ...], Field(max_length=MOST_PULLS)] = ()
    warmth: Setting = Setting()
    tint: Setting = Setting()
    saturation: Setting = Setting()
    muted: Setting = Setting()
    dark_warmth: Setting = Setting()
    dark_tint: Setting = Setting()
    bright_warmth: Setting = Setting()
    bright_tint: Setting = Setting()
    hues: Annotated[tuple[HuePull, ...], Field(max_length=MOST_HUES)] = ()
    monochrome: bool = False
    fine: Setting = Setting()
    coarse: Setting = Setting()
    haze: Setting = Setting()
    sharpen: Setting = Setting()
    fringes: Setting = Setting()

    @property
    def changes_nothing(self) -> bool:
        """Whether light is left as it is."""
        return not self.monochrome and all(one.is_neutral for one in self.settings.values())


Rounded = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False), rounded(4)]


class HueNumbers(Frozen):
    """A part of the hue circle as it is at one still; see ``HuePull``."""

    hue: Rounded
    width: Rounded
    turn: Rounded = 0.0
    colour: Rounded = 0.0
    lightness: Rounded = 0.0


class GradeNumbers(Frozen):
    """A grade as it is at one still: its settings as numbers. ``pulls`` are places and by how much they are pulled."""

    exposure: Rounded = 0.0
    contrast: Rounded = 0.0
    dark: Rounded = 0.0
    middle: Rounded = 0.0
    bright: Rounded = 0.0
    black: Rounded = 0.0
    white: Rounded = 0.0
    soften: Rounded = 0.0
    pulls: tuple[tuple[Rounded, Rounded], ...] = ()
    warmth: Rounded = 0.0
    tint: Rounded = 0.0
    saturation: Rounded = 0.0
    muted: Rounded = 0.0
    dark_warmth: Rounded = 0.0
    dark_tint: Rounded = 0.0
    bright_warmth: Rounded = 0.0
    bright_tint: Rounded = 0.0
    hues: tuple[HueNumbers, ...] = ()
    monochrome: bool = False
    fine: Rounded = 0.0
    coarse: Rounded = 0.0
    haze: Rounded = 0.0
    sharpen: Rounded = 0.0
    fringes: Rounded = 0.0


def numbers_of(grade: Grade, values: Mapping[str, float], path: str = "") -> dict[str, Any]:
    """Return the fields of ``GradeNumbers`` that are not neutral at a still.

    ``values`` has what each setting that is not neutral is there, by its path; ``path`` is where the grade's own begin.
    """
    fields: dict[str, Any] = {name: values[path + name] for name in RANGES if values.get(path + name)}
    pulls = [(one.at, values.get(f"{path}pulls.{place}.by", 0.0)) for place, one in enumerate(grade.pulls)]
    if any(by for _, by in pulls):
        fields["pulls"] = tuple((at, by) for at, by in sorted(pulls) if by)
    hues = [_hue(one, values, f"{path}hues.{place}.") for place, one in enumerate(grade.hues)]
    if any(one is not None for one in hues):
        fields["hues"] = tuple(one for one in hues if one is not None)
    if grade.monochrome:
        fields["monochrome"] = True
    return fields


def _hue(pull: HuePull, values: Mapping[str, float], path: str) -> HueNumbers | None:
    numbers: dict[str, Any] = {name: values.get(path + name, 0.0) for name in HuePull.ranges}
    return HueNumbers(hue=pull.hue, width=pull.width, **numbers) if any(numbers.values()) else None
