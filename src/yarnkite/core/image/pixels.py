"""Pixels of a still, of 8 or 16 bits, and turning them upright."""

from dataclasses import dataclass
from typing import Any, TypeVar, cast

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.camera_colour import CameraColour, Scene

EightBit = NDArray[np.uint8]
SixteenBit = NDArray[np.uint16]
ImageArray = NDArray[np.uint8 | np.uint16]
Samples = TypeVar("Samples", bound=NDArray[np.generic])

_DEEPEST = 65535


@dataclass(frozen=True)
class Pixels:
    """Upright RGB pixels, shape (height, width, 3); each stands for ``reduction``² pixels of the still.

    They are sRGB; or linear camera colour of 16 bits where ``camera`` says what that needs to become sRGB; or light of
    the scene where ``scene`` says what is known of that. ``high_range`` says of sRGB that it was made of samples of
    high range, whose light beyond white rolls off (``cicp``), ``is_cut`` that the file has light below black or beyond
    white, or what is no light at all, which was cut off.
    """

    array: ImageArray
    reduction: int
    camera: CameraColour | None = None
    scene: Scene | None = None
    high_range: bool = False
    is_cut: bool = False


def is_deep(image: ImageArray) -> bool:
    """Tell whether a picture has 16 bits a sample."""
    return image.dtype == np.uint16


def peak(image: ImageArray) -> int:
    """Return the largest value a sample of a picture can have: 255 or 65535."""
    return _DEEPEST if is_deep(image) else 255


def as_eight(image: ImageArray) -> EightBit:
    """Return a picture with 8 bits a sample, each rounded to the nearest step; one that has them is not copied.

    Parameters
    ----------
    image : uint8 or uint16, any shape

    Returns
    -------
    uint8, the same shape
    """
    return _EIGHT[image] if is_deep(image) else cast(EightBit, image)


def as_sixteen(image: ImageArray) -> SixteenBit:
    """Return a picture with 16 bits a sample, 255 becoming 65535; one that has them is not copied.

    Parameters
    ----------
    image : uint8 or uint16, any shape

    Returns
    -------
    uint16, the same shape
    """
    return cast(SixteenBit, image) if is_deep(image) else image.astype(np.uint16) * np.uint16(257)


_EIGHT = ((np.arange(_DEEPEST + 1, dtype=np.uint32) * 255 + _DEEPEST // 2) // _DEEPEST).astype(np.uint8)
_ROTATIONS = {3: cv2.ROTATE_180, 6: cv2.ROTATE_90_CLOCKWISE, 8: cv2.ROTATE_90_COUNTERCLOCKWISE}


def upright(array: Samples, orientation: int) -> Samples:
    """Turn stored pixels upright after the Exif orientation tag (1–8, Exif 2.32 §4.6.4).

    Parameters
    ----------
    array : shape (height, width, 3), uint8 or uint16
    orientation : 1 … 8; 5 … 8 exchange height and width
    """
    turned: Any = array
    if orientation in _ROTATIONS:
        turned = cv2.rotate(turned, _ROTATIONS[orientation])
    elif orientation in (5, 7):
        turned = cv2.transpose(turned)
        turned = turned if orientation == 5 else cv2.flip(turned, -1)
    elif orientation != 1:
        turned = cv2.flip(turned, 1 if orientation == 2 else 0)
    return cast(Samples, turned)
