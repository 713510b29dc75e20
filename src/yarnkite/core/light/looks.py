"""Looks: a light, or chosen parts of it, under a name, that any shot can have; and the six to start from."""

from collections.abc import Collection, Sequence
from typing import Annotated, Literal, get_args

import numpy as np
from pydantic import Field, StringConstraints

from yarnkite.core.base.frozen import Frozen, Share
from yarnkite.core.light.course import values_of
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.grade import CurvePull, HuePull
from yarnkite.core.light.settings import Keyframe, Setting

LookPart = Literal["brightness", "colour", "surface", "areas", "even light", "table"]
PARTS: tuple[LookPart, ...] = get_args(LookPart)

_FIELDS: dict[LookPart, tuple[str, ...]] = {
    "brightness": ("exposure", "contrast", "dark", "middle", "bright", "black", "white", "soften", "pulls", "vignette"),
    "colour": (
        *("warmth", "tint", "saturation", "muted", "hues", "monochrome", "one_balance"),
        *("dark_warmth", "dark_tint", "bright_warmth", "bright_tint"),
    ),
    "surface": (
        *("fine", "coarse", "haze", "sharpen", "fringes", "noise", "colour_noise", "over_time"),
        *("lens_profile", "fringe_red", "fringe_blue"),
    ),
    "areas": ("areas",),
    "even light": ("even",),
    "table": ("table",),
}


class Moment(Frozen):
    """What a setting is at a place of a shot, 0 its first still and 1 its last."""

    at: Share
    value: float


class Look(Frozen):
    """Parts of a light under a name. ``light`` has no keyframes: ``moments`` say what changes over a shot, by path."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
    parts: Annotated[tuple[LookPart, ...], Field(min_length=1)]
    light: Light
    moments: dict[str, Annotated[tuple[Moment, ...], Field(max_length=500)]] = Field(default_factory=dict)

    @classmethod
    def of(cls, name: str, parts: Collection[LookPart], light: Light, ids: Sequence[int]) -> "Look":
        """Return the look that parts of a shot's light are; ``ids`` are the shot's stills in order."""
        chosen = tuple(part for part in PARTS if part in parts)
        own = Light().model_copy(update=_taken(light, chosen))
        last = max(1, len(ids) - 1)
        moments = {path: _moments(one, ids, last) for path, one in own.settings.items() if one.keyframes}
        still = {path: Setting(value=_at_first(own.settings[path], ids)) for path in moments}
        return cls(name=name, parts=chosen, light=own.with_settings(still), moments=moments)

    def applied(self, light: Light, ids: Sequence[int]) -> Light:
        """Return a light with the parts of the look in place of its own; ``ids`` are the shot's stills in order.

        What is no part of the look stays as it is.
        """
        paths = self.light.settings
        moving = {path: _setting(paths[path], found, ids) for path, found in self.moments.items() if path in paths}
        whole = self.light.with_settings(moving)
        return light.model_copy(update=_taken(whole, self.parts))


def _taken(light: Light, parts: Collection[LookPart]) -> dict[str, object]:
    return {name: getattr(light, name) for part in parts for name in _FIELDS[part]}


def _moments(setting: Setting, ids: Sequence[int], last: int) -> tuple[Moment, ...]:
    places = {still: place for place, still in enumerate(ids)}
    return tuple(
        Moment(at=places[one.still] / last, value=one.value) for one in setting.keyframes if one.still in places
    )


def _at_first(setting: Setting, ids: Sequence[int]) -> float:
    places = {still: place for place, still in enumerate(ids)}
    return float(values_of(setting, places, np.zeros(1))[0])


def _setting(before: Setting, moments: tuple[Moment, ...], ids: Sequence[int]) -> Setting:
    if not ids or not moments:
        return before
    last = len(ids) - 1
    keyframes = [Keyframe(still=ids[round(one.at * last)], value=one.value) for one in moments]
    return Setting(value=before.value, keyframes=tuple(keyframes))


def _value(value: float) -> Setting:
    return Setting(value=value)


# Names for what the light does; each is a beginning, to be pulled further.
OWN_LOOKS: tuple[Look, ...] = (
    Look(
        name="Clear morning",
        parts=("brightness", "colour"),
        light=Light(
            middle=_value(0.12),
            black=_value(0.02),
            contrast=_value(0.25),
            warmth=_value(-12),
            muted=_value(0.35),
            dark_warmth=_value(-0.25),
            soften=_value(0.2),
        ),
    ),
    Look(
        name="Low sun",
        parts=("brightness", "colour"),
        light=Light(
            warmth=_value(28),
            tint=_value(3),
            contrast=_value(0.2),
            soften=_value(0.45),
            dark_warmth=_value(-0.35),
            bright_warmth=_value(0.4),
            hues=(HuePull(hue=70, width=50, turn=_value(-6), colour=_value(0.25)),),
        ),
    ),
    Look(
        name="Blue evening",
        parts=("brightness", "colour"),
        light=Light(
            warmth=_value(-30),
            tint=_value(2),
            dark=_value(-0.12),
            bright_warmth=_value(0.5),
            dark_warmth=_value(-0.5),
            hues=(HuePull(hue=255, width=60, colour=_value(0.3), lightness=_value(-0.1)),),
        ),
    ),
    Look(
        name="Old postcard",
        parts=("brightness", "colour"),
        light=Light(
            black=_value(-0.07),
            white=_value(-0.05),
            contrast=_value(-0.1),
            saturation=_value(-0.3),
            bright_warmth=_value(0.55),
            dark_tint=_value(-0.3),
            dark_warmth=_value(0.15),
        ),
    ),
    Look(
        name="Graphite",
        parts=("brightness", "colour"),
        light=Light(
            monochrome=True,
            contrast=_value(0.45),
            dark=_value(-0.08),
            hues=(
                HuePull(hue=255, width=70, lightness=_value(-0.55)),
                HuePull(hue=60, width=60, lightness=_value(0.25)),
            ),
        ),
    ),
    Look(
        name="Quiet greens",
        parts=("brightness", "colour"),
        light=Light(
            middle=_value(0.06),
            pulls=(CurvePull(at=0.12, by=_value(-0.1)),),
            saturation=_value(-0.1),
            hues=(
                HuePull(hue=135, width=45, turn=_value(-10), colour=_value(-0.3), lightness=_value(0.1)),
                HuePull(hue=30, width=40, colour=_value(0.15)),
            ),
        ),
    ),
)
