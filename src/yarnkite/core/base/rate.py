"""Frame rates as exact fractions of frames per second."""

from fractions import Fraction
from typing import Annotated

from pydantic import BeforeValidator, Field, PlainSerializer, WithJsonSchema

from yarnkite.core.base.errors import Refusal

OFFERED: tuple[Fraction, ...] = (
    Fraction(15),
    Fraction(24000, 1001),
    Fraction(24),
    Fraction(25),
    Fraction(30000, 1001),
    Fraction(30),
    Fraction(50),
    Fraction(60000, 1001),
    Fraction(60),
)
HIGHEST = 240
_LONGEST = 40


def parse_rate(value: object) -> Fraction:
    """Read ``"24000/1001"``, ``"25"`` or a number as an exact rate in frames per second.

    The decimals people write for the 1001 rates (23.976, 29.97, 59.94) become the exact fraction they stand for.

    Parameters
    ----------
    value : text or number

    Returns
    -------
    frames per second, 1 … 240

    Raises
    ------
    Refusal (``rate_not_usable``) for anything else
    """
    text = str(value).strip()
    try:
        # A number with an exponent can have more digits than memory.
        if len(text) > _LONGEST or "e" in text.casefold():
            raise ValueError(text)
        rate = Fraction(text)
    except (ValueError, ZeroDivisionError):
        raise Refusal("rate_not_usable", f"“{text[:40]}” is not a frame rate. Write 25 or 24000/1001.") from None
    if rate.denominator not in (1, 1001):
        nominal = -(-rate.numerator // rate.denominator)
        exact = Fraction(nominal * 1000, 1001)
        if abs(rate - exact) < Fraction(1, 100):
            rate = exact
    if not 1 <= rate <= HIGHEST:
        raise Refusal("rate_not_usable", f"A rate of {value} frames per second cannot be used. Choose 1 to {HIGHEST}.")
    return rate


def rate_text(rate: Fraction) -> str:
    """Write a rate exactly, as ``"25"`` or ``"24000/1001"``."""
    return str(rate)


def rate_label(rate: Fraction) -> str:
    """Write a rate as people say it: ``25``, ``23.976``, ``29.97``."""
    if rate.denominator == 1:
        return str(rate.numerator)
    return f"{float(rate):.3f}".rstrip("0")


def nominal(rate: Fraction) -> int:
    """Return the whole number of frames a timecode counts per second (SMPTE ST 12-1): 30 for 30000/1001."""
    return round(rate)


def explained(rate: Fraction, frames: int) -> str:
    """Say what a rate of so many 1001sts means for a clip of so many frames; nothing for a whole rate."""
    if rate.denominator != 1001:
        return ""
    whole = nominal(rate)
    later = frames / rate - Fraction(frames, whole)
    return (
        f"{rate_label(rate)} is exactly {rate.numerator:,}/1001. Over this clip that ends {_time_text(later)} later "
        f"than {whole} would; over an hour 3.6 s. It matters where sound or other clips run beside it."
    )


def _time_text(seconds: Fraction) -> str:
    return f"{float(seconds * 1000):.0f} ms" if seconds < 1 else f"{float(seconds):.1f} s"


def _validated(value: object) -> Fraction:
    try:
        return parse_rate(value)
    except Refusal as refusal:
        raise ValueError(refusal.sentence) from None


Rate = Annotated[
    Fraction,
    BeforeValidator(_validated),
    PlainSerializer(rate_text, return_type=str),
    WithJsonSchema({"type": "string", "pattern": r"^\d+(/\d+)?$", "examples": ["25", "24000/1001"]}),
    Field(description="frames per second, an exact fraction"),
]
