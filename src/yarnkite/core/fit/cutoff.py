"""Cut-off: stretches of a shot in which much of what moves lies outside the frame."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.geometry import Shape
from yarnkite.core.base.robust import runs
from yarnkite.core.base.wording import percent
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import frame_points

Edge = Literal["left", "right", "top", "bottom"]
_LEAST_STOPS = 0.12
_MUCH = 0.4
# Stops of change in all blocks together: glitter on water in a few of them is less.
_LEAST_LOST = 1.0
_REACH = 4
_SHORTEST = 3
_JOINED = 6


@dataclass(frozen=True)
class Cutoff:
    """Stills ``first … last`` (positions) in which ``share`` of what moves is cut off, mostly at ``edge``."""

    first: int
    last: int
    share: float
    edge: Edge


def cutoffs(blocks: Floats, still: Shape, fit: Fit) -> list[Cutoff]:
    """Return where activity is cut off.

    Parameters
    ----------
    blocks : light of each still in stops, shape (stills, rows, columns)
    still : their upright size in pixels
    fit : what of them is shown

    Returns
    -------
    the worst first
    """
    if fit.how != "cover" and fit.zoom <= 1 and not fit.level:
        return []
    if len(blocks) < 2 * _SHORTEST:
        return []
    moving = activity(blocks)
    across, down = _outside(blocks.shape[1], blocks.shape[2], still, fit)
    outside = (np.abs(across) > 0.5) | (np.abs(down) > 0.5)
    if not outside.any():
        return []
    # Gone from frame to frame, things move through it; what counts is a stretch.
    lost, every = _smooth(moving[:, outside].sum(axis=1)), _smooth(moving.sum(axis=(1, 2)))
    flags = (lost > _MUCH * every) & (lost > _LEAST_LOST)
    found = []
    for first, last in runs(flags, join=_JOINED):
        if last - first + 1 < _SHORTEST:
            continue
        here = moving[first : last + 1].sum(axis=0)
        share = float(here[outside].sum() / max(here.sum(), 1e-9))
        if share >= _MUCH:
            found.append(Cutoff(first, last, share, _edge(here, across, down)))
    return sorted(found, key=lambda one: -one.share * (one.last - one.first + 1))


def activity(blocks: Floats) -> Floats:
    """Return how much each block changes from the still before beyond what light does everywhere.

    What a block does all the time, as waves and leaves do, counts little.

    Parameters
    ----------
    blocks : light of each still in stops, shape (stills, rows, columns)

    Returns
    -------
    stops, 0 or more, shape as ``blocks``
    """
    change_points = np.diff(blocks, axis=0, prepend=blocks[:1])
    change_points = np.abs(change_points - np.median(change_points, axis=(1, 2))[:, None, None])
    usual = np.median(change_points, axis=0)
    return np.asarray(np.where(change_points > np.maximum(_LEAST_STOPS, 4 * usual), change_points - 4 * usual, 0.0))


def _outside(rows: int, columns: int, still: Shape, fit: Fit) -> tuple[Floats, Floats]:
    """Return where in the frame the middle of each block lies: -1/2 … 1/2 is inside."""
    down, across = np.meshgrid((np.arange(rows) + 0.5) / rows, (np.arange(columns) + 0.5) / columns, indexing="ij")
    return frame_points(across, down, still, fit)


def _edge(here: Floats, across: Floats, down: Floats) -> Edge:
    sums: dict[Edge, float] = {
        "left": float(here[across < -0.5].sum()),
        "right": float(here[across > 0.5].sum()),
        "top": float(here[down < -0.5].sum()),
        "bottom": float(here[down > 0.5].sum()),
    }
    return max(sums, key=lambda edge: sums[edge])


def _smooth(values: Floats) -> Floats:
    kernel = np.ones(2 * _REACH + 1) / (2 * _REACH + 1)
    return np.convolve(np.pad(values, _REACH, mode="edge"), kernel, mode="valid")


def worst(found: Sequence[Cutoff], positions: Sequence[int]) -> str:
    """Say the worst stretch, and how many others there are; ``positions`` are those of the stills in the shot."""
    if not found:
        return ""
    one, others = found[0], len(found) - 1
    said = (
        f"From still {positions[one.first] + 1:,} to {positions[one.last] + 1:,}, {percent(one.share)} of what moves "
        f"lies outside the frame, most of it at the {one.edge}."
    )
    return said + (f" {others} other {'stretch is' if others == 1 else 'stretches are'} like it." if others else "")
