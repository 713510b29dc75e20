"""Check: what is wrong in a shot, with the evidence in numbers and what can be done about it.

Every value is judged against its neighbours by robust statistics, so that dusk, clouds and people are no faults.
"""

from bisect import bisect
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from datetime import datetime
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.dirt import Spot
from yarnkite.core.measure import GRID
from yarnkite.core.order import Break, name_key
from yarnkite.core.series import neighbours, runs, spread, steps, wobble

Floats = NDArray[np.floating]
Kind = Literal[
    "misfire",
    "blocked view",
    "soft",
    "knock",
    "shake",
    "flicker",
    "exposure step",
    "light step",
    "colour step",
    "missing",
    "extra",
    "nothing happens",
    "other kind",
    "dirt",
    "damaged",
]
Remedy = Literal["set aside", "bridge", "hold", "fill", "begin here", "end here", "keep"]

# Worst first: what a viewer notices at once, what a viewer may notice, what is good to know.
SEVERITY: dict[Kind, int] = {
    "misfire": 1,
    "blocked view": 1,
    "damaged": 1,
    "soft": 1,
    "knock": 1,
    "missing": 2,
    "exposure step": 2,
    "light step": 2,
    "colour step": 2,
    "flicker": 2,
    "shake": 2,
    "other kind": 2,
    "extra": 3,
    "dirt": 3,
    "nothing happens": 3,
}
_LONGEST_BLOCK = 5
_FEWEST = 12


@dataclass(frozen=True)
class Track:
    """The measures of a shot's stills in order, one entry a still.

    ``blocks`` has the shape (stills, 16, 24), light in stops; ``shifts`` (stills, 3): across and down against the still
    before in shares of the width, and turn in degrees; ``trust`` how sure they are; ``exposure`` the exposure value at
    ISO 100, not a number where unknown; ``looks`` 64-bit hashes.
    """

    ids: Sequence[int]
    names: Sequence[str]
    captured: Sequence[datetime | None]
    blocks: Floats
    red: Floats
    blue: Floats
    sharpness: Floats
    bright: Floats
    dark: Floats
    shifts: Floats
    trust: Floats
    exposure: Floats
    looks: Sequence[int]
    shapes: Sequence[tuple[int, int, str]] = ()
    light: Floats = field(init=False)

    def __post_init__(self) -> None:
        light = np.median(self.blocks.reshape(len(self.blocks), -1), axis=1) if len(self.blocks) else np.zeros(0)
        object.__setattr__(self, "light", light)


@dataclass(frozen=True)
class Finding:
    """Something the check noticed: ``stills`` by id, evidence in numbers, and what can be done, best first.

    ``key`` stays the same as long as the same stills are concerned.
    """

    kind: Kind
    stills: tuple[int, ...]
    sentence: str
    evidence: dict[str, float]
    remedies: tuple[Remedy, ...]

    @property
    def key(self) -> str:
        where = "@{across:.3f},{down:.3f}".format(**self.evidence) if self.kind == "dirt" else ""
        return f"{self.kind}:{self.stills[0]}-{self.stills[-1]}{where}"

    @property
    def severity(self) -> int:
        return SEVERITY[self.kind]


def findings(track: Track) -> list[Finding]:
    """Return what is wrong in a shot, in order of the stills."""
    if len(track.ids) < _FEWEST:
        return []
    misfires = _misfires(track)
    spoiled = np.zeros(len(track.ids), bool)
    for low, high, _ in misfires:
        spoiled[low : high + 1] = True
    result = [_misfire(track, *one) for one in misfires]
    blocked = _blocked(track, spoiled)
    result += [_blocked_view(track, *one) for one in blocked]
    for low, high, _ in blocked:
        spoiled[low : high + 1] = True
    result += _soft(track, spoiled)
    calm = _mended(track.light, spoiled)
    flicker = _flicker(track, calm)
    result += flicker
    result += _steps(track, calm, spoiled, flicker)
    moved = _camera(track, spoiled)
    result = [one for one in result if not _by_shaking(track, one, moved)]
    result += moved
    result += _repetition(track)
    return sorted(result, key=lambda one: track.ids.index(one.stills[0]))


