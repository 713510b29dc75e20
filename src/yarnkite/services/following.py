"""Light that follows a picture: a still is made to look as it was developed elsewhere, and its shot with it."""

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

from yarnkite.core.base.counter import stem_of
from yarnkite.core.base.still import Still
from yarnkite.core.base.wording import printable
from yarnkite.core.image.decode import decode
from yarnkite.core.image.header import read_header
from yarnkite.core.image.pixels import SixteenBit, as_sixteen
from yarnkite.core.image.scene import developed
from yarnkite.core.light.adjustment import UNADJUSTED, Adjustment
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.following import Followed, followed
from yarnkite.core.light.looks import Look, LookPart
from yarnkite.core.light.settings import Setting
from yarnkite.resolve.light import adjustments_of_shot
from yarnkite.services.decisions import Change, Decided, decide, latest, resolved_with
from yarnkite.services.pictures import read_from
from yarnkite.services.running import Services
from yarnkite.store import shots, snapshots

PICTURE_MOST_BYTES = 300_000_000
_LOOKED_AT = 720
_CLOSE = 3.0
_TAKEN: tuple[LookPart, ...] = ("brightness", "colour")
# What evening and the table of colours do to the still is there beside what is found.
_STAYS = ("gain", "red_gain", "blue_gain", "evened_white", "balanced_for", "table")


@dataclass(frozen=True)
class Following:
    """What was decided, the position of the still that looks like the picture now, and how near it is."""

    decided: Decided
    position: int
    sentence: str


def follow(services: Services, shot_id: int, position: int, seen: int, name: str, data: bytes) -> Following:
    """Decide the brightness and colour by which a shot's still looks like a picture of it that was developed elsewhere.

    ``position`` is where the still is, unless the picture is named like another still of the shot. Raises ``Refusal``
    for a picture that cannot be read or is of another view, ``NotFound``.
    """
    shot = shots.one(services.database, shot_id)
    stills = snapshots.of_shot(services.database, shot)
    position = _named_alike([Path(still.path).name for _, still in stills.stills], name, position)
    number, still = stills.at(position)
    decisions = latest(services, shot_id)
    # Shared light is read as for a light that goes by what the camera balanced for.
    begin = _with(decisions.light, Light(warmth=Setting(value=1.0)), stills.ids)
    made = resolved_with(services, shot_id, seen, Change(light=begin))
    own = adjustments_of_shot(services.database, shot, made.decisions).get(number, UNADJUSTED)
    pixels = read_from(services.workspace.proxies)(still, _reduction(still.width))
    found = followed(
        pixels.array,
        _picture(name, data),
        Adjustment(**{one: getattr(own, one) for one in _STAYS}),
        made.recipe.light,
        scene=pixels.scene,
        names=(Path(still.path).name, name),
    )
    light = _with(decisions.light, found.light, stills.ids)
    decided = decide(services, shot_id, seen, decisions.model_copy(update={"light": light}))
    return Following(decided, position, _said(still, name, found, light))


def _named_alike(names: list[str], picture: str, position: int) -> int:
    """Return the position of the one still that is named like a picture, else the given one."""
    stem = stem_of(picture).casefold()
    alike = [place for place, name in enumerate(names) if stem_of(name).casefold() == stem]
    return alike[0] if len(alike) == 1 else position


def _with(light: Light, found: Light, ids: list[int]) -> Light:
    """Return a light with brightness and colour as found, but for what is not looked for."""
    kept = found.model_copy(update={"vignette": light.vignette, "one_balance": light.one_balance})
    return Look.of("followed", _TAKEN, kept, ids).applied(light, ids)


def _picture(name: str, data: bytes) -> SixteenBit:
    header = read_header(data, name)
    return as_sixteen(developed(decode(data, header, name, _reduction(header.width))).array)


def _reduction(width: int) -> Fraction:
    return max(Fraction(1), Fraction(width, _LOOKED_AT))


def _said(still: Still, name: str, found: Followed, light: Light) -> str:
    apart = f"{found.left:.1f} of 255 codes apart, {found.before:.1f} before"
    said = f"“{Path(still.path).name}” looks like “{printable(name)}” by brightness and colour: {apart}."
    if found.left > _CLOSE:
        said += (
            " What is left was done to parts of it, or to single colours: set that in areas and in the hue circle. Or "
            "it is a picture of another still: go there, and choose it again."
        )
    if any(not area.changes_nothing for area in light.areas):
        said += " Your areas lie on top."
    return said
