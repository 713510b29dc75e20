"""Frames put together of others: side by side, one going over into the next, with something over them, fading to a
colour."""

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from itertools import accumulate

import numpy as np

from yarnkite.core.base.frozen import Size, digest
from yarnkite.core.image.headroom import with_headroom
from yarnkite.core.image.overlay import rgb
from yarnkite.core.image.pixels import ImageArray, as_sixteen, is_deep
from yarnkite.core.image.srgb import dissolved, faded
from yarnkite.core.render.frame_spec import FrameSpec, mark
from yarnkite.core.render.titles import Overlay, lay_over


@dataclass(frozen=True)
class Tile:
    """A frame of a clip where it lies in the whole, its top left corner in pixels; it has the size it is fitted to,
    or another one of its shape."""

    spec: FrameSpec
    left: int = 0
    top: int = 0
    size: Size | None = None

    @property
    def parts(self) -> tuple[object, ...]:
        """All that determines how it looks."""
        return (mark(self.spec), self.left, self.top, *([self.size] if self.size else []))


@dataclass(frozen=True)
class Scene:
    """Tiles beside and over each other, the first at the back, and the colour between them."""

    tiles: tuple[Tile, ...] = ()
    colour: str = "#000000"

    @cached_property
    def mark(self) -> str:
        """A hash of all that determines how it looks."""
        return digest(self.colour, *(part for tile in self.tiles for part in tile.parts))


@dataclass(frozen=True)
class Composite:
    """A frame of a size: one scene, or two with weights that sum to 1, overlays over them, and over all a colour with
    its weight."""

    size: Size
    scenes: tuple[tuple[Scene, Fraction], ...]
    overlays: tuple[Overlay, ...] = ()
    fade: tuple[str, Fraction] | None = None

    @cached_property
    def mark(self) -> str:
        """A hash of all that determines how it looks."""
        scenes = (part for scene, weight in self.scenes for part in (scene.mark, weight))
        return digest("composite", self.size, *scenes, *(one.mark for one in self.overlays), *(self.fade or ()))


Spec = FrameSpec | Composite

# Makes the picture of a tile at a size; tiles are counted through all scenes of a frame.
Draw = Callable[[FrameSpec, Size, int], ImageArray]


def composed(frame: Composite, size: Size, draw: Draw, white: float = 1.0) -> ImageArray:
    """Return the picture of a composite frame at a size; ``draw`` makes those of its tiles.

    ``white`` is the light that white is of the largest there is, less than 1 in pictures with headroom.
    """
    counted = accumulate((len(scene.tiles) for scene, _ in frame.scenes), initial=0)
    scenes = (
        _scene(scene, frame.size, size, draw, first, white)
        for (scene, _), first in zip(frame.scenes, counted, strict=False)
    )
    image = next(scenes)
    for made, (_, weight) in zip(scenes, frame.scenes[1:], strict=True):
        image = dissolved(*_alike(image, made), float(weight))
    if frame.overlays:
        image = image.copy()
        for overlay in frame.overlays:
            lay_over(image, overlay, white)
    if frame.fade is None:
        return image
    colour, share = frame.fade
    return faded(image, rgb(colour), float(share), white)


def _scene(scene: Scene, whole: Size, size: Size, draw: Draw, first: int, white: float) -> ImageArray:
    tiles = [(_scaled(tile, whole, size), tile.spec) for tile in scene.tiles]
    if len(tiles) == 1 and tiles[0][0] == (0, 0, size.width, size.height):
        return draw(tiles[0][1], size, first)
    image = _plain(scene.colour, size)
    if white < 1:
        image = with_headroom(image)
    for number, ((left, top, right, bottom), spec) in enumerate(tiles, first):
        part = draw(spec, Size.model_construct(width=right - left, height=bottom - top), number)
        if is_deep(part) and not is_deep(image):
            image = as_sixteen(image)
        region = image[max(0, top) : bottom, max(0, left) : right]
        own = part[max(0, -top) :, max(0, -left) :][: region.shape[0], : region.shape[1]]
        region[...] = as_sixteen(own) if is_deep(image) else own
    return image


def _scaled(tile: Tile, whole: Size, size: Size) -> tuple[int, int, int, int]:
    """Return the edges of a tile on the grid of another size; neighbours still meet."""
    own = tile.size or tile.spec.finish.size
    across, down = size.width / whole.width, size.height / whole.height
    left, top = round(tile.left * across), round(tile.top * down)
    right, bottom = round((tile.left + own.width) * across), round((tile.top + own.height) * down)
    return left, top, max(left + 1, right), max(top + 1, bottom)


def _plain(colour: str, size: Size) -> ImageArray:
    image = np.empty((size.height, size.width, 3), np.uint8)
    image[:] = rgb(colour)
    return image


def _alike(one: ImageArray, other: ImageArray) -> tuple[ImageArray, ImageArray]:
    """Return two pictures with the depth of the deeper one."""
    if is_deep(one) == is_deep(other):
        return one, other
    return as_sixteen(one), as_sixteen(other)
