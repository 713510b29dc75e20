"""Blocked views: something before the camera, for one still or up to twelve."""

from dataclasses import dataclass

import cv2
import numpy as np

from yarnkite.core.base.arrays import Flags, Floats, Positions
from yarnkite.core.base.robust import runs, widened
from yarnkite.core.check.finding import Finding, ShotMeasurements, finding_about
from yarnkite.core.check.stretches import LONGEST
from yarnkite.core.gather.measures import GRID

_FEWEST = 18
_BLOCKS = GRID[0] * GRID[1]
# A block is odd if it is off by so many stops, and by so many times what it usually is.
_ODD_STOPS, _ODD_TIMES = 0.45, 5.0
# What lies beside an odd block belongs to the same thing if it is off by half as much.
_BESIDE = 0.5
_MOST_OF_VIEW = 0.45
# The stills that say what a view should be, by how many sound ones they are away, on either side.
_NEAR = (2, 4)
_WIDE = (2, 5, 8, 11, 14)
_LEAST_SHARE = 0.035
# What comes into view takes less of it at first: so much of the most it takes is told.
_LEAST_OF_MOST = 0.25
# In a short shot as many as one in seven stills may be blocked, and say nothing of what is usual.
_MOST_CLEAR, _BUSY_TIMES = 0.86, 0.58
_MORE_AT_ENDS = 1.6
_AT_A_TIME = 64
# As much must change, of what changes there over as many stills anyway, as clouds drift and hands move.
_BEYOND_DRIFT, _BEYOND_DRIFT_AT_ENDS, _NEARBY, _COMES_BACK = 2.0, 2.5, 40, 0.6


@dataclass(frozen=True)
class _View:
    """What is odd in each still: the share of the view of the largest odd patch, which blocks it takes, and how far each
    block is off."""

    shares: Floats
    patches: Flags
    off: Floats


def blocked_views(measurements: ShotMeasurements, spoiled: Flags) -> list[Finding]:
    """Find stretches of up to twelve stills in which a large part of the view differs from before and after."""
    count = len(measurements.ids)
    if count < _FEWEST:
        return []
    blocks = measurements.blocks.reshape(count, -1).astype(np.float32)
    # A first look is held against a wide stretch, in which what is blocked is the smaller part; a second one against
    # the nearest stills that the first found sound.
    sound = ~spoiled
    if sound.sum() < _FEWEST // 2:
        return []
    view = _view(blocks, _predicted(blocks, np.flatnonzero(sound), _WIDE), sound)
    flagged = _flagged(view.shares, sound)
    clear = sound & ~_partly(view.shares, flagged)
    if clear.sum() < _FEWEST // 2:
        return []
    view = _view(blocks, _predicted(blocks, np.flatnonzero(clear), _NEAR), sound, clear)
    # Beside them it is predicted from farther away, which is no reason to call it blocked.
    flagged = _flagged(view.shares, sound, clear) & widened(flagged)
    found = []
    for low, high in runs(_partly(view.shares, flagged) & sound, join=2):
        share = float(view.shares[low : high + 1].max())
        inside = low + np.flatnonzero(view.shares[low : high + 1] > _LEAST_OF_MOST * share)
        low, high = int(inside[0]), int(inside[-1])
        if high - low < LONGEST and _goes_again(blocks, view, flagged, sound, low, high):
            taken = max(_parts(view.off[still], view.patches[still]) for still in range(low, high + 1)) / _BLOCKS
            # With stills on one side only it is less sure.
            if (low and high < count - 1) or share > _MORE_AT_ENDS * _enough(view.shares, sound, clear):
                found.append(_blocked_view(measurements, low, high, taken))
    return found


