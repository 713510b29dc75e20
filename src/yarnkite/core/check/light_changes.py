"""Steps of light along a shot that stay: changed exposure, lamps switched, changes of white balance."""

from collections.abc import Sequence

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import change_points
from yarnkite.core.check.finding import Finding, Remedy, ShotMeasurements, finding_about
from yarnkite.core.check.mended import mended
from yarnkite.core.check.series import exposure_changes, in_unison

_EVEN: tuple[Remedy, ...] = ("even out", "dismiss")
# The balance of colours means nothing where most of the view is blown out or nearly black.
_MOST_BLOWN, _LEAST_LIGHT = 0.35, -7.5


def exposure_steps(measurements: ShotMeasurements, light: Floats, taken: Flags) -> list[Finding]:
    """Find where the camera says that it exposed differently and the picture confirms it; not in stills ``taken``
    else."""
    changes, _ = exposure_changes(measurements)
    found = []
    for position in np.flatnonzero(np.abs(changes) >= 0.2).tolist():
        if taken[position - 1 : position + 1].any():
            continue
        jump = float(light[position] - light[position - 1])
        if abs(jump + changes[position]) < max(0.3, 0.5 * abs(changes[position])):
            stops = -float(changes[position])
            which = "brighter" if stops > 0 else "darker"
            said = f"begins {abs(stops):.1f} stops {which}: the camera changed its exposure"
            evidence = {"by Exif": round(stops, 2), "in the picture": round(jump, 2)}
            found.append(finding_about(measurements, "exposure step", position, position, said, evidence, _EVEN))
    return found


def light_steps(
    measurements: ShotMeasurements, light: Floats, taken: Flags, flicker: Sequence[Finding]
) -> list[Finding]:
    """Find where the light of most of the view steps for good."""
    return [
        finding_about(
            measurements,
            "light step",
            position,
            position,
            f"begins {abs(height):.1f} stops {'brighter' if height > 0 else 'darker'}, and it stays: a lamp or the sun",
            {"stops": round(height, 2)},
            (*_EVEN, "begin here", "end here"),
        )
        for position, height in change_points(light, least=0.22)
        if not taken[max(0, position - 2) : position + 3].any()
        and in_unison(measurements, position, height, side=3)
        and not _is_flicker(measurements, position, height, flicker)
    ]


def colour_steps(measurements: ShotMeasurements, spoiled: Flags, taken: Flags) -> list[Finding]:
    """Find where the balance of colours steps for good, but where the light itself did."""
    unclear = spoiled | (measurements.bright > _MOST_BLOWN) | (measurements.light < _LEAST_LIGHT)
    found: list[Finding] = []
    steps = [
        (position, height, name)
        for name, values in (("red", measurements.red), ("blue", measurements.blue))
        for position, height in change_points(mended(values, unclear), least=0.07)
    ]
    for position, height, name in sorted(steps, key=lambda step: -abs(step[1])):
        near = slice(max(0, position - 3), position + 4)
        if taken[near].any() or unclear[near].any():
            continue
        if any(abs(measurements.positions[one.stills[0]] - position) < 4 for one in found):
            continue
        warmer = (height > 0) == (name == "red")
        said = f"begins {'warmer' if warmer else 'colder'}, by {abs(height):.2f} stops of {name}, and it stays"
        evidence = {name: round(height, 3)}
        found.append(finding_about(measurements, "colour step", position, position, said, evidence, _EVEN))
    return found


def _is_flicker(measurements: ShotMeasurements, position: int, height: float, flicker: Sequence[Finding]) -> bool:
    """Tell whether a step is one of the ups and downs of a stretch that flickers."""
    return any(
        low - 1 <= position <= high + 2 and abs(height) < 3 * one.evidence["stops"]
        for one in flicker
        for low, high in (measurements.ends_of(one),)
    )
