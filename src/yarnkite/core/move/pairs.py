"""How one still of a shot lies against another: corners followed by optical flow, and the simplest map that explains
them.

Corners by Shi and Tomasi (1994), followed by pyramids of Lucas and Kanade (Bouguet 2001) there and back; what moves by
itself is voted out (RANSAC, Fischler and Bolles 1981) and by Tukey's weights. Where too little holds, phase correlation
(Foroosh et al. 2002) still finds a shift.
"""

from copy import copy
from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.homography import AFFINE, PERSPECTIVE, SHIFT, SIMILARITY, logarithm, mapped
from yarnkite.core.image.pixels import EightBit

Pixels = NDArray[np.integer | np.floating]

LONG_SIDE = 640
MOST_CORNERS = 130
_CELLS = (10, 7)
_WINDOW = (15, 15)
_LEVELS = 3
_CALM_PX = 17
_LEAST_CONTRAST = 5.0
_THERE_AND_BACK_PX = 0.4
_LEAST_CORNERS = 16
_LEAST_SHARE = 0.2
# A model must explain this many times more than it would by chance for each number it has more.
_WORTH = 6.0
_TUKEY = 4.685
_ROUNDS = 12
_LEAST_TRUST = 0.12
_PHASE_NOISE_PX = 0.3
_SOFT_STEP = 3
_LEAST_SPREAD = 1.5
_OTHER_SHAPE = 0.02


@dataclass(frozen=True)
class PairMotion:
    """How a still lies against another: where a point of the first lies in the second.

    ``similar`` are the four numbers of the nearest map of shift, turn and size, ``numbers`` all eight of the simplest
    one that explains what is seen, ``degrees`` how many of them count (0 for nothing moves). ``noise`` is how far
    single corners are off it, in half diagonals, ``corners`` how many hold, ``share`` of those that were followed; all
    of it is 0 where nothing was found.
    """

    similar: tuple[float, ...]
    numbers: tuple[float, ...]
    degrees: int
    noise: float
    corners: int
    share: float

    @property
    def is_found(self) -> bool:
        """Whether the two have anything to do with each other, as far as can be told."""
        return self.corners > 0


NOT_FOUND = PairMotion((0.0,) * 4, (0.0,) * 8, 0, 0.0, 0, 0.0)


