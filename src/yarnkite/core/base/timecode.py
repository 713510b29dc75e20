"""Timecode after SMPTE ST 12-1: hours:minutes:seconds:frames, ``;`` before frames when drop-frame."""

import re
from collections.abc import Iterable
from datetime import timedelta
from fractions import Fraction

from yarnkite.core.base.rate import nominal

DROP_FRAME_RATES = (Fraction(30000, 1001), Fraction(60000, 1001))


def timecode(frame: int, rate: Fraction) -> str:
    """Return the timecode of a frame counted from 0; it wraps after 24 hours.

    At 30000/1001 and 60000/1001 drop-frame counting is used: the first 2 (or 4) frame *numbers* of each minute
    are skipped, except in every tenth minute, so that the count stays with the clock.

    Parameters
    ----------
    frame : from 0
    rate : frames per second

    Returns
    -------
    ``hh:mm:ss:ff``, ``;`` before the frames when drop-frame

    Raises
    ------
    ValueError for a negative frame

    Source: SMPTE ST 12-1.
    """
    if frame < 0:
        raise ValueError("frames are counted from 0")
    base = nominal(rate)
    drops = rate in DROP_FRAME_RATES
    return _written(_with_dropped_numbers(frame, base) if drops else frame, base, ";" if drops else ":")


def _written(number: int, base: int, before_frames: str) -> str:
    number %= base * 86400
    seconds, frames = divmod(number, base)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    digits = 3 if base > 100 else 2
    return f"{hours:02}:{minutes:02}:{seconds:02}{before_frames}{frames:0{digits}}"


def timecode_from(start: str, frame: int, rate: Fraction) -> str:
    """Return the timecode of a frame counted from 0 of a file whose first one has the timecode ``start``.

    It counts as that does: a ``;`` before its frames says that numbers are dropped. Raises ``ValueError`` for a start
    that is no timecode.
    """
    found = re.fullmatch(r"(\d+):(\d+):(\d+)([:;])(\d+)", start)
    if found is None:
        raise ValueError(f"{start!r} is no timecode")
    base = nominal(rate)
    hours, minutes, seconds, frames = (int(found[place]) for place in (1, 2, 3, 5))
    number = ((hours * 60 + minutes) * 60 + seconds) * base + frames
    if found[4] == ":":
        return _written(number + frame, base, ":")
    dropped = base // 15
    whole = hours * 60 + minutes
    return _written(_with_dropped_numbers(number - dropped * (whole - whole // 10) + frame, base), base, ";")


def timecodes(frames: Iterable[int], rate: Fraction) -> list[str]:
    """Return the timecodes of many frames; see ``timecode``."""
    return [timecode(frame, rate) for frame in frames]


def second_starts(frames: int, rate: Fraction) -> list[int]:
    """Return the first frame of each second of a clip of so many frames."""
    return [-(-second * rate.numerator // rate.denominator) for second in range(int(frames / rate) + 1)]


def counting(rate: Fraction) -> str:
    """Say what a timecode's pairs count at a rate."""
    said = f"Hours, minutes, seconds and frames: the last pair counts frames, 0 to {nominal(rate) - 1}."
    if rate not in DROP_FRAME_RATES:
        return said
    skipped = nominal(rate) // 15
    return f"{said} The ; says that {skipped} numbers are left out each minute but the tenth, to keep to the clock."


def _with_dropped_numbers(frame: int, base: int) -> int:
    dropped = base // 15
    per_minute = base * 60 - dropped
    per_ten_minutes = per_minute * 10 + dropped
    tens, rest = divmod(frame, per_ten_minutes)
    within = 0 if rest < base * 60 else (rest - base * 60) // per_minute + 1
    return frame + dropped * (9 * tens + within)


def duration_text(seconds: Fraction) -> str:
    """Write a clip length for reading: ``9.6 s`` below a minute, ``2 min 05.0 s`` above."""
    tenths = round(seconds * 10)
    minutes, rest = divmod(tenths, 600)
    if minutes == 0:
        return f"{rest / 10:.1f} s"
    return f"{minutes} min {rest / 10:04.1f} s"


def span_text(span: timedelta | Fraction) -> str:
    """Write a span (or seconds) for reading: ``4 s``, ``2 min 05 s``, ``1 h 00 min``, ``12 days``."""
    exact = span.total_seconds() if isinstance(span, timedelta) else float(span)
    seconds = round(exact)
    if seconds < 60:
        return f"{exact:.2g} s" if exact < 10 else f"{seconds} s"
    if seconds < 3600:
        return f"{seconds // 60} min {seconds % 60:02} s"
    if seconds < 2 * 86400:
        return f"{seconds // 3600} h {seconds % 3600 // 60:02} min"
    return f"{seconds // 86400:,} days"
