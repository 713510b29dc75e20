"""The picture of a frame: the one way pixels of a clip are made, at any size."""

from collections import OrderedDict
from collections.abc import Mapping, Sequence
from fractions import Fraction

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.geometry import Rect, Shape
from yarnkite.core.fit.background import background
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import placement_of
from yarnkite.core.image.decode import Read, read_still
from yarnkite.core.image.lens import Lens
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.image.resample import resample, taps
from yarnkite.core.image.srgb import mean_of_light
from yarnkite.core.image.warp import View, warped
from yarnkite.core.pace.schedule import FrameMix
from yarnkite.core.render.bridge import Motion, bridged
from yarnkite.core.render.recipe import Bridge, Picture, Recipe, schedule_of

_KEPT = 2
# Amount and radius (standard deviation, in pixels of the clip) of the unsharp mask.
_SHARPENING = {"screen": (0.45, 0.7), "strong": (1.0, 0.9)}


def picture(recipe: Recipe, frame: int, size: Size | None = None, *, read: Read = read_still) -> ImageArray:
    """Return frame ``frame`` (from 0) as RGB, shape (height, width, 3), uint8, or uint16 if one of its stills is.

    ``size`` is the wanted size, by default the recipe's own; another size shows the same picture on another grid.
    ``read`` fetches a still's pixels at a given reduction or finer. Raises ``UnreadableStill`` if the still cannot
    be read, ``IndexError`` outside the clip.
    """
    return Pictures.of(recipe, size, read).shown(schedule_of(recipe).shown(frame))


class Pictures:
    """Makes frames one after another; what the next one needs of the last ones is kept."""

    def __init__(
        self, stills: Mapping[int, Picture] | Sequence[Picture], usual: Shape, fit: Fit, size: Size, read: Read
    ) -> None:
        self._stills, self._usual, self._fit, self._size, self._read = stills, usual, fit, size, read
        self._made: OrderedDict[int, ImageArray] = OrderedDict()
        self._moving: tuple[tuple[int, int], Motion] | None = None
        self._last: tuple[FrameMix, ImageArray] | None = None

    @classmethod
    def of(cls, recipe: Recipe, size: Size | None = None, read: Read = read_still) -> "Pictures":
        fit = recipe.decisions.fit
        return cls(recipe.stills, recipe.usual, fit, size or fit.size, read)

    def shown(self, what: FrameMix) -> ImageArray:
        """Return what a frame shows, RGB, shape (height, width, 3), uint8 or uint16."""
        if self._last is None or self._last[0] != what:
            self._last = what, self._make(what)
        return self._last[1]

    def _make(self, what: FrameMix) -> ImageArray:
        if what.moving:
            before, after = (slot for slot, _ in what.parts)
            return self._motion(before, after).at(float(what.parts[1][1]))
        return mean_of_light((self._one(slot) for slot, _ in what.parts), [weight for _, weight in what.parts])

    def _one(self, slot: int) -> ImageArray:
        if slot not in self._made:
            self._made[slot] = fitted(self._stills[slot], self._fit, self._size, read=self._read, usual=self._usual)
            while len(self._made) > _KEPT:
                self._made.popitem(last=False)
        return self._made[slot]

    def _motion(self, before: int, after: int) -> Motion:
        if self._moving is None or self._moving[0] != (before, after):
            self._moving = (before, after), Motion(self._one(before), self._one(after))
        return self._moving[1]


def fitted(still: Picture, fit: Fit, size: Size, *, read: Read = read_still, usual: Shape | None = None) -> ImageArray:
    """Return one still, or the picture between two, fitted, on a grid of ``size`` pixels; see ``picture``.

    ``usual`` is the upright size that most stills of the shot have.
    """
    if isinstance(still, Bridge):
        before, after = (fitted(one, fit, size, read=read, usual=usual) for one in (still.before, still.after))
        return bridged(before, after, float(still.share), still.how)
    placement = placement_of(still.width, still.height, fit, usual)
    across, down = Fraction(size.width, fit.size.width), Fraction(size.height, fit.size.height)
    target = placement.target.scaled(across, down)
    wanted = min(placement.source.width / target.width, placement.source.height / target.height)
    in_full = fit.linear and size == fit.size
    pixels = read(still, Fraction(1) if in_full else wanted)
    array, whole = _turned(pixels.array, Fraction(still.width), Fraction(still.height), pixels.reduction, fit)
    part = placement.source.scaled(Fraction(1, pixels.reduction), Fraction(1, pixels.reduction))
    source = Rect(part.left + whole.left, part.top + whole.top, part.width, part.height)
    return _drawn(array, View(source, target, whole, placement.angle, fit.lens), size, fit)


