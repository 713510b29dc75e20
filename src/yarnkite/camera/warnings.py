"""What is about to go wrong with a capture, said while there is still time."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

import numpy as np

from yarnkite.core.base.timecode import span_text
from yarnkite.core.base.wording import size_text

# How many stills are compared at the beginning and at the end.
_SOME = 8
_FELL_STOPS = 2.0
_BLACK_STOPS = -10.0
# Stops of fine against coarse detail.
_SOFTER = 0.35
_KNOCK = 0.004
_FULL_IN_S = 1800.0
_CHARGE = 0.15


@dataclass(frozen=True)
class SoFar:
    """What is known of a capture under way.

    ``light`` and ``sharpness`` of each still in stops, in order; ``shifts`` how far each lies from the one before, as a
    share of the width; room on the card in stills and on the disk in bytes, and charge, ``None`` where not known.
    """

    light: Sequence[float]
    sharpness: Sequence[float]
    shifts: Sequence[float]
    interval_s: float
    still_bytes: int
    stills_left: int | None
    disk_bytes: int | None
    battery: float | None
    stills_to_go: int | None


def warnings(so_far: SoFar) -> list[str]:
    """Return sentences on what is about to go wrong, the most pressing first; none where all is well."""
    found = [*_room(so_far)]
    if so_far.battery is not None and so_far.battery < _CHARGE:
        found.append(f"The camera's battery has {so_far.battery:.0%} left. Have another one ready.")
    light = np.asarray(so_far.light, float)
    if light.size > _SOME:
        begun, now = float(np.median(light[:_SOME])), float(np.median(light[-_SOME // 2 :]))
        if begun - now >= _FELL_STOPS:
            found.append(
                f"The stills are {begun - now:.1f} stops darker than at "
                "the beginning. Have the exposure follow, or expose longer."
            )
        elif now - begun >= _FELL_STOPS:
            found.append(
                f"The stills are {now - begun:.1f} stops brighter than at "
                "the beginning. Have the exposure follow, or expose less."
            )
    sharpness = np.asarray(so_far.sharpness, float)
    if sharpness.size >= 2 * _SOME:
        lost = float(np.median(sharpness[:_SOME]) - np.median(sharpness[-_SOME // 2 :]))
        # By night there is less to see, sharp or not.
        dark = light.size and float(np.median(light[-_SOME // 2 :])) < _BLACK_STOPS
        if lost > _SOFTER and not dark:
            found.append(
                f"The stills are {lost:.1f} stops softer than at the "
                "beginning: focus, dew, or fog. Look at the live view."
            )
    knocks = [index for index, shift in enumerate(so_far.shifts) if shift > _KNOCK]
    if knocks and len(so_far.shifts) - knocks[-1] <= 60:
        found.append(
            f"The camera was knocked before still {knocks[-1] + 1:,}. "
            "Steadying can mend that; look whether it stands firm."
        )
    return found


def _room(so_far: SoFar) -> list[str]:
    """Say when card and disk are full, where that comes before the end and within half an hour."""
    found = []
    disk = None if so_far.disk_bytes is None or so_far.still_bytes <= 0 else so_far.disk_bytes // so_far.still_bytes
    for what, left in (("The camera's card", so_far.stills_left), ("The disk", disk)):
        if left is None or (so_far.stills_to_go is not None and left >= so_far.stills_to_go):
            continue
        in_s = left * so_far.interval_s
        if left == 0:
            found.append(f"{what} is full.")
        elif in_s < _FULL_IN_S or so_far.stills_to_go is not None:
            room = f" ({size_text(so_far.disk_bytes or 0)} are free)" if what == "The disk" else ""
            found.append(f"{what} is full in {span_text(timedelta(seconds=in_s))}{room}, after {left:,} more.")
    return found
