"""A capture in one sentence: what will be shot, how far it is, and what the clip will be."""

from datetime import datetime, timedelta
from fractions import Fraction

from yarnkite.camera.decisions import Capture
from yarnkite.core.base.rate import rate_label
from yarnkite.core.base.timecode import duration_text, span_text
from yarnkite.core.base.wording import counted


def wish_text(wanted: Capture, rate: Fraction) -> str:
    """Say what a capture will be."""
    every = f"one every {interval_text(wanted.interval_ms)}"
    beats = _beats(wanted)
    if beats is None:
        gives = float(1 / (rate * Fraction(wanted.interval_ms, 1000)))
        return (
            f"Take a still, {every}, until it is stopped: each second of "
            f"shooting gives {gives:.2g} s of clip at {rate_label(rate)} fps."
        )
    lasts = timedelta(milliseconds=wanted.interval_ms * (beats - 1))
    starts = "" if wanted.starts_at is None else f", from {wanted.starts_at.astimezone():%H:%M:%S} on"
    return (
        f"Take {counted(beats, 'still')}, {every}{starts}: that takes {span_text(lasts)} and gives "
        f"{duration_text(beats / rate)} at {rate_label(rate)} fps."
    )


def course_text(wanted: Capture, rate: Fraction, taken: int, missed: int, ends: datetime | None) -> str:
    """Say how far a capture is, and what clip it makes so far."""
    beats = _beats(wanted)
    of = "" if beats is None else f" of {beats:,}"
    out = f", {missed:,} missing" if missed else ""
    end = "" if ends is None else f"; the last one is due at {ends.astimezone():%H:%M:%S}"
    return (
        f"{taken:,}{of} stills, one every {interval_text(wanted.interval_ms)}{out}: {duration_text(taken / rate)} of "
        f"clip at {rate_label(rate)} fps so far{end}."
    )


def interval_text(interval_ms: int) -> str:
    """Write an interval for reading: ``0.5 s``, ``5 s``, ``2 min 30 s``."""
    return f"{interval_ms / 1000:g} s" if interval_ms < 60_000 else span_text(timedelta(milliseconds=interval_ms))


def _beats(wanted: Capture) -> int | None:
    if wanted.count is not None:
        return min(wanted.count, wanted.most_beats) if wanted.span_s is not None else wanted.count
    return wanted.most_beats if wanted.span_s is not None else None
