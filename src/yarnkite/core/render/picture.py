"""The picture of a frame: the one way pixels of a clip are made, at any size."""

from dataclasses import replace
from fractions import Fraction
from functools import partial

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.geometry import Rect
from yarnkite.core.base.once_cache import OnceCache
from yarnkite.core.fit.background import background
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import placement_of, turned_shape
from yarnkite.core.image.camera_colour import Scene
from yarnkite.core.image.decode import Read, read_still
from yarnkite.core.image.dust import without_dust
from yarnkite.core.image.headroom import WHITE, Origin, with_headroom
from yarnkite.core.image.lens import Lens
from yarnkite.core.image.pixels import ImageArray, Pixels, as_sixteen, is_deep
from yarnkite.core.image.resample import resample, taps
from yarnkite.core.image.scene import scene_of
from yarnkite.core.image.srgb import mean_of_light
from yarnkite.core.image.still_map import StillMap
from yarnkite.core.image.warp import Laid, View, laid_size, warped
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, UNADJUSTED, SharedLight, adjusted
from yarnkite.core.light.noise import over_time
from yarnkite.core.move.model_look import modelled
from yarnkite.core.move.travel import Sides, confined
from yarnkite.core.render.bridge import Motion, bridged
from yarnkite.core.render.composite import Composite, Spec, composed
from yarnkite.core.render.filling import filled
from yarnkite.core.render.frame_spec import Finish, FrameSpec, Layer, finish_mark
from yarnkite.core.render.laying import laid_part
from yarnkite.core.render.recipe import NO_CORRECTION, Bridge, Correction, Picture

# Amount and radius (standard deviation, in pixels of the clip) of the unsharp mask.
_SHARPENING = {"screen": (0.45, 0.7), "strong": (1.0, 0.9)}


def picture(spec: Spec, size: Size | None = None, *, read: Read = read_still) -> ImageArray:
    """Return the picture of a frame; the one way pixels of a clip are made.

    Parameters
    ----------
    spec : what the frame is
    size : the wanted size, by default the frame's own; another size shows the same picture on another grid
    read : fetches a still's pixels at a given reduction or finer

    Returns
    -------
    RGB, sRGB, shape (height, width, 3), uint8, or uint16 if one of its stills has that depth

    Raises
    ------
    UnreadableStill if a still cannot be read
    """
    return Painter(size or size_of(spec), read).picture(spec)


def size_of(spec: Spec) -> Size:
    """Return the size a frame has by itself."""
    return spec.size if isinstance(spec, Composite) else spec.finish.size


class Painter:
    """Makes frames one after another at a size, on one thread or several; what the next ones need is kept.

    Those that may go ``beyond_white`` have headroom (``image.headroom``).
    """

    def __init__(self, size: Size, read: Read = read_still, threads: int = 1, *, beyond_white: bool = False) -> None:
        self._size, self._read, self._beyond_white = size, read, beyond_white
        # By the finish and what is drawn under it: two parts of a reel may show the same still in different ways.
        self._drawn: OnceCache[tuple[str, str], ImageArray] = OnceCache(1 + threads)
        self._threads = threads
        self._alone: OnceCache[tuple[str, str], ImageArray] | None = None
        self._moving: OnceCache[tuple[str, str, str], Motion] = OnceCache(threads)
        self._last: tuple[Spec, ImageArray] | None = None
        self._others: dict[tuple[int, int, int], Painter] = {}

    def picture(self, spec: Spec) -> ImageArray:
        """Return the picture of a frame; see ``picture``."""
        last = self._last
        if last is None or last[0] != spec:
            made = self._composed(spec) if isinstance(spec, Composite) else self._finished(spec)
            last = self._last = spec, made
        return last[1]

    def _composed(self, spec: Composite) -> ImageArray:
        return composed(spec, self._size, self._tile, white=WHITE if self._beyond_white else 1.0)

    def _tile(self, spec: FrameSpec, size: Size, number: int) -> ImageArray:
        """Return the picture of a part of a composite; each part goes on from its own last one."""
        if (number, size) == (0, self._size):
            return self.picture(spec)
        key = number, size.width, size.height
        made = Painter(size, self._read, self._threads, beyond_white=self._beyond_white)
        painter = self._others.setdefault(key, made)
        return painter.picture(spec)

    def _finished(self, spec: FrameSpec) -> ImageArray:
        mixed = self._mixed(spec)
        return mixed if spec.band is None else modelled(mixed, spec.band)

    def _mixed(self, spec: FrameSpec) -> ImageArray:
        finish = spec.finish
        if spec.moving:
            (before, _), (after, share) = spec.layers
            return self._motion(before, after, finish).at(float(share))
        pictures = (self._layer(layer, finish) for layer, _ in spec.layers)
        return mean_of_light(pictures, [weight for _, weight in spec.layers])

    def _layer(self, layer: Layer, finish: Finish) -> ImageArray:
        return self._drawn.take((finish_mark(finish), layer.mark), lambda: self._filled(layer, finish))

    def _filled(self, layer: Layer, finish: Finish) -> ImageArray:
        own = self._averaged(layer, finish) if layer.beside else self._draw(layer, finish)
        if not layer.fills:
            return own
        others = ((self._draw(one, finish), still_map(one, finish, self._size)) for one in layer.fills)
        return filled(own, still_map(layer, finish, self._size), others)

    def _averaged(self, layer: Layer, finish: Finish) -> ImageArray:
        """Return the picture of a layer averaged with those beside it, where nothing moves."""
        # Pictures of stills before and after are those of other frames too.
        alone = self._alone = self._alone or OnceCache(self._threads + len(layer.beside) + 1)
        every = (replace(layer, beside=(), fills=()), *layer.beside)
        under = finish_mark(finish)
        own, *others = (alone.take((under, one.mark), partial(self._draw, one, finish)) for one in every)
        return over_time(own, others)

    def _draw(self, layer: Layer, finish: Finish) -> ImageArray:
        return draw(layer, finish, self._size, read=self._read, beyond_white=self._beyond_white)

    def _motion(self, before: Layer, after: Layer, finish: Finish) -> Motion:
        return self._moving.take(
            (finish_mark(finish), before.mark, after.mark),
            lambda: Motion(self._layer(before, finish), self._layer(after, finish)),
        )


