"""Soft stills: much less fine detail than their neighbours have."""

from collections.abc import Sequence

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import neighbours, rolling_mad, runs
from yarnkite.core.check.finding import Finding, ShotMeasurements, finding_about
from yarnkite.core.check.steadiness import close_to


def soft_stills(measurements: ShotMeasurements, spoiled: Flags) -> list[Finding]:
    """Find stills with much less fine detail than their neighbours."""
    calm = mended(measurements.sharpness, spoiled)
    off = calm - neighbours(calm, 4)
    soft = off < -np.maximum(0.22, 6 * rolling_mad(off, 8, 0.01))
    soft &= ~spoiled
    return [
        finding_about(
            measurements,
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


def by_shaking(measurements: ShotMeasurements, finding: Finding, moved: Sequence[Finding]) -> bool:
    """Tell whether a still is only as soft as shaking makes one now and then: others around it nearly are."""
    if finding.kind != "soft" or not any(
        one.kind == "shake" and finding.stills[0] in close_to(measurements, one) for one in moved
    ):
        return False
    low, high = measurements.ends_of(finding)
    off = measurements.sharpness - neighbours(measurements.sharpness, 4)
    others = np.concatenate([off[max(0, low - 10) : low], off[high + 1 : high + 11]])
    return finding.evidence["stops"] > 1.6 * float(others.min(initial=0.0))


def mended(values: Floats, spoiled: Flags) -> Floats:
    """Return values with those of spoiled stills taken from the line between the sound ones beside them."""
    sound = np.flatnonzero(~spoiled)
    if not len(sound) or not spoiled.any():
        return np.asarray(values, float)
    return np.asarray(np.interp(np.arange(len(values)), sound, np.asarray(values, float)[sound]))
