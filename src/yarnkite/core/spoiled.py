"""Single stills that are spoiled: misfires, something before the camera, and soft ones."""

from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.finding import Finding, Floats, Track, told
from yarnkite.core.measure import GRID
from yarnkite.core.series import neighbours, runs, spread
from yarnkite.core.steadiness import close_to

_LONGEST_BLOCK = 5


def misfires(track: Track) -> list[Finding]:
    """Find stills, one or two in a row, whose light is far from what their neighbours predict."""
    off = track.light - neighbours(track.light, 4)
    # In a stretch that flickers every still is a little off; a misfire is far off all the same.
    usual = spread(off, 12, 0.02)
    far = np.abs(off) > np.maximum(0.5, 6 * usual)
    return [
        _misfire(track, low, high, float(off[low : high + 1].mean()))
        for low, high in runs(far, join=1)
        if high - low < 2 and _comes_back(track.light, low, high) and _takes_all(track, low, high)
    ]


def _takes_all(track: Track, low: int, high: int) -> bool:
    """Tell whether nearly all of the view is brighter or darker than around; else something is before the camera."""
    around = [place for place in (low - 2, low - 1, high + 1, high + 2) if 0 <= place < len(track.ids)]
    off = np.median(track.blocks[low : high + 1], axis=0) - np.median(track.blocks[around], axis=0)
    return bool(np.mean(np.abs(off) > 0.25) > 0.75)


def _comes_back(light: Floats, low: int, high: int) -> bool:
    """Tell whether after a stretch the light is about what it was before; else it is a step."""
    if low < 2 or high > len(light) - 3:
        return low == 0 or high == len(light) - 1 or abs(light[high + 1] - light[low - 1]) < 0.5
    before, after = np.median(light[max(0, low - 3) : low]), np.median(light[high + 1 : high + 4])
    inside = np.median(light[low : high + 1])
    return bool(abs(after - before) < 0.5 * min(abs(inside - before), abs(inside - after)))


def _misfire(track: Track, low: int, high: int, off: float) -> Finding:
    if track.light[low] < -9 and off < -1:
        what = "black"
    elif track.bright[low] > 0.5 and off > 0.7:
        what = "blown out"
    else:
        what = f"{abs(off):.1f} stops {'darker' if off < 0 else 'brighter'} than its neighbours"
    evidence = {"stops": round(off, 2), "blown out": round(float(track.bright[low]), 3)}
    return told(track, "misfire", low, high, f"is {what}", evidence, ("bridge", "set aside", "hold"))


def blocked_views(track: Track, spoiled: NDArray[np.bool_]) -> list[Finding]:
    """Find stretches of up to five stills in which a large part of the view differs from before and after."""
    count = len(track.ids)
    reach = (4, 6)
    if count < 3 * reach[1]:
        return []
    blocks = track.blocks.astype(np.float32).copy()
    for place in np.flatnonzero(spoiled).tolist():
        blocks[place] = blocks[max(0, place - 2)] if not spoiled[max(0, place - 2)] else blocks[place]
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
        _blocked_view(track, low, last, float(shares[low : last + 1].max()))
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


def _largest_patch(odd: NDArray[np.bool_]) -> float:
    """Return the share of the view that the largest connected patch of odd blocks takes."""
    if not odd.any():
        return 0.0
    _, _, sizes, _ = cv2.connectedComponentsWithStats(odd.astype(np.uint8), connectivity=8)
    return float(sizes[1:, cv2.CC_STAT_AREA].max()) / (GRID[0] * GRID[1])


def _blocked_view(track: Track, low: int, high: int, share: float) -> Finding:
    said = f"{'has' if low == high else 'have'} something in view that takes {share * 100:.0f} % of the picture"
    return told(track, "blocked view", low, high, said, {"share": round(share, 3)}, ("bridge", "set aside", "hold"))


def soft_stills(track: Track, spoiled: NDArray[np.bool_]) -> list[Finding]:
    """Find stills with much less fine detail than their neighbours."""
    calm = mended(track.sharpness, spoiled)
    off = calm - neighbours(calm, 4)
    soft = off < -np.maximum(0.22, 6 * spread(off, 8, 0.01))
    soft &= ~spoiled
    return [
        told(
            track,
            "soft",
            low,
            high,
            f"{'is' if low == high else 'are'} soft: {(1 - 2 ** float(off[low : high + 1].min())) * 100:.0f} % of the fine detail is gone",
            {"stops": round(float(off[low : high + 1].min()), 2)},
            ("bridge", "set aside", "hold"),
        )
        for low, high in runs(soft, join=1)
        if high - low < 3
    ]


def by_shaking(track: Track, finding: Finding, moved: Sequence[Finding]) -> bool:
    """Tell whether a still is only as soft as shaking makes one now and then: others around it nearly are."""
    if finding.kind != "soft" or not any(
        one.kind == "shake" and finding.stills[0] in close_to(track, one) for one in moved
    ):
        return False
    low, high = track.ends_of(finding)
    off = track.sharpness - neighbours(track.sharpness, 4)
    others = np.concatenate([off[max(0, low - 10) : low], off[high + 1 : high + 11]])
    return finding.evidence["stops"] > 1.6 * float(others.min(initial=0.0))


def mended(values: Floats, spoiled: NDArray[np.bool_]) -> Floats:
    """Return values with those of spoiled stills taken from the line between the sound ones beside them."""
    sound = np.flatnonzero(~spoiled)
    if not len(sound) or not spoiled.any():
        return np.asarray(values, float)
    return np.asarray(np.interp(np.arange(len(values)), sound, np.asarray(values, float)[sound]))
