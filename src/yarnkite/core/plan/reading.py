"""Quantities of a plan as people type and read them."""

import re
from fractions import Fraction

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.rate import parse_rate, rate_label
from yarnkite.core.base.timecode import duration_text, span_text
from yarnkite.core.plan.exposure import span_or_fraction
from yarnkite.core.plan.sums import Quantity, Sums

_UNITS: dict[str, Fraction] = {
    "d": Fraction(86400),
    "h": Fraction(3600),
    "min": Fraction(60),
    "m": Fraction(60),
    "s": Fraction(1),
    "ms": Fraction(1, 1000),
}
# Longer words first: "250 ms" is no 250 minutes.
_PART = r"(\d+(?:[.,]\d+)?)\s*(days?|d|hours?|hrs?|h|milliseconds?|ms|minutes?|min|m|seconds?|secs?|sec|s)"
_LONGEST = 60


def parse_duration(text: str) -> Fraction:
    """Read ``12``, ``12 s``, ``2 h 30 min``, ``1/2 s``, ``1:30`` (min:s), ``1:30:00`` (h:min:s) or ``3 days`` as
    seconds.

    Raises ``Refusal`` (``duration_not_usable``).
    """
    cleaned = text.strip().lower()
    refusal = Refusal(
        "duration_not_usable", f"“{text[:_LONGEST]}” is no length of time. Write 12 s, 2 h 30 min or 1:30."
    )
    if len(cleaned) > _LONGEST:
        raise refusal
    if re.fullmatch(r"\d+(?:[.,]\d+)?", cleaned):
        return Fraction(cleaned.replace(",", "."))
    if match := re.fullmatch(r"(\d+)\s*/\s*(\d+)\s*s?", cleaned):
        if int(match[2]) == 0:
            raise refusal
        return Fraction(int(match[1]), int(match[2]))
    if match := re.fullmatch(r"(?:(\d+):)?(\d+):(\d{1,2}(?:\.\d+)?)", cleaned):
        return 3600 * int(match[1] or 0) + 60 * int(match[2]) + Fraction(match[3])
    if re.fullmatch(rf"(?:{_PART}\s*)+", cleaned):
        return sum(
            (Fraction(number.replace(",", ".")) * _unit(unit) for number, unit in re.findall(_PART, cleaned)),
            Fraction(0),
        )
    raise refusal


def parse_quantity(quantity: Quantity, text: str) -> Fraction:
    """Read one of the six quantities as it is typed.

    Raises ``Refusal`` (``duration_not_usable``, ``rate_not_usable``, ``number_not_usable``).
    """
    if quantity in ("clip", "shooting", "interval"):
        return parse_duration(text)
    cleaned = text.strip().lower().replace(",", "").replace("×", "").replace("fps", "").replace("stills", "").strip()
    if quantity == "rate":
        return parse_rate(cleaned)
    if not re.fullmatch(r"\d{1,12}(?:\.\d{1,6})?", cleaned):
        what = "a number of stills" if quantity == "stills" else "a number of times"
        raise Refusal("number_not_usable", f"“{text[:_LONGEST]}” is not {what}. Write it in figures, such as 300.")
    return Fraction(cleaned)


def quantity_text(quantity: Quantity, value: Fraction) -> str:
    """Write one of the six quantities for reading."""
    if quantity == "clip":
        return duration_text(value) if value >= 1 else f"{float(value):.3g} s"
    if quantity == "rate":
        return f"{rate_label(value)} fps"
    if quantity == "stills":
        return f"{int(value):,}"
    if quantity == "shooting":
        return span_text(value)
    if quantity == "interval":
        return span_or_fraction(float(value)) if value < 60 else _exactly(value)
    return f"{float(value):.3g}" if value < 100 else f"{round(value):,}"


def rounding_text(quantity: Quantity, asked: Fraction, sums: Sums) -> str:
    """Say what whole stills made of what was asked for."""
    wanted, found = quantity_text(quantity, asked), quantity_text(quantity, sums.value(quantity))
    if wanted == found:
        digits = f"{float(sums.value(quantity) - asked):+.3g}"
        return f"Stills are whole: {found} comes out {digits} s." if quantity in ("clip", "shooting") else ""
    reason = (
        f"{sums.stills:,} whole stills make" if quantity in ("clip", "stills", "shooting") else "What can be set makes"
    )
    return f"{reason} {found} of the {wanted} asked for."


def _exactly(value: Fraction) -> str:
    """Write a longer interval so that nothing of it is rounded away."""
    minutes, seconds = divmod(value, 60)
    if seconds == 0 and minutes % 60 == 0:
        return f"{int(minutes // 60)} h"
    if seconds == 0:
        return f"{int(minutes)} min"
    return f"{int(minutes)} min {float(seconds):g} s"


def _unit(word: str) -> Fraction:
    for name in ("ms", "milli", "min", "m", "d", "h", "s"):
        if word.startswith(name):
            return _UNITS["ms" if name == "milli" else name]
    raise AssertionError(word)
