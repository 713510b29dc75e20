"""Frame sources: what can be rendered, frame by frame; a shot's clip is one."""

from dataclasses import replace
from fractions import Fraction
from typing import Protocol

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.geometry import Shape
from yarnkite.core.base.still import Still
from yarnkite.core.fit.placement import Placement, placement_of, turned_shape
from yarnkite.core.move.travel import course_of, placed
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
        self._finish = Finish.of(recipe.decisions.fit, recipe.light)
        self._layers: dict[int, Layer] = {}
        self._layers_alone: dict[int, Layer] = {}
        self._placements: dict[Shape, Placement] = {}
        move = recipe.decisions.move
        self._course = None if move.is_neutral else course_of(move, len(self._schedule))

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
        layers = tuple((self._travelled(self._layer(slot), frame), weight) for slot, weight in mix.parts)
        return FrameSpec(layers, self._finish, mix.moving)

    def spec_of_slot(self, slot: int) -> FrameSpec:
        """Return what a frame is that shows one slot of the clip alone."""
        layer = self._travelled(self._layer(slot), self.frame_of(slot))
        return FrameSpec(((layer, Fraction(1)),), self._finish)

    def spec_of_other(self, still: Still, correction: Correction = NO_CORRECTION) -> FrameSpec:
        """Return what a frame is that shows a still the clip does not have, as it would be shown."""
        return FrameSpec(((self._layer_of(still, correction), Fraction(1)),), self._finish)

    def frame_of(self, slot: int) -> int:
        """Return the first frame that shows a slot, or, for one that is skipped, one that shows its neighbour."""
        return self._schedule.frame_of(slot)

    def _layer(self, slot: int) -> Layer:
        """Return the layer of a slot, the same one for all frames that show it."""
        if slot not in self._layers:
            reach = self._recipe.light.over_time
            around = range(max(0, slot - reach), min(len(self._recipe.stills), slot + reach + 1))
            beside = tuple(self._alone(other) for other in around if other != slot)
            self._layers[slot] = replace(self._alone(slot), beside=beside) if beside else self._alone(slot)
        return self._layers[slot]

    def _alone(self, slot: int) -> Layer:
        """Return the layer of a slot without those beside it."""
        if slot not in self._layers_alone:
            recipe = self._recipe
            correction = recipe.corrections[slot] if recipe.corrections else NO_CORRECTION
            self._layers_alone[slot] = self._layer_of(recipe.stills[slot], correction)
        return self._layers_alone[slot]

    def _travelled(self, layer: Layer, frame: int) -> Layer:
        """Return a layer where the view is in a frame, and those beside it as well."""
        if self._course is None:
            return layer
        after = None
        if layer.placement_after is not None and isinstance(layer.picture, Bridge):
            after = self._seen(layer.placement_after, layer.picture.after, frame)
        first = layer.picture.before if isinstance(layer.picture, Bridge) else layer.picture
        return replace(
            layer,
            placement=self._seen(layer.placement, first, frame),
            placement_after=after,
            beside=tuple(self._travelled(one, frame) for one in layer.beside),
        )

    def _seen(self, base: Placement, still: Still, frame: int) -> Placement:
        course, fit = self._course, self._recipe.decisions.fit
        if course is None:
            return base
        at = (float(one[frame]) for one in (course.x, course.y, course.closeness, course.level_deg))
        return placed(base, turned_shape(still.width, still.height, fit), *at)[0]

    def _layer_of(self, picture: Picture, correction: Correction) -> Layer:
        if isinstance(picture, Bridge):
            before, after = (self._placement(still) for still in (picture.before, picture.after))
            return Layer(picture, before, correction, after)
        return Layer(picture, self._placement(picture), correction)

    def _placement(self, still: Still) -> Placement:
        """Return where a still lies; all of one shape lie alike."""
        shape = still.width, still.height
        if shape not in self._placements:
            # A clip all of whose stills are set aside has no usual shape.
            usual = self._recipe.usual if self._recipe.stills else None
            self._placements[shape] = placement_of(*shape, self._recipe.decisions.fit, usual)
        return self._placements[shape]