def fitted(
    still: Picture,
    fit: Fit,
    size: Size,
    *,
    read: Read = read_still,
    correction: Correction = NO_CORRECTION,
    light: SharedLight = NO_SHARED_LIGHT,
    region: Sides | None = None,
) -> ImageArray:
    """Return one still, or the picture between two, fitted, on a grid of ``size`` pixels; see ``picture``.

    ``region`` is the part of the turned still, in shares, that may be shown.
    """
    sides = (still.before, still.after) if isinstance(still, Bridge) else (still,)
    placement, *after = (
        confined(placement_of(side.width, side.height, fit), turned_shape(side.width, side.height, fit), region)
        for side in sides
    )
    layer = Layer(still, placement, correction, after[0] if after else None)
    return draw(layer, Finish.of(fit, light), size, read=read)


def draw(
    layer: Layer, finish: Finish, size: Size, *, read: Read = read_still, beyond_white: bool = False
) -> ImageArray:
    """Return one layer of a frame on a grid of ``size`` pixels; see ``picture`` and ``Painter``."""
    if isinstance(layer.picture, Bridge):
        bridge = layer.picture
        first = Layer(bridge.before, layer.placement, layer.correction)
        second = Layer(bridge.after, layer.placement_after or layer.placement, _of_the_second(layer.correction))
        before, after = (draw(side, finish, size, read=read, beyond_white=beyond_white) for side in (first, second))
        return bridged(before, after, float(bridge.share), bridge.how)
    still, placement = layer.picture, layer.placement
    across, down = Fraction(size.width, finish.size.width), Fraction(size.height, finish.size.height)
    target = placement.target.scaled(across, down)
    shown, laid = laid_part(placement.source, layer.correction.laid, still, finish)
    wanted = min(shown.width / target.width, shown.height / target.height)
    if laid is not None:
        wanted *= Fraction(laid_size(laid))
    if size == finish.size:
        # Where the kernel is wider than the grid needs, so fine must be what it is laid over.
        wanted = Fraction(1) if finish.linear else wanted / finish.least
    pixels = without_dust(scene_of(read(still, wanted)), finish.light.dust, (still.width, still.height))
    array, whole = _turned(pixels.array, Fraction(still.width), Fraction(still.height), pixels.reduction, finish)
    part = shown.scaled(Fraction(1, pixels.reduction), Fraction(1, pixels.reduction))
    source = Rect(part.left + whole.left, part.top + whole.top, part.width, part.height)
    view = _view(layer, finish, target, source, whole, laid)
    origin = _origin(pixels) if beyond_white else None
    return _drawn(array, view, size, finish, layer.correction, pixels.scene, origin)


def _origin(pixels: Pixels) -> Origin:
    return "scene" if pixels.scene else "high range" if pixels.high_range else "picture"


def still_map_of(spec: FrameSpec, size: Size) -> StillMap:
    """Return where the pixels of a frame, at a size, lie in its still; of several stills, in the first."""
    return still_map(spec.layers[0][0], spec.finish, size)


def still_map(layer: Layer, finish: Finish, size: Size) -> StillMap:
    """Return where the pixels of a layer, at a size of the frame, lie in its still."""
    still = layer.picture.before if isinstance(layer.picture, Bridge) else layer.picture
    sides = (still.height, still.width) if finish.quarters % 2 else (still.width, still.height)
    whole = Rect(Fraction(0), Fraction(0), *map(Fraction, sides))
    across, down = Fraction(size.width, finish.size.width), Fraction(size.height, finish.size.height)
    target = layer.placement.target.scaled(across, down)
    source, laid = laid_part(layer.placement.source, layer.correction.laid, still, finish)
    return _still_map(_view(layer, finish, target, source, whole, laid), size, finish)


