"""Check: what is wrong in a shot, with the evidence in numbers and what can be done about it.

Every value is judged against its neighbours by robust statistics, so that dusk, clouds and people are no faults.
"""

from bisect import bisect
from collections.abc import Sequence
from dataclasses import asdict

import numpy as np

from yarnkite.core.base.arrays import Flags
from yarnkite.core.base.robust import neighbours, runs
from yarnkite.core.check.blocked_views import blocked_views
from yarnkite.core.check.dirt import Spot
from yarnkite.core.check.finding import Finding, Track, file_name, told
from yarnkite.core.check.light_changes import flickering, light_steps
from yarnkite.core.check.misfires import misfires
from yarnkite.core.check.softness import by_shaking, mended, soft_stills
from yarnkite.core.check.steadiness import knocks_and_shakes
from yarnkite.core.order.breaks import Break
from yarnkite.core.order.natural import name_key

_FEWEST = 12


def findings(track: Track) -> list[Finding]:
    """Return what is wrong in a shot, in order of the stills."""
    if len(track.ids) < _FEWEST:
        return []
    spoiled = np.zeros(len(track.ids), bool)
    result = misfires(track)
    _mark(spoiled, track, result)
    result += blocked_views(track, spoiled)
    _mark(spoiled, track, result)
    result += soft_stills(track, spoiled)
    calm = mended(track.light, spoiled)
    flicker = flickering(track, calm)
    result += flicker
    result += light_steps(track, calm, spoiled, flicker)
    moved = knocks_and_shakes(track, spoiled)
    result = [one for one in result if not by_shaking(track, one, moved)]
    result += moved
    result += _repetition(track)
    return sorted(result, key=track.ends_of)


def _mark(spoiled: Flags, track: Track, found: Sequence[Finding]) -> None:
    """Mark the stills of findings, so that no other statistics count them."""
    stills = {still for finding in found for still in finding.stills}
    spoiled |= np.array([still in stills for still in track.ids])


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
    ]


def from_left_out(track: Track, unreadable: Sequence[tuple[str, str]]) -> list[Finding]:
    """Return files that could not be read as findings, at the place that their names give them.

    ``unreadable`` holds names and reasons.
    """
    known = sorted(zip(map(name_key, track.names), track.ids, strict=True)) if unreadable else []
    keys = [key for key, _ in known]
    found = []
    for name, reason in unreadable:
        at = bisect(keys, name_key(name))
        around = (known[max(0, at - 1)][1], known[min(at, len(known) - 1)][1])
        found.append(Finding("damaged", around, f"“{file_name(name)}” is not in the clip: {reason}", {}, ("keep",)))
    return found


def _bursts(track: Track) -> list[Finding]:
    """Find stills that follow the one before much sooner than usual."""
    steps = track.intervals[1:]
    if np.isfinite(steps).sum() < _FEWEST:
        return []
    usual = float(np.nanmedian(steps))
    soon = np.zeros(len(track.ids), bool)
    soon[1:] = (steps > 0) & (steps < 0.35 * usual)
    return [
        told(
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
        found.append(told(track, "other kind", low, high, said, {}, ("set aside", "keep")))
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
        told(
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
