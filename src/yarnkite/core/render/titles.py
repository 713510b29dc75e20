"""What lies over a frame: text and pictures with transparency, drawn once for each state and size."""

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size, digest
from yarnkite.core.image.lettering import Alignment, Coverage, Face, lettering
from yarnkite.core.image.overlay import RGB, colour_over, picture_over, rgb
from yarnkite.core.image.pixels import ImageArray

Shade = Literal["none", "soft", "plate"]

_SOFT_STRENGTH, _SOFT_WIDE, _PLATE_STRENGTH = 0.75, 0.22, 0.6
_PLATE_MARGIN = 0.3
_MOST_DRAWN = 16


@dataclass(frozen=True)
class Text:
    """Lines of text; ``size`` is that of the type as a share of the frame's height, ``colour`` ``#rrggbb``."""

    lines: tuple[str, ...]
    face: Face
    size: float
    colour: str
    shade: Shade = "none"
    alignment: Alignment = "middle"


@dataclass(frozen=True)
class Logo:
    """A picture with transparency; ``size`` is its height as a share of the frame's."""

    path: str
    fingerprint: str
    size: float


@dataclass(frozen=True)
class Overlay:
    """Text or a picture over a frame.

    ``x`` and ``y`` say where in the frame its anchor lies, in shares of the frame, ``anchor`` where in itself, in
    shares of its own width and height. ``strength`` is how much of it is seen.
    """

    what: Text | Logo
    x: float
    y: float
    anchor: tuple[float, float] = (0.5, 0.5)
    strength: Fraction = Fraction(1)

    @cached_property
    def mark(self) -> str:
        """A hash of all that determines how it looks."""
        what = self.what
        parts = ("logo", what.fingerprint, what.size) if isinstance(what, Logo) else ("text", what)
        return digest(*parts, self.x, self.y, self.anchor, self.strength)


@dataclass(frozen=True)
class Box:
    """Where something lies in a frame, in pixels."""

    left: int
    top: int
    width: int
    height: int


def lay_over(image: ImageArray, overlay: Overlay, white: float = 1.0) -> None:
    """Draw an overlay over a picture of a frame, in place, at the picture's size; raises ``Refusal`` for a lost logo.

    ``white`` is the light that white is of the largest there is.
    """
    height, width = image.shape[:2]
    strength = float(overlay.strength)
    box = box_of(overlay, Size.model_construct(width=width, height=height))
    what = overlay.what
    if isinstance(what, Logo):
        picture_over(image, _logo(what, box.height), box.left, box.top, strength, white)
        return
    drawn = _drawn(what, height)
    if drawn.shade is not None:
        dark: RGB = (0, 0, 0) if _luma(rgb(what.colour)) > 90 else (255, 255, 255)
        edge = drawn.edge
        strength_of_shade = strength * drawn.shade_strength
        colour_over(image, drawn.shade, dark, box.left - edge, box.top - edge, strength_of_shade, white)
    colour_over(image, drawn.coverage, rgb(what.colour), box.left, box.top, strength, white)


def box_of(overlay: Overlay, size: Size) -> Box:
    """Return where an overlay lies in a frame of a size."""
    what = overlay.what
    if isinstance(what, Logo):
        rows, columns = _logo(what, max(1, round(what.size * size.height))).shape[:2]
    else:
        rows, columns = _drawn(what, size.height).coverage.shape
    left = round(overlay.x * size.width - overlay.anchor[0] * columns)
    top = round(overlay.y * size.height - overlay.anchor[1] * rows)
    return Box(left, top, columns, rows)


@dataclass(frozen=True)
class _Drawn:
    coverage: Coverage
    shade: Coverage | None
    shade_strength: float
    edge: int


@lru_cache(maxsize=_MOST_DRAWN)
def _drawn(text: Text, height: int) -> _Drawn:
    size_px = text.size * height
    coverage = lettering(text.lines, text.face, size_px, text.alignment).coverage
    if text.shade == "plate":
        edge = round(size_px * _PLATE_MARGIN)
        rows, columns = coverage.shape
        return _Drawn(coverage, np.full((rows + 2 * edge, columns + 2 * edge), 255, np.uint8), _PLATE_STRENGTH, edge)
    if text.shade == "soft":
        sigma = max(0.5, size_px * _SOFT_WIDE / 2)
        edge = round(3 * sigma)
        around = cv2.GaussianBlur(np.pad(coverage, edge).astype(np.float32), (0, 0), sigma)
        stronger = np.float32(1.6 * 255 / max(1.0, float(around.max())))
        return _Drawn(coverage, np.minimum(255, around * stronger).astype(np.uint8), _SOFT_STRENGTH, edge)
    return _Drawn(coverage, None, 0.0, 0)


@lru_cache(maxsize=8)
def _logo(logo: Logo, height: int) -> NDArray[np.uint8]:
    try:
        with Image.open(Path(logo.path)) as opened:
            whole = opened.convert("RGBA")
    except OSError:
        raise Refusal(
            "picture_lost",
            "A picture that lies over the reel cannot be read any more. Bring it in again, or take it out.",
        ) from None
    width = max(1, round(whole.width * height / whole.height))
    # Colours of transparent pixels do not bleed into their neighbours.
    resized = whole.convert("RGBa").resize(
        (width, height), Image.Resampling.BOX if height < whole.height else Image.Resampling.BICUBIC
    )
    return np.asarray(resized.convert("RGBA"), np.uint8)


def _luma(colour: RGB) -> float:
    return 0.2126 * colour[0] + 0.7152 * colour[1] + 0.0722 * colour[2]
