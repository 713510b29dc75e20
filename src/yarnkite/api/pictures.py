"""Pictures for the stage: the same ``fitted`` code as the encoder's, at the size of the screen."""

from functools import lru_cache

import numpy as np
import simplejpeg
from numpy.typing import NDArray

from yarnkite.core.fit import Shape
from yarnkite.core.gather import Proxies
from yarnkite.core.pace import Shown
from yarnkite.core.picture import Pictures, fitted
from yarnkite.core.recipe import SMALLEST_SIDE, Fit, Picture, Size, Still

CACHE_FOREVER = {"Cache-Control": "private, max-age=31536000, immutable"}
WIDEST = 3840
KEPT = 300
QUALITY = 90


@lru_cache(maxsize=KEPT)
def jpeg(still: Picture, fit: Fit, size: Size, proxies: Proxies) -> bytes:
    """Return a still, fitted, on a grid of ``size``, as JPEG."""
    return encoded(fitted(still, fit, size, read=proxies.read))


@lru_cache(maxsize=KEPT)
def frame_jpeg(
    stills: tuple[Picture, ...], what: Shown, usual: Shape, fit: Fit, size: Size, proxies: Proxies, quickly: bool
) -> bytes:
    """Return what a frame shows as JPEG; the places it names are those in ``stills``.

    ``quickly`` makes do with reduced stills, which shows the same a little softer where they are enlarged.
    """
    read = proxies.read_quickly if quickly else proxies.read
    return encoded(Pictures(stills, usual, fit, size, read).shown(what))


def encoded(image: NDArray[np.uint8]) -> bytes:
    """Return an image, RGB, as a JPEG for the stage."""
    return bytes(simplejpeg.encode_jpeg(np.ascontiguousarray(image), quality=QUALITY, colorsubsampling="444"))


def on_screen(size: Size, width: int) -> Size:
    """Return ``size`` reduced, in shape, to at most ``width`` pixels across."""
    width = max(SMALLEST_SIDE, min(width, size.width, WIDEST))
    return Size(width=_even(width), height=_even(max(SMALLEST_SIDE, size.height * width / size.width)))


def as_shot(still: Still, width: int) -> Fit:
    """Return the fit that shows a still whole, at most ``width`` pixels across."""
    whole = Size(width=_even(min(still.width, 8192)), height=_even(min(still.height, 8192)))
    return Fit(size=on_screen(whole, width), how="contain" if max(still.width, still.height) > 8192 else "cover")


def _even(side: float) -> int:
    return max(SMALLEST_SIDE, round(side / 2) * 2)