class Followed:
    """A still as the search for movement sees it: its structure whatever the light, and its corners.

    It is made of its brightness, shape (height, width).
    """

    def __init__(self, grey: EightBit) -> None:
        height, width = grey.shape
        scale = min(1.0, LONG_SIDE / max(height, width))
        # Both axes by exactly the same, so that a turn stays one.
        size = (max(32, round(width * scale)), max(32, round(height * scale)))
        small = grey if size == (width, height) else cv2.resize(grey, size, interpolation=cv2.INTER_AREA)
        self.size = size
        self.stretch = np.array([width / size[0], height / size[1]]) / (np.hypot(width, height) / 2)
        self.structure = _structure(small)
        self._small = small
        self.corners = _corners(self.structure)

    @cached_property
    def soft(self) -> NDArray[np.float32]:
        """A small soft copy, for what has no corners: noise is gone, large shapes stay."""
        size = (max(16, self.size[0] // _SOFT_STEP), max(16, self.size[1] // _SOFT_STEP))
        small = cv2.resize(self._small, size, interpolation=cv2.INTER_AREA).astype(np.float32)
        return np.asarray(cv2.GaussianBlur(small, (0, 0), 1.2), np.float32)

    def at_size(self, size: tuple[int, int]) -> "Followed":
        """Return the same still on a grid of another size, to be compared with one that has it."""
        other = copy(self)
        other.size = size
        other.stretch = self.stretch * (np.array(self.size) / size)
        other.structure = np.asarray(cv2.resize(self.structure, size, interpolation=cv2.INTER_AREA), np.uint8)
        other.__dict__.pop("soft", None)
        return other

    def measured(self, points: Floats) -> Floats:
        """Return pixels of the reduced picture, middles on whole numbers, as half diagonals about its middle."""
        middle = (np.array(self.size) - 1) / 2
        return np.asarray((points - middle) * self.stretch)

    def pixels(self, points: Floats) -> Floats:
        """Return points in half diagonals as pixels of the reduced picture."""
        return np.asarray(points / self.stretch + (np.array(self.size) - 1) / 2)


def motion_between(first: Followed, second: Followed, guess: Floats | None = None) -> PairMotion:
    """Return how a still lies against another; ``guess`` is a map, shape (3, 3), that is likely near.

    Both must have the same shape, or one that differs by scale alone; of others nothing is found.
    """
    if first.size != second.size:
        if abs(first.size[0] * second.size[1] / (first.size[1] * second.size[0]) - 1) > _OTHER_SHAPE:
            return NOT_FOUND
        second = second.at_size(first.size)
    here, there = _followed(first, second, guess)
    if len(here) >= _LEAST_CORNERS:
        found = _explained(first.measured(here), second.measured(there), float(second.stretch.mean()))
        if found.is_found:
            return found
    return _by_phase(first, second)


def _structure(grey: Pixels) -> NDArray[np.uint8]:
    """Return what stands out of its surroundings, as much everywhere, whatever the light."""
    light = grey.astype(np.float32)
    side = (_CALM_PX * 2 + 1,) * 2
    calm = cv2.blur(light, side)
    contrast = np.sqrt(np.maximum(cv2.blur(light * light, side) - calm * calm, 0))
    return np.asarray(np.clip((light - calm) * (44 / (contrast + _LEAST_CONTRAST)) + 128, 0, 255), np.uint8)


def _corners(structure: NDArray[np.uint8]) -> NDArray[np.float32]:
    """Return corners spread over the picture, shape (n, 2), so that no part outvotes the others by being busy."""
    found = cv2.goodFeaturesToTrack(structure, 4 * MOST_CORNERS, 0.015, 7, blockSize=5)
    if found is None:
        return np.zeros((0, 2), np.float32)
    points = found.reshape(-1, 2)
    height, width = structure.shape
    cell = (points[:, 0] * _CELLS[0] / width).astype(int) + _CELLS[0] * (points[:, 1] * _CELLS[1] / height).astype(int)
    # The best come first: of each cell in turn, the best that is left.
    order = np.argsort(cell, kind="stable")
    starts = np.r_[0, np.cumsum(np.bincount(cell, minlength=_CELLS[0] * _CELLS[1]))]
    rank = np.empty(len(points), int)
    rank[order] = np.arange(len(points)) - starts[cell[order]]
    return np.asarray(points[np.argsort(rank, kind="stable")[:MOST_CORNERS]], np.float32)


def _followed(first: Followed, second: Followed, guess: Floats | None) -> tuple[Floats, Floats]:
    """Return corners of the first, and where they are in the second, in its pixels; only those that are found back."""
    if not len(first.corners):
        return np.zeros((0, 2)), np.zeros((0, 2))
    criteria = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 15, 0.005)
    start = first.corners
    begin = start.copy()
    if guess is not None:
        begin = second.pixels(mapped(guess, first.measured(start))).astype(np.float32)
    there, fine, _ = cv2.calcOpticalFlowPyrLK(
        first.structure,
        second.structure,
        start,
        begin,
        winSize=_WINDOW,
        maxLevel=_LEVELS,
        criteria=criteria,
        flags=cv2.OPTFLOW_USE_INITIAL_FLOW,
    )
    kept = fine.reshape(-1) == 1
    here, there = start[kept], there[kept]
    if not len(here):
        return np.zeros((0, 2)), np.zeros((0, 2))
    back, fine, _ = cv2.calcOpticalFlowPyrLK(
        *(second.structure, first.structure, there, here.copy()),
        winSize=_WINDOW,
        maxLevel=0,
        criteria=criteria,
        flags=cv2.OPTFLOW_USE_INITIAL_FLOW,
    )
    kept = (fine.reshape(-1) == 1) & (np.hypot(*(back - here).T) < _THERE_AND_BACK_PX)
    # Both ways have errors of their own: half of what is missing at the end belongs to the way there.
    corrected = there[kept] - (back - here)[kept] / 2
    return here[kept].astype(float), corrected.astype(float)


def _explained(here: Floats, there: Floats, pixel: float) -> PairMotion:
    start, held = _voted(here, there, pixel)
    if held.sum() < max(_LEAST_CORNERS, _LEAST_SHARE * len(here)):
        return NOT_FOUND
    shifted = np.eye(3)
    shifted[:2, 2] = np.median((there - here)[held], axis=0)
    starts = {0: np.eye(3), SHIFT: shifted, SIMILARITY: start, AFFINE: start, PERSPECTIVE: start}
    fits = {count: _fitted(here, there, begin, count, pixel) for count, begin in starts.items()}
    scale = max(fits[PERSPECTIVE][1], 0.02 * pixel)
    # Of two models the one with more numbers is taken only if it leaves much less than noise explains.
    costs = {
        count: float(np.minimum((off / scale) ** 2, 9).sum()) + _WORTH * count for count, (_, _, off) in fits.items()
    }
    degrees = min(costs, key=lambda count: costs[count])
    found, noise, off = fits[degrees]
    numbers = _numbers_of(found, degrees)
    similar = _numbers_of(fits[SIMILARITY][0], SIMILARITY) if degrees > SIMILARITY else numbers
    near = off < 4 * max(noise, 0.05 * pixel)
    return PairMotion(similar[:4], numbers, degrees, noise, int(near.sum()), float(near.mean()))


def _numbers_of(found: Floats, degrees: int) -> tuple[float, ...]:
    """Return the numbers of a map of a model; what rounding adds beyond the model goes."""
    if not degrees:
        return (0.0,) * 8
    numbers = logarithm(found)
    numbers[degrees:] = 0.0
    return tuple(np.nan_to_num(numbers).tolist())


def _voted(here: Floats, there: Floats, pixel: float) -> tuple[Floats, NDArray[np.bool_]]:
    """Return the map most corners agree on, and which do."""
    found, held = cv2.estimateAffinePartial2D(
        *(here / pixel, there / pixel), method=cv2.RANSAC, ransacReprojThreshold=1.5, maxIters=1500, confidence=0.995
    )
    if found is None:
        return np.eye(3), np.zeros(len(here), bool)
    return np.vstack([found * [[1, 1, pixel]], [0, 0, 1]]), held.reshape(-1) == 1


def _fitted(here: Floats, there: Floats, start: Floats, count: int, pixel: float) -> tuple[Floats, float, Floats]:
    """Return the best map of a model, how far corners are off it in general, and how far each is."""
    found = _adjusted(here, there, start, count, pixel) if count else start
    distance = np.hypot(*(there - mapped(found, here)).T)
    near = distance[distance < 3 * pixel]
    return found, float(np.median(near)) * 1.2 if len(near) else 3 * pixel, distance


@njit(nogil=True, cache=True)
def _adjusted(here, there, start, count, pixel):  # type: ignore[no-untyped-def]
    """The best map near ``start`` of a model with ``count`` numbers: by Gauss and Newton, with Tukey's weights."""
    found = start.copy()
    points = len(here)
    off_x, off_y, distance, slope = np.empty(points), np.empty(points), np.empty(points), np.empty((2, 8))
    scale = 3 * pixel
    for step in range(_ROUNDS):
        normal, right = np.zeros((count, count)), np.zeros(count)
        for one in range(points):
            x, y = here[one]
            divisor = found[2, 0] * x + found[2, 1] * y + found[2, 2]
            off_x[one] = there[one, 0] - (found[0, 0] * x + found[0, 1] * y + found[0, 2]) / divisor
            off_y[one] = there[one, 1] - (found[1, 0] * x + found[1, 1] * y + found[1, 2]) / divisor
            distance[one] = np.hypot(off_x[one], off_y[one])
        scale = max(min(scale, 1.2 * np.median(distance)) if step > 2 else scale * 0.7, 0.03 * pixel)
        for one in range(points):
            weight = 1 - (distance[one] / (_TUKEY * scale)) ** 2
            if weight <= 0:
                continue
            weight *= weight
            x, y = there[one, 0] - off_x[one], there[one, 1] - off_y[one]
            slope[0] = 1.0, 0.0, -y, x, x, y, -x * x, -x * y
            slope[1] = 0.0, 1.0, x, y, -y, x, -x * y, -y * y
            for row in range(count):
                right[row] += weight * (slope[0, row] * off_x[one] + slope[1, row] * off_y[one])
                for column in range(count):
                    product = slope[0, row] * slope[0, column] + slope[1, row] * slope[1, column]
                    normal[row, column] += weight * product
        for row in range(count):
            normal[row, row] += 1e-9
        change = np.zeros(8)
        change[:count] = np.linalg.solve(normal, right)
        step_by = np.eye(3)
        step_by[0, 0] += change[3] / 3 + change[4]
        step_by[1, 1] += change[3] / 3 - change[4]
        step_by[2, 2] -= change[3] * 2 / 3
        step_by[0, 1] += change[5] - change[2]
        step_by[1, 0] += change[5] + change[2]
        step_by[0, 2], step_by[1, 2], step_by[2, 0], step_by[2, 1] = change[0], change[1], change[6], change[7]
        found = step_by @ found
        if np.abs(change).max() < 1e-7:
            break
    return found


def _by_phase(first: Followed, second: Followed) -> PairMotion:
    if min(first.soft.std(), second.soft.std()) < _LEAST_SPREAD:
        return NOT_FOUND
    one, other = ((still.soft - still.soft.mean()) / still.soft.std() for still in (first, second))
    window = cv2.createHanningWindow((one.shape[1], one.shape[0]), cv2.CV_32F)
    shift, trust = cv2.phaseCorrelate(one, other, window)
    if trust < _LEAST_TRUST:
        return NOT_FOUND
    step = np.array(first.size) / (one.shape[1], one.shape[0])
    x, y = np.array(shift) * step * second.stretch
    numbers = (float(x), float(y), *(0.0,) * 6)
    noise = _PHASE_NOISE_PX * float(step.mean() * second.stretch.mean())
    return PairMotion(numbers[:4], numbers, SHIFT, noise, _LEAST_CORNERS, float(trust))
