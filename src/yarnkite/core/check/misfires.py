"""Misfires: single stills far brighter or darker than their neighbours."""

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.robust import neighbours, rolling_mad, runs
from yarnkite.core.check.finding import Finding, ShotMeasurements, finding_about


def misfires(measurements: ShotMeasurements) -> list[Finding]:
    """Find stills, one or two in a row, whose light is far from what their neighbours predict."""
    off = measurements.light - neighbours(measurements.light, 4)
    # In a stretch that flickers every still is a little off; a misfire is far off all the same.
    usual = rolling_mad(off, 12, 0.02)
    far = np.abs(off) > np.maximum(0.5, 6 * usual)
    return [
        _misfire(measurements, low, high, float(off[low : high + 1].mean()))
        for low, high in runs(far, join=1)
        if high - low < 2 and _comes_back(measurements.light, low, high) and _takes_all(measurements, low, high)
    ]


def _takes_all(measurements: ShotMeasurements, low: int, high: int) -> bool:
    """Tell whether nearly all of the view is brighter or darker than around; else something is before the camera."""
    around = [position for position in (low - 2, low - 1, high + 1, high + 2) if 0 <= position < len(measurements.ids)]
    off = np.median(measurements.blocks[low : high + 1], axis=0) - np.median(measurements.blocks[around], axis=0)
    return bool(np.mean(np.abs(off) > 0.25) > 0.75)


def _comes_back(light: Floats, low: int, high: int) -> bool:
    """Tell whether after a stretch the light is about what it was before; else it is a step."""
    if low < 2 or high > len(light) - 3:
        return low == 0 or high == len(light) - 1 or abs(light[high + 1] - light[low - 1]) < 0.5
    before, after = np.median(light[max(0, low - 3) : low]), np.median(light[high + 1 : high + 4])
    inside = np.median(light[low : high + 1])
    return bool(abs(after - before) < 0.5 * min(abs(inside - before), abs(inside - after)))


def _misfire(measurements: ShotMeasurements, low: int, high: int, off: float) -> Finding:
    if measurements.light[low] < -9 and off < -1:
        what = "black"
    elif measurements.bright[low] > 0.5 and off > 0.7:
        what = "blown out"
    else:
        what = f"{abs(off):.1f} stops {'darker' if off < 0 else 'brighter'} than its neighbours"
    evidence = {"stops": round(off, 2), "blown out": round(float(measurements.bright[low]), 3)}
    return finding_about(measurements, "misfire", low, high, f"is {what}", evidence, ("bridge", "set aside", "hold"))
