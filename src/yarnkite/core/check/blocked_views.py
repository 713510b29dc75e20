"""Blocked views: something before the camera, for one still or up to twelve."""

from dataclasses import dataclass

import cv2
import numpy as np

from yarnkite.core.base.arrays import Flags, Floats, Positions
from yarnkite.core.base.robust import middle_of, runs, widened
from yarnkite.core.check.finding import Finding, ShotMeasurements, finding_about
from yarnkite.core.check.stretches import LONGEST
from yarnkite.core.gather.measures import GRID, LUMINANCE

_FEWEST = 18
_BLOCKS = GRID[0] * GRID[1]
# A block is odd if its light, or its red or blue against green, is off by so many stops, and by so many times what it
# usually is. In the dark a step of 8 bits is so many stops of colour, divided by the codes the light has.
_ODD_STOPS, _ODD_TIMES, _CODE_STOPS = np.array([0.45, 0.25, 0.25], np.float32), 5.0, 3.2
_LIGHT, _BLOWN, _BLOWN_IN_PART = 0, -0.3, -1.0
# What lies beside an odd block belongs to the same thing if it is off by half as much.
_BESIDE, _NEARLY_ODD = 0.5, 0.9
_MOST_OF_VIEW = 0.45
# The stills that say what a view should be, by how many sound ones they are away, on either side.
_NEAR = (2, 4)
_WIDE = (2, 5, 8, 11, 14)
_LEAST_SHARE, _LEAST_TAKEN = 0.035, 0.04
# What shakes hides no view, though all of it is elsewhere in each still: a thing before the camera is told from it if
# it takes so much.
_LEAST_WHILE_SHAKEN = 0.32
# A block at the border is about half of it, whatever it hides there.
_LEAST_OF_BORDER = 0.45
# What comes into view takes less of it at first: so much of the most it takes is told, more of what would last too
# long.
_LEAST_OF_MOST = (0.25, 0.5)
# In a short shot as many as one in seven stills may be blocked, and say nothing of what is usual.
_MOST_CLEAR, _BUSY_TIMES = 0.86, 0.58
_SURELY_CLEAR, _BUSIEST, _BUSIEST_CLEAR = 0.7, 2.7, 2.0
# What only the nearest stills tell takes so many times as much, and what lies at an end of the shot.
_ALONE, _MORE_AT_ENDS = 2.0, 1.25
_AT_A_TIME = 64
# As much must change, of what changes there over as many stills anyway, as clouds drift and hands move.
_BEYOND_DRIFT, _BEYOND_DRIFT_AT_ENDS, _NEARBY, _COMES_BACK = 2.0, 2.5, 40, 0.6


@dataclass(frozen=True)
class _View:
    """What is odd in each still: the share of the view of the largest odd patch, which blocks it takes, how far each
    block is off in each of its measures, shape (stills, blocks, measures), and whether the light of all changed,
    too."""

    shares: Floats
    patches: Flags
    off: Floats
    is_of_all: Flags


def blocked_views(measurements: ShotMeasurements, spoiled: Flags, shaken: Flags) -> list[Finding]:
    """Find stretches of up to twelve stills in which a large part of the view differs from before and after.

    ``spoiled`` stills are explained by something else, in ``shaken`` ones the view moves.
    """
    count = len(measurements.ids)
    if count < _FEWEST:
        return []
    blocks = _looks(measurements)
    # A first look is held against a wide stretch, in which what is blocked is the smaller part; a second one against
    # the nearest stills that the first found sound.
    sound = ~spoiled
    if sound.sum() < _FEWEST // 2:
        return []
    view = _view(blocks, _off(blocks, np.flatnonzero(sound), _WIDE), sound)
    flagged = sound & (view.shares > _enough(view.shares, sound))
    clear = sound & ~_partly(view.shares, flagged)
    if clear.sum() < _FEWEST // 2:
        return []
    view = _view(blocks, _off(blocks, np.flatnonzero(clear), _NEAR), sound, clear)
    enough = _enough(view.shares, sound, clear)
    # Beside them it is predicted from farther away, which is no reason to call it blocked.
    apart = ~widened(widened(widened(flagged)))
    flagged = (view.shares > enough) & sound & (widened(flagged) | (apart & (view.shares > _ALONE * enough)))
    found = []
    for low, high in runs(_partly(view.shares, flagged) & sound, join=2):
        low, high = _without_edges(view.shares, low, high)
        shares = view.shares[low : high + 1]
        # With stills on one side only it is less sure.
        is_enough = (low and high < count - 1) or shares.max() > _MORE_AT_ENDS * enough
        is_shaken = bool(shaken[max(0, low - 1) : high + 2].any())
        if high - low < LONGEST and is_enough and _goes_again(blocks, view, flagged, sound, is_shaken, low, high):
            taken = max(_parts(blocks, view, still) for still in range(low, high + 1)) / _BLOCKS
            if taken > (_LEAST_WHILE_SHAKEN if is_shaken else _LEAST_TAKEN) and _hides(
                blocks, view, low + int(np.argmax(shares))
            ):
                found.append(_blocked_view(measurements, low, high, taken))
    return found


