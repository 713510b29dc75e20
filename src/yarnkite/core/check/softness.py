"""Soft stills: much less fine detail than those around them have, for a while or for good."""

from collections.abc import Sequence

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import change_points, neighbours
from yarnkite.core.check.finding import Finding, ShotMeasurements, finding_about
from yarnkite.core.check.mended import mended
from yarnkite.core.check.steadiness import close_to
from yarnkite.core.check.stretches import LONGEST, stretches

_LEAST_STOPS, _LEAST_LASTING = 0.18, 0.3
# It came at once rather than crept if that leaves so much less of it unexplained.
_STEP_TELLS = 0.9
# A loss that creeps in over this many stills, as dew and warmth make it, with the light nearly the same.
_CREEPS, _SIDE, _LEAST_CREPT, _LEAST_OF_SHORT, _SAME_LIGHT = 22, 8, 0.3, 0.42, 0.8


def soft_stills(measurements: ShotMeasurements, spoiled: Flags) -> list[Finding]:
    """Find stretches of up to twelve stills with much less fine detail than before and after."""
    calm = mended(measurements.sharpness, spoiled)
    return [
        finding_about(
            measurements,
            "soft",
            one.first,
            one.last,
            f"{'is' if one.first == one.last else 'are'} soft: {_gone(one.off)} of the fine detail is gone",
            {"stops": round(one.off, 2)},
            ("bridge", "set aside", "repeat"),
        )
        for one in stretches(calm, least=_LEAST_STOPS)
        if one.off < 0 and not spoiled[one.first : one.last + 1].any()
    ]


def lasting_softness(measurements: ShotMeasurements, spoiled: Flags, taken: Flags) -> list[Finding]:
    """Find where fine detail is lost and does not come back: focus that slipped, dew on the lens."""
    calm = mended(measurements.sharpness, spoiled)
    places = [
        (position, height)
        for position, height in change_points(calm, least=_LEAST_LASTING)
        # Fewer stills may be a stretch that the shot's end cuts off.
        if height < 0
        and len(calm) - position > LONGEST
        and not taken[max(0, position - 2) : position + 3].any()
        and _stays(calm[position:], float(np.median(calm[max(0, position - _SIDE) : position])), height)
    ]
    if not places:
        places = _crept(measurements, calm, taken)
    if not places:
        return []
    position, height = places[0]
    said = f"begins softer, and it stays: {_gone(height)} of the fine detail is gone, by focus or dew"
    evidence = {"stops": round(height, 2)}
    return [
        finding_about(measurements, "lasting softness", position, position, said, evidence, ("end here", "dismiss"))
    ]


def _gone(off: float) -> str:
    return f"{(1 - 2 ** float(off)) * 100:.0f} %"


def _stays(after: Floats, before: float, height: float) -> bool:
    """Tell whether a loss is never made up for."""
    return float(np.percentile(after, 90)) < before + 0.4 * height


def _crept(measurements: ShotMeasurements, calm: Floats, taken: Flags) -> list[tuple[int, float]]:
    """Return where detail begins to creep away for good, and how much of it goes."""
    count = len(calm)
    if count < _CREEPS + 4 * _SIDE:
        return []
    starts = np.arange(_SIDE, count - _CREEPS - _SIDE + 1)
    medians = np.median(sliding_window_view(calm, _SIDE), axis=1)
    loss = medians[starts + _CREEPS] - medians[starts - _SIDE]
    light = np.median(sliding_window_view(measurements.light, _SIDE), axis=1)
    same = np.abs(light[starts + _CREEPS] - light[starts - _SIDE]) < _SAME_LIGHT
    # Nor did it step in between.
    same &= ~sliding_window_view(taken, _CREEPS + 2 * _SIDE).any(axis=1)
    worst = int(np.argmin(np.where(same, loss, 0.0)))
    height, start = float(loss[worst]), int(starts[worst])
    # A short shot does not say what is usual.
    others = np.delete(loss, slice(max(0, worst - _CREEPS), worst + _CREEPS))
    least = max(_LEAST_CREPT, 4 * float(np.median(np.abs(others)))) if len(others) > 10 else _LEAST_OF_SHORT
    before = float(medians[start - _SIDE])
    if height > -least or not _stays(calm[start + _CREEPS :], before, height):
        return []
    # Noticed where a quarter of it is gone, if it does not come at once.
    gone = calm[start - _SIDE : start + _CREEPS] < before + 0.25 * height
    at_once = _step_within(calm[start - _SIDE : start + _CREEPS + _SIDE])
    position = start - _SIDE + (int(np.argmax(gone)) if at_once is None else at_once)
    return [(position, height)] if count - position > LONGEST else []


def _step_within(values: Floats) -> int | None:
    """Return where values step down at once, if that is nearer the truth than that they creep; by the sum of
    residues."""

    def residue(model: Floats) -> float:
        return float(np.abs(values - model).sum())

    low, high = np.median(values[-_SIDE:]), np.median(values[:_SIDE])
    places = np.arange(len(values))
    creeps = residue(np.interp(places, [_SIDE, len(values) - _SIDE], [high, low]))
    steps = [residue(np.where(places < position, high, low)) for position in range(_SIDE, len(values) - _SIDE)]
    best = int(np.argmin(steps))
    return best + _SIDE if steps[best] < _STEP_TELLS * creeps else None


def by_shaking(measurements: ShotMeasurements, finding: Finding, moved: Sequence[Finding]) -> bool:
    """Tell whether a still is only as soft as shaking makes one now and then: others around it nearly are."""
    if finding.kind != "soft" or not any(
        one.kind in ("shake", "by hand") and finding.stills[0] in close_to(measurements, one) for one in moved
    ):
        return False
    low, high = measurements.ends_of(finding)
    off = measurements.sharpness - neighbours(measurements.sharpness, 4)
    others = np.concatenate([off[max(0, low - 10) : low], off[high + 1 : high + 11]])
    return finding.evidence["stops"] > 1.6 * float(others.min(initial=0.0))
