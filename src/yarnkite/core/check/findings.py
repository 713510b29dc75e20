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
from yarnkite.core.check.finding import Finding, ShotMeasurements, file_name, finding_about
from yarnkite.core.check.light_changes import flickering, light_steps
from yarnkite.core.check.misfires import misfires
from yarnkite.core.check.softness import by_shaking, mended, soft_stills
from yarnkite.core.check.steadiness import knocks_and_shakes
from yarnkite.core.order.breaks import Break
from yarnkite.core.order.natural import name_key

_FEWEST = 12


def findings(measurements: ShotMeasurements) -> list[Finding]:
    """Return what is wrong in a shot, in order of the stills."""
    if len(measurements.ids) < _FEWEST:
        return []
    spoiled = np.zeros(len(measurements.ids), bool)
    result = misfires(measurements)
    _mark(spoiled, measurements, result)
    result += blocked_views(measurements, spoiled)
    _mark(spoiled, measurements, result)
    result += soft_stills(measurements, spoiled)
    calm = mended(measurements.light, spoiled)
    flicker = flickering(measurements, calm)
    result += flicker
    result += light_steps(measurements, calm, spoiled, flicker)
    moved = knocks_and_shakes(measurements, spoiled)
    result = [one for one in result if not by_shaking(measurements, one, moved)]
    result += moved
    result += _repetition(measurements)
    return sorted(result, key=measurements.ends_of)


def _mark(spoiled: Flags, measurements: ShotMeasurements, found: Sequence[Finding]) -> None:
    """Mark the stills of findings, so that no other statistics count them."""
    stills = {still for finding in found for still in finding.stills}
    spoiled |= np.array([still in stills for still in measurements.ids])


def from_breaks(measurements: ShotMeasurements, breaks: Sequence[Break]) -> list[Finding]:
    """Return the findings that follow from what breaks the order: missing stills, the same picture twice, bursts."""
    found = []
    for one in breaks:
        if one.kind == "missing":
            around = (measurements.ids[one.position - 1], measurements.ids[one.position])
            evidence = {"missing": float(one.count)}
            found.append(Finding("missing", around, one.sentence, evidence, ("fill", "dismiss")))
        elif one.kind == "duplicate":
            found.append(
                Finding("extra", (measurements.ids[one.position],), one.sentence, {}, ("set aside", "dismiss"))
            )
    return found + _bursts(measurements) + _other_kinds(measurements)


def from_dirt(measurements: ShotMeasurements, spots: Sequence[Spot]) -> list[Finding]:
    """Return spots of dirt as findings; each concerns the whole shot."""
    return [
        Finding(
            "dirt",
            (measurements.ids[0], measurements.ids[-1]),
            f"A dark spot stays {spot.x * 100:.0f} % from the left and {spot.y * 100:.0f} % from the top while"
            " the scene moves: dirt on the sensor or the lens.",
            asdict(spot),
            ("dismiss",),
        )
        for spot in spots
    ]


def from_left_out(measurements: ShotMeasurements, unreadable: Sequence[tuple[str, str]]) -> list[Finding]:
    """Return files that could not be read as findings, at the place that their names give them.

    ``unreadable`` holds names and reasons.
    """
    known = sorted(zip(map(name_key, measurements.names), measurements.ids, strict=True)) if unreadable else []
    keys = [key for key, _ in known]
    found = []
    for name, reason in unreadable:
        at = bisect(keys, name_key(name))
        around = (known[max(0, at - 1)][1], known[min(at, len(known) - 1)][1])
        found.append(Finding("damaged", around, f"“{file_name(name)}” is not in the clip: {reason}", {}, ("dismiss",)))
    return found


def _bursts(measurements: ShotMeasurements) -> list[Finding]:
    """Find stills that follow the one before much sooner than usual."""
    change_points = measurements.intervals[1:]
    if np.isfinite(change_points).sum() < _FEWEST:
        return []
    usual = float(np.nanmedian(change_points))
    soon = np.zeros(len(measurements.ids), bool)
    soon[1:] = (change_points > 0) & (change_points < 0.35 * usual)
    return [
        finding_about(
            measurements,
            "extra",
            low,
            high,
            f"{'follows' if low == high else 'follow'} too soon: {np.nanmin(change_points[low - 1 : high]):.3g} s, where {usual:.3g} s is usual",
            {"seconds": float(np.nanmin(change_points[low - 1 : high])), "usual": usual},
            ("set aside", "dismiss"),
        )
        for low, high in runs(soon)
    ]


def _other_kinds(measurements: ShotMeasurements) -> list[Finding]:
    """Find stills of another size, shape or camera than most."""
    if not measurements.shapes:
        return []
    usual = max(set(measurements.shapes), key=measurements.shapes.count)
    found = []
    for low, high in runs(np.array([shape != usual for shape in measurements.shapes])):
        width, height, camera = measurements.shapes[low]
        other = (
            f"from {camera or 'an unknown camera'}" if (width, height) == usual[:2] else f"{width} × {height} pixels"
        )
        said = f"{'is' if low == high else 'are'} {other}, unlike the rest"
        found.append(finding_about(measurements, "other kind", low, high, said, {}, ("set aside", "dismiss")))
    return found


def _repetition(measurements: ShotMeasurements) -> list[Finding]:
    """Find long stretches in which next to nothing changes."""
    count = len(measurements.ids)
    blocks = measurements.blocks.reshape(count, -1)
    change = np.abs(np.diff(blocks - np.median(blocks, axis=1)[:, None], axis=0)).mean(axis=1)
    still = np.zeros(count, bool)
    hashes = np.array(
        [int(a ^ b).bit_count() for a, b in zip(measurements.dhashes, measurements.dhashes[1:], strict=False)]
    )
    typical = float(np.median(change)) if count > 1 else 0.0
    # Grain moves too: what counts is what changes over a few stills.
    smooth = neighbours(change, 2)
    calm = smooth < min(0.009, 0.7 * typical)
    # A shutter is not exact: the light is judged without what it does from one still to the next.
    still[1:] = calm & (hashes <= 5) & (np.abs(np.diff(neighbours(measurements.light, 3))) < 0.008)
    least = max(20, count // 25)
    return [
        finding_about(
            measurements,
            "nothing happens",
            low,
            high,
            "show next to no change",
            {"change": round(float(change[low:high].mean()), 4), "usual": round(typical, 4)},
            ("begin here", "dismiss")
            if low == 0
            else ("end here", "dismiss")
            if high == count - 1
            else ("set aside", "dismiss"),
        )
        for low, high in ((max(0, low - 1), high) for low, high in runs(still, join=2))
        if high - low + 1 >= least and high - low + 1 < 0.8 * count
    ]
