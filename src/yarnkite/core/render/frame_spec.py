"""One description of a frame: which stills with which weights, where each lies, what corrections it gets."""

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache
from typing import Annotated, Literal, Protocol

from pydantic import Field

from yarnkite.core.base.frozen import Frozen, Size, digest
from yarnkite.core.fit.decisions import Fit, Surround
from yarnkite.core.fit.placement import Placement
from yarnkite.core.image.lens import Lens
from yarnkite.core.image.resample import DRIFTING
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, SharedLight
from yarnkite.core.move.model_look import Band
from yarnkite.core.render.recipe import NO_CORRECTION, Correction, Picture


class Finish(Frozen):
    """What is done alike to all stills of a frame: of a fit, all that its placement does not say already, and light.

    ``drifts`` says that stills lie elsewhere in each frame, so that detail must look alike wherever it lies.
    """

    size: Size
    surround: Surround = Surround()
    lens: Lens = Lens()
    quarters: Annotated[int, Field(ge=0, le=3)] = 0
    mirror: bool = False
    sharpen: Literal["none", "screen", "strong"] = "none"
    linear: bool = False
    light: SharedLight = NO_SHARED_LIGHT
    drifts: bool = False

    @classmethod
    def of(cls, fit: Fit, light: SharedLight = NO_SHARED_LIGHT, *, drifts: bool = False) -> "Finish":
        """Return the finish of a fit, and of what the stills' light shares."""
        of_the_fit = {name: getattr(fit, name) for name in cls.model_fields if name in Fit.model_fields}
        return cls(**of_the_fit, light=light, drifts=drifts)

    @property
    def least(self) -> Fraction:
        """The least distance, in pixels of a still, between the zeros of the kernel it is drawn by."""
        return DRIFTING if self.drifts else Fraction(1)


@dataclass(frozen=True)
class Layer:
    """A still, or the picture between two, where it lies in the frame, and what it alone gets.

    ``placement_after`` is where the second still of a bridge lies, ``placement`` the first. It is averaged with the
    layers ``beside`` it, those of the stills before and after, where nothing moves. What it leaves empty is filled from
    ``fills``, other stills as they are laid, the first of them that has something there.
    """

    picture: Picture
    placement: Placement
    correction: Correction = NO_CORRECTION
    placement_after: Placement | None = None
    beside: "tuple[Layer, ...]" = ()
    fills: "tuple[Layer, ...]" = ()

    @cached_property
    def mark(self) -> str:
        """A hash of all that determines how the layer looks under a finish."""
        picture, correction = self.picture, self.correction
        return digest(
            *(picture.fingerprint, picture.width, picture.height, self.placement.text),
            self.placement_after.text if self.placement_after else "",
            correction.model_dump_json() if correction != NO_CORRECTION else "",
            *(one.mark for one in self.beside),
            *(["filled", *(one.mark for one in self.fills)] if self.fills else []),
        )


@dataclass(frozen=True)
class FrameSpec:
    """A frame: its layers with weights that sum to 1, and its finish.

    ``moving`` is for two layers: what lies between them along what moves, as far as the second one's weight. ``band``
    is what stays sharp of a place that is shown like a model of it.
    """

    layers: tuple[tuple[Layer, Fraction], ...]
    finish: Finish
    moving: bool = False
    band: Band | None = None

    @cached_property
    def mark(self) -> str:
        """A hash of all that determines the frame's picture."""
        parts = (part for layer, weight in self.layers for part in (layer.mark, weight))
        return digest(finish_mark(self.finish), self.moving, *parts, *([self.band] if self.band else []))


class Marked(Protocol):
    """What has a mark."""

    @property
    def mark(self) -> str: ...


def mark(spec: Marked) -> str:
    """Return a hash, 32 hex digits, of all that determines a frame's picture, and of nothing else.

    It names chunks, segments of the preview and pictures on the stage: an edit that leaves it as it was makes nothing
    anew.
    """
    return spec.mark


@lru_cache(maxsize=64)
def finish_mark(finish: Finish) -> str:
    """Return a hash of all that is done alike to all stills of a frame; a table of colours alone has a text of
    megabytes."""
    return digest(finish.model_dump_json())
