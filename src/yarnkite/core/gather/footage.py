"""Footage: a video file from which stills are taken at even distances."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from fractions import Fraction
from itertools import islice
from pathlib import Path
from typing import Any

import av.error
import cv2
import numpy as np
from av.video.reformatter import ColorRange, Colorspace
from pydantic import Field, model_validator

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Frozen
from yarnkite.core.base.rate import OFFERED, parse_rate
from yarnkite.core.image.cicp import CodePoints, srgb_of
from yarnkite.core.image.pixels import ImageArray, as_eight

MOST_STILLS = 20_000
# From this distance on it is quicker to jump than to decode all that lies between.
_JUMP_S = 6
_HD_HEIGHT = 720
_LONGEST_S = 7 * 24 * 3600
# So many frames tell how the rest is made.
_LOOKED_AT = 16
_SAME_RATE = Fraction(1, 2000)
# A line sticks out by so many codes, and in so much of a frame that is two fields.
_COMB, _COMBED = 16, 0.004
# Primaries of BT.2020 and P3 (ITU-T H.273).
_WIDE = (9, 11, 12)


@dataclass(frozen=True)
class Footage:
    """What a video file holds: frames (perhaps estimated), rate, exact length, upright size, sound, when it began.

    ``is_interlaced`` says that frames are two fields of different moments, ``varies`` that they do not follow each
    other evenly, ``turned`` by how many degrees they are turned to be upright; ``code_points`` what its samples mean
    where that is not what other video means by them.
    """

    frames: int
    rate: Fraction
    seconds: Fraction
    width: int
    height: int
    sound: bool
    began: datetime | None
    is_interlaced: bool = False
    varies: bool = False
    turned: int = 0
    code_points: CodePoints | None = None


class Taking(Frozen):
    """How stills are taken from footage: every so many frames, every so many seconds, or so many in all.

    ``from_s`` and ``until_s`` are where it begins and ends, in seconds of the footage; without them it is all there is.
    """

    every_frames: int | None = Field(default=None, ge=1)
    every_s: float | None = Field(default=None, gt=0, allow_inf_nan=False)
    count: int | None = Field(default=None, ge=1, le=MOST_STILLS)
    from_s: float = Field(default=0, ge=0, le=_LONGEST_S, allow_inf_nan=False)
    until_s: float | None = Field(default=None, gt=0, le=_LONGEST_S, allow_inf_nan=False)

    @property
    def is_film(self) -> bool:
        """Whether every frame is taken, so that it can be shown at its true speed."""
        return self.every_frames == 1

    @model_validator(mode="after")
    def _one_way(self) -> "Taking":
        if sum(value is not None for value in (self.every_frames, self.every_s, self.count)) != 1:
            raise ValueError("Say one of: every how many frames, every how many seconds, or how many stills.")
        if self.until_s is not None and self.until_s <= self.from_s:
            raise ValueError("It must end after it begins.")
        return self


def read_footage(path: Path) -> Footage:
    """Return what a video file holds; raises ``Refusal`` (``not_footage``) if there is no video in it."""
    try:
        with av.open(str(path)) as container:
            stream = container.streams.video[0]
            rate = Fraction(stream.average_rate or stream.guessed_rate or 25)
            seconds = _length(container, stream)
            first = list(islice(container.decode(stream), _LOOKED_AT))
            frame = first[0]
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
                is_interlaced=any(one.interlaced_frame for one in first),
                varies=_varies(first),
                turned=-frame.rotation % 360,
                code_points=_code_points(frame),
            )
    except (av.error.FFmpegError, IndexError, StopIteration, ValueError, OSError):
        raise Refusal(
            "not_footage", f"“{path.name}” holds no video that can be read. Choose another file, or convert it."
        ) from None


def moments(footage: Footage, taking: Taking) -> list[Fraction]:
    """Return the times, in seconds from the start, at which stills are taken.

    Raises ``Refusal`` (``too_many_stills``) above 20,000, and (``nothing_there``) where the footage is over by then.
    """
    begin = _exactly(taking.from_s)
    end = min(footage.seconds, footage.seconds if taking.until_s is None else _exactly(taking.until_s))
    if begin >= end:
        raise Refusal(
            "nothing_there", f"The footage is {float(footage.seconds):.2f} s long. Let it begin earlier than that."
        )
    length = end - begin
    if taking.every_frames is not None and begin:
        # On a frame's own beginning, so that the first still is the one that is on screen then.
        begin = int(begin * footage.rate) / footage.rate
    if taking.count is not None:
        step = length / taking.count
    elif taking.every_frames is not None:
        step = taking.every_frames / footage.rate
    else:
        step = Fraction(taking.every_s or 1).limit_denominator(10**6)
    count = max(1, -((-length) // step)) if taking.count is None else taking.count
    if count > MOST_STILLS:
        raise Refusal("too_many_stills", f"That would be {count:,} stills; up to {MOST_STILLS:,} are made at once.")
    return [begin + step * number for number in range(count)]


def film_rate(footage: Footage) -> Fraction | None:
    """Return the rate at which every frame of footage is shown at its true speed, if clips can have it."""
    near = [rate for rate in OFFERED if abs(footage.rate / rate - 1) < _SAME_RATE]
    try:
        return parse_rate(near[0] if near else footage.rate.limit_denominator(1001))
    except Refusal:
        return None


def remarks(footage: Footage) -> list[str]:
    """Return what is to be known of how footage becomes stills."""
    found = []
    if footage.is_interlaced:
        telecine = abs(footage.rate - Fraction(30000, 1001)) < _SAME_RATE
        found.append(
            "Its frames are interlaced: where their two fields differ the first is used, and the lines between are "
            "made from it."
            + (" Film of 24 frames a second that was brought to 29.97 keeps its repeated frames." if telecine else "")
        )
    if footage.varies:
        found.append("Its frames do not follow each other evenly: those on screen at even moments are taken.")
    if footage.turned:
        found.append(f"It is turned upright, by {footage.turned}°.")
    if footage.code_points is not None:
        high = footage.code_points.is_high_range
        found.append(
            "It is of high range: what is brighter than white rolls off, in stills of 8 bits."
            if high
            else "It has a wide gamut: colours that sRGB lacks pale to its edge."
        )
    return found


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
    late = bool(at) and at[0] >= _JUMP_S
    try:
        with av.open(str(path)) as container:
            stream = container.streams.video[0]
            stream.thread_type = "AUTO"
            base = Fraction(stream.time_base or Fraction(1, 1000))
            start = (stream.start_time or 0) * base
            screen: _OnScreen | None = None
            for number, moment in enumerate(at):
                if (jump and moment) or (late and not number):
                    container.seek(int((start + moment) / base), stream=stream)
                    screen = None
                screen = screen or _OnScreen(container.decode(stream))
                shown = screen.at(moment + start + 1 / (4 * footage.rate))
                if shown is None:
                    return
                yield _upright_rgb(shown, footage.code_points)
    except (av.error.FFmpegError, OSError) as error:
        raise Refusal("not_footage", f"“{path.name}” cannot be decoded: {error}.") from None


class _OnScreen:
    """Which frame is on screen, as time goes on: the last one that begins by then, however long it stays."""

    def __init__(self, frames: Iterator[Any]) -> None:
        self._frames = (frame for frame in frames if frame.pts is not None)
        self._shown: Any = None
        self._next: Any = next(self._frames, None)

    def at(self, moment: Fraction) -> Any:
        while self._next is not None and (self._shown is None or self._next.pts * self._next.time_base <= moment):
            self._shown, self._next = self._next, next(self._frames, None)
        return self._shown


def _upright_rgb(frame: Any, code_points: CodePoints | None) -> ImageArray:
    said = {space.value: space for space in Colorspace}
    usual = Colorspace.ITU709 if frame.height >= _HD_HEIGHT else Colorspace.ITU601
    matrix = said.get(int(frame.colorspace), usual)
    full = frame.format.name.startswith("yuvj") or frame.color_range == ColorRange.JPEG
    image = frame.reformat(
        format="rgb24" if code_points is None else "rgb48le",
        src_colorspace=matrix,
        src_color_range=ColorRange.JPEG if full else ColorRange.MPEG,
        dst_color_range=ColorRange.JPEG,
    ).to_ndarray()
    if frame.interlaced_frame and _is_combed(image):
        image = _one_field(image)
    if code_points is not None:
        image = as_eight(srgb_of(image, code_points))
    turns = {90: cv2.ROTATE_90_COUNTERCLOCKWISE, 180: cv2.ROTATE_180, 270: cv2.ROTATE_90_CLOCKWISE}
    turn = turns.get(frame.rotation % 360)
    return np.asarray(image if turn is None else cv2.rotate(image, turn), dtype=np.uint8)


def _is_combed(image: ImageArray) -> bool:
    """Tell whether lines of a frame stick out by turns, up and down, as they do where its fields differ.

    Frames that say they are interlaced often are not: both fields are of one moment.
    """
    lines = as_eight(image)[..., 1].astype(np.int32)
    above, below = lines[1:-1] - lines[:-2], lines[1:-1] - lines[2:]
    sticks_out = above * below > _COMB**2
    # One thin line sticks out alone: those beside it do not.
    return float(np.mean(sticks_out[:-1] & sticks_out[1:])) > _COMBED


def _one_field(image: ImageArray) -> ImageArray:
    """Return a frame of two fields as its first one shows it: the lines between are made from those around them."""
    field = image[::2]
    height, width = image.shape[:2]
    # The field's lines stay where they are: a line of the frame is half a line of it.
    down = np.repeat((np.arange(height, dtype=np.float32) / 2)[:, None], width, axis=1)
    across = np.repeat(np.arange(width, dtype=np.float32)[None], height, axis=0)
    made = cv2.remap(field, across, down, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    result = np.asarray(made, image.dtype)
    result[::2] = field
    return result


def _varies(frames: Sequence[Any]) -> bool:
    """Tell whether frames begin at uneven distances, by more than times of a container are rounded."""
    times = [float(one.pts * one.time_base) for one in frames if one.pts is not None]
    steps = np.diff(times)
    return len(steps) > 3 and float(np.ptp(steps)) > max(0.002, 0.1 * float(np.median(steps)))


def _code_points(frame: Any) -> CodePoints | None:
    """Return what samples mean where it is more than video usually means."""
    said = CodePoints(int(frame.color_primaries), int(frame.color_trc))
    return said if said.is_high_range or said.primaries in _WIDE else None


def _exactly(seconds: float) -> Fraction:
    return Fraction(seconds).limit_denominator(10**6)


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


def number_in(name: str, stem: str) -> int:
    """Return the number, from 1, of a still taken from footage called ``stem``, or 0 if it has another name by now."""
    digits = re.fullmatch(rf"{re.escape(stem)}_(\d{{4,}})\.jpg", name)
    return int(digits[1]) if digits else 0


def taken_at(footage: Footage, moment: Fraction) -> datetime | None:
    """Return when a still taken from footage was exposed, if the file says when it began."""
    return footage.began + timedelta(seconds=float(moment)) if footage.began else None
