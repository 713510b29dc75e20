"""How far the picture moved from one still to the next: parts of it vote, so that clouds and waves do not move the
ground."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import EightBit

Floats = NDArray[np.float32]
_PAIR_SIZE = (256, 192)
_TILE, _STEP = 64, 32
# How sure a tile must be of its own shift to have a vote, in the response of phase correlation.
_LEAST_SURE = 0.13
# How far from what the others say a tile may be and still agree, in pixels.
_AGREES_PX = 0.35
_STANDS_PX = 0.3
# What stands still wins over what moves together if it has this share of the votes of it: clouds are large, too.
_GROUND = 0.25
_MOST_TURN, _MOST_ZOOM = np.radians(8), 0.06
# Tiles overlap too little beyond this; then the whole frame says first where to look.
_FARTHEST_PX = 14.0
_LEAST_PX = 0.1
_FEW, _FEWEST_VOTES = 10, 20
# How far the exact place may lie from what the tiles said; a long way is said too short.
_NEAR_PX = 0.3
_ENOUGH = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 30, 1e-4)


@dataclass(frozen=True)
class Shift:
    """How a still lies against the one before: ``x`` and ``y`` in shares of the still's width, ``rotation_deg``
    clockwise.

    ``trust`` is 0 … 1: how much of the picture agrees on it.
    """

    x: float
    y: float
    rotation_deg: float
    trust: float


@dataclass(frozen=True)
class _Placed:
    """Where a picture lies: each place from its middle, as a complex number of pixels, times ``scale`` and ``away``."""

    scale: complex
    away: complex

    def at(self, places: NDArray[np.complex128]) -> NDArray[np.complex128]:
        """Return by how much places move."""
        return np.asarray((self.scale - 1) * places + self.away)

    def then(self, rest: "_Placed") -> "_Placed":
        """Return where it lies if what was left over after this is ``rest``."""
        return _Placed(self.scale * rest.scale, self.scale * rest.away + self.away)


_STANDS = _Placed(1, 0)


class Edges:
    """A still as the search for shifts sees it: its edges, whatever the light, in parts with soft borders."""

    def __init__(self, thumbnail: EightBit) -> None:
        grey = cv2.cvtColor(thumbnail, cv2.COLOR_RGB2GRAY)
        self.stretch = (thumbnail.shape[1] / _PAIR_SIZE[0], thumbnail.shape[0] / _PAIR_SIZE[1])
        self.width = thumbnail.shape[1]
        light = cv2.resize(grey, _PAIR_SIZE, interpolation=cv2.INTER_AREA).astype(np.float32)
        calm = _blurred(light)
        spread = np.sqrt(_blurred((light - calm) ** 2)) + 3
        self.picture: Floats = np.asarray((light - calm) / spread, np.float32)

    def placed(self, where: _Placed) -> Floats:
        """Return the picture as it would lie if it had not moved there."""
        flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
        seen = cv2.warpAffine(self.picture, self.matrix(where), _PAIR_SIZE, flags=flags, borderMode=cv2.BORDER_REFLECT)
        return np.asarray(seen, np.float32)

    def matrix(self, where: _Placed) -> Floats:
        """Return where a place lies as a matrix between its pixels, shape (2, 3)."""
        turn = np.array([[where.scale.real, -where.scale.imag], [where.scale.imag, where.scale.real]])
        stretch, middle = np.array(self.stretch), (np.array(_PAIR_SIZE) - 1) / 2
        matrix = np.diag(1 / stretch) @ turn @ np.diag(stretch)
        offset = np.array([where.away.real, where.away.imag]) / stretch + middle - matrix @ middle
        return np.column_stack([matrix, offset]).astype(np.float32)

    def of_matrix(self, whole: NDArray[np.float64]) -> _Placed:
        """Return the similarity nearest to a matrix between its pixels, shape (2, 3)."""
        stretch, middle = np.array(self.stretch), (np.array(_PAIR_SIZE) - 1) / 2
        turn = np.diag(stretch) @ whole[:, :2] @ np.diag(1 / stretch)
        scale = complex(turn[0, 0] + turn[1, 1], turn[1, 0] - turn[0, 1]) / 2
        return _Placed(scale, complex(*((whole[:, :2] @ middle + whole[:, 2] - middle) * stretch)))


def _blurred(picture: Floats) -> Floats:
    """Return a picture blurred by 12 pixels, by way of a quarter of it."""
    small = cv2.resize(picture, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    return np.asarray(cv2.resize(cv2.GaussianBlur(small, (0, 0), 3), _PAIR_SIZE), np.float32)


_WINDOW = cv2.createHanningWindow(_PAIR_SIZE, cv2.CV_32F)
_TILE_WINDOW = cv2.createHanningWindow((_TILE, _TILE), cv2.CV_32F)
_CORNERS = [
    (across, down)
    for down in range(0, _PAIR_SIZE[1] - _TILE + 1, _STEP)
    for across in range(0, _PAIR_SIZE[0] - _TILE + 1, _STEP)
]
_MIDDLES = np.array(_CORNERS, float) + _TILE / 2 - np.array(_PAIR_SIZE) / 2
_PAIRS = np.array([(one, other) for one in range(len(_CORNERS)) for other in range(one)])


def shift_between(before: Edges, after: Edges) -> Shift:
    """Return how far the picture moved from one still to the next, and by how much it turned about its middle.

    Overlapping tiles are held against each other by phase correlation (Foroosh et al. 2002); the similarity transform
    that most of them agree on counts (consensus over all pairs of tiles, after Fischler and Bolles 1981), and what
    stands still counts for more than what moves together. What moved is measured in the tiles that agree by the
    correlation coefficient that grows greatest (Evangelidis and Psarakis 2008).
    """
    found, agree, trust = _voted(before, after.picture)
    if agree.sum() < _FEW:
        (across, down), sure = cv2.phaseCorrelate(before.picture.copy(), after.picture.copy(), _WINDOW)
        if sure > _LEAST_SURE and max(abs(across), abs(down)) > _FARTHEST_PX / 2:
            away = _Placed(1, complex(across * before.stretch[0], down * before.stretch[1]))
            rest, others, surely = _voted(before, after.placed(away))
            if others.sum() > agree.sum():
                found, agree, trust = away.then(rest), others, surely
    if found == _STANDS or agree.sum() < 3:
        return Shift(0.0, 0.0, 0.0, trust)
    found = _measured(before, after, found, agree)
    turn = float(np.degrees(np.angle(found.scale)))
    return Shift(found.away.real / before.width, found.away.imag / before.width, turn, trust)


def _voted(before: Edges, after: Floats) -> tuple[_Placed, NDArray[np.bool_], float]:
    """Return what the tiles agree on, which of them do, and how much of the picture that is."""
    moves = np.zeros((len(_CORNERS), 2))
    sure = np.zeros(len(_CORNERS))
    for number, (left, top) in enumerate(_CORNERS):
        # Copies: the library writes its window over what it is given.
        one, other = (picture[top : top + _TILE, left : left + _TILE].copy() for picture in (before.picture, after))
        moves[number], sure[number] = cv2.phaseCorrelate(one, other, _TILE_WINDOW)
    votes = (sure > _LEAST_SURE) & (np.abs(moves).max(axis=1) < _FARTHEST_PX)
    # Turns are sums over both axes, so in pixels that are square.
    stretch = np.array(before.stretch)
    moves *= stretch
    found, among = _consensus(_MIDDLES[votes] * stretch, moves[votes], _AGREES_PX * float(stretch.max()))
    agree = np.zeros(len(_CORNERS), bool)
    agree[votes] = among
    stands = _STANDS_PX * float(stretch.max())
    stand = votes & (np.hypot(*moves.T) < stands)
    # Near its middle a picture stands while it turns: those tiles agree on the turn as well, and are no ground.
    is_turn = (stand & agree).sum() > 0.7 * stand.sum() and agree.sum() > 1.5 * stand.sum()
    by_found = np.abs(found.at(_complex(_MIDDLES[agree] * stretch)))
    is_none = not agree.any() or np.mean(by_found < 1.2 * stands) > 0.6
    if stand.sum() >= max(3, _GROUND * agree.sum()) and (is_none or not is_turn):
        # All of them by the same little: that is no noise of theirs.
        little = moves[stand].mean(axis=0)
        is_little = float(np.hypot(*little)) > max(_LEAST_PX, 3 * float(np.hypot(*moves[stand].std(axis=0))))
        found, agree = (_Placed(1, complex(*little)) if is_little else _STANDS), stand
    return found, agree, float(agree.sum() / max(_FEWEST_VOTES, votes.sum()))


def _measured(before: Edges, after: Edges, found: _Placed, agree: NDArray[np.bool_]) -> _Placed:
    """Return more exactly where a picture lies, by the pixels of the tiles that agree; as it was if that fails."""
    mask = np.zeros(_PAIR_SIZE[::-1], np.uint8)
    for number in np.flatnonzero(agree).tolist():
        left, top = _CORNERS[number]
        mask[top : top + _TILE, left : left + _TILE] = 255
    try:
        _, whole = cv2.findTransformECC(
            *(before.picture, after.picture, after.matrix(found), cv2.MOTION_AFFINE, _ENOUGH, mask, 3)
        )
    except cv2.error:
        return found
    exact = after.of_matrix(np.asarray(whole, np.float64))
    # What drifts through those tiles must not drag them along: they said where they are, if not exactly.
    middles = _complex(_MIDDLES[agree] * np.array(before.stretch))
    off = np.abs(exact.at(middles) - found.at(middles))
    return exact if float(np.median(off)) < _NEAR_PX + 0.1 * abs(found.away) else found


def _consensus(
    middles: NDArray[np.float64], moves: NDArray[np.float64], agrees: float
) -> tuple[_Placed, NDArray[np.bool_]]:
    """Return where most tiles agree that the picture lies, and which of them do."""
    count = len(middles)
    if count < 3:
        return _STANDS, np.zeros(count, bool)
    places, ends = _complex(middles), _complex(middles + moves)
    one, other = _PAIRS[(count > _PAIRS).all(axis=1)].T
    scaled = (ends[one] - ends[other]) / (places[one] - places[other])
    kept = (np.abs(np.angle(scaled)) < _MOST_TURN) & (np.abs(np.abs(scaled) - 1) < _MOST_ZOOM)
    scaled, offset = scaled[kept], ends[one][kept] - scaled[kept] * places[one][kept]
    # Shifts alone, too: two tiles close to each other say little of a turn.
    scaled, offset = np.concatenate([scaled, np.ones(count)]), np.concatenate([offset, ends - places])
    near = np.abs(scaled[:, None] * places + offset[:, None] - ends) < agrees
    votes = near.sum(axis=1)
    best = near[int(np.argmax(votes + 0.5 * (scaled == 1)))]
    if best.sum() < 3:
        return _STANDS, best
    # All that agree, by least squares.
    middle, there = places[best].mean(), ends[best].mean()
    spread = places[best] - middle
    scale = complex(((ends[best] - there) * spread.conj()).sum() / max(float((np.abs(spread) ** 2).sum()), 1e-9))
    return _Placed(scale, complex(there - scale * middle)), best


def _complex(points: NDArray[np.float64]) -> NDArray[np.complex128]:
    return np.asarray(points[:, 0] + 1j * points[:, 1])
