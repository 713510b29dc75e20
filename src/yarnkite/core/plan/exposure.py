"""How long each still is exposed: whether it fits into the interval, how movement looks, how dark a filter is
needed."""

from fractions import Fraction
from math import log2

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.timecode import span_text

SMOOTH_DEG = 180
# Strong filters are sold in these; two can be put before one another.
FILTER_STOPS = (1, 2, 3, 4, 6, 10, 15, 16)


def room_text(exposure_s: float, writing_s: float, interval_s: Fraction) -> tuple[str, bool]:
    """Say whether exposing and writing fit into the interval, in seconds, and whether something is to be looked at."""
    busy = exposure_s + writing_s
    free = float(interval_s) - busy
    takes = f"Exposing takes {span_or_fraction(exposure_s)} and writing {span_or_fraction(writing_s)}"
    if free < 0:
        between = span_or_fraction(float(interval_s))
        return f"{takes}, longer than the {between} between stills: {span_or_fraction(busy)} is the least.", True
    left = f"{span_or_fraction(free)} is left before the next"
    if free < 0.1 * float(interval_s):
        return f"{takes}; only {left}: any delay loses one.", True
    return f"{takes}; {left}.", False


def shutter_angle_deg(exposure_s: float, interval_s: Fraction) -> float:
    """Return the part of the interval the shutter is open, as an angle in degrees (360 is all of it)."""
    return 360 * exposure_s / float(interval_s)


def exposure_for_angle_s(angle_deg: float, interval_s: Fraction) -> float:
    """Return how long to expose for a shutter angle, in seconds."""
    return float(interval_s) * angle_deg / 360


def movement_text(exposure_s: float, interval_s: Fraction) -> str:
    """Say how movement looks from still to still, and the exposure that joins it."""
    angle = shutter_angle_deg(exposure_s, interval_s)
    smooth = exposure_for_angle_s(SMOOTH_DEG, interval_s)
    if angle > 360:
        return ""
    at = f"The shutter is open for {angle:.3g}° of 360"
    if angle < 45:
        return f"{at}: things jump from frame to frame. {span_or_fraction(smooth)} (180°) would join their movement."
    if angle < 120:
        return f"{at}: movement is crisp. {span_or_fraction(smooth)} (180°) would join it."
    return f"{at}: movement flows."


def filter_stops(metered_s: float, wanted_s: float) -> float:
    """Return how many stops darker a filter must be so that ``wanted_s`` gives the light that ``metered_s`` gives.

    Raises
    ------
    Refusal (``plan_not_possible``) where one is not above zero
    """
    if metered_s <= 0 or wanted_s <= 0:
        raise Refusal("plan_not_possible", "An exposure lasts more than no time.")
    return max(0.0, log2(wanted_s / metered_s))


def filter_text(metered_s: float, wanted_s: float) -> str:
    """Say which filter lets one expose for ``wanted_s`` where ``metered_s`` is right without one."""
    stops = filter_stops(metered_s, wanted_s)
    if stops < 0.5:
        return f"No filter is needed: {span_or_fraction(metered_s)} is right as it is."
    near = min(FILTER_STOPS, key=lambda one: abs(one - stops))
    said = (
        f"{span_or_fraction(wanted_s)} instead of {span_or_fraction(metered_s)} is {stops:.1f} stops: a filter of "
        f"{near} {'stop' if near == 1 else 'stops'}"
    )
    if stops > FILTER_STOPS[-1] + 0.5:
        return f"{said} is the strongest there is; {2**stops:,.0f} × less light needs two before one another."
    return f"{said} (lets {_one_in(near)} through) comes nearest."


def span_or_fraction(seconds: float) -> str:
    """Write seconds as cameras do: ``1/250 s``, ``0.4 s``, ``2.5 s``, ``1 min 30 s``."""
    if 0 < seconds < 0.3:
        return f"1/{round(1 / seconds)} s"
    if seconds < 60:
        return f"{round(seconds, 2):g} s"
    return span_text(Fraction(seconds).limit_denominator(1000))


def _one_in(stops: int) -> str:
    return f"1 in {2**stops:,}"
