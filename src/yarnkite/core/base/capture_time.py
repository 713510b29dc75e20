"""Capture times: what a camera's clock said, and the offset of that from universal time (UTC) where it is known."""

from datetime import datetime, timedelta, timezone

_MINUTE = timedelta(minutes=1)


def universal_time(captured: datetime | None, utc_offset_min: int | None = None) -> datetime | None:
    """Return a capture time in UTC, without a zone; one whose offset is not known stays as the clock said it.

    The offset is the time's own or ``utc_offset_min``, in minutes.
    """
    if captured is None:
        return None
    local, offset = local_time(captured)
    known = offset if offset is not None else utc_offset_min
    return local if known is None else local - known * _MINUTE


def local_time(captured: datetime) -> tuple[datetime, int | None]:
    """Return what the camera's clock said, and its offset from UTC in minutes if the time carries one."""
    offset = captured.utcoffset()
    return captured.replace(tzinfo=None), None if offset is None else offset // _MINUTE


def with_offset(captured: datetime | None, utc_offset_min: int | None) -> datetime | None:
    """Return a capture time that carries its offset from UTC, if that is known."""
    if captured is None or utc_offset_min is None:
        return captured
    return captured.replace(tzinfo=timezone(utc_offset_min * _MINUTE))
