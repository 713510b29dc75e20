"""A point of the scene, followed from still to still: where it is, and how sure that is.

What surrounds the point is looked for near where the camera's movement leads it (normalised cross-correlation), and
then laid onto it exactly (enhanced correlation coefficient, Evangelidis and Psarakis 2008). Where it is hidden it goes
with the camera, until it is found again.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.image.pixels import EightBit

LONG_SIDE = 1280
SURE_FROM = 0.72
_HALF = 20
_SEARCH = 18
_SEARCH_MORE = 5
_WIDEST = 90
_FOUND_FROM = 0.62
_ANEW_BELOW = 0.9
_ANEW_CHANGE = 0.12
_MOST_CHANGE = 0.15
_CALM = 3

Grey = NDArray[np.float32]


@dataclass(frozen=True)
class Observation:
    """Where a point is, in half diagonals about the middle of its still; ``sure`` is 0 where it is hidden, up to 1."""

    x: float
    y: float
    sure: float


@dataclass(frozen=True)
class Tracked:
    """What is known of a point while it is followed.

    ``patch`` is what surrounds it in the still it was seen in clearly, ``shape`` by how much that is turned and
    enlarged since then, shape (2, 2); ``at`` is where it was last, in half diagonals, ``hidden`` for how many stills it
    was not seen.
    """

    patch: Grey
    shape: Floats
    at: Floats
    hidden: int = 0


class Seen:
    """A still in which a point is looked for, by its brightness, shape (height, width)."""

    def __init__(self, grey: EightBit) -> None:
        height, width = grey.shape
        scale = min(1.0, LONG_SIDE / max(height, width))
        size = (max(32, round(width * scale)), max(32, round(height * scale)))
        small = grey if size == (width, height) else cv2.resize(grey, size, interpolation=cv2.INTER_AREA)
        self.grey: Grey = cv2.GaussianBlur(small, (_CALM, _CALM), 0).astype(np.float32)
        self._middle = (np.array(size) - 1) / 2
        self._stretch = np.array([width / size[0], height / size[1]]) / (np.hypot(width, height) / 2)

    def pixels(self, at: Floats) -> Floats:
        """Return points in half diagonals as pixels, middles on whole numbers."""
        return np.asarray(at / self._stretch + self._middle)

    def measured(self, pixels: Floats) -> Floats:
        """Return pixels as half diagonals about the middle."""
        return np.asarray((pixels - self._middle) * self._stretch)

    def around(self, pixels: Floats, shape: Floats, half: int) -> Grey:
        """Return what surrounds a spot, turned and enlarged as ``shape`` says, (2 · half + 1) pixels square."""
        side = 2 * half + 1
        to_still = np.column_stack([shape, pixels - shape @ np.array([half, half])])
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        cut = cv2.warpAffine(self.grey, to_still, (side, side), flags=flags, borderMode=cv2.BORDER_REPLICATE)
        return np.asarray(cut, np.float32)


def begun(still: Seen, at: Floats) -> Tracked:
    """Return a point that was pointed at in a still, ``at`` in half diagonals."""
    return Tracked(still.around(still.pixels(at), np.eye(2), _HALF), np.eye(2), np.asarray(at, float))


def followed(point: Tracked, still: Seen, led: Floats) -> tuple[Tracked, Observation]:
    """Return a point in the next still, and where it is.

    Parameters
    ----------
    point : as it was in the still before
    still : the next one
    led : the map of the camera's movement from the one before to it, shape (3, 3)
    """
    here = np.append(point.at, 1.0)
    led_to = led @ here
    expected = led_to[:2] / led_to[2]
    turned = _near_identity((led[:2, :2] - np.outer(expected, led[2, :2])) / led_to[2]) @ point.shape
    reach = min(_WIDEST, _SEARCH + _SEARCH_MORE * point.hidden)
    found = _laid_onto(point.patch, still, still.pixels(expected), turned, reach)
    if found is None:
        return replace(point, at=expected, shape=turned, hidden=point.hidden + 1), Observation(
            float(expected[0]), float(expected[1]), 0.0
        )
    pixels, shape, likeness = found
    at = still.measured(pixels)
    patch = point.patch
    if likeness > SURE_FROM and (likeness < _ANEW_BELOW or np.abs(shape - np.eye(2)).max() > _ANEW_CHANGE):
        patch, shape = still.around(pixels, np.eye(2), _HALF), np.eye(2)
    return Tracked(patch, shape, at), Observation(float(at[0]), float(at[1]), likeness)


def _near_identity(shape: Floats) -> Floats:
    """Return a change of shape as far as one still to the next can change it."""
    return np.asarray(np.eye(2) + np.clip(shape - np.eye(2), -_MOST_CHANGE, _MOST_CHANGE))


def _laid_onto(
    patch: Grey, still: Seen, expected: Floats, shape: Floats, reach: int
) -> tuple[Floats, Floats, float] | None:
    """Return where a patch lies in a still (pixels), how it is turned and enlarged there, and how alike the two are."""
    if patch.std() < 1:
        return None
    height, width = still.grey.shape
    if not (-reach <= expected[0] < width + reach and -reach <= expected[1] < height + reach):
        return None
    search = still.around(expected, shape, _HALF + reach)
    likeness = cv2.matchTemplate(search, patch, cv2.TM_CCOEFF_NORMED)
    _, best, _, place = cv2.minMaxLoc(likeness)
    if not np.isfinite(best) or best < _FOUND_FROM:
        return None
    start = np.array([[1, 0, place[0]], [0, 1, place[1]]], np.float32)
    criteria = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 30, 1e-4)
    try:
        alike, laid = cv2.findTransformECC(patch, search, start, cv2.MOTION_AFFINE, criteria)
    except cv2.error:
        return None
    change = laid[:, :2].astype(float)
    middle = np.array([_HALF, _HALF], float)
    moved = change @ middle + laid[:, 2] - (np.array(place) + middle)
    if alike < _FOUND_FROM or np.abs(change - np.eye(2)).max() > 2 * _MOST_CHANGE or np.abs(moved).max() > 4:
        return None
    offset = change @ middle + laid[:, 2] - (_HALF + reach)
    at = expected + shape @ offset
    if not (0 <= at[0] <= width - 1 and 0 <= at[1] <= height - 1):
        return None
    return at, shape @ change, float(min(1.0, alike))


def bridged(observations: Floats) -> Floats:
    """Return where a point is, with what it was off when it was found again laid evenly over the stills that hid it.

    Parameters
    ----------
    observations : x, y, sure and, for the first still after hidden ones, x and y where the camera led it, shape
        (stills, 5)

    Returns
    -------
    x and y, shape (stills, 2)
    """
    places = np.array(observations[:, :2], float)
    hidden: Flags = observations[:, 2] <= 0
    first = -1
    for still in range(len(places)):
        if hidden[still]:
            first = still if first < 0 else first
            continue
        if first > 0:
            off = observations[still, :2] - observations[still, 3:]
            count = still - first + 1
            places[first:still] += off * (np.arange(1, count) / count)[:, None]
        first = -1
    return places
