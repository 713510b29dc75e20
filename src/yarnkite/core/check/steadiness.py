"""How the camera stood: knocks that stay, stretches that shake, and whether it was carried by hand."""

from collections.abc import Sequence

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import neighbours, rolling_mad, runs
from yarnkite.core.check.finding import Finding, Remedy, ShotMeasurements, finding_about

_LEAST_TRUST, _LEAST_FOR_KNOCK = 0.12, 0.4
_LEAST_SHAKE = 0.0009
# What a camera that stands is measured to move by, across, down and by turning, in shares of the width.
_STANDS = 0.00015
# How far a picture's parts move by a turn of one degree, in shares of the width: those a third of it from its middle.
_OF_A_DEGREE = float(np.radians(1)) / 3
# Carried by hand: so large a part of all moves are jerks.
_BY_HAND = 0.6


def moves_of_camera(measurements: ShotMeasurements, spoiled: Flags) -> list[Finding]:
    """Find where the camera was knocked for good, and where it shook; a shot that is carried by hand is one finding."""
    sure = (measurements.trust > _LEAST_TRUST) & ~spoiled
    sure[1:] &= ~spoiled[:-1]
    moves = np.where(sure[:, None], measurements.shifts, 0.0) * (1, 1, _OF_A_DEGREE)
    moves[0] = 0
    jerks = np.minimum(_size(moves), _jerks(moves))
    if sure.sum() > 0.5 * len(sure) and np.mean(jerks[sure] > _LEAST_SHAKE) > _BY_HAND:
        return [_by_hand(measurements, jerks[sure])]
    knocked = _knocked(measurements, moves, sure)
    shaking = _shaking(measurements, _size(moves), jerks, knocked, sure)
    unsteady = {still for one in shaking for still in close_to(measurements, one)}
    knocks = [_knock(measurements, position) for position in np.flatnonzero(knocked).tolist()]
    return [one for one in knocks if one.stills[0] not in unsteady] + shaking


def close_to(measurements: ShotMeasurements, finding: Finding) -> Sequence[int]:
    low, high = measurements.ends_of(finding)
    return measurements.ids[max(0, low - 3) : high + 4]


def _size(moves: Floats) -> Floats:
    return np.asarray(np.sqrt((moves**2).sum(axis=1)))


def _jerks(moves: Floats) -> Floats:
    """Return how far each move is from what those around it are: what grows or drifts moves alike for long."""
    return _size(np.stack([moves[:, axis] - neighbours(moves[:, axis], 2) for axis in range(3)], axis=1))


def _knocked(measurements: ShotMeasurements, moves: Floats, sure: Flags) -> Flags:
    """Return which stills the camera was knocked before: it moved at once, stood before, stands after, and
    elsewhere."""
    away = _size(moves)
    usual = sum(rolling_mad(moves[:, axis], 30, _STANDS) for axis in range(3))
    path = np.cumsum(moves, axis=0)
    count = len(away)
    knocked = np.zeros(count, bool)
    for position in np.flatnonzero(away > 6 * usual).tolist():
        if not 2 <= position <= count - 2:
            continue
        # A lamp that comes on can look like a small shift; then little of the view agrees on it.
        around = slice(max(0, position - 3), position + 4)
        if measurements.trust[position] < _LEAST_FOR_KNOCK:
            continue
        if away[position] < 0.005 and measurements.trust[position] < 0.5 * np.median(measurements.trust[around]):
            continue
        # Before and after a knock the camera stands still; else it is one of many shakes.
        beside = np.concatenate([away[max(0, position - 3) : position], away[position + 1 : position + 4]])
        if np.median(beside) > 0.3 * away[position] and np.median(beside) > 0.0005:
            continue
        stays = np.median(path[position : position + 5], axis=0) - np.median(
            path[max(0, position - 5) : position], axis=0
        )
        if float(np.sqrt((stays**2).sum())) < 0.6 * away[position] or knocked[max(0, position - 3) : position].any():
            continue
        knocked[position] = True
    return knocked


def _knock(measurements: ShotMeasurements, position: int) -> Finding:
    x, y, turn = (float(value) for value in measurements.shifts[position])
    away = float(np.hypot(x, y)) * 100
    moved = f"moved by {away:.1f} % of its width" if away >= 0.05 else ""
    turned = f"turned by {abs(turn):.1f}°" if abs(turn) > 0.1 else ""
    how = " and ".join(part for part in (moved, turned) if part)
    said = f"begins with the picture {how}, and it stays: the camera was knocked"
    evidence = {"x": round(x, 4), "y": round(y, 4), "rotation_deg": round(turn, 2)}
    remedies: tuple[Remedy, ...] = ("dismiss", "begin here", "end here")
    return finding_about(measurements, "knock", position, position, said, evidence, remedies)


def _shaking(
    measurements: ShotMeasurements, sizes: Floats, jerks: Floats, knocked: Flags, sure: Flags
) -> list[Finding]:
    moved = (jerks > _LEAST_SHAKE) & ~knocked & sure
    width = 9
    if len(jerks) < width:
        return []
    share = np.convolve(moved, np.ones(width) / width, mode="same")
    found = []
    for low, high in runs(share >= 0.5, join=4):
        if moved[low : high + 1].sum() < 5:
            continue
        inside = moved[low : high + 1]
        low, high = low + int(np.argmax(inside)), high - int(np.argmax(inside[::-1]))
        strength = float(np.median(sizes[low : high + 1][sure[low : high + 1]])) * 100
        said = f"shake by {strength:.2f} % of the width from still to still"
        remedies: tuple[Remedy, ...] = ("dismiss",)
        if low <= 3:
            remedies = ("begin here", "dismiss")
        elif high >= len(jerks) - 4:
            remedies = ("end here", "dismiss")
        found.append(finding_about(measurements, "shake", low, high, said, {"percent": round(strength, 3)}, remedies))
    return found


def _by_hand(measurements: ShotMeasurements, jerks: Floats) -> Finding:
    strength = float(np.median(jerks)) * 100
    said = (
        f"are carried by hand: the view jerks by {strength:.1f} % "
        "of its width from still to still; steadying takes that out"
    )
    return finding_about(
        measurements, "by hand", 0, len(measurements.ids) - 1, said, {"percent": round(strength, 3)}, ("dismiss",)
    )
