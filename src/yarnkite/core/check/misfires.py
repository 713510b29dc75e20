"""Misfires: stills, one or up to twelve in a row, far brighter or darker than those around them."""

import numpy as np

from yarnkite.core.base.arrays import Flags
from yarnkite.core.check.finding import Finding, ShotMeasurements, finding_about
from yarnkite.core.check.stretches import StillRange, stretches

_LEAST_STOPS = 0.5
# Light of a block, in stops, beyond which some of its pixels are clipped.
_BLOWN, _BLACK = -0.3, -9.5
_LEAST_UNCLIPPED, _MOST_BLOWN = 0.15, 0.5


def misfires(measurements: ShotMeasurements, taken: Flags) -> list[Finding]:
    """Find stretches of up to twelve stills whose light is far from that before and after; ``taken`` are explained
    else."""
    return [
        _misfire(measurements, one)
        for one in stretches(measurements.light, least=_LEAST_STOPS)
        if not taken[one.first : one.last + 1].any() and _takes_all(measurements, one)
    ]


def _takes_all(measurements: ShotMeasurements, one: StillRange) -> bool:
    """Tell whether nearly all of the view is brighter or darker than around; else something is before the camera."""
    off = _off_by_block(measurements, one)
    # What is blown out cannot become brighter, and what is black not darker.
    full = _around(measurements, one) + off
    is_full = full > _BLOWN if one.off > 0 else full < _BLACK
    return bool(np.mean((off * np.sign(one.off) > 0.25) | is_full) > 0.75)


def _off_by_block(measurements: ShotMeasurements, one: StillRange) -> np.ndarray:
    inside = np.median(measurements.blocks[one.first : one.last + 1], axis=0)
    return np.asarray(inside - _around(measurements, one))


def _around(measurements: ShotMeasurements, one: StillRange) -> np.ndarray:
    before, after = measurements.blocks[max(0, one.first - 3) : one.first], measurements.blocks[one.last + 1 :][:3]
    sides = [np.median(side, axis=0) for side in (before, after) if len(side)]
    return np.asarray(np.mean(sides, axis=0))


def _misfire(measurements: ShotMeasurements, one: StillRange) -> Finding:
    stops, is_least = _strength(measurements, one)
    bright = float(np.median(measurements.bright[one.first : one.last + 1]))
    if float(np.median(measurements.light[one.first : one.last + 1])) < -9 and stops < -1:
        what = "black"
    elif bright > 0.5 and stops > 0.7:
        what = "blown out"
    else:
        least = "at least " if is_least else ""
        which, whose = "darker" if stops < 0 else "brighter", "its" if one.first == one.last else "their"
        what = f"{least}{abs(stops):.1f} stops {which} than {whose} neighbours"
    evidence = {"stops": round(stops, 2), "blown out": round(bright, 3)} | ({"at least": 1.0} if is_least else {})
    said = f"{'is' if one.first == one.last else 'are'} {what}"
    return finding_about(
        measurements, "misfire", one.first, one.last, said, evidence, ("bridge", "set aside", "repeat")
    )


def _strength(measurements: ShotMeasurements, one: StillRange) -> tuple[float, bool]:
    """Return by how many stops a stretch is off where nothing is clipped, and whether it may be more than that."""
    off, around = _off_by_block(measurements, one), _around(measurements, one)
    inside = around + off
    whole = (inside < _BLOWN) & (inside > _BLACK) & (around < _BLOWN) & (around > _BLACK)
    if whole.mean() < _LEAST_UNCLIPPED:
        return one.off, True
    # Of a block that is clipped in part the light is short, so not the middle but what most of it gets to.
    is_least = float(np.median(measurements.bright[one.first : one.last + 1])) > _MOST_BLOWN
    strength = float(np.percentile(off[whole] * np.sign(one.off), 75)) * float(np.sign(one.off))
    return (strength if abs(strength) > abs(one.off) else one.off), is_least and one.off > 0