def _predicted(blocks: Floats, sound: Positions, ranks: tuple[int, ...]) -> Floats:
    """Return what each still should look like by sound ones before and after it: the mean of the middle of them.

    Where one side has too few, the other side gives more.
    """
    count, result = len(blocks), np.empty_like(blocks)
    middle = len(ranks)
    for low in range(0, count, _AT_A_TIME):
        places = np.arange(low, min(count, low + _AT_A_TIME))
        before = np.searchsorted(sound, places)[:, None] - np.array(ranks)
        after = np.searchsorted(sound, places, side="right")[:, None] + np.array(ranks) - 1
        last = len(sound) - 1
        span = max(ranks) + 1
        before = np.where(before < 0, np.minimum(after + span, last), before)
        after = np.where(after > last, np.maximum(before - span, 0), after)
        near = blocks[sound[np.concatenate([before, after], axis=1)]]
        near.partition((middle - 1, middle), axis=1)
        # One or some of them may be off themselves, and a steady change cancels out.
        result[places] = (near[:, middle - 1] + near[:, middle]) / 2
    return result


def _view(blocks: Floats, predicted: Floats, sound: Flags, clear: Flags | None = None) -> _View:
    """Return what is odd in sound stills, by what they usually are off by."""
    off = blocks - predicted
    middle = np.median(off, axis=1)[:, None]
    strays = np.abs(off - middle)
    usual = _usual_by_block(strays, sound, _MOST_CLEAR, _BUSY_TIMES)
    if clear is not None:
        # Once it is known which are blocked, the others say how busy it is, to the tenth busiest.
        usual = np.maximum(usual, _usual_by_block(strays, clear, 0.9, 0.5))
    least = np.maximum(_ODD_STOPS, _ODD_TIMES * usual)
    # The light of all may have changed, too, or what is before the camera takes most of the view: what leaves fewer odd.
    ways = [off, off - middle]
    odd = np.array([(np.abs(way) > least).any(axis=1) for way in ways]).all(axis=0)
    patches, chosen = np.zeros(blocks.shape, bool), off.copy()
    for still in np.flatnonzero(odd & sound).tolist():
        found = [_patch(way[still], least[still]) for way in ways]
        best = int(np.argmin([one.sum() for one in found]))
        if best and _is_as_before(off[still], found[0], float(middle[still, 0])):
            best = 0
        patches[still], chosen[still] = found[best], ways[best][still]
    return _View(patches.sum(axis=1) / _BLOCKS, patches, chosen)


def _is_as_before(off: Floats, patch: Flags, middle: float) -> bool:
    """Tell whether all but a patch is as it was, so that the light of all did not change though that of most did."""
    rest = off[~patch]
    is_most = patch.mean() > _MOST_OF_VIEW and len(rest) > _LEAST_SHARE * _BLOCKS
    return bool(is_most and abs(float(np.median(rest))) < 0.15 * abs(middle))


def _parts(off: Floats, patch: Flags) -> float:
    """Return how many blocks a patch takes, those at its border in part: by how much of their light it replaced."""
    if not patch.any():
        return 0.0
    inner = (cv2.erode(patch.reshape(GRID).astype(np.uint8), np.ones((3, 3), np.uint8), borderValue=1) > 0).ravel()
    light = np.abs(2.0**off - 1)
    whole = float(np.median(light[inner if inner.any() else patch]))
    return float(inner.sum() + np.clip(light[patch & ~inner] / max(whole, 1e-6), 0, 1).sum())


def _patch(off: Floats, least: Floats) -> Flags:
    """Return the blocks of the largest connected patch that is odd, with what lies beside it and is off as well."""
    odd = (np.abs(off) > least).reshape(GRID)
    none = np.zeros(_BLOCKS, bool)
    if not odd.any():
        return none
    wide = (np.abs(off) > _BESIDE * least).reshape(GRID)
    count, labels = cv2.connectedComponents(wide.astype(np.uint8), connectivity=8)
    seeds = np.bincount(labels[odd], minlength=count)
    seeds[0] = 0
    return np.asarray((labels == int(np.argmax(seeds))).ravel()) if seeds.any() else none


def _usual_by_block(off: Floats, sound: Flags, most: float, times: float) -> Floats:
    """Return how far each block usually is off, over 64 stills at a time: waves and crowds are busy, walls are not."""
    result = np.empty_like(off)
    for low in range(0, len(off), _AT_A_TIME):
        stretch = slice(max(0, low - 32), low + 96)
        # Every second still says it as well.
        part = off[stretch][sound[stretch]][::2]
        part = part if len(part) else off[stretch]
        # What walks past now and then counts too, so not the median alone; but what may be blocked does not.
        middle, high = np.percentile(part, (50, 100 * most), axis=0)
        result[low : low + _AT_A_TIME] = np.maximum(1.4826 * middle, times * high)
    return result


