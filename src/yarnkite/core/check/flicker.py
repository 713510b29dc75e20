"""Light that changes from still to still: of the whole view, and in bands that a lamp's mains frequency leaves."""

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import runs, second_difference
from yarnkite.core.check.finding import Finding, ShotMeasurements, finding_about

_LEAST_STOPS, _LEAST_BAND_STOPS = 0.02, 0.025
_LEAST_LINE_STOPS, _LEAST_LINES = 0.015, 0.38
# Steps of 8 bits are coarse in the dark: whole lines turn over at once.
_LEAST_LIGHT = -7.5
_WIDTH = 11
_JOIN, _JOIN_BANDS, _SHORTEST = 14, 20, 8


def flickering(measurements: ShotMeasurements, light: Floats, spoiled: Flags) -> list[Finding]:
    """Find stretches in which the light of the whole view goes up and down from still to still."""
    off = second_difference(light)
    together = _together(_wobble(measurements).reshape(len(off), -1), off)
    felt = np.where(together & ~spoiled, np.abs(off), 0.0)
    found = []
    for low, high in _stretches(felt, _LEAST_STOPS):
        change = np.diff(light[low : high + 1])[~(spoiled[low:high] | spoiled[low + 1 : high + 1])]
        strength = float(np.sqrt(np.mean((change - np.median(change)) ** 2))) if len(change) else 0.0
        said = f"flicker by {strength:.2f} stops from still to still"
        evidence = {"stops": round(strength, 3)}
        found.append(finding_about(measurements, "flicker", low, high, said, evidence, ("even out", "dismiss")))
    return found


def lamp_bands(measurements: ShotMeasurements, spoiled: Flags) -> list[Finding]:
    """Find stretches in which level or upright bands of light lie elsewhere in each still."""
    wobble = np.where(measurements.blocks > _LEAST_LIGHT, _wobble(measurements), 0.0)
    # What the whole view does is flicker, not a band.
    wobble -= np.median(wobble.reshape(len(wobble), -1), axis=1)[:, None, None]
    found: list[Finding] = []
    for axis in (2, 1):
        line = np.median(wobble, axis=axis)
        rest = wobble - np.expand_dims(line, axis)
        strays = 1.4826 * np.median(np.abs(rest), axis=axis)
        # Where the view itself is busy a line says nothing; surf and traffic leave the other lines as they are.
        clear = np.abs(line) > np.maximum(_LEAST_LINE_STOPS, strays)
        both = (line > 0) & clear, (line < 0) & clear
        banded = (clear.mean(axis=1) > _LEAST_LINES) & both[0].any(axis=1) & both[1].any(axis=1) & ~spoiled
        squares = np.where(clear, line**2, 0.0).sum(axis=1) / np.maximum(1, clear.sum(axis=1))
        strength = np.sqrt(squares)
        felt = np.where(banded, strength, 0.0)
        for low, high in _stretches(felt, _LEAST_BAND_STOPS, join=_JOIN_BANDS):
            # Seen against the mean of both neighbours, each with bands of its own, they are √1.5 as strong.
            stops = float(np.median(strength[low : high + 1])) * float(np.sqrt(2 / 1.5))
            which = "level" if axis == 2 else "upright"
            said = (
                f"have {which} bands of {stops:.2f} stops that lie elsewhere "
                "in each: the lamps change faster than the shutter reads"
            )
            evidence = {"stops": round(stops, 3)}
            found.append(finding_about(measurements, "lamp bands", low, high, said, evidence, ("even out", "dismiss")))
    return found


def _wobble(measurements: ShotMeasurements) -> Floats:
    result = np.zeros(measurements.blocks.shape, np.float32)
    result[1:-1] = measurements.blocks[1:-1] - (measurements.blocks[:-2] + measurements.blocks[2:]) / 2
    return result


def _together(blocks: Floats, whole: Floats) -> Flags:
    """Tell for each still whether most of the view changed by what the whole did: lamps and shutters, not clouds."""
    error = np.median(np.abs(blocks - whole[:, None].astype(np.float32)), axis=1)
    return np.asarray(error < 0.45 * np.abs(whole) + 0.004)


def _stretches(felt: Floats, least: float, *, join: int = _JOIN) -> list[tuple[int, int]]:
    """Return where a value is high in most stills; the first and the last of each that are high bound it."""
    if len(felt) < _WIDTH:
        return []
    padded = np.pad(felt, _WIDTH // 2)
    level = np.median(sliding_window_view(padded, _WIDTH), axis=1)
    result = []
    for low, high in runs(level > least, join=join):
        # At its ends half of the window lies outside of the stretch.
        low, high = max(0, low - _WIDTH // 4), min(len(felt) - 1, high + _WIDTH // 4)
        strong = felt[low : high + 1] > max(0.6 * least, 0.35 * float(np.median(felt[low : high + 1])))
        low, high = low + int(np.argmax(strong)), high - int(np.argmax(strong[::-1]))
        if high - low + 1 >= _SHORTEST:
            result.append((low, high))
    return result
