"""What to bring to a shoot, and how to set it: what people forget, as far as a plan says what it needs."""

from math import ceil

from yarnkite.core.base.timecode import span_text
from yarnkite.core.base.wording import counted, size_text
from yarnkite.core.plan.decisions import PlannedShot
from yarnkite.core.plan.exposure import FILTER_STOPS, filter_stops

_LONG_EXPOSURE_S = 1.0
_LONG_SHOOT_S = 2 * 3600


def usual_kit(planned: PlannedShot) -> tuple[str, ...]:
    """Return what a shot as it is planned usually needs, a line each."""
    exposing = planned.exposing
    lines = ["tripod, weighed down"]
    if planned.lens is not None:
        lines.append(f"lens at {planned.lens.focal_mm:g} mm, f/{planned.lens.f_number:g}")
    lines += [
        "focus by hand, then left alone",
        "stabiliser off",
        "white balance by hand",
        "no sleep after some minutes",
    ]
    if exposing.metered_s is not None and (stops := filter_stops(exposing.metered_s, exposing.exposure_s)) >= 0.5:
        near = min(FILTER_STOPS, key=lambda one: abs(one - stops))
        lines.append(f"filter of {counted(near, 'stop')}")
    if exposing.exposure_s >= _LONG_EXPOSURE_S:
        lines.append("noise reduction of long exposures off")
    if planned.subject == "stars":
        lines += ["heater against dew", "lamp with red light"]
    return (*lines, *_supplies(planned))


def _supplies(planned: PlannedShot) -> list[str]:
    supplies, sums = planned.supplies, planned.sums
    needed = sums.stills * supplies.still_bytes
    each = supplies.card_bytes // supplies.still_bytes
    if each:
        lines = [f"{counted(ceil(sums.stills / each), 'card')} of {size_text(supplies.card_bytes)}"]
    else:
        lines = [f"a card with room for {size_text(needed)}"]
    if supplies.per_charge:
        count = ceil(sums.stills / supplies.per_charge)
        lines.append("a charged battery" if count == 1 else f"{count:,} charged batteries, or power from outside")
    elif sums.shooting_s >= _LONG_SHOOT_S:
        lines.append(f"power for {span_text(sums.shooting_s)}")
    return lines
