"""How far the picture moved from one still to the next."""

from copy import copy
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import EightBit

Floats = NDArray[np.float32]
_PAIR_SIZE = (256, 192)
_LEAST_TURN = 0.15


@dataclass(frozen=True)
class Shift:
    """How a still lies against the one before: ``x`` and ``y`` in shares of the still's width, ``rotation_deg`` clockwise.

    ``trust`` is 0 … 1: how much of the picture agrees on it.
    """

    x: float
    y: float
    rotation_deg: float
    trust: float


class Edges:
    """A still as the search for shifts sees it: its edges, whatever the light, in parts with soft borders."""

    def __init__(self, thumbnail: EightBit) -> None:
        grey = cv2.cvtColor(thumbnail, cv2.COLOR_RGB2GRAY)
        self.stretch = (thumbnail.shape[1] / _PAIR_SIZE[0], thumbnail.shape[0] / _PAIR_SIZE[1])
        self.width = thumbnail.shape[1]
        light = cv2.resize(grey, _PAIR_SIZE, interpolation=cv2.INTER_AREA).astype(np.float32)
        calm = cv2.GaussianBlur(light, (0, 0), 12)
        spread = np.sqrt(cv2.GaussianBlur((light - calm) ** 2, (0, 0), 12)) + 3
        self.picture: Floats = np.asarray((light - calm) / spread, np.float32)

    def turned(self, degrees: float) -> "Edges":
        """Return the same still turned about its middle, clockwise."""
        (across, down), angle = self.stretch, np.radians(degrees)
        turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        matrix = np.diag([1 / across, 1 / down]) @ turn @ np.diag([across, down])
        middle = (np.array(_PAIR_SIZE) - 1) / 2
        whole = np.column_stack([matrix, middle - matrix @ middle]).astype(np.float32)
        result = copy(self)
        result.picture = np.asarray(cv2.warpAffine(self.picture, whole, _PAIR_SIZE, borderMode=cv2.BORDER_REFLECT))
        return result


_WINDOW = cv2.createHanningWindow(_PAIR_SIZE, cv2.CV_32F)
_SIDE = (_PAIR_SIZE[0] // 2, _PAIR_SIZE[1])
_LEVEL = (_PAIR_SIZE[0], _PAIR_SIZE[1] // 2)
_SIDE_WINDOW = cv2.createHanningWindow(_SIDE, cv2.CV_32F)
_LEVEL_WINDOW = cv2.createHanningWindow(_LEVEL, cv2.CV_32F)


def shift_between(before: Edges, after: Edges) -> Shift:
    """Return how far the picture moved from one still to the next, by phase correlation (Foroosh et al. 2002).

    A turn shows in how the sides rise against each other and in how top and bottom slide; only if both agree it is one.
    """
    turn = _turn(before.picture, after, before.stretch)
    picture = after.picture
    if abs(turn) > _LEAST_TURN:
        # Parts of a turned picture overlap less, so that a first look finds too little of the turn.
        turn += _turn(before.picture, after.turned(-turn), before.stretch)
        picture = after.turned(-turn).picture
    (across, down), trust = cv2.phaseCorrelate(before.picture, picture, _WINDOW)
    scale_x, scale_y = before.stretch
    return Shift(
        across * scale_x / before.width,
        down * scale_y / before.width,
        turn,
        float(np.clip(trust, 0, 1)),
    )


def _turn(before: Floats, after: Edges, stretch: tuple[float, float]) -> float:
    shape = stretch[1] / stretch[0]
    found = []
    for window, parts in ((_SIDE_WINDOW, _sides), (_LEVEL_WINDOW, _levels)):
        (first_before, last_before), (first_after, last_after) = parts(before), parts(after.picture)
        first, first_trust = cv2.phaseCorrelate(first_before, first_after, window)
        last, last_trust = cv2.phaseCorrelate(last_before, last_after, window)
        if min(first_trust, last_trust) < 0.1:
            return 0.0
        found.append((last[0] - first[0], last[1] - first[1]))
    by_sides = np.degrees(np.arctan2(found[0][1] * shape, _SIDE[0]))
    by_levels = np.degrees(np.arctan2(-found[1][0], _LEVEL[1] * shape))
    both = float(by_sides + by_levels) / 2
    return both if abs(by_sides - by_levels) < 0.5 * abs(both) else 0.0


def _sides(picture: Floats) -> tuple[Floats, Floats]:
    return np.ascontiguousarray(picture[:, : _SIDE[0]]), np.ascontiguousarray(picture[:, _SIDE[0] :])


def _levels(picture: Floats) -> tuple[Floats, Floats]:
    return np.ascontiguousarray(picture[: _LEVEL[1]]), np.ascontiguousarray(picture[_LEVEL[1] :])
