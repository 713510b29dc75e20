"""Planes of a JPEG: luma and the two colours as they are stored, reduced by the decoder, without a way through RGB."""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

import av
import numpy as np
from numpy.typing import NDArray
from turbojpeg import TJFLAG_STOPONWARNING, TJSAMP_420, TJSAMP_422, TJSAMP_444, TJCS_YCbCr, TurboJPEG

from yarnkite.core.base.still import Still
from yarnkite.core.image.decode import SCALES, checked_data
from yarnkite.core.image.header import Header

_SUBSAMPLINGS = (TJSAMP_420, TJSAMP_422, TJSAMP_444)
_PLANAR = ("yuvj420p", "yuvj422p", "yuvj444p")
_END = b"\xff\xd9"
_END_WITHIN = 4096


@dataclass(frozen=True)
class JpegPlanes:
    """Full-range BT.601 samples (JFIF): ``luma`` and, as large or smaller, ``blue`` and ``red``, 128 in the middle.

    Each luma sample stands for ``reduction``² pixels of the still; colours lie amid the luma samples they belong to.
    """

    luma: NDArray[np.uint8]
    blue: NDArray[np.uint8]
    red: NDArray[np.uint8]
    reduction: int


def read_planes(still: Still, reduction: Fraction) -> JpegPlanes | None:
    """Read the planes of an upright JPEG in sRGB at the smallest scale that is as fine as wanted.

    Returns
    -------
    the planes, or ``None`` for whatever is to be read by way of RGB: another kind, turned, another profile, or a file
    about which the decoder has anything to say

    Raises
    ------
    UnreadableStill if the file is not what was gathered, or cannot be read
    """
    if not still.path.lower().endswith((".jpg", ".jpeg")):
        return None
    with checked_data(still, reduction) as (header, data):
        if not isinstance(data, bytes) or not _is_plain(header, data):
            return None
        if header.progressive:
            return _decoded_progressive(data)
        divisor = next((scale for scale in SCALES if scale <= reduction), 1)
        return _decoded(data, divisor)


def _is_plain(header: Header, data: bytes) -> bool:
    whole = _END in data[-_END_WITHIN:]
    return header.kind == "JPEG" and header.mode == "RGB" and header.orientation == 1 and not header.profile and whole


def _decoded(data: bytes, divisor: int) -> JpegPlanes | None:
    codec = _codec()
    if codec is None:
        return None
    try:
        _, _, subsampling, colours = codec.decode_header(data)
        if subsampling not in _SUBSAMPLINGS or colours != TJCS_YCbCr:
            return None
        luma, blue, red = codec.decode_to_yuv_planes(data, (1, divisor), flags=TJFLAG_STOPONWARNING)
    except (OSError, ValueError):
        return None
    return JpegPlanes(luma, blue, red, divisor)


def _decoded_progressive(data: bytes) -> JpegPlanes | None:
    """Decode a progressive file in full by the decoder of video, which takes four fifths of the time.

    It is given up for whatever the decoder has to say something about, and for sampling it writes in another order.
    """
    try:
        codec = av.CodecContext.create("mjpeg", "r")
        codec.options = {"err_detect": "explode"}
        frames = codec.decode(av.Packet(data))
    except (av.FFmpegError, ValueError):
        return None
    if len(frames) != 1 or frames[0].is_corrupt or frames[0].format.name not in _PLANAR:
        return None
    luma, blue, red = (
        np.frombuffer(memoryview(plane), np.uint8).reshape(plane.height, plane.line_size)[:, : plane.width]
        for plane in frames[0].planes
    )
    return JpegPlanes(luma, blue, red, 1)


class _Strict(TurboJPEG):  # type: ignore[misc]
    """The library where it would only warn: what it says then is for the way through RGB to judge.

    Turning warnings into errors around a call would not do: the filters of warnings belong to all threads at once.
    """

    def _TurboJPEG__report_error(self, handle: object) -> None:
        raise OSError("The decoder has something to say about this file.")


def reads_planes() -> bool:
    """Tell whether planes of JPEGs are read on this machine, or everything by way of RGB."""
    return _codec() is not None


@lru_cache(maxsize=1)
def _codec() -> TurboJPEG | None:
    """Return the library, or ``None`` on a machine that lacks it: all is read by way of RGB then."""
    try:
        return _Strict()
    except (OSError, RuntimeError):
        return None
