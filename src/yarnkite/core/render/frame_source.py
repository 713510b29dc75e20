"""Frame sources: what can be rendered, frame by frame; a shot's clip is one."""

from dataclasses import replace
from fractions import Fraction
from functools import cached_property
from typing import Protocol

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.geometry import Shape
from yarnkite.core.base.homography import matrix
from yarnkite.core.base.still import Still
from yarnkite.core.fit.placement import Placement, corners, placement_of, turned_shape
from yarnkite.core.move.covering import fills, outline
from yarnkite.core.move.model_look import Band
from yarnkite.core.move.travel import WHOLE, band_at, confined, course_of, placed
from yarnkite.core.render.composite import Spec
from yarnkite.core.render.frame_spec import Finish, FrameSpec, Layer
from yarnkite.core.render.laying import NOT_LAID, shown_map
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

    @property
    def borders(self) -> tuple[int, ...]:
        """The frames at which a chunk begins whatever came before."""

    def spec(self, frame: int) -> Spec:
        """Return what a frame is, counted from 0; raises ``IndexError`` outside."""


class ClipFrames:
    """The frames of a shot's clip, as its recipe decides."""

    def __init__(self, recipe: Recipe) -> None:
        self._recipe = recipe
        self._schedule = schedule_of(recipe)
        self._layers: dict[int, Layer] = {}
        self._layers_alone: dict[int, Layer] = {}
        self._placements: dict[Shape, Placement] = {}
        move = recipe.decisions.move
        self._course = course_of(move, len(self._schedule)) if move.travels else None
        drifts = move.travels or any(one.laid is not None for one in recipe.corrections)
        self._finish = Finish.of(recipe.decisions.fit, recipe.light, drifts=drifts)
        self._model = move.model
        self._fills = recipe.region is not None and move.steady.edges == "fill"

    @property
    def size(self) -> Size:
        """The size of the frames in pixels."""
        return self._recipe.decisions.fit.size

    @property
    def borders(self) -> tuple[int, ...]:
        """A clip has none but those of its length."""
        return ()

    @property
    def rate(self) -> Fraction:
        """Frames per second, exact."""
        return self._recipe.decisions.pace.written_rate

    def __len__(self) -> int:
        return len(self._schedule)

    def spec(self, frame: int) -> FrameSpec:
        """Return what a frame is, counted from 0; raises ``IndexError`` outside."""
        mix = self._schedule.shown(frame)
        layers = tuple((self._placed(slot, frame), weight) for slot, weight in mix.parts)
        return FrameSpec(layers, self._finish, mix.moving, self._band(frame))

    def spec_of_slot(self, slot: int) -> FrameSpec:
        """Return what a frame is that shows one slot of the clip alone."""
        frame = self.frame_of(slot)
        layer = self._placed(slot, frame)
        return FrameSpec(((layer, Fraction(1)),), self._finish, band=self._band(frame))

    def spec_of_other(self, still: Still, correction: Correction = NO_CORRECTION) -> FrameSpec:
        """Return what a frame is that shows a still the clip does not have, as it would be shown."""
        return FrameSpec(((self._layer_of(still, correction), Fraction(1)),), self._finish)

    def frame_of(self, slot: int) -> int:
        """Return the first frame that shows a slot, or, for one that is skipped, one that shows its neighbour."""
        return self._schedule.frame_of(slot)

    def slot_of(self, frame: int) -> int:
        """Return the slot that a frame shows, of several the one it shows most of."""
        return max(self._schedule.shown(frame).parts, key=lambda part: part[1])[0]

    def _placed(self, slot: int, frame: int) -> Layer:
        """Return the layer of a slot where the view is in a frame, and what fills the edges it leaves empty."""
        layer = self._travelled(self._layer(slot), frame)
        if not self._fills:
            return layer
        shape = turned_shape(*self._recipe.usual, self._recipe.decisions.fit)
        view = (np.array(corners(layer.placement)) - np.array(shape) / 2) / (np.hypot(*shape) / 2)
        points = view.mean(axis=0) + outline(view - view.mean(axis=0))
        chosen = fills(slot, self._backs, points, shape[0] / shape[1])
        return replace(layer, fills=tuple(self._travelled(self._alone(other), frame) for other in chosen))

    @cached_property
    def _backs(self) -> Floats:
        """The maps from what is shown to each slot's still, shape (slots, 3, 3)."""
        shape = turned_shape(*self._recipe.usual, self._recipe.decisions.fit)
        laid = (one.laid or NOT_LAID for one in self._recipe.corrections)
        return np.linalg.inv(np.stack([shown_map(matrix(one), shape, self._finish) for one in laid]))

    def _band(self, frame: int) -> Band | None:
        return band_at(self._model, frame / max(1, len(self) - 1))

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
        region = self._recipe.region or WHOLE
        return placed(base, turned_shape(still.width, still.height, fit), *at, region=region)[0]

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
            fit, region = self._recipe.decisions.fit, self._recipe.region
            placement = placement_of(*shape, fit, usual)
            self._placements[shape] = confined(placement, turned_shape(*shape, fit), region)
        return self._placements[shape]