def _view(layer: Layer, finish: Finish, target: Rect, source: Rect, whole: Rect, laid: Laid | None) -> View:
    light = finish.light
    return View(source, target, whole, layer.placement.angle, finish.lens, light.profile, light.channels, laid)


def _still_map(view: View, size: Size, finish: Finish) -> StillMap:
    columns = view.target.left.__floor__(), view.target.right.__ceil__()
    rows = view.target.top.__floor__(), view.target.bottom.__ceil__()
    return StillMap(view, columns, rows, finish.quarters, finish.mirror, size.width / finish.size.width)


def _of_the_second(correction: Correction) -> Correction:
    """Return what the second still of a bridge gets."""
    light = correction.light if correction.light_after is None else correction.light_after
    return Correction.model_construct(light=light, light_after=None, laid=correction.laid_after, laid_after=None)


def straightened(array: ImageArray, fit: Fit | Finish) -> ImageArray:
    """Return a whole upright still turned, mirrored and straightened as a fit says, but not cropped.

    Parameters
    ----------
    array : RGB, sRGB, at any scale, shape (height, width, 3), uint8 or uint16

    Returns
    -------
    as ``array``, its sides exchanged by a quarter turn
    """
    height, width = array.shape[:2]
    array, whole = _turned(array, Fraction(width), Fraction(height), 1, fit)
    if fit.lens == Lens():
        return array
    return warped(array, View(whole, whole, whole, 0.0, fit.lens), range(array.shape[1]), range(array.shape[0]))


_QUARTERS = {1: cv2.ROTATE_90_CLOCKWISE, 2: cv2.ROTATE_180, 3: cv2.ROTATE_90_COUNTERCLOCKWISE}


def _turned(
    array: ImageArray, width: Fraction, height: Fraction, reduction: int, fit: Fit | Finish
) -> tuple[ImageArray, Rect]:
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


def _drawn(
    array: ImageArray,
    view: View,
    size: Size,
    finish: Finish,
    correction: Correction,
    scene: Scene | None,
    origin: Origin | None,
) -> ImageArray:
    left, right, across = _grid(view.target.left, view.target.right)
    top, bottom, down = _grid(view.target.top, view.target.bottom)
    preview, of_scene = size != finish.size, scene is not None
    drawn = _inner(array, view, range(left, right), range(top, bottom), finish, preview=preview, of_scene=of_scene)
    lit = adjusted(drawn, correction.light, finish.light, _still_map(view, size, finish), scene=scene)
    inner = _sharpened(lit, size, finish)
    if origin is not None:
        inner = with_headroom(inner, origin)
    if (left, top, right, bottom) == (0, 0, size.width, size.height) and across is None and down is None:
        return inner
    frame = background(array, finish.surround, size, Fraction(finish.size.width, finish.size.height))
    # A colour that was chosen stays what it is; what is made of the still gets the still's light.
    if finish.surround.kind != "colour" and (of_scene or correction.light != UNADJUSTED):
        frame = adjusted(frame, correction.light.of_the_whole, finish.light.of_the_whole, scene=scene)
    elif is_deep(inner):
        frame = as_sixteen(frame)
    if origin is not None:
        frame = with_headroom(frame, "picture" if finish.surround.kind == "colour" else origin)
    if across is not None or down is not None:
        share_down = np.ones(bottom - top) if down is None else down
        share_across = np.ones(right - left) if across is None else across
        share = share_down[:, None, None] * share_across[None, :, None]
        behind = frame[top:bottom, left:right]
        inner = np.rint(inner * share + behind * (1 - share)).astype(inner.dtype)
    frame[top:bottom, left:right] = inner
    return frame


def _inner(
    array: ImageArray, view: View, columns: range, rows: range, finish: Finish, *, preview: bool, of_scene: bool
) -> ImageArray:
    """Return the pixels of the grid that the still covers: without levelling or straightening, in one exact pass."""
    if not view.is_exact:
        return warped(
            array, view, columns, rows, linear=finish.linear, of_scene=of_scene, preview=preview, least=finish.least
        )
    source, target = view.source, view.target
    row_taps = _axis(source.top, source.height, target.top, target.height, rows, array.shape[0])
    column_taps = _axis(source.left, source.width, target.left, target.width, columns, array.shape[1])
    return resample(
        array, taps(*row_taps, finish.least), taps(*column_taps, finish.least), linear=finish.linear, of_scene=of_scene
    )


def _sharpened(image: ImageArray, size: Size, finish: Finish) -> ImageArray:
    """Sharpen by an unsharp mask whose radius is in pixels of the clip, so that a smaller preview shows the same."""
    if finish.sharpen == "none":
        return image
    amount, radius = _SHARPENING[finish.sharpen]
    soft = cv2.GaussianBlur(image, (0, 0), radius * size.width / finish.size.width, borderType=cv2.BORDER_REPLICATE)
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