def _without_edges(shares: Floats, low: int, high: int) -> tuple[int, int]:
    """Return a run without the stills at its ends in which little is odd, with fewer of them where it is too long."""
    for least in _LEAST_OF_MOST:
        inside = low + np.flatnonzero(shares[low : high + 1] > least * shares[low : high + 1].max())
        if inside[-1] - inside[0] < LONGEST:
            break
    return int(inside[0]), int(inside[-1])


def _looks(measurements: ShotMeasurements) -> Floats:
    """Return how each block looks: its light and, where they were measured, its colours; in stops, shape (stills,
    blocks, 1 or 3)."""
    light = measurements.blocks.reshape(-1, _BLOCKS, 1).astype(np.float32)
    if not len(measurements.colours):
        return light
    return np.concatenate([light, measurements.colours.reshape(len(light), _BLOCKS, -1).astype(np.float32)], axis=2)


def _off(blocks: Floats, sound: Positions, ranks: tuple[int, ...]) -> Floats:
    """Return how far each still is off what it should look like by sound ones before and after it: by the mean of the
    middle of them.

    Where one side has too few, the other side gives more.
    """
    count, result = len(blocks), np.empty_like(blocks)
    for low in range(0, count, _AT_A_TIME):
        places = np.arange(low, min(count, low + _AT_A_TIME))
        before = np.searchsorted(sound, places)[:, None] - np.array(ranks)
        after = np.searchsorted(sound, places, side="right")[:, None] + np.array(ranks) - 1
        last = len(sound) - 1
        span = max(ranks) + 1
        before = np.where(before < 0, np.minimum(after + span, last), before)
        after = np.where(after > last, np.maximum(before - span, 0), after)
        # One or some of them may be off themselves, and a steady change cancels out.
        near = [blocks[sound[one]] for one in np.concatenate([before, after], axis=1).T]
        result[places] = blocks[places] - middle_of(near)
    return result


def _view(blocks: Floats, off: Floats, sound: Flags, clear: Flags | None = None) -> _View:
    """Return what is odd in sound stills, by what they usually are off by; those known to be clear say it best."""
    middle = np.median(off, axis=1, keepdims=True)
    count = len(off)
    patches, is_of_all = np.zeros(off.shape[:2], bool), np.zeros(count, bool)
    for low in range(0, count, _AT_A_TIME):
        some = slice(low, min(count, low + _AT_A_TIME))
        nearby = slice(max(0, low - 32), low + 96)
        strays = np.abs(off[nearby] - middle[nearby])
        usual = _usual(strays, sound[nearby], _MOST_CLEAR, _BUSY_TIMES)
        if clear is not None:
            # Once it is known which are blocked, the others say how busy it is, to the tenth busiest.
            usual = np.maximum(usual, _usual(strays, clear[nearby], 0.9, 0.5))
        patches[some], is_of_all[some] = _odd_patches(blocks[some], off[some], middle[some], usual)
    patches &= sound[:, None]
    return _View(patches.mean(axis=1), patches, off, is_of_all)


def _odd_patches(blocks: Floats, off: Floats, middle: Floats, usual: Floats) -> tuple[Flags, Flags]:
    """Return the largest odd patch of each still, shape (stills, blocks), and in which the light of all changed."""
    least = np.maximum(_ODD_STOPS[: blocks.shape[2]], _ODD_TIMES * usual)
    looks = blocks - off
    predicted = looks[..., _LIGHT]
    in_the_dark = np.maximum(
        _step_of_codes(np.minimum(blocks[..., _LIGHT], predicted))[..., None],
        _step_of_codes(_weaker(looks.mean(axis=0))),
    )
    so = np.abs(off - _of_all(off, predicted, middle))
    colours = (so[..., 1:] / np.maximum(least[:, 1:], in_the_dark)).max(axis=2, initial=0.0)
    # Either the light of all changed, too, or what is before the camera takes most of the view: what leaves fewer odd.
    if_so, if_not = (
        _patches(np.maximum(light / least[:, _LIGHT], colours)) for light in (so[..., _LIGHT], np.abs(off[..., _LIGHT]))
    )
    is_so = if_so.sum(axis=1) < if_not.sum(axis=1)
    for still in np.flatnonzero(is_so & (if_not.mean(axis=1) > _MOST_OF_VIEW)).tolist():
        is_so[still] = not _is_as_before(off[still, :, _LIGHT], predicted[still], if_not[still])
    return np.where(is_so[:, None], if_so, if_not), is_so


