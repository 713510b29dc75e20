"""Blocked views: something before the camera, for a few stills."""

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import runs
from yarnkite.core.check.finding import Finding, ShotMeasurements, finding_about
from yarnkite.core.gather.measures import GRID

_LONGEST_BLOCK = 5


def blocked_views(measurements: ShotMeasurements, spoiled: Flags) -> list[Finding]:
    """Find stretches of up to five stills in which a large part of the view differs from before and after."""
    count = len(measurements.ids)
    reach = (4, 6)
    if count < 3 * reach[1]:
        return []
    blocks = measurements.blocks.astype(np.float32).copy()
    for position in np.flatnonzero(spoiled).tolist():
        blocks[position] = blocks[max(0, position - 2)] if not spoiled[max(0, position - 2)] else blocks[position]
    blocks -= np.median(blocks.reshape(count, -1), axis=1)[:, None, None]
    near = [
        blocks[_mirrored(np.arange(count) + offset, count)] for offset in (-reach[1], -reach[0], reach[0], reach[1])
    ]
    stacked = np.stack(near)
    # The mean of the middle two: one neighbour may be blocked itself, and a steady change cancels out.
    predicted = (stacked.sum(axis=0) - stacked.max(axis=0) - stacked.min(axis=0)) / 2
    off = blocks - predicted
    usual = _usual_by_block(np.abs(off))
    odd = np.abs(off) > np.maximum(0.45, 5 * usual)
    shares = np.array([_largest_patch(one) for one in odd])
    shares[spoiled] = 0
    typical = np.median(shares)
    high = np.percentile(shares, 90)
    enough = max(0.035, 4 * typical + 0.02, 1.6 * high if high > 0.03 else 0)
    flagged = shares > enough
    edge = np.arange(count)
    flagged &= (edge >= 2) & (edge < count - 2)
    # What comes into view or leaves it takes less of it than in between.
    partly = flagged | ((shares > 0.45 * enough) & ~spoiled)
    return [
        _blocked_view(measurements, low, last, float(shares[low : last + 1].max()))
        for low, last in runs(partly, join=1)
        if last - low < _LONGEST_BLOCK and flagged[low : last + 1].any()
    ]


def _mirrored(index: NDArray[np.int_], count: int) -> NDArray[np.int_]:
    index = np.abs(index)
    return np.where(index >= count, 2 * (count - 1) - index, index)


def _usual_by_block(off: Floats) -> Floats:
    """Return how far each block usually is off, over 64 stills at a time: waves and crowds are busy, walls are not."""
    result = np.empty_like(off)
    for low in range(0, len(off), 64):
        part = off[max(0, low - 32) : low + 96]
        # What walks past now and then counts too, so not the median alone.
        result[low : low + 64] = np.maximum(1.4826 * np.median(part, axis=0), 0.5 * np.percentile(part, 90, axis=0))
    return result


def _largest_patch(odd: Flags) -> float:
    """Return the share of the view that the largest connected patch of odd blocks takes."""
    if not odd.any():
        return 0.0
    _, _, sizes, _ = cv2.connectedComponentsWithStats(odd.astype(np.uint8), connectivity=8)
    return float(sizes[1:, cv2.CC_STAT_AREA].max()) / (GRID[0] * GRID[1])


def _blocked_view(measurements: ShotMeasurements, low: int, high: int, share: float) -> Finding:
    said = f"{'has' if low == high else 'have'} something in view that takes {share * 100:.0f} % of the picture"
    return finding_about(
        measurements, "blocked view", low, high, said, {"share": round(share, 3)}, ("bridge", "set aside", "hold")
    )
