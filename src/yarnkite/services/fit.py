"""Fitting: sizes to choose from, levelling along a line, and what the frame keeps and loses of the whole shot."""

import threading
from collections.abc import Hashable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np

from yarnkite.core.base.cache import Cache
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.geometry import Shape
from yarnkite.core.base.still import Still
from yarnkite.core.fit.cutoff import Cutoff, cutoffs, worst
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.dimensions import SHAPES, Advice, AspectRatio, advice, as_shot
from yarnkite.core.fit.placement import level_along, placement_of
from yarnkite.core.fit.small_lights import SmallLights, small_lights
from yarnkite.core.image.pixels import ImageArray, as_eight
from yarnkite.core.render.picture import fitted, straightened
from yarnkite.resolve.check import findings_of_shot
from yarnkite.resolve.shot import resolved
from yarnkite.resolve.slots import not_in_clip
from yarnkite.services import check, pictures
from yarnkite.services.check import StackKind
from yarnkite.services.decisions import Change, latest, resolved_with, with_change
from yarnkite.services.running import Services
from yarnkite.store import revisions, shots

_LOOKED_AT = 3
_lights: Cache[SmallLights] = Cache(500, lambda _: 1, threading.Lock())
_SPOT = 9
_PICKED_FROM = 640


@dataclass(frozen=True)
class CutoffResult:
    """Stretches, by positions in the shot, that are cut off; the sentence about the worst is empty for none."""

    sentence: str
    stretches: list[Cutoff]


def aspect_ratios(services: Services, shot_id: int) -> list[AspectRatio]:
    """Return the shapes and sizes to choose from, the stills' own shape last."""
    usual = _usual(services, shot_id)
    return [*SHAPES, as_shot(*usual)] if usual else list(SHAPES)


def advice_on(services: Services, shot_id: int, width: int, height: int) -> Advice | None:
    """Say whether a size that was typed looks like a slip, and for what; nothing if it does not."""
    return advice(max(1, width), max(1, height), _usual(services, shot_id))


def level(services: Services, shot_id: int, line: tuple[float, float, float, float], fit: Fit) -> float:
    """Return the level that makes a drawn line flat, or upright if that is nearer."""
    shots.one(services.database, shot_id)
    return level_along(line, fit)


def cutoff(services: Services, shot_id: int, revision: int, change: Change) -> CutoffResult:
    """Name the stretches of the used stills in which much of what moves lies outside the frame."""
    decided = with_change(services, shot_id, revision, change)
    usual, shot = _usual(services, shot_id), shots.one(services.database, shot_id)
    measurements, _, _ = findings_of_shot(services.database, shot, decided.order)
    if usual is None or not measurements.ids:
        return CutoffResult("", [])
    aside = not_in_clip(services.database, shot, decided.check)
    first, last = (measurements.positions.get(one or 0) for one in (decided.check.begin, decided.check.end))
    begin, end = first or 0, len(measurements.ids) - 1 if last is None else last
    used = [position for position in range(begin, end + 1) if measurements.ids[position] not in aside]
    found = cutoffs(measurements.blocks[used], usual, decided.fit)
    stretches = [Cutoff(used[one.first], used[one.last], one.share, one.edge) for one in found]
    return CutoffResult(worst(found, used), stretches)


def small_lights_of(services: Services, shot_id: int, revision: int, change: Change) -> str:
    """Say what stars, lamps and glitter lose by being made so small, if a person would see it; else nothing.

    Looks at the first, the middle and the last still of the clip.
    """
    made = resolved_with(services, shot_id, revision, change)
    recipe = made.recipe
    if recipe.decisions.fit.linear or not recipe.stills:
        return ""
    count = len(recipe.stills)
    for place in sorted({round(step * (count - 1) / (_LOOKED_AT - 1)) for step in range(_LOOKED_AT)}):
        still = recipe.stills[place]
        if not isinstance(still, Still):
            continue
        scale = placement_of(still.width, still.height, recipe.decisions.fit, recipe.usual).scale
        found = _lights_in(still, round(1 / scale))
        if found.are_worth_keeping:
            return (
                f"In “{Path(still.path).name}” small lights lose {found.loss:.1f} stops at this size: keep them bright."
            )
    return ""


def _lights_in(still: Still, reduction: int) -> SmallLights:
    """Measure small lights of a still, read in full; nothing of one that cannot be read, or is not made smaller."""
    if reduction < 2:
        return SmallLights(0.0, 0.0)
    key: Hashable = (still.fingerprint, reduction)
    try:
        return _lights.get(key, lambda: small_lights(pictures.read_original(still, Fraction(1)).array, reduction))
    except UnreadableStill:
        return SmallLights(0.0, 0.0)


def around(services: Services, shot_id: int, position: int, revision: int, change: Change, width: int) -> ImageArray:
    """Return a whole still turned, mirrored and straightened as the clip does, but neither cropped nor levelled."""
    return _around(services, shot_id, position, with_change(services, shot_id, revision, change).fit, width)


def stack_around(
    services: Services, shot_id: int, kind: StackKind, revision: int, change: Change, first: int, last: int | None
) -> ImageArray:
    """Return the mean, brightest, darkest or activity of a stretch, turned and straightened like the stills."""
    fit = with_change(services, shot_id, revision, change).fit
    return straightened(check.stack_picture(services, shot_id, kind, first, last), fit)


def colour_at(services: Services, shot_id: int, position: int, at: tuple[float, float], revision: int) -> str:
    """Return the colour, as ``#rrggbb``, of a spot (x, y in shares of what ``around`` shows): the median of a few
    pixels."""
    fit = revisions.decided_by(services.database, shot_id, revision).fit
    image = _around(services, shot_id, position, fit, _PICKED_FROM)
    height, width = image.shape[:2]
    x, y = min(width - 1, int(at[0] * width)), min(height - 1, int(at[1] * height))
    spot = cv2.getRectSubPix(np.ascontiguousarray(as_eight(image)), (_SPOT, _SPOT), (x, y))
    red, green, blue = (int(value) for value in np.median(spot.reshape(-1, 3), axis=0))
    return f"#{red:02x}{green:02x}{blue:02x}"


def _around(services: Services, shot_id: int, position: int, fit: Fit, width: int) -> ImageArray:
    _, still = pictures.original(services, shot_id, position)
    unfitted = pictures.as_shot(still, width)
    read = pictures.read_from(services.workspace.proxies)
    return straightened(fitted(still, unfitted, unfitted.size, read=read), fit)


def _usual(services: Services, shot_id: int) -> Shape | None:
    """Return the upright size that most stills of a shot have."""
    shot = shots.one(services.database, shot_id)
    made = resolved(services.database, shot, latest(services, shot_id))
    return made.recipe.usual if made.slots else None
