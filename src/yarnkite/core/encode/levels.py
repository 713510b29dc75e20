"""Levels of H.264 (ITU-T H.264 annex A): how much a decoder must be able to do for a size and a rate."""

from fractions import Fraction

from yarnkite.core.base.frozen import Size

# Level, blocks of 16 × 16 a second, blocks a frame (table A-1).
_LEVELS = (
    ("3.0", 40_500, 1_620),
    ("3.1", 108_000, 3_600),
    ("4.0", 245_760, 8_192),
    ("4.2", 522_240, 8_704),
    ("5.0", 589_824, 22_080),
    ("5.1", 983_040, 36_864),
    ("5.2", 2_073_600, 36_864),
    ("6.0", 4_177_920, 139_264),
    ("6.1", 8_355_840, 139_264),
    ("6.2", 16_711_680, 139_264),
)
# What players of fifteen years ago, and what common devices of today decode.
OLD, COMMON = "4.0", "5.2"


def level_of(size: Size, rate: Fraction) -> str | None:
    """Return the lowest level that has a size at a rate, or ``None`` if none has."""
    a_frame = -(-size.width // 16) * -(-size.height // 16)
    return next((name for name, a_second, most in _LEVELS if a_frame <= most and a_frame * rate <= a_second), None)


def is_above(level: str | None, limit: str) -> bool:
    """Tell whether a level is higher than another, or beyond all."""
    return level is None or float(level) > float(limit)
