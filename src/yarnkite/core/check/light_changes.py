"""The light along a shot: flicker, changed exposure, lamps switched, changes of white balance."""

from collections.abc import Sequence

import numpy as np

from yarnkite.core.base.arrays import Flags, Floats
from yarnkite.core.base.robust import change_points, runs, second_difference
from yarnkite.core.check.finding import Finding, Remedy, ShotMeasurements, finding_about
from yarnkite.core.check.softness import mended


def flickering(measurements: ShotMeasurements, light: Floats) -> list[Finding]:
    """Find stretches in which the light of the whole view goes up and down from still to still."""
    off = second_difference(light)
    in_blocks = np.zeros_like(measurements.blocks, float)
    in_blocks[1:-1] = measurements.blocks[1:-1] - (measurements.blocks[:-2] + measurements.blocks[2:]) / 2
    together = _together(in_blocks.reshape(len(off), -1), off)
    turns = np.zeros(len(off), bool)
    change = np.diff(light)
    turns[1:-1] = change[1:] * change[:-1] < 0
    strong = (np.abs(off) > 0.035) & turns & together
    reach = 4
    width = 2 * reach + 1
    if len(off) < width:
        return []
    share = np.convolve(strong, np.ones(width) / width, mode="same")
    found = []
    for low, high in runs(share >= 0.55, join=3):
        inside = strong[low : high + 1]
        if inside.sum() < 5:
            continue
        low, high = low + int(np.argmax(inside)), high - int(np.argmax(inside[::-1]))
        strength = float(np.sqrt(np.mean(off[low : high + 1] ** 2)) * 2)
        said = f"flicker by {strength:.2f} stops from still to still"
        found.append(
            finding_about(
                measurements, "flicker", low, high, said, {"stops": round(strength, 3)}, ("even out", "dismiss")
            )
        )
    return found


def _together(blocks: Floats, whole: Floats) -> Flags:
    """Tell for each still whether most of the view changed by what the whole did: lamps and shutters, not clouds."""
    error = np.median(np.abs(blocks - whole[:, None]), axis=1)
    return np.asarray(error < 0.45 * np.abs(whole) + 0.004)


def light_steps(
    measurements: ShotMeasurements, light: Floats, spoiled: Flags, flicker: Sequence[Finding]
) -> list[Finding]:
    found: list[Finding] = []
    known = np.isfinite(measurements.exposure)
    changed = np.zeros(len(light))
    changed[1:] = np.where(
        known[1:] & known[:-1], np.nan_to_num(measurements.exposure[1:] - measurements.exposure[:-1]), 0
    )
    explained: set[int] = set()
    for position in np.flatnonzero(np.abs(changed) >= 0.2).tolist():
        if spoiled[position] or spoiled[position - 1]:
            continue
        jump = float(light[position] - light[position - 1])
        if abs(jump + changed[position]) < max(0.3, 0.5 * abs(changed[position])):
            stops = -float(changed[position])
            said = f"begins {abs(stops):.1f} stops {'brighter' if stops > 0 else 'darker'}: the camera changed its exposure"
            evidence = {"by Exif": round(stops, 2), "in the picture": round(jump, 2)}
            remedies: tuple[Remedy, ...] = ("even out", "dismiss")
            found.append(finding_about(measurements, "exposure step", position, position, said, evidence, remedies))
            explained.update(range(position - 2, position + 3))
    found += [
        finding_about(
            measurements,
            "light step",
            position,
            position,
            f"begins {abs(height):.1f} stops {'brighter' if height > 0 else 'darker'}, and it stays: a lamp or the sun",
            {"stops": round(height, 2)},
            ("even out", "dismiss", "begin here", "end here"),
        )
        for position, height in change_points(light, least=0.22)
        if position not in explained
        and _in_unison(measurements, position, height)
        and not _is_flicker(measurements, position, height, flicker)
    ]
    for name, values in (("red", measurements.red), ("blue", measurements.blue)):
        for position, height in change_points(mended(values, spoiled), least=0.07):
            if any(
                one.kind == "colour step" and abs(measurements.positions[one.stills[0]] - position) < 3 for one in found
            ):
                continue
            warmer = (height > 0) == (name == "red")
            said = f"begins {'warmer' if warmer else 'colder'}, by {abs(height):.2f} stops of {name}, and it stays"
            evidence = {name: round(height, 3)}
            remedies = ("even out", "dismiss")
            found.append(finding_about(measurements, "colour step", position, position, said, evidence, remedies))
    return found


def _is_flicker(measurements: ShotMeasurements, position: int, height: float, flicker: Sequence[Finding]) -> bool:
    """Tell whether a step is one of the ups and downs of a stretch that flickers."""
    return any(
        low - 1 <= position <= high + 2 and abs(height) < 1.5 * one.evidence["stops"]
        for one in flicker
        for low, high in (measurements.ends_of(one),)
    )


def _in_unison(measurements: ShotMeasurements, position: int, height: float) -> bool:
    """Tell whether most of the view took part in a step of light; a cloud or a boat does not make it do so."""
    before = np.median(measurements.blocks[max(0, position - 3) : position], axis=0)
    after = np.median(measurements.blocks[position : position + 3], axis=0)
    return bool(np.mean(np.sign(after - before) == np.sign(height)) > 0.7)
