"""Frame sources: what can be rendered, frame by frame; a shot's clip is one."""

from fractions import Fraction
from typing import Protocol

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.placement import placement_of
from yarnkite.core.render.frame_spec import Finish, FrameSpec, Layer
from yarnkite.core.render.recipe import NO_CORRECTION, Bridge, Correction, Picture, Recipe, schedule_of


class FrameSource(Protocol):
    """A length, a rate, a size, and the spec of each frame."""

    @property
    def size(self) -> Size:
        """The size of the frames in pixels."""

    @property
    def rate(self) -> Fraction:
        """Frames per second, exact."""

    def __len__(self) -> int: ...

    def spec(self, frame: int) -> FrameSpec:
        """Return what a frame is, counted from 0; raises ``IndexError`` outside."""


class ClipFrames:
    """The frames of a shot's clip, as its recipe decides."""

    def __init__(self, recipe: Recipe) -> None:
        self._recipe = recipe
        self._schedule = schedule_of(recipe)
        self._finish = Finish.of(recipe.decisions.fit)
        self._layers: dict[int, Layer] = {}

    @property
    def size(self) -> Size:
        """The size of the frames in pixels."""
        return self._recipe.decisions.fit.size

    @property
    def rate(self) -> Fraction:
        """Frames per second, exact."""
        return self._recipe.decisions.pace.written_rate

    def __len__(self) -> int:
        return len(self._schedule)

    def spec(self, frame: int) -> FrameSpec:
        """Return what a frame is, counted from 0; raises ``IndexError`` outside."""
        mix = self._schedule.shown(frame)
        return FrameSpec(tuple((self._layer(slot), weight) for slot, weight in mix.parts), self._finish, mix.moving)

    def spec_of_slot(self, slot: int) -> FrameSpec:
        """Return what a frame is that shows one slot of the clip alone."""
        return FrameSpec(((self._layer(slot), Fraction(1)),), self._finish)

    def spec_of_other(self, still: Still) -> FrameSpec:
        """Return what a frame is that shows a still the clip does not have, as it would be shown."""
        return FrameSpec(((layer_of(still, self._recipe, NO_CORRECTION), Fraction(1)),), self._finish)

    def frame_of(self, slot: int) -> int:
        """Return the first frame that shows a slot, or, for one that is skipped, one that shows its neighbour."""
        return self._schedule.frame_of(slot)

    def _layer(self, slot: int) -> Layer:
        """Return the layer of a slot, the same one for all frames that show it."""
        if slot not in self._layers:
            recipe = self._recipe
            correction = recipe.corrections[slot] if recipe.corrections else NO_CORRECTION
            self._layers[slot] = layer_of(recipe.stills[slot], recipe, correction)
        return self._layers[slot]


def layer_of(picture: Picture, recipe: Recipe, correction: Correction) -> Layer:
    """Return a picture as a layer of a clip."""
    fit, usual = recipe.decisions.fit, recipe.usual
    if isinstance(picture, Bridge):
        before, after = (
            placement_of(still.width, still.height, fit, usual) for still in (picture.before, picture.after)
        )
        return Layer(picture, before, correction, after)
    return Layer(picture, placement_of(picture.width, picture.height, fit, usual), correction)