def from_breaks(track: Track, breaks: Sequence[Break]) -> list[Finding]:
    """Return the findings that follow from what breaks the order: missing stills, the same picture twice, bursts."""
    found = []
    for one in breaks:
        if one.kind == "missing":
            around = (track.ids[one.position - 1], track.ids[one.position])
            evidence = {"missing": float(one.count)}
            found.append(Finding("missing", around, one.sentence, evidence, ("fill", "keep")))
        elif one.kind == "duplicate":
            found.append(Finding("extra", (track.ids[one.position],), one.sentence, {}, ("set aside", "keep")))
    return found + _bursts(track) + _other_kinds(track)


def from_dirt(track: Track, spots: Sequence[Spot]) -> list[Finding]:
    """Return spots of dirt as findings; each concerns the whole shot."""
    return [
        Finding(
            "dirt",
            (track.ids[0], track.ids[-1]),
            f"A dark spot stays {spot.across * 100:.0f} % from the left and {spot.down * 100:.0f} % from the top while"
            " the scene moves: dirt on the sensor or the lens.",
            asdict(spot),
            ("keep",),
        )
        for spot in spots
        if len(track.ids)
    ]


def from_left_out(track: Track, unreadable: Sequence[tuple[str, str]]) -> list[Finding]:
    """Return files that could not be read as findings, at the place that their names give them.

    ``unreadable`` holds names and reasons.
    """
    known = sorted(zip(map(name_key, track.names), track.ids, strict=True)) if unreadable else []
    found = []
    for name, reason in unreadable:
        at = bisect([key for key, _ in known], name_key(name))
        around = (known[max(0, at - 1)][1], known[min(at, len(known) - 1)][1]) if known else ()
        if around:
            found.append(Finding("damaged", around, f"“{_file(name)}” is not in the clip: {reason}", {}, ("keep",)))
    return found


def worst_first(found: Sequence[Finding]) -> list[Finding]:
    """Return findings grouped by kind, the worst kind first."""
    kinds = list(SEVERITY)
    return sorted(found, key=lambda one: (one.severity, kinds.index(one.kind)))


def _bursts(track: Track) -> list[Finding]:
    """Find stills that follow the one before much sooner than usual."""
    steps = np.array(
        [
            (after - before).total_seconds() if before and after else np.nan
            for before, after in zip(track.captured, track.captured[1:], strict=False)
        ]
    )
    if np.isfinite(steps).sum() < _FEWEST:
        return []
    usual = float(np.nanmedian(steps))
    soon = np.zeros(len(track.ids), bool)
    soon[1:] = (steps > 0) & (steps < 0.35 * usual)
    return [
        _finding(
            track,
            "extra",
            low,
            high,
            f"{'follows' if low == high else 'follow'} too soon: {np.nanmin(steps[low - 1 : high]):.3g} s, where {usual:.3g} s is usual",
            {"seconds": float(np.nanmin(steps[low - 1 : high])), "usual": usual},
            ("set aside", "keep"),
        )
        for low, high in runs(soon)
    ]


def _other_kinds(track: Track) -> list[Finding]:
    """Find stills of another size, shape or camera than most."""
    if not track.shapes:
        return []
    usual = max(set(track.shapes), key=track.shapes.count)
    found = []
    for low, high in runs(np.array([shape != usual for shape in track.shapes])):
        width, height, camera = track.shapes[low]
        other = (
            f"from {camera or 'an unknown camera'}" if (width, height) == usual[:2] else f"{width} × {height} pixels"
        )
        said = f"{'is' if low == high else 'are'} {other}, unlike the rest"
        found.append(_finding(track, "other kind", low, high, said, {}, ("set aside", "keep")))
    return found


