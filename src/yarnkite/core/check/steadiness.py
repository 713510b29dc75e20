"""How the camera stood: knocks that stay, and stretches that shake."""

from collections.abc import Sequence

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import neighbours, rolling_mad, runs
from yarnkite.core.check.finding import Finding, Remedy, ShotMeasurements, finding_about


def knocks_and_shakes(measurements: ShotMeasurements, spoiled: Flags) -> list[Finding]:
    """Find where the camera was knocked for good, and where it shook."""
    sure = (measurements.trust > 0.12) & ~spoiled
    sure[1:] &= ~spoiled[:-1]
    moves = np.where(sure[:, None], measurements.shifts, 0.0)
    moves[0] = 0
    away = np.hypot(moves[:, 0], moves[:, 1])
    usual = rolling_mad(moves[:, 0], 30, 0.0002) + rolling_mad(moves[:, 1], 30, 0.0002)
    path = np.cumsum(moves[:, :2], axis=0)
    found: list[Finding] = []
    knocked = np.zeros(len(away), bool)
    for position in np.flatnonzero((away > np.maximum(0.0016, 6 * usual)) | (np.abs(moves[:, 2]) > 0.35)).tolist():
        if position < 3 or position > len(away) - 4:
            continue
        # A lamp that comes on can look like a small shift; then little of the view agrees on it.
        if away[position] < 0.005 and measurements.trust[position] < 0.5 * np.median(
            measurements.trust[position - 3 : position + 4]
        ):
            continue
        # Before and after a knock the camera stands still; else it is one of many shakes.
        around = np.concatenate([away[position - 3 : position], away[position + 1 : position + 4]])
        if np.median(around) > 0.3 * away[position] and np.median(around) > 0.0005:
            continue
        stays = np.median(path[position : position + 5], axis=0) - np.median(
            path[max(0, position - 5) : position], axis=0
        )
        turned = abs(float(moves[position : position + 4, 2].sum())) > 0.3
        if np.hypot(*stays) < 0.6 * away[position] and not turned:
            continue
        if knocked[max(0, position - 3) : position].any():
            continue
        knocked[position] = True
        percent, turn = float(away[position]) * 100, float(moves[position, 2])
        tilt = f" and turned by {abs(turn):.1f}°" if abs(turn) > 0.2 else ""
        said = (
            f"begins with the picture moved by {percent:.1f} % of its width{tilt}, and it stays: the camera was knocked"
        )
        evidence = {
            "x": round(float(moves[position, 0]), 4),
            "y": round(float(moves[position, 1]), 4),
            "rotation_deg": round(turn, 2),
        }
        found.append(
            finding_about(
                measurements, "knock", position, position, said, evidence, ("dismiss", "begin here", "end here")
            )
        )
    shaking = _shaking(measurements, np.minimum(away, _jerks(moves)), knocked, sure)
    unsteady = {still for one in shaking for still in close_to(measurements, one)}
    return [one for one in found if one.stills[0] not in unsteady] + shaking


def close_to(measurements: ShotMeasurements, finding: Finding) -> Sequence[int]:
    low, high = measurements.ends_of(finding)
    return measurements.ids[max(0, low - 3) : high + 4]


def _jerks(moves: Floats) -> Floats:
    """Return how far each move is from what those around it are: what grows or drifts moves alike for long."""
    return np.asarray(np.hypot(*(moves[:, axis] - neighbours(moves[:, axis], 2) for axis in (0, 1))))


def _shaking(measurements: ShotMeasurements, away: Floats, knocked: Flags, sure: Flags) -> list[Finding]:
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
        remedies: tuple[Remedy, ...] = ("dismiss",)
        if low <= 3:
            remedies = ("begin here", "dismiss")
        elif high >= len(away) - 4:
            remedies = ("end here", "dismiss")
        found.append(finding_about(measurements, "shake", low, high, said, {"percent": round(strength, 3)}, remedies))
    return found
