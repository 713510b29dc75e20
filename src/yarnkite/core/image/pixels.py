"""Pixels of a still, and turning them upright."""

from dataclasses import dataclass
from typing import Any, TypeVar, cast

import cv2
import numpy as np
from numpy.typing import NDArray

ImageArray = NDArray[np.uint8]
Samples = TypeVar("Samples", bound=NDArray[np.generic])


@dataclass(frozen=True)
class Pixels:
    """Upright RGB pixels, shape (height, width, 3); each stands for ``reduction``² pixels of the still."""

    array: ImageArray
    reduction: int


_TURNS = {3: cv2.ROTATE_180, 6: cv2.ROTATE_90_CLOCKWISE, 8: cv2.ROTATE_90_COUNTERCLOCKWISE}


def upright(array: Samples, orientation: int) -> Samples:
    """Turn stored pixels upright after the Exif orientation tag (1–8, Exif 2.32 §4.6.4)."""
    turned: Any = array
    if orientation in _TURNS:
        turned = cv2.rotate(turned, _TURNS[orientation])
    elif orientation in (5, 7):
        turned = cv2.transpose(turned)
        turned = turned if orientation == 5 else cv2.flip(turned, -1)
    elif orientation != 1:
        turned = cv2.flip(turned, 1 if orientation == 2 else 0)
    return cast(Samples, turned)
