"""Check: what is wrong in a shot, with the evidence in numbers and what can be done about it.

Every value is judged against its neighbours by robust statistics, so that dusk, clouds and people are no faults.
"""

from bisect import bisect
from collections.abc import Sequence
from dataclasses import asdict

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import neighbours, runs, widened
from yarnkite.core.check.blocked_views import blocked_views
from yarnkite.core.check.dirt import Spot
from yarnkite.core.check.finding import Finding, Remedy, ShotMeasurements, file_name, finding_about
from yarnkite.core.check.flicker import flickering, lamp_bands
from yarnkite.core.check.light_changes import colour_steps, exposure_steps, light_steps
from yarnkite.core.check.mended import mended
from yarnkite.core.check.misfires import misfires
from yarnkite.core.check.remedy import MOST_FILLED
from yarnkite.core.check.series import series_of_light
from yarnkite.core.check.softness import by_shaking, lasting_softness, soft_stills
from yarnkite.core.check.steadiness import moves_of_camera
from yarnkite.core.order.breaks import Break
from yarnkite.core.order.natural import name_key

_FEWEST = 12
# Stills so far apart differ by more than so many times what neighbours do, if anything moves at all.
_FAR, _GRAIN_ALONE = 8, 1.6


def findings(measurements: ShotMeasurements) -> list[Finding]:
    """Return what is wrong in a shot, in order of the stills; causes come first, and what they explain is not told
    again."""
    count = len(measurements.ids)
    if count < _FEWEST:
        return []
    series = series_of_light(measurements, measurements.light)
    taken = _about(measurements, series, count)
    missed = misfires(measurements, widened(taken))
    spoiled = _about(measurements, missed, count)
    moved = moves_of_camera(measurements, spoiled)
    shaken = widened(_about(measurements, _long(moved), count))
    blocked = blocked_views(measurements, spoiled, shaken)
    if blocked:
        spoiled |= _about(measurements, blocked, count)
        moved = moves_of_camera(measurements, spoiled)
    calm = mended(measurements.light, spoiled)
    flicker = flickering(measurements, calm, spoiled | taken)
    bands = lamp_bands(measurements, spoiled)
    exposed = exposure_steps(measurements, measurements.light, spoiled | taken)
    taken |= _about(measurements, exposed, count)
    lamps = light_steps(measurements, calm, taken, [*flicker, *bands])
    steps = _about(measurements, [*lamps, *moved], count) & ~_about(measurements, _long(moved), count)
    coloured = colour_steps(measurements, spoiled, taken | _about(measurements, lamps, count))
    soft = [one for one in soft_stills(measurements, spoiled | steps) if not by_shaking(measurements, one, moved)]
    soft += lasting_softness(measurements, spoiled | _about(measurements, soft, count), taken | steps)
    result = [*series, *missed, *blocked, *moved, *flicker, *bands, *exposed, *lamps, *coloured, *soft]
    return sorted([*result, *_repetition(measurements)], key=measurements.ends_of)


def _about(measurements: ShotMeasurements, found: Sequence[Finding], count: int) -> Flags:
    """Return which of so many stills findings are about."""
    result = np.zeros(count, bool)
    for finding in found:
        first, last = measurements.ends_of(finding)
        result[first : last + 1] = True
    return result


def _long(found: Sequence[Finding]) -> list[Finding]:
    return [one for one in found if len(one.stills) > 1]


def from_breaks(measurements: ShotMeasurements, breaks: Sequence[Break]) -> list[Finding]:
    """Return the findings that follow from what breaks the order: missing stills, the same picture twice, bursts."""
    found = []
    for one in breaks:
        if one.kind == "missing" or one.kind == "pause":
            around = (measurements.ids[one.position - 1], measurements.ids[one.position])
            is_night = one.kind == "pause" and one.count > MOST_FILLED
            remedies: tuple[Remedy, ...] = ("dismiss",) if is_night else ("fill", "dismiss")
            found.append(Finding(one.kind, around, one.sentence, {"missing": float(one.count)}, remedies))
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
            ("remove", "dismiss"),
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
            f"{'follows' if low == high else 'follow'} too soon: {np.nanmin(change_points[low - 1 : high]):.3g} s, "
            f"where {usual:.3g} s is usual",
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
    scenery = blocks - np.median(blocks, axis=1)[:, None]
    change = np.abs(np.diff(scenery, axis=0)).mean(axis=1)
    still = np.zeros(count, bool)
    hashes = np.array(
        [int(a ^ b).bit_count() for a, b in zip(measurements.dhashes, measurements.dhashes[1:], strict=False)]
    )
    typical = float(np.median(change)) if count > 1 else 0.0
    # Grain moves too: what counts is what changes over a few stills.
    smooth = neighbours(change, 2)
    calm = smooth < min(0.009, 0.85 * typical)
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
        if high - low + 1 >= least and high - low + 1 < 0.8 * count and _stands_still(scenery[low : high + 1])
    ]


def _stands_still(scenery: Floats) -> bool:
    """Tell whether stills far apart differ no more than neighbours do: by grain alone, and not by what is slow."""
    near = np.abs(scenery[1:] - scenery[:-1]).mean()
    far = np.abs(scenery[_FAR:] - scenery[:-_FAR]).mean()
    return bool(far < _GRAIN_ALONE * near)