def _enough(shares: Floats, sound: Flags, clear: Flags | None = None) -> float:
    typical, high = np.percentile(shares[sound], (50, 100 * _MOST_CLEAR))
    busy = max(1.7 * float(high), 1.6 * float(np.percentile(shares[clear], 90)) if clear is not None else 0.0)
    return max(_LEAST_SHARE, 4 * float(typical) + 0.02, busy if busy > 0.05 else 0)


def _flagged(shares: Floats, sound: Flags, clear: Flags | None = None) -> Flags:
    return np.asarray((shares > _enough(shares, sound, clear)) & sound)


def _partly(shares: Floats, flagged: Flags) -> Flags:
    """Return flagged stills with those beside them that are nearly so: what comes into view takes less of it first."""
    least = float(shares[flagged].min()) if flagged.any() else np.inf
    return flagged | (widened(flagged) & (shares > 0.45 * least))


def _goes_again(blocks: Floats, view: _View, flagged: Flags, sound: Flags, low: int, high: int) -> bool:
    """Tell whether something comes into view and leaves it: it differs from just before and just after by more than
    what drifts there anyway, and those two are alike; what comes for good is no blocked view."""
    inside = low + np.flatnonzero(view.shares[low : high + 1] > 0.5 * view.shares[low : high + 1].max())
    sides = [
        (int(inside[0]), [place for place in range(low - 3, low) if place >= 0 and sound[place]]),
        (int(inside[-1]), [place for place in range(high + 1, high + 4) if place < len(blocks) and sound[place]]),
    ]
    sides = [(still, places) for still, places in sides if places]
    # With one side only it is less sure: more is wanted, and against what drifts there at its most.
    beyond, most = (_BEYOND_DRIFT, 75) if len(sides) == 2 else (_BEYOND_DRIFT_AT_ENDS, 95)
    for still, places in sides:
        patch = view.patches[still]
        near = slice(max(0, still - _NEARBY), still + _NEARBY)
        around = _without_light(blocks[near], patch)
        seen = np.median(_without_light(blocks[places], patch), axis=0)
        away = float(np.median(np.abs(_without_light(blocks[still : still + 1], patch)[0] - seen)))
        apart = max(1, round(abs(float(np.mean(places)) - still)))
        if away < beyond * _drift(around, sound[near] & ~flagged[near], apart, most):
            return False
    if len(sides) < 2:
        return bool(sides)
    worst = low + int(np.argmax(view.shares[low : high + 1]))
    patch = view.patches[worst]
    before, after = (np.median(_without_light(blocks[places], patch), axis=0) for _, places in sides)
    blocked = _without_light(blocks[worst : worst + 1], patch)[0]
    away = min(float(np.median(np.abs(blocked - side))) for side in (before, after))
    return float(np.median(np.abs(before - after))) < _COMES_BACK * away


def _without_light(blocks: Floats, patch: Flags) -> Floats:
    """Return the blocks of a patch without what the light of the rest of the view does."""
    rest = np.median(blocks[:, ~patch], axis=1) if not patch.all() else np.zeros(len(blocks))
    return np.asarray(blocks[:, patch] - rest[:, None])


def _drift(blocks: Floats, sound: Flags, apart: int, most: int) -> float:
    """Return how much blocks change over so many stills, in so many of a hundred cases."""
    both = sound[apart:] & sound[:-apart]
    if not both.any():
        return 0.0
    change = np.median(np.abs(blocks[apart:] - blocks[:-apart])[both], axis=1)
    return float(np.percentile(change, most))


def _blocked_view(measurements: ShotMeasurements, low: int, high: int, share: float) -> Finding:
    said = f"{'has' if low == high else 'have'} something in view that takes {share * 100:.0f} % of the picture"
    return finding_about(
        measurements, "blocked view", low, high, said, {"share": round(share, 3)}, ("bridge", "set aside", "hold")
    )
