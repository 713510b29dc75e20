"""Where a still lies that is laid against the others: a part of it, or where that does not do, a map for its points."""

import math
from collections.abc import Mapping, Sequence
from fractions import Fraction

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.geometry import Rect, Shape, count_shapes, usual_shape
from yarnkite.core.base.homography import Homography, matrix
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import corners, placement_of, turned_shape
from yarnkite.core.image.lens import NO_PROFILE, Lens, straightening
from yarnkite.core.image.warp import Laid
from yarnkite.core.light.adjustment import SharedLight
from yarnkite.core.move.covering import least_crop
from yarnkite.core.move.decisions import Edges
from yarnkite.core.move.region import Region, half_sides, region_of
from yarnkite.core.render.frame_spec import Finish
from yarnkite.core.render.recipe import NO_CORRECTION, Bridge, Correction, Picture
from yarnkite.core.render.slots import Slot

# As exact as the placements of a view that travels.
_PARTS = 1 << 12
_QUARTER = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
# Of a still that lies as it was shot.
NOT_LAID: Homography = (1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0)
_MIRROR = np.diag([-1.0, 1.0, 1.0])


def turned_map(laid: Floats, quarters: int, mirror: bool) -> Floats:
    """Return a map of upright stills as one of stills that are turned by quarters with the clock, and then mirrored."""
    turn = np.linalg.matrix_power(_QUARTER, quarters)
    if mirror:
        turn = _MIRROR @ turn
    return np.asarray(turn @ laid @ turn.T)


def laid_part(source: Rect, laid: Homography | None, still: Still, finish: Finish) -> tuple[Rect, Laid | None]:
    """Return the part of a turned still, in pixels, that is shown, and the map that leads there if it is more than
    that.

    A still that is only shifted and sized needs no map: another part of it is shown.
    """
    if laid is None:
        return source, None
    width, height = (still.height, still.width) if finish.quarters % 2 else (still.width, still.height)
    back = np.linalg.inv(shown_map(matrix(laid), (width, height), finish))
    back /= back[2, 2]
    if back[0, 0] == back[1, 1] and not (back[0, 1] or back[1, 0] or back[2, 0] or back[2, 1]):
        return _shifted(source, back, width, height), None
    a, b, c, d, e, f, g, h, last = (float(one) for one in back.reshape(-1))
    return source, (a, b, c, d, e, f, g, h, last)


def shown_map(laid: Floats, turned: Shape, finish: Finish) -> Floats:
    """Return the map of an upright still as one of the still turned, ``turned`` pixels large, and straightened.

    What was measured are points of the still as the lens bent it; of that, what is no more than a map is undone.
    """
    found = turned_map(laid, finish.quarters, finish.mirror)
    lens, profile = finish.lens, finish.light.profile
    if lens == Lens() and profile.bends == NO_PROFILE.bends:
        return found
    spread = straightening(float(turned[0]), float(turned[1]), lens, profile).spread
    bend = np.diag([spread, spread, 1.0])
    bend[2, :2] = spread * lens.keystone_x, spread * lens.keystone_y
    return np.asarray(np.linalg.inv(bend) @ found @ bend)


def laid_anew(
    corrections: Sequence[Correction], slots: Sequence[Slot], laid: Mapping[str, Homography]
) -> tuple[Correction, ...]:
    """Return corrections, one a slot or none at all, with the maps of the stills that are laid anew, by their paths."""
    if not laid:
        return tuple(corrections)
    every = corrections or [NO_CORRECTION] * len(slots)

    def of_slot(one: Correction, slot: Slot) -> Correction:
        picture = slot.picture
        first, after = (picture.before, picture.after) if isinstance(picture, Bridge) else (picture, None)
        maps = {"laid": laid.get(first.path), "laid_after": laid.get(after.path) if after else None}
        return one.model_copy(update=maps)

    return tuple(of_slot(one, slot) for one, slot in zip(every, slots, strict=True))


def region_within(
    slots: Sequence[Slot], fit: Fit, light: SharedLight, laid: Mapping[str, Homography], edges: Edges
) -> Region | None:
    """Return the part of the turned still that all stills of a clip cover, or, with their neighbours' help, each frame.

    There is none for a clip without stills.
    """
    shape = usual_shape(count_shapes(slot.picture for slot in slots))
    if shape is None:
        return None
    turned, finish = turned_shape(*shape, fit), Finish.of(fit, light)
    stills = [side for slot in slots for side in _sides(slot.picture)]
    maps = np.stack([shown_map(matrix(laid.get(still.path, NOT_LAID)), turned, finish) for still in stills])
    aspect, half = turned[0] / turned[1], np.hypot(*turned) / 2
    view = (np.array(corners(placement_of(*shape, fit))) - np.array(turned) / 2) / half
    region = region_of(np.unique(maps, axis=0), aspect, view)
    if edges == "crop" or region.closer == 1.0:
        return region
    return _with_fills(region, maps, aspect, view)


def _with_fills(region: Region, maps: Floats, aspect: float, view: Floats) -> Region:
    """Return a larger region, in which each frame is covered by its still and those near it."""
    sides, middle = half_sides(aspect), view.mean(axis=0)
    spread = view - middle
    low, high = (
        np.array(one) * 2 * sides - sides for one in ((region.left, region.top), (region.right, region.bottom))
    )
    reach = np.abs(spread).max(axis=0) / region.closer
    there = np.clip(middle, np.minimum(low + reach, high - reach), np.maximum(low + reach, high - reach))
    closer = least_crop(maps, aspect, (middle, there), spread, region.closer)
    share = (closer - 1) / (region.closer - 1)
    at = middle + (there - middle) * share
    wide = np.concatenate([at + spread.min(axis=0) / closer, at + spread.max(axis=0) / closer])
    left, top, right, bottom = ((wide / np.concatenate([sides, sides]) + 1) / 2).clip(0, 1).tolist()
    return Region(left, top, right, bottom, closer)


def _sides(picture: Picture) -> tuple[Still, ...]:
    return (picture.before, picture.after) if isinstance(picture, Bridge) else (picture,)


def _shifted(source: Rect, back: Floats, width: int, height: int) -> Rect:
    half = math.hypot(width, height) / 2
    size = Fraction(round(back[0, 0] * _PARTS * _PARTS), _PARTS * _PARTS)
    middle = Fraction(width, 2), Fraction(height, 2)
    x, y = (
        (at - centre) * size + centre + Fraction(round(shift * half * _PARTS), _PARTS)
        for at, centre, shift in zip(source.centre, middle, (float(back[0, 2]), float(back[1, 2])), strict=True)
    )
    return source.around(x, y, size)
