"""Measures of a still and of a pair of stills, from which the check finds what is wrong.

Light is measured in stops: log2 of relative luminance, linear light (IEC 61966-2-1).
"""

from copy import copy
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Image = NDArray[np.uint8]
Floats = NDArray[np.float32]

GRID = (16, 24)
DARKEST = 2.0**-12
_LINEAR = np.where(
    np.arange(256) <= 0.04045 * 255,
    np.arange(256) / 255 / 12.92,
    ((np.arange(256) / 255 + 0.055) / 1.055) ** 2.4,
).astype(np.float32)
_LUMINANCE = np.array([0.2126, 0.7152, 0.0722], np.float32)
_PAIR_SIZE = (256, 192)
_LEAST_TURN = 0.15
_BALANCE_SIZE = (32, 32)


@dataclass(frozen=True)
class Measures:
    """What is measured of one still.

    ``low``, ``middle`` and ``high`` are the 5th, 50th and 95th percentile of its light in stops, ``mean`` the mean
    relative luminance; ``dark`` and ``bright`` the shares of pixels at either end; ``red`` and ``blue`` the balance
    against green in stops; ``sharpness`` the share of fine in coarse detail, in stops; ``noise`` the standard deviation
    of noise in 8-bit steps (Immerkær 1996); ``looks`` a 64-bit difference hash; ``blocks`` the light in stops of a grid
    of 16 × 24 blocks, rows first.
    """

    mean: float
    low: float
    middle: float
    high: float
    dark: float
    bright: float
    red: float
    blue: float
    sharpness: float
    noise: float
    looks: int
    blocks: Floats


def measured(image: Image, small: Image) -> Measures:
    """Measure a still, RGB, shape (height, width, 3).

    ``image`` is a copy of about 1280 pixels on its longer side, for fine detail; ``small`` one of about 160 × 160,
    for light and colour.
    """
    linear = cv2.LUT(small, _LINEAR)
    light = cv2.transform(linear, _LUMINANCE[None, :]).reshape(small.shape[:2])
    stops = np.log2(np.maximum(light, DARKEST))
    low, middle, high = np.percentile(stops, (5, 50, 95))
    # By the median over the view, so that who walks past in a red coat does not count as a change of light.
    coarse_light = np.maximum(cv2.resize(linear, _BALANCE_SIZE, interpolation=cv2.INTER_AREA), DARKEST)
    balance = np.log2(coarse_light.reshape(-1, 3))
    blocks = cv2.resize(light, (GRID[1], GRID[0]), interpolation=cv2.INTER_AREA)
    brightest = small.max(axis=2)
    bands = _bands(image)
    # Detail of two pixels: what is finer is mostly grain.
    fine = cv2.resize(bands, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    grey = cv2.cvtColor(small, cv2.COLOR_RGB2GRAY)
    coarse = cv2.resize(grey, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    return Measures(
        mean=float(light.mean()),
        low=float(low),
        middle=float(middle),
        high=float(high),
        dark=float((brightest <= 2).mean()),
        bright=float((brightest >= 253).mean()),
        red=float(np.median(balance[:, 0] - balance[:, 1])),
        blue=float(np.median(balance[:, 2] - balance[:, 1])),
        sharpness=float(
            np.log2((_detail(np.asarray(fine, np.uint8)) + 0.05) / (_detail(np.asarray(coarse, np.uint8)) + 0.05))
        ),
        noise=_noise(bands),
        looks=_looks(np.asarray(grey, np.uint8)),
        blocks=np.log2(np.maximum(blocks, DARKEST)).astype(np.float32),
    )


def _bands(image: Image) -> Image:
    """Return three level bands of a picture, a quarter of it, as grey: enough to judge detail by."""
    height = image.shape[0]
    tall = max(1, height // 12)
    rows = [
        image[middle - tall // 2 : middle - tall // 2 + tall] for middle in (height // 4, height // 2, 3 * height // 4)
    ]
    return np.asarray(cv2.cvtColor(np.concatenate(rows), cv2.COLOR_RGB2GRAY), np.uint8)


def _detail(grey: Image) -> float:
    """Return the mean amount of detail between neighbouring pixels; a gain in exposure changes it alike at any scale."""
    return float(cv2.norm(cv2.Laplacian(grey, cv2.CV_16S), cv2.NORM_L1)) / grey.size


def _noise(grey: Image) -> float:
    """Estimate noise by a mask that answers neither to edges nor to slopes (Immerkær 1996), by the median."""
    answer = cv2.filter2D(grey, cv2.CV_16S, np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32))
    return float(np.median(np.abs(answer[::2, ::4]))) / 0.6745 / 6


def _looks(grey: Image) -> int:
    small = cv2.resize(grey, (9, 8), interpolation=cv2.INTER_AREA)
    return int.from_bytes(np.packbits(small[:, 1:] > small[:, :-1]).tobytes())


@dataclass(frozen=True)
class Shift:
    """How a still lies against the one before: ``across`` and ``down`` in shares of the still's width, ``turn`` in degrees.

    ``trust`` is 0 … 1: how much of the picture agrees on it.
    """

    across: float
    down: float
    turn: float
    trust: float


class Edges:
    """A still as the search for shifts sees it: its edges, whatever the light, in parts with soft borders."""

    def __init__(self, thumbnail: Image) -> None:
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