def _step_of_codes(light: Floats) -> Floats:
    """Return how many stops a step of 8 bits is, where there is so much light in stops."""
    linear = np.exp2(light)
    return np.asarray(_CODE_STOPS / np.maximum(255 * np.minimum(linear ** (1 / 2.2), 12.92 * linear), 1.0))


def _weaker(looks: Floats) -> Floats:
    """Return the light in stops of red or green, and of blue or green, whichever is less: petals have next to no
    blue."""
    parts = np.exp2(looks[..., 1:]) @ np.array(LUMINANCE[[0, 2]])[: looks.shape[-1] - 1] + LUMINANCE[1]
    green = (looks[..., _LIGHT] - np.log2(parts))[..., None]
    return np.asarray(green + np.minimum(looks[..., 1:], 0))


def _of_all(off: Floats, predicted: Floats, middle: Floats) -> Floats:
    """Return by how much the light and the white balance of all change each block: what is blown out in part follows in
    part."""
    follows = np.clip(off, np.minimum(middle, 0), np.maximum(middle, 0))
    return np.where(predicted[..., None] > _BLOWN_IN_PART, follows, middle)


def _is_as_before(off: Floats, light: Floats, patch: Flags) -> bool:
    """Tell whether all but a patch is as it was, so that the light of all did not change though that of most did."""
    # What is blown out stays so whatever the light does.
    rest = off[~patch & (light < _BLOWN)]
    return bool(len(rest) > _LEAST_SHARE * _BLOCKS and abs(np.median(rest)) < 0.15 * abs(np.median(off)))


def _parts(blocks: Floats, view: _View, still: int) -> float:
    """Return how many blocks the patch of a still takes, those at its border in part: by how much of their light it
    replaced, or of their colour, where that says more."""
    patch, off = view.patches[still], _off_by_itself(blocks, view, still)
    if not patch.any():
        return 0.0
    inner = (cv2.erode(patch.reshape(GRID).astype(np.uint8), np.ones((3, 3), np.uint8), borderValue=1) > 0).ravel()
    inside = inner if inner.any() else patch
    most = int(np.argmax(np.median(np.abs(off[inside]), axis=0) / _ODD_STOPS[: off.shape[1]]))
    amount = np.abs(2.0 ** off[:, most] - 1)
    whole = float(np.median(amount[inside]))
    return float(inner.sum() + np.clip(amount[patch & ~inner] / max(whole, 1e-6), _LEAST_OF_BORDER, 1).sum())


def _hides(blocks: Floats, view: _View, still: int) -> bool:
    """Tell whether the patch of a still hides what lies behind it: it is off nearly everywhere, and not here and there,
    as where a head turns."""
    off = np.abs(_off_by_itself(blocks, view, still)[view.patches[still]])
    return bool((np.median(off, axis=0) > _NEARLY_ODD * _ODD_STOPS[: off.shape[1]]).any())


def _off_by_itself(blocks: Floats, view: _View, still: int) -> Floats:
    """Return how far each block of a still is off beyond what the light and the white balance of all do."""
    off = view.off[still]
    of_all = _of_all(off, (blocks[still] - off)[:, _LIGHT], np.median(off, axis=0))
    of_all[:, _LIGHT] *= view.is_of_all[still]
    return np.asarray(off - of_all)


def _patches(off: Floats) -> Flags:
    """Return the largest connected patch of each still that is odd, with what lies beside it and is off as well.

    ``off`` is how far each block is off, shape (stills, blocks); what is above 1 is odd.
    """
    count = len(off)
    # One tall picture of all stills, with an empty row between them.
    tall = np.zeros((count, GRID[0] + 1, GRID[1]), np.uint8)
    tall[:, :-1] = (off > _BESIDE).reshape(count, *GRID)
    several, labels = cv2.connectedComponents(tall.reshape(-1, GRID[1]), connectivity=8)
    labels = labels.reshape(tall.shape)[:, :-1].reshape(count, -1)
    seeds = np.bincount(labels[off > 1], minlength=several)
    seeds[0] = 0
    # Of two with as many, the first.
    rank = np.where(seeds, seeds * several + several - np.arange(several), 0)[labels]
    most = rank.max(axis=1, keepdims=True)
    return np.asarray((rank == most) & (most > 0))