def _misfires(track: Track) -> list[tuple[int, int, float]]:
    """Return stills, one or two in a row, whose light is far from what their neighbours predict."""
    off = track.light - neighbours(track.light, 4)
    # In a stretch that flickers every still is a little off; a misfire is far off all the same.
    usual = spread(off, 12, 0.02)
    far = np.abs(off) > np.maximum(0.5, 6 * usual)
    return [
        (low, high, float(off[low : high + 1].mean()))
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
    return _finding(track, "misfire", low, high, f"is {what}", evidence, ("bridge", "set aside", "hold"))


def _blocked(track: Track, spoiled: NDArray[np.bool_]) -> list[tuple[int, int, float]]:
    """Return stretches of up to five stills in which a large part of the view differs from before and after."""
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
        (low, last, float(shares[low : last + 1].max()))
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
    return _finding(track, "blocked view", low, high, said, {"share": round(share, 3)}, ("bridge", "set aside", "hold"))


def _soft(track: Track, spoiled: NDArray[np.bool_]) -> list[Finding]:
    """Find stills with much less fine detail than their neighbours."""
    calm = _mended(track.sharpness, spoiled)
    off = calm - neighbours(calm, 4)
    soft = off < -np.maximum(0.22, 6 * spread(off, 8, 0.01))
    soft &= ~spoiled
    return [
        _finding(
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


def _by_shaking(track: Track, finding: Finding, moved: Sequence[Finding]) -> bool:
    """Tell whether a still is only as soft as shaking makes one now and then: others around it nearly are."""
    if finding.kind != "soft" or not any(
        one.kind == "shake" and finding.stills[0] in _around(track, one) for one in moved
    ):
        return False
    low, high = track.ids.index(finding.stills[0]), track.ids.index(finding.stills[-1])
    off = track.sharpness - neighbours(track.sharpness, 4)
    others = np.concatenate([off[max(0, low - 10) : low], off[high + 1 : high + 11]])
    return finding.evidence["stops"] > 1.6 * float(others.min(initial=0.0))


def _mended(values: Floats, spoiled: NDArray[np.bool_]) -> Floats:
    """Return values with those of spoiled stills taken from the line between the sound ones beside them."""
    sound = np.flatnonzero(~spoiled)
    if not len(sound) or not spoiled.any():
        return np.asarray(values, float)
    return np.asarray(np.interp(np.arange(len(values)), sound, np.asarray(values, float)[sound]))


def _flicker(track: Track, light: Floats) -> list[Finding]:
    """Find stretches in which the light of the whole view goes up and down from still to still."""
    off = wobble(light)
    in_blocks = np.zeros_like(track.blocks, float)
    in_blocks[1:-1] = track.blocks[1:-1] - (track.blocks[:-2] + track.blocks[2:]) / 2
    together = _together(in_blocks.reshape(len(off), -1), off)
    turns = np.zeros(len(off), bool)
    change = np.diff(light)
    turns[1:-1] = change[1:] * change[:-1] < 0
    strong = (np.abs(off) > 0.035) & turns & together
    reach = 4
    width = 2 * reach + 1
    if len(off) < width:
        return []
    share = np.convolve(strong, np.ones(width) / width, mode="same")
    found = []
    for low, high in runs(share >= 0.55, join=3):
        inside = strong[low : high + 1]
        if inside.sum() < 5:
            continue
        low, high = low + int(np.argmax(inside)), high - int(np.argmax(inside[::-1]))
        strength = float(np.sqrt(np.mean(off[low : high + 1] ** 2)) * 2)
        said = f"flicker by {strength:.2f} stops from still to still"
        found.append(_finding(track, "flicker", low, high, said, {"stops": round(strength, 3)}, ("keep",)))
    return found


def _together(blocks: Floats, whole: Floats) -> NDArray[np.bool_]:
    """Tell for each still whether most of the view changed by what the whole did: lamps and shutters, not clouds."""
    error = np.median(np.abs(blocks - whole[:, None]), axis=1)
    return np.asarray(error < 0.45 * np.abs(whole) + 0.004)


def _steps(track: Track, light: Floats, spoiled: NDArray[np.bool_], flicker: Sequence[Finding]) -> list[Finding]:
    found: list[Finding] = []
    known = np.isfinite(track.exposure)
    changed = np.zeros(len(light))
    changed[1:] = np.where(known[1:] & known[:-1], np.nan_to_num(track.exposure[1:] - track.exposure[:-1]), 0)
    explained: set[int] = set()
    for place in np.flatnonzero(np.abs(changed) >= 0.2).tolist():
        if spoiled[place] or spoiled[place - 1]:
            continue
        jump = float(light[place] - light[place - 1])
        if abs(jump + changed[place]) < max(0.3, 0.5 * abs(changed[place])):
            stops = -float(changed[place])
            said = f"begins {abs(stops):.1f} stops {'brighter' if stops > 0 else 'darker'}: the camera changed its exposure"
            evidence = {"by Exif": round(stops, 2), "in the picture": round(jump, 2)}
            found.append(_finding(track, "exposure step", place, place, said, evidence, ("keep",)))
            explained.update(range(place - 2, place + 3))
    found += [
        _finding(
            track,
            "light step",
            place,
            place,
            f"begins {abs(height):.1f} stops {'brighter' if height > 0 else 'darker'}, and it stays: a lamp or the sun",
            {"stops": round(height, 2)},
            ("keep", "begin here", "end here"),
        )
        for place, height in steps(light, least=0.22)
        if place not in explained
        and _in_unison(track, place, height)
        and not _is_flicker(track, place, height, flicker)
    ]
    for name, values in (("red", track.red), ("blue", track.blue)):
        for place, height in steps(_mended(values, spoiled), least=0.07):
            if any(one.kind == "colour step" and abs(track.ids.index(one.stills[0]) - place) < 3 for one in found):
                continue
            warmer = (height > 0) == (name == "red")
            said = f"begins {'warmer' if warmer else 'colder'}, by {abs(height):.2f} stops of {name}, and it stays"
            evidence = {name: round(height, 3)}
            found.append(_finding(track, "colour step", place, place, said, evidence, ("keep",)))
    return found


def _is_flicker(track: Track, place: int, height: float, flicker: Sequence[Finding]) -> bool:
    """Tell whether a step is one of the ups and downs of a stretch that flickers."""
    return any(
        track.ids.index(one.stills[0]) - 1 <= place <= track.ids.index(one.stills[-1]) + 2
        and abs(height) < 1.5 * one.evidence["stops"]
        for one in flicker
    )


def _in_unison(track: Track, place: int, height: float) -> bool:
    """Tell whether most of the view took part in a step of light; a cloud or a boat does not make it do so."""
    before = np.median(track.blocks[max(0, place - 3) : place], axis=0)
    after = np.median(track.blocks[place : place + 3], axis=0)
    return bool(np.mean(np.sign(after - before) == np.sign(height)) > 0.7)


def _camera(track: Track, spoiled: NDArray[np.bool_]) -> list[Finding]:
    """Find where the camera was knocked for good, and where it shook."""
    sure = (track.trust > 0.12) & ~spoiled
    sure[1:] &= ~spoiled[:-1]
    moves = np.where(sure[:, None], track.shifts, 0.0)
    moves[0] = 0
    away = np.hypot(moves[:, 0], moves[:, 1])
    usual = spread(moves[:, 0], 30, 0.0002) + spread(moves[:, 1], 30, 0.0002)
    path = np.cumsum(moves[:, :2], axis=0)
    found: list[Finding] = []
    knocked = np.zeros(len(away), bool)
    for place in np.flatnonzero((away > np.maximum(0.0016, 6 * usual)) | (np.abs(moves[:, 2]) > 0.35)).tolist():
        if place < 3 or place > len(away) - 4:
            continue
        # A lamp that comes on can look like a small shift; then little of the view agrees on it.
        if away[place] < 0.005 and track.trust[place] < 0.5 * np.median(track.trust[place - 3 : place + 4]):
            continue
        # Before and after a knock the camera stands still; else it is one of many shakes.
        around = np.concatenate([away[place - 3 : place], away[place + 1 : place + 4]])
        if np.median(around) > 0.3 * away[place] and np.median(around) > 0.0005:
            continue
        stays = np.median(path[place : place + 5], axis=0) - np.median(path[max(0, place - 5) : place], axis=0)
        turned = abs(float(moves[place : place + 4, 2].sum())) > 0.3
        if np.hypot(*stays) < 0.6 * away[place] and not turned:
            continue
        if knocked[max(0, place - 3) : place].any():
            continue
        knocked[place] = True
        percent, turn = float(away[place]) * 100, float(moves[place, 2])
        tilt = f" and turned by {abs(turn):.1f}°" if abs(turn) > 0.2 else ""
        said = (
            f"begins with the picture moved by {percent:.1f} % of its width{tilt}, and it stays: the camera was knocked"
        )
        evidence = {
            "across": round(float(moves[place, 0]), 4),
            "down": round(float(moves[place, 1]), 4),
            "turn": round(turn, 2),
        }
        found.append(_finding(track, "knock", place, place, said, evidence, ("keep", "begin here", "end here")))
    shaking = _shaking(track, _jerks(moves), knocked, sure)
    unsteady = {still for one in shaking for still in _around(track, one)}
    return [one for one in found if one.stills[0] not in unsteady] + shaking


def _around(track: Track, finding: Finding) -> Sequence[int]:
    low, high = track.ids.index(finding.stills[0]), track.ids.index(finding.stills[-1])
    return track.ids[max(0, low - 3) : high + 4]


def _jerks(moves: Floats) -> Floats:
    """Return how far each move is from what those around it are: what grows or drifts moves alike for long."""
    return np.asarray(np.hypot(*(moves[:, axis] - neighbours(moves[:, axis], 2) for axis in (0, 1))))


def _shaking(track: Track, away: Floats, knocked: NDArray[np.bool_], sure: NDArray[np.bool_]) -> list[Finding]:
    moved = (away > 0.0009) & ~knocked & sure
    width = 9
    if len(away) < width:
        return []
    share = np.convolve(moved, np.ones(width) / width, mode="same")
    found = []
    for low, high in runs(share >= 0.5, join=4):
        if moved[low : high + 1].sum() < 5:
            continue
        strength = float(np.median(away[low : high + 1][moved[low : high + 1]])) * 100
        said = f"shake by {strength:.2f} % of the width from still to still"
        remedies: tuple[Remedy, ...] = ("keep",)
        if low <= 3:
            remedies = ("begin here", "keep")
        elif high >= len(away) - 4:
            remedies = ("end here", "keep")
        found.append(_finding(track, "shake", low, high, said, {"percent": round(strength, 3)}, remedies))
    return found


def _repetition(track: Track) -> list[Finding]:
    """Find long stretches in which next to nothing changes."""
    count = len(track.ids)
    blocks = track.blocks.reshape(count, -1)
    change = np.abs(np.diff(blocks - np.median(blocks, axis=1)[:, None], axis=0)).mean(axis=1)
    still = np.zeros(count, bool)
    hashes = np.array([int(a ^ b).bit_count() for a, b in zip(track.looks, track.looks[1:], strict=False)])
    typical = float(np.median(change)) if count > 1 else 0.0
    # Grain moves too: what counts is what changes over a few stills.
    smooth = neighbours(change, 2)
    calm = smooth < min(0.009, 0.7 * typical)
    # A shutter is not exact: the light is judged without what it does from one still to the next.
    still[1:] = calm & (hashes <= 5) & (np.abs(np.diff(neighbours(track.light, 3))) < 0.008)
    least = max(20, count // 25)
    return [
        _finding(
            track,
            "nothing happens",
            low,
            high,
            "show next to no change",
            {"change": round(float(change[low:high].mean()), 4), "usual": round(typical, 4)},
            ("begin here", "keep")
            if low == 0
            else ("end here", "keep")
            if high == count - 1
            else ("set aside", "keep"),
        )
        for low, high in ((max(0, low - 1), high) for low, high in runs(still, join=2))
        if high - low + 1 >= least and high - low + 1 < 0.8 * count
    ]


def _finding(
    track: Track, kind: Kind, low: int, high: int, said: str, evidence: dict[str, float], remedies: tuple[Remedy, ...]
) -> Finding:
    if low == high:
        who = f"“{_file(track.names[low])}” {said}."
    else:
        who = f"{high - low + 1:,} stills from “{_file(track.names[low])}” to “{_file(track.names[high])}” {said}."
    every = remedies if "keep" in remedies else (*remedies, "keep")
    return Finding(kind, tuple(track.ids[low : high + 1]), who, evidence, every)


def _file(name: str) -> str:
    return name.rpartition("/")[2]
