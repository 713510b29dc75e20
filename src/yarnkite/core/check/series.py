"""Changes of light that come again and again: exposure that the camera sets anew, a lamp that blinks."""

from itertools import pairwise

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import rolling_mad
from yarnkite.core.check.finding import Finding, ShotMeasurements, finding_about
from yarnkite.core.check.stretches import covered, stretches

_LEAST_STOPS = 0.15
_LEAST_APART, _FARTHEST_APART = 2.5, 20
_FEWEST = 4


def series_of_light(measurements: ShotMeasurements, light: Floats) -> list[Finding]:
    """Find stretches in which the light of the whole view steps up and down many times, each as one finding."""
    changes, known = exposure_changes(measurements)
    told = np.flatnonzero(known & (np.abs(changes) >= _LEAST_STOPS)).tolist()
    found = [
        _auto_exposure(measurements, places, "The camera says so")
        for places in _chains(told)
        if _confirmed(light, changes, places)
    ]
    taken = {still for one in found for still in one.stills}
    every, short = _steps(measurements, light)
    steps = [place for place in every if measurements.ids[place] not in taken and place not in told]
    for chain in _chains([place for place in steps if not short[place]]):
        places = _alike(light, chain)
        heights = np.array([light[place] - light[place - 1] for place in places])
        if _is_quick(places):
            continue
        if len(places) >= _FEWEST and _alternate(heights):
            found.append(_blinking(measurements, _with_blinks(light, places, steps, heights), heights))
        elif len(chain) > _FEWEST and not known[chain[0] : chain[-1] + 1].any():
            found.append(_auto_exposure(measurements, chain, "The pictures say so"))
    return found


def exposure_changes(measurements: ShotMeasurements) -> tuple[Floats, Flags]:
    """Return by how many stops the camera exposed each still less than the one before, and where that is known."""
    exposure = measurements.exposure
    known = np.zeros(len(exposure), bool)
    known[1:] = np.isfinite(exposure[1:]) & np.isfinite(exposure[:-1])
    changes = np.zeros(len(exposure))
    changes[1:] = np.where(known[1:], np.nan_to_num(exposure[1:] - exposure[:-1]), 0.0)
    return changes, known


def _chains(places: list[int]) -> list[list[int]]:
    """Return runs of places that follow each other closely, those that are long enough."""
    chains: list[list[int]] = []
    for place in places:
        if chains and place - chains[-1][-1] <= _FARTHEST_APART:
            chains[-1].append(place)
        else:
            chains.append([place])
    return [chain for chain in chains if len(chain) >= _FEWEST]


def _confirmed(light: Floats, changes: Floats, places: list[int]) -> bool:
    """Tell whether the pictures became as much darker or brighter as the camera says it exposed them."""
    jumps = np.array([light[place] - light[place - 1] for place in places])
    off = np.abs(jumps + changes[places])
    return bool(np.median(off / np.maximum(0.2, np.abs(changes[places]))) < 0.5)


def _steps(measurements: ShotMeasurements, light: Floats) -> tuple[list[int], Flags]:
    """Return where the light of most of the view steps, and which stills belong to what comes back within two."""
    change = np.diff(light, prepend=light[:1])
    usual = rolling_mad(change, 14)
    away = np.abs(change) > np.maximum(_LEAST_STOPS, 6 * usual)
    short = covered(stretches(light, least=0.3, longest=2), len(light))
    # A short one begins at its first still and ends at the one after its last.
    short[1:] |= short[:-1].copy()
    return [place for place in np.flatnonzero(away).tolist() if in_unison(measurements, place, change[place])], short


def in_unison(measurements: ShotMeasurements, place: int, height: float, *, side: int = 1) -> bool:
    """Tell whether most blocks of the view took part in a step of light by half its height at least."""
    before = np.median(measurements.blocks[max(0, place - side) : place], axis=0)
    after = np.median(measurements.blocks[place : place + side], axis=0)
    return bool(np.mean((after - before) * np.sign(height) > 0.5 * abs(height)) > 0.62)


def _near(sizes: Floats, height: float) -> Flags:
    """Tell whether steps are about as high as others."""
    return np.asarray(np.abs(sizes - height) < 0.35 * height)


def _alike(light: Floats, places: list[int]) -> list[int]:
    """Return places without those at either end whose steps are not as high as the others'."""
    sizes = np.array([abs(float(light[place] - light[place - 1])) for place in places])
    alike = np.flatnonzero(_near(sizes, float(np.median(sizes))))
    return places[alike[0] : alike[-1] + 1] if len(alike) else []


def _with_blinks(light: Floats, places: list[int], steps: list[int], heights: Floats) -> list[int]:
    """Return places with steps of the same height close to either end: a lamp may be on for a still or two, too."""
    height = float(np.median(np.abs(heights)))
    alike = [step for step in steps if _near(abs(light[step] - light[step - 1]), height)]
    low, high = places[0], places[-1]
    for step in alike:
        high = step if high < step <= high + _FARTHEST_APART // 2 else high
    for step in reversed(alike):
        low = step if low - _FARTHEST_APART // 2 <= step < low else low
    return [step for step in alike if low <= step <= high]


def _is_quick(places: list[int]) -> bool:
    """Tell whether a lamp would be on, or off, for a still or two at most: then it flickers, or single stills are
    spoiled."""
    lasting = np.diff(places)
    return len(lasting) < 2 or min(float(np.median(lasting[::2])), float(np.median(lasting[1::2]))) < _LEAST_APART


def _alternate(heights: Floats) -> bool:
    """Tell whether steps go up and down in turn between the same two levels."""
    sizes = np.abs(heights)
    alike = _near(sizes, float(np.median(sizes)))
    turns = np.mean([one * other < 0 for one, other in pairwise(heights)])
    return bool(alike.mean() > 0.75 and turns > 0.75)


def _auto_exposure(measurements: ShotMeasurements, places: list[int], source: str) -> Finding:
    light = measurements.light
    strongest = max(abs(float(light[place] - light[place - 1])) for place in places)
    said = f"are exposed anew {len(places)} times, by up to {strongest:.1f} stops: auto exposure is at work. {source}"
    evidence = {"times": float(len(places)), "stops": round(strongest, 2)}
    return finding_about(measurements, "auto exposure", places[0], places[-1], said, evidence, ("even out", "dismiss"))


def _blinking(measurements: ShotMeasurements, places: list[int], heights: Floats) -> Finding:
    height = float(np.median(np.abs(heights)))
    said = f"have a lamp on and off in turn, {len(places)} times, by {height:.1f} stops"
    evidence = {"times": float(len(places)), "stops": round(height, 2)}
    return finding_about(
        measurements, "blinking lamp", places[0], places[-1] - 1, said, evidence, ("even out", "dismiss")
    )
