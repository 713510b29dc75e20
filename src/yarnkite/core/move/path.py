"""The camera's path over a shot: where each still lies, from how pairs of them lie, long distances among them."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats, Positions
from yarnkite.core.base.homography import PERSPECTIVE, SIMILARITY, exponential, inverse, logarithm, slopes
from yarnkite.core.move.pairs import PairMotion

# The middle and the corners of a picture of 3 : 2, in half diagonals: where movement is judged.
PLACES = np.array([[0.0, 0.0], [-0.83, -0.55], [0.83, -0.55], [0.83, 0.55], [-0.83, 0.55]])
# Of a picture 1920 wide and 1280 high, in half diagonals.
PIXEL_OF_1920 = 1 / 1153.8
_ANCHORS = 16
_ANCHORS_BACK = (1, 4)
_ROUNDS = 5
_FLOOR = 0.02 * PIXEL_OF_1920
_DOUBTFUL = 0.5 * PIXEL_OF_1920
_HELD = 1e6


@dataclass(frozen=True)
class Path:
    """Where each still of a shot lies: the map that leads its points to where the first still has them.

    ``numbers`` are those of ``exponential``, shape (stills, 8); ``left`` how far neighbours are off it, rms in half
    diagonals; ``joined`` whether each still is tied to the others by anything that was seen, shape (stills,).
    """

    numbers: Floats
    left: float
    joined: Flags

    @property
    def matrices(self) -> Floats:
        """The maps as matrices, shape (stills, 3, 3)."""
        return exponential(self.numbers)


def wanted_pairs(fingerprints: Sequence[str]) -> list[tuple[int, int]]:
    """Return which pairs of a shot's stills are to be measured, by position, the earlier still first.

    Neighbours, every second one for where a still between is left out, and each still with the anchors before it, so
    that errors do not add up. What an anchor is depends on the still alone: one more or less changes no other pair.
    """
    anchors = [place for place, one in enumerate(fingerprints) if place == 0 or int(one[:4], 16) % _ANCHORS == 0]
    found: set[tuple[int, int]] = set(pairwise(range(len(fingerprints))))
    found |= {(place, place + 2) for place in range(len(fingerprints) - 2)}
    last = -1
    for place in range(len(fingerprints)):
        if last >= 0:
            found.add((anchors[last], place))
        if last + 1 < len(anchors) and anchors[last + 1] == place:
            last += 1
            found |= {(anchors[last - back], place) for back in _ANCHORS_BACK if last >= back}
    # The same still twice lies as it lies.
    return sorted(pair for pair in found if fingerprints[pair[0]] != fingerprints[pair[1]])


def path_of(
    count: int,
    motions: Sequence[tuple[int, int, PairMotion]],
    spoiled: Flags | None = None,
    *,
    perspective: bool = False,
) -> Path:
    """Return the path that agrees best with how pairs lie: by least squares on the group of maps, robustly.

    Parameters
    ----------
    count : how many stills there are
    motions : of pairs, by position, the earlier still first
    spoiled : which stills are nothing to go by, shape (count,); they lie between their neighbours
    perspective : whether lines may converge, or stills only shift, turn and change in size
    """
    out = np.zeros(count, bool) if spoiled is None else spoiled
    used = [(one, two, motion) for one, two, motion in motions if motion.is_found and not (out[one] or out[two])]
    degrees = PERSPECTIVE if perspective else SIMILARITY
    pairs = np.array([(one, two) for one, two, _ in used], int).reshape(-1, 2)
    moves = np.zeros((len(used), 8))
    if used:
        moves[:, :degrees] = [motion.numbers if perspective else motion.similar for _, _, motion in used]
    noise = np.array([motion.noise / max(1.0, motion.corners**0.5) for _, _, motion in used])
    path, left = _solved(count, pairs, exponential(moves), noise, degrees)
    joined = np.zeros(count, bool)
    joined[pairs.reshape(-1)] = True
    joined &= np.isfinite(path).all(axis=1)
    numbers: Floats = np.nan_to_num(path)
    if joined.any():
        known = np.flatnonzero(joined)
        numbers = np.stack([np.interp(np.arange(count), known, path[known, one]) for one in range(8)], axis=1)
    return Path(numbers, left, joined)


def _solved(count: int, pairs: Positions, moves: Floats, noise: Floats, degrees: int) -> tuple[Floats, float]:
    maps = _chained(count, pairs, moves)
    if not len(pairs):
        return np.zeros((count, 8)), 0.0
    precision = 1 / (noise**2 + _FLOOR**2)
    weights: Floats = precision
    left: Floats = np.zeros((len(pairs), 8))
    for step in range(_ROUNDS):
        left = logarithm(maps[pairs[:, 1]] @ moves @ inverse(maps[pairs[:, 0]]))
        # Pairs that contradict the others by half a circle say nothing.
        sane = np.isfinite(left).all(axis=1)
        left[~sane] = 0.0
        far = np.hypot(*np.moveaxis(slopes(PLACES) @ left[:, None, :, None], 2, 0)[..., 0]).max(axis=1)
        weights = sane * precision / (1 + (far / _DOUBTFUL) ** 2) ** (2 if step else 0)
        change = np.zeros((count, 8))
        change[:, :degrees] = _relaxed(count, pairs, weights, left[:, :degrees])
        maps = exponential(change) @ maps
    near = np.abs(pairs[:, 1] - pairs[:, 0]) <= 2
    off = (slopes(PLACES) @ left[:, None, :, None])[..., 0]
    spread = (off**2).sum(axis=-1).mean(axis=1)[near]
    return logarithm(maps), float(np.sqrt(np.average(spread, weights=weights[near]))) if near.any() else 0.0


def _chained(count: int, pairs: Positions, moves: Floats) -> Floats:
    """Return a first path: each still by the nearest one before it that it was compared with."""
    nearest: dict[int, int] = {}
    for place, (one, two) in enumerate(pairs.tolist()):
        if two not in nearest or pairs[nearest[two]][0] < one:
            nearest[two] = place
    maps = np.tile(np.eye(3), (count, 1, 1))
    for still in range(1, count):
        if still in nearest:
            place = nearest[still]
            maps[still] = maps[pairs[place][0]] @ inverse(moves[place])
        else:
            maps[still] = maps[still - 1]
    return maps


def _relaxed(count: int, pairs: Positions, weights: Floats, left: Floats) -> Floats:
    """Return by what each still's map is to be changed so that what is left of pairs becomes least."""
    # Loaded by who measures a path: it takes as long as many a command.
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components
    from scipy.sparse.linalg import splu

    one, two = pairs[:, 0], pairs[:, 1]
    _, parts = connected_components(coo_matrix((np.ones(len(pairs)), (one, two)), (count, count)), directed=False)
    # Stretches that nothing ties together stay as they lie; one still of each is held.
    _, held = np.unique(parts, return_index=True)
    rows, columns = np.r_[one, two, one, two, held], np.r_[one, two, two, one, held]
    heavy = np.full(len(held), _HELD * max(float(weights.max()), 1.0))
    system = coo_matrix((np.r_[weights, weights, -weights, -weights, heavy], (rows, columns)), (count, count))
    right = np.zeros((count, left.shape[1]))
    np.add.at(right, one, weights[:, None] * left)
    np.add.at(right, two, -weights[:, None] * left)
    return np.asarray(splu(system.tocsc()).solve(right))
