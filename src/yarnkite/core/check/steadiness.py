"""How the camera stood: knocks that stay, and stretches that shake."""

from collections.abc import Sequence

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import neighbours, runs, spread
from yarnkite.core.check.finding import Finding, Remedy, Track, told


def knocks_and_shakes(track: Track, spoiled: Flags) -> list[Finding]:
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
        found.append(told(track, "knock", place, place, said, evidence, ("keep", "begin here", "end here")))
    shaking = _shaking(track, np.minimum(away, _jerks(moves)), knocked, sure)
    unsteady = {still for one in shaking for still in close_to(track, one)}
    return [one for one in found if one.stills[0] not in unsteady] + shaking


def close_to(track: Track, finding: Finding) -> Sequence[int]:
    low, high = track.ends_of(finding)
    return track.ids[max(0, low - 3) : high + 4]


def _jerks(moves: Floats) -> Floats:
    """Return how far each move is from what those around it are: what grows or drifts moves alike for long."""
    return np.asarray(np.hypot(*(moves[:, axis] - neighbours(moves[:, axis], 2) for axis in (0, 1))))


def _shaking(track: Track, away: Floats, knocked: Flags, sure: Flags) -> list[Finding]:
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
        found.append(told(track, "shake", low, high, said, {"percent": round(strength, 3)}, remedies))
    return found