def straightened(array: ImageArray, fit: Fit) -> ImageArray:
    """Return a whole upright still, at any scale, turned, mirrored and straightened as a fit says, but not cropped."""
    height, width = array.shape[:2]
    array, whole = _turned(array, Fraction(width), Fraction(height), 1, fit)
    if fit.lens == Lens():
        return array
    return warped(array, View(whole, whole, whole, 0.0, fit.lens), range(array.shape[1]), range(array.shape[0]))


_QUARTERS = {1: cv2.ROTATE_90_CLOCKWISE, 2: cv2.ROTATE_180, 3: cv2.ROTATE_90_COUNTERCLOCKWISE}


def _turned(array: ImageArray, width: Fraction, height: Fraction, reduction: int, fit: Fit) -> tuple[ImageArray, Rect]:
    """Turn and mirror a still's pixels; return them and where among them the still lies.

    A reduced copy's last row and column may reach beyond the still; once turned they are not the last any more.
    """
    width, height = width / reduction, height / reduction
    beyond_right, beyond_bottom = array.shape[1] - width, array.shape[0] - height
    left, top = Fraction(0), Fraction(0)
    if fit.quarters:
        array = np.asarray(cv2.rotate(array, _QUARTERS[fit.quarters]), array.dtype)
        left = beyond_bottom if fit.quarters == 1 else beyond_right if fit.quarters == 2 else left
        top = beyond_right if fit.quarters == 3 else beyond_bottom if fit.quarters == 2 else top
        width, height = (height, width) if fit.quarters % 2 else (width, height)
    if fit.mirror:
        array = np.asarray(cv2.flip(array, 1), array.dtype)
        left = array.shape[1] - width - left
    return array, Rect(left, top, width, height)


def _drawn(array: ImageArray, view: View, size: Size, fit: Fit) -> ImageArray:
    left, right, across = _grid(view.target.left, view.target.right)
    top, bottom, down = _grid(view.target.top, view.target.bottom)
    drawn = _inner(array, view, range(left, right), range(top, bottom), fit, preview=size != fit.size)
    inner = _sharpened(drawn, size, fit)
    if (left, top, right, bottom) == (0, 0, size.width, size.height) and across is None and down is None:
        return inner
    frame = background(array, fit.surround, size, Fraction(fit.size.width, fit.size.height))
    if across is not None or down is not None:
        share_down = np.ones(bottom - top) if down is None else down
        share_across = np.ones(right - left) if across is None else across
        share = share_down[:, None, None] * share_across[None, :, None]
        behind = frame[top:bottom, left:right]
        inner = np.rint(inner * share + behind * (1 - share)).astype(inner.dtype)
    frame[top:bottom, left:right] = inner
    return frame


def _inner(array: ImageArray, view: View, columns: range, rows: range, fit: Fit, *, preview: bool) -> ImageArray:
    """Return the pixels of the grid that the still covers: without levelling or straightening, in one exact pass."""
    if view.angle or view.lens != Lens():
        return warped(array, view, columns, rows, linear=fit.linear, preview=preview)
    source, target = view.source, view.target
    row_taps = _axis(source.top, source.height, target.top, target.height, rows, array.shape[0])
    column_taps = _axis(source.left, source.width, target.left, target.width, columns, array.shape[1])
    return resample(array, taps(*row_taps), taps(*column_taps), linear=fit.linear)


def _sharpened(image: ImageArray, size: Size, fit: Fit) -> ImageArray:
    """Sharpen by an unsharp mask whose radius is in pixels of the clip, so that a smaller preview shows the same."""
    if fit.sharpen == "none":
        return image
    amount, radius = _SHARPENING[fit.sharpen]
    soft = cv2.GaussianBlur(image, (0, 0), radius * size.width / fit.size.width, borderType=cv2.BORDER_REPLICATE)
    return np.asarray(cv2.addWeighted(image, 1 + amount, soft, -amount, 0), image.dtype)


def _grid(low: Fraction, high: Fraction) -> tuple[int, int, NDArray[np.float64] | None]:
    """Return the whole pixels a range touches, and how much of each it covers unless that is all of each."""
    first, last = low.__floor__(), high.__ceil__()
    if first == low and last == high:
        return first, last, None
    pixel = np.arange(first, last)
    covered = np.minimum(float(high), pixel + 1) - np.maximum(float(low), pixel)
    return first, last, np.clip(covered, 0, 1)


def _axis(
    source: Fraction, source_length: Fraction, target: Fraction, target_length: Fraction, pixels: range, count: int
) -> tuple[Fraction, Fraction, int, int]:
    """Return the arguments of ``taps`` for the whole pixels around a target range."""
    step = source_length / target_length
    return source + (pixels.start - target) * step, len(pixels) * step, count, len(pixels)
