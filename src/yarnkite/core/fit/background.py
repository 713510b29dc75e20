"""Surround: what fills the frame where a still does not reach."""

from fractions import Fraction

import cv2
import numpy as np

from yarnkite.core.base.frozen import Size
from yarnkite.core.fit.decisions import Surround
from yarnkite.core.image.overlay import rgb
from yarnkite.core.image.pixels import ImageArray, peak

# The blurred still is made on a small grid of its own, so that it is the same at every size of the picture.
_GRID_WIDTH = 96
_SOFTNESS = 3.5
_DIMMED = 0.72


def background(array: ImageArray, chosen: Surround, size: Size, shape: Fraction) -> ImageArray:
    """Return a frame filled with the surround of a still.

    Parameters
    ----------
    array : the still's pixels at any scale, RGB, sRGB, uint8 or uint16
    chosen : what surrounds it
    size : of the frame in pixels
    shape : width ÷ height of the clip

    Returns
    -------
    RGB, shape (height, width, 3), as deep as ``array``
    """
    if chosen.kind == "colour":
        colour = rgb(chosen.colour)
        return np.full((size.height, size.width, 3), np.array(colour) * (peak(array) // 255), array.dtype)
    grid = (_GRID_WIDTH, max(4, round(_GRID_WIDTH / shape)))
    small = cv2.resize(_covering(array, shape), grid, interpolation=cv2.INTER_AREA)
    soft = cv2.GaussianBlur(small.astype(np.float32), (0, 0), _SOFTNESS, borderType=cv2.BORDER_REPLICATE) * _DIMMED
    large = cv2.resize(soft, (size.width, size.height), interpolation=cv2.INTER_CUBIC)
    return np.asarray(np.clip(np.rint(large), 0, peak(array)), array.dtype)


def _covering(array: ImageArray, shape: Fraction) -> ImageArray:
    """Return the largest part of a picture around its middle that has a shape."""
    height, width = array.shape[:2]
    wide, high = min(width, max(1, round(height * shape))), min(height, max(1, round(width / shape)))
    left, top = (width - wide) // 2, (height - high) // 2
    return array[top : top + high, left : left + wide]
