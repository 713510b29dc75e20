"""Bridging: a picture for a place where a still is spoiled or missing, made from the stills before and after."""

from fractions import Fraction

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.check.decisions import How
from yarnkite.core.image.pixels import ImageArray, as_eight, as_sixteen, is_deep
from yarnkite.core.image.srgb import mean_of_light

_FLOW_WIDTH = 480


def bridged(before: ImageArray, after: ImageArray, share: float, how: How) -> ImageArray:
    """Return the picture between two pictures.

    Parameters
    ----------
    before, after : RGB, sRGB, uint8 or uint16, both of one shape (height, width, 3)
    share : 0 … 1 of the way
    how : ``blend`` mixes their light; ``motion`` moves both along the optical flow between them (Kroeger et al. 2016)
        first

    Returns
    -------
    as ``before``
    """
    if how == "motion":
        return Motion(before, after).at(share)
    return _mixed(before, after, share)


class Motion:
    """How things move from one picture to the next, both RGB, of the same shape."""

    def __init__(self, before: ImageArray, after: ImageArray) -> None:
        if is_deep(before) != is_deep(after):
            before, after = as_sixteen(before), as_sixteen(after)
        self._before, self._after = before, after
        self._there, self._back = _flow(before, after), _flow(after, before)

    def at(self, share: float) -> ImageArray:
        """Return the picture at ``share`` (0 … 1) of the way."""
        before, after = _along(self._before, self._there, -share), _along(self._after, self._back, share - 1)
        return _mixed(before, after, share)


def _mixed(before: ImageArray, after: ImageArray, share: float) -> ImageArray:
    """Mix two pictures as light adds up, like every other blend of pictures."""
    weight = Fraction(round(share * 256), 256)
    return mean_of_light((before, after), (1 - weight, weight))


def _flow(start: ImageArray, end: ImageArray) -> NDArray[np.float32]:
    height, width = start.shape[:2]
    scale = min(1.0, _FLOW_WIDTH / width)
    size = (max(16, round(width * scale)), max(16, round(height * scale)))
    small = [
        cv2.cvtColor(
            as_eight(np.asarray(cv2.resize(one, size, interpolation=cv2.INTER_AREA), one.dtype)), cv2.COLOR_RGB2GRAY
        )
        for one in (start, end)
    ]
    search = cv2.DISOpticalFlow.create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM)
    flow = search.calc(small[0], small[1], np.zeros((size[1], size[0], 2), np.float32))
    flow = cv2.resize(flow, (width, height), interpolation=cv2.INTER_LINEAR)
    return np.asarray(flow * np.array([width / size[0], height / size[1]], np.float32), np.float32)


def _along(image: ImageArray, flow: NDArray[np.float32], share: float) -> ImageArray:
    height, width = image.shape[:2]
    across, down = np.meshgrid(np.arange(width, dtype=np.float32), np.arange(height, dtype=np.float32))
    moved = cv2.remap(
        image,
        across + flow[..., 0] * share,
        down + flow[..., 1] * share,
        interpolation=cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return np.asarray(moved, image.dtype)
