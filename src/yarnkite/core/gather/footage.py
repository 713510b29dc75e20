"""Footage: a video file from which stills are taken at even distances."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from fractions import Fraction
from pathlib import Path
from typing import Any

import av.error
import cv2
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from pydantic import Field, model_validator

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Frozen
from yarnkite.core.image.pixels import ImageArray

MOST_STILLS = 20_000
# From this distance on it is quicker to jump than to decode all that lies between.
_JUMP_S = 6
_HD_HEIGHT = 720


@dataclass(frozen=True)
class Footage:
    """What a video file holds: frames (perhaps estimated), rate, exact length, upright size, sound, when it began."""

    frames: int
    rate: Fraction
    seconds: Fraction
    width: int
    height: int
    sound: bool
    began: datetime | None


class Taking(Frozen):
    """How stills are taken from footage: every so many frames, every so many seconds, or so many in all."""

    every_frames: int | None = Field(default=None, ge=1)
    every_s: float | None = Field(default=None, gt=0, allow_inf_nan=False)
    count: int | None = Field(default=None, ge=1, le=MOST_STILLS)

    @model_validator(mode="after")
    def _one_way(self) -> "Taking":
        if sum(value is not None for value in (self.every_frames, self.every_s, self.count)) != 1:
            raise ValueError("Say one of: every how many frames, every how many seconds, or how many stills.")
        return self


def read_footage(path: Path) -> Footage:
    """Return what a video file holds; raises ``Refusal`` (``not_footage``) if there is no video in it."""
    try:
        with av.open(str(path)) as container:
            stream = container.streams.video[0]
            rate = Fraction(stream.average_rate or stream.guessed_rate or 25)
            seconds = _length(container, stream)
            frame = next(container.decode(stream))
            width, height = frame.width, frame.height
            if frame.rotation % 180:
                width, height = height, width
            return Footage(
                frames=stream.frames or round(seconds * rate),
                rate=rate,
                seconds=seconds,
                width=width,
                height=height,
                sound=bool(container.streams.audio),
                began=_began(container.metadata.get("creation_time", "")),
            )
    except (av.error.FFmpegError, IndexError, StopIteration, ValueError, OSError):
        raise Refusal(
            "not_footage", f"“{path.name}” holds no video that can be read. Choose another file, or convert it."
        ) from None


def moments(footage: Footage, taking: Taking) -> list[Fraction]:
    """Return the times, in seconds from the start, at which stills are taken.

    Raises ``Refusal`` (``too_many_stills``) above 20,000.
    """
    if taking.count is not None:
        step = footage.seconds / taking.count
    elif taking.every_frames is not None:
        step = taking.every_frames / footage.rate
    else:
        step = Fraction(taking.every_s or 1).limit_denominator(10**6)
    count = max(1, -((-footage.seconds) // step)) if taking.count is None else taking.count
    if count > MOST_STILLS:
        raise Refusal("too_many_stills", f"That would be {count:,} stills; up to {MOST_STILLS:,} are made at once.")
    return [step * number for number in range(count)]


def stills_of(path: Path, footage: Footage, at: list[Fraction]) -> Iterator[ImageArray]:
    """Yield the frame shown at each of some times; a file that ends earlier than it said yields fewer.

    Parameters
    ----------
    path, footage : the file, and what was learned of it
    at : seconds from its beginning, rising

    Yields
    ------
    upright, RGB, shape (height, width, 3), uint8

    Raises
    ------
    Refusal (``not_footage``) if it cannot be decoded
    """
    jump = len(at) > 1 and at[1] - at[0] >= _JUMP_S
    try:
        with av.open(str(path)) as container:
            stream = container.streams.video[0]
            stream.thread_type = "AUTO"
            frames = container.decode(stream)
            base = Fraction(stream.time_base or Fraction(1, 1000))
            start = (stream.start_time or 0) * base
            shown: Any = None
            for moment in at:
                if jump and moment:
                    container.seek(int((start + moment) / base), stream=stream)
                    frames = container.decode(stream)
                    shown = None
                shown = _shown_at(moment + start + 1 / (4 * footage.rate), shown, frames, footage.rate)
                if shown is None:
                    return
                yield _upright_rgb(shown)
    except (av.error.FFmpegError, OSError) as error:
        raise Refusal("not_footage", f"“{path.name}” cannot be decoded: {error}.") from None


def _shown_at(moment: Fraction, shown: Any, frames: Iterator[Any], rate: Fraction) -> Any:
    """Return the frame on screen at a moment: the last one that begins by then."""
    while shown is None or shown.pts * shown.time_base + 1 / rate <= moment:
        following = next(frames, None)
        if following is None:
            return shown
        if following.pts is not None:
            shown = following
    return shown


def _upright_rgb(frame: Any) -> ImageArray:
    said = {space.value: space for space in Colorspace}
    usual = Colorspace.ITU709 if frame.height >= _HD_HEIGHT else Colorspace.ITU601
    matrix = said.get(int(frame.colorspace), usual)
    full = frame.format.name.startswith("yuvj") or frame.color_range == ColorRange.JPEG
    image = frame.reformat(
        format="rgb24",
        src_colorspace=matrix,
        src_color_range=ColorRange.JPEG if full else ColorRange.MPEG,
        dst_color_range=ColorRange.JPEG,
    ).to_ndarray()
    turns = {90: cv2.ROTATE_90_COUNTERCLOCKWISE, 180: cv2.ROTATE_180, 270: cv2.ROTATE_90_CLOCKWISE}
    turn = turns.get(frame.rotation % 360)
    return np.asarray(image if turn is None else cv2.rotate(image, turn), dtype=np.uint8)


def _length(container: Any, stream: Any) -> Fraction:
    if stream.duration is not None:
        return Fraction(stream.duration * stream.time_base)
    if container.duration is not None:
        return Fraction(container.duration, av.time_base)
    raise ValueError("no length")


def _began(text: str) -> datetime | None:
    """Read the moment a file says it was begun, in UTC; cameras without a clock write 1904 or 1970."""
    try:
        began = datetime.fromisoformat(text.replace("Z", "+00:00"))
    except ValueError:
        return None
    return began if began.year > 1980 else None


def name_of(stem: str, number: int, count: int) -> str:
    """Return the name of a still taken from footage, numbered from 1."""
    return f"{stem}_{number + 1:0{max(4, len(str(count)))}}.jpg"


def taken_at(footage: Footage, moment: Fraction) -> datetime | None:
    """Return when a still taken from footage was exposed, if the file says when it began."""
    return footage.began + timedelta(seconds=float(moment)) if footage.began else None
