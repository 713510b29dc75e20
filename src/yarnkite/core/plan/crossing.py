"""How fast things move through a view, measured on two stills taken one after the other."""

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.errors import Refusal

_WIDTH = 480
# Of what moves, the quicker part is what is seen to move.
_QUICK_PERCENT = 90
_LEAST_PX = 0.8
_LEAST_SHARE = 0.002


def crossing_s(first: NDArray[np.uint8], second: NDArray[np.uint8], apart_s: float) -> float:
    """Return how long what moves would take to cross the view's width, in seconds.

    Parameters
    ----------
    first, second : two stills of one size, ``(height, width, 3)`` or ``(height, width)``, 8 bits
    apart_s : from one exposure to the other

    Raises
    ------
    Refusal (``stills_do_not_match``) for stills of two sizes, (``nothing_moves``) where none of the picture moves,
    (``plan_not_possible``) where they were taken at the same moment

    Source: T. Kroeger et al., Fast Optical Flow using Dense Inverse Search (ECCV 2016), as in OpenCV.
    """
    if apart_s <= 0:
        raise Refusal(
            "plan_not_possible", "The two stills were taken at the same moment. Say how many seconds lie between them."
        )
    if first.shape[:2] != second.shape[:2]:
        raise Refusal(
            "stills_do_not_match",
            "The two stills have different sizes. Take both with the same camera, held the same way.",
        )
    one, two = _small(first), _small(second)
    flow = cv2.DISOpticalFlow.create(cv2.DISOPTICAL_FLOW_PRESET_MEDIUM).calc(one, two, None)  # type: ignore[call-overload]
    # What all of the picture does is the camera's own movement.
    flow = flow - np.median(flow.reshape(-1, 2), axis=0)
    speed = np.hypot(flow[..., 0], flow[..., 1])[_textured(one)]
    moving = speed[speed >= _LEAST_PX]
    if speed.size == 0 or moving.size < _LEAST_SHARE * speed.size:
        raise Refusal(
            "nothing_moves",
            "Nothing moves between these two stills. Take them further apart, or enter the time yourself.",
        )
    quick = float(np.percentile(moving, _QUICK_PERCENT))
    return float(apart_s * one.shape[1] / quick)


def _small(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    grey = picture if picture.ndim == 2 else cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    height = max(16, round(grey.shape[0] * _WIDTH / grey.shape[1]))
    return np.asarray(cv2.resize(grey, (_WIDTH, height), interpolation=cv2.INTER_AREA), np.uint8)


def _textured(grey: NDArray[np.uint8]) -> NDArray[np.bool_]:
    """Where there is something to follow: flat areas have any flow."""
    smooth = cv2.GaussianBlur(grey.astype(np.float32), (0, 0), 1.0)
    edges = np.hypot(cv2.Sobel(smooth, cv2.CV_32F, 1, 0), cv2.Sobel(smooth, cv2.CV_32F, 0, 1))
    return np.asarray(cv2.dilate(edges, np.ones((5, 5), np.uint8)) > 6)
