"""Proxies: reduced copies of stills, used wherever they are fine enough."""

from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import simplejpeg

from yarnkite.core.base.still import Still
from yarnkite.core.gather.deep_copy import unpacked
from yarnkite.core.image.decode import read_still
from yarnkite.core.image.pixels import EightBit, Pixels, as_eight
from yarnkite.core.image.scene import developed

PROXY_LONG_SIDE = 1280
THUMBNAIL_LONG_SIDE = 320
_LARGEST_REDUCTION = {PROXY_LONG_SIDE: 8, THUMBNAIL_LONG_SIDE: 32}


@dataclass(frozen=True)
class Proxies:
    """Reduced copies of stills, in two sizes, kept by fingerprint; used wherever they are fine enough."""

    folder: Path

    def path(self, fingerprint: str) -> Path:
        return self.folder / fingerprint[:2] / f"{fingerprint}.jpg"

    def deep(self, fingerprint: str) -> Path:
        """Return where the copy of a still of 16 bits lies, which has those bits."""
        return self.folder / fingerprint[:2] / f"{fingerprint}.deep"

    def thumbnail(self, fingerprint: str) -> Path:
        return self.folder / fingerprint[:2] / f"{fingerprint}.small.jpg"

    def copies(self, fingerprint: str) -> tuple[Path, ...]:
        """Return where all copies of a still lie, if there are any."""
        return self.path(fingerprint), self.deep(fingerprint), self.thumbnail(fingerprint)

    def read(self, still: Still, reduction: Fraction) -> Pixels:
        """Read a still from the smallest copy that has the wanted reduction or finer, else from the original.

        Parameters
        ----------
        reduction : how many pixels of the still one wanted pixel covers, 1 or more

        Returns
        -------
        RGB, uint8 or uint16, at the wanted reduction or finer; of a raw file linear camera colour

        Raises
        ------
        UnreadableStill if the original is needed and cannot be read
        """
        return self.read_copy(still, reduction) or read_still(still, reduction)

    def read_copy(self, still: Still, reduction: Fraction) -> Pixels | None:
        """Read a still from the smallest copy that has the wanted reduction or finer, if there is one."""
        small = proxy_reduction(still.width, still.height, THUMBNAIL_LONG_SIDE)
        large = proxy_reduction(still.width, still.height)
        found = _jpeg_copy(self.thumbnail(still.fingerprint), small) if small <= reduction else None
        if found is None and large <= reduction:
            found = _deep_copy(self.deep(still.fingerprint)) or _jpeg_copy(self.path(still.fingerprint), large)
        return found

    def read_quickly(self, still: Still, reduction: Fraction) -> Pixels:
        """Read a still as ``read`` does, but from the larger copy where none is fine enough: softer, never late."""
        return self.read(still, self.quick_reduction(still, reduction))

    def quick_reduction(self, still: Still, reduction: Fraction) -> Fraction:
        """Return the reduction at which the larger copy does."""
        return max(reduction, Fraction(proxy_reduction(still.width, still.height)))

    def thumbnail_of(self, still: Still) -> EightBit:
        """Return a still at about 320 pixels on its longer side."""
        divisor = proxy_reduction(still.width, still.height, THUMBNAIL_LONG_SIDE)
        pixels = developed(self.read(still, Fraction(divisor)))
        step = divisor // pixels.reduction
        if step == 1:
            return as_eight(pixels.array)
        size = (max(1, pixels.array.shape[1] // step), max(1, pixels.array.shape[0] // step))
        return as_eight(np.asarray(cv2.resize(pixels.array, size, interpolation=cv2.INTER_AREA), pixels.array.dtype))

    def grey(self, still: Still, long_side: int) -> EightBit:
        """Return the brightness of a still at about ``long_side`` pixels on its longer side, or somewhat more.

        Returns
        -------
        uint8, shape (height, width)

        Raises
        ------
        UnreadableStill if the original is needed and cannot be read
        """
        width, height = (
            max(1, side * long_side // max(still.width, still.height)) for side in (still.width, still.height)
        )
        with suppress(OSError, ValueError):
            data = self.path(still.fingerprint).read_bytes()
            # The decoder gives half or a quarter of the size for nothing.
            return np.asarray(
                simplejpeg.decode_jpeg(data, "GRAY", min_height=height, min_width=width)[..., 0], np.uint8
            )
        pixels = developed(self.read(still, Fraction(max(1, max(still.width, still.height) // long_side))))
        return np.asarray(cv2.cvtColor(as_eight(pixels.array), cv2.COLOR_RGB2GRAY), np.uint8)


def _jpeg_copy(path: Path, reduction: int) -> Pixels | None:
    try:
        return Pixels(simplejpeg.decode_jpeg(path.read_bytes(), colorspace="RGB"), reduction)
    except (OSError, ValueError):
        return None


def _deep_copy(path: Path) -> Pixels | None:
    try:
        return unpacked(path.read_bytes())
    except (OSError, ValueError):
        return None


def proxy_reduction(width: int, height: int, long_side: int = PROXY_LONG_SIDE) -> int:
    """Return the largest power of two by which a copy can be reduced and keep ``long_side`` on its longer side.

    It is 8 at the most for a proxy, which is what a JPEG decoder gives for nothing.
    """
    divisor = 1
    while divisor < _LARGEST_REDUCTION[long_side] and max(width, height) >= 2 * divisor * long_side:
        divisor *= 2
    return divisor