def _usual(off: Floats, sound: Flags, most: float, times: float) -> Floats:
    """Return how far each block usually is off, by the stills nearby: waves and crowds are busy, walls are not."""
    # Every second still says it as well.
    part = off[sound][::2]
    part = part if len(part) else off
    # What walks past now and then counts too, so not the median alone; but what may be blocked does not.
    middle, high = np.percentile(part, (50, 100 * most), axis=0)
    return np.asarray(np.maximum(1.4826 * middle, times * high), np.float32)


def _enough(shares: Floats, sound: Flags, clear: Flags | None = None) -> float:
    """Return from which share on a still is blocked, by what most others have; once it is known which are clear, by
    those."""
    typical, usual = np.percentile(shares[sound], (50, 100 * _SURELY_CLEAR))
    busy = _BUSIEST * float(usual) if clear is None else _BUSIEST_CLEAR * float(np.percentile(shares[clear], 80))
    return max(_LEAST_SHARE, 4 * float(typical) + 0.02, busy if busy > 0.05 else 0)


def _partly(shares: Floats, flagged: Flags) -> Flags:
    """Return flagged stills with those beside them that are nearly so: what comes into view takes less of it first."""
    least = float(shares[flagged].min()) if flagged.any() else np.inf
    return flagged | (widened(flagged) & (shares > 0.45 * least))


def _goes_again(
    blocks: Floats, view: _View, flagged: Flags, sound: Flags, is_shaken: bool, low: int, high: int
) -> bool:
    """Tell whether something comes into view and leaves it: it differs from just before and just after by more than
    what drifts there anyway, and those two are alike; what comes for good is no blocked view."""
    inside = low + np.flatnonzero(view.shares[low : high + 1] > 0.5 * view.shares[low : high + 1].max())
    sides = [
        (int(inside[0]), [place for place in range(low - 3, low) if place >= 0 and sound[place]]),
        (int(inside[-1]), [place for place in range(high + 1, high + 4) if place < len(blocks) and sound[place]]),
    ]
    sides = [(still, places) for still, places in sides if places]
    if not sides:
        return False
    # With one side only it is less sure: more is wanted, and against what drifts there at its most.
    beyond, most = (_BEYOND_DRIFT, 75) if len(sides) == 2 else (_BEYOND_DRIFT_AT_ENDS, 95)
    # One of the measures must say all of it; of what is shaken light and colour both.
    says = np.ones(blocks.shape[2], bool)
    for still, places in sides:
        patch = view.patches[still]
        near = slice(max(0, still - _NEARBY), still + _NEARBY)
        around = _without_rest(blocks[near], patch)
        seen = np.median(_without_rest(blocks[places], patch), axis=0)
        away = np.median(np.abs(_without_rest(blocks[still : still + 1], patch)[0] - seen), axis=0)
        apart = max(1, round(abs(float(np.mean(places)) - still)))
        says &= away >= beyond * _drift(around, sound[near] & ~flagged[near], apart, most)
        says &= away > _BESIDE * _ODD_STOPS[: len(away)]
    if len(sides) == 2:
        worst = low + int(np.argmax(view.shares[low : high + 1]))
        patch = view.patches[worst]
        before, after = (np.median(_without_rest(blocks[places], patch), axis=0) for _, places in sides)
        blocked = _without_rest(blocks[worst : worst + 1], patch)[0]
        away = np.minimum(*(np.median(np.abs(blocked - side), axis=0) for side in (before, after)))
        says &= np.median(np.abs(before - after), axis=0) < _COMES_BACK * away
    if is_shaken and len(says) > 1:
        return bool(says[_LIGHT] and says[1:].any())
    return bool(says.any())


def _without_rest(blocks: Floats, patch: Flags) -> Floats:
    """Return the blocks of a patch without what the rest of the view does."""
    # Every fourth block of it says it as well.
    rest = np.flatnonzero(~patch)[::4]
    if not len(rest):
        return np.asarray(blocks[:, patch])
    return np.asarray(blocks[:, patch] - np.median(blocks[:, rest], axis=1, keepdims=True))


def _drift(blocks: Floats, sound: Flags, apart: int, most: int) -> Floats:
    """Return how much blocks change in each measure over so many stills, in so many of a hundred cases."""
    both = sound[apart:] & sound[:-apart]
    if not both.any():
        return np.zeros(blocks.shape[2])
    change = np.median(np.abs(blocks[apart:] - blocks[:-apart])[both], axis=1)
    return np.asarray(np.percentile(change, most, axis=0))


def _blocked_view(measurements: ShotMeasurements, low: int, high: int, share: float) -> Finding:
    said = f"{'has' if low == high else 'have'} something in view that takes {share * 100:.0f} % of the picture"
    return finding_about(
        measurements, "blocked view", low, high, said, {"share": round(share, 3)}, ("bridge", "set aside", "repeat")
    )
