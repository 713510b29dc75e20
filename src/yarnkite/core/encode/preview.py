"""Playing: a clip cut into short segments that a browser plays one after another, made as they are needed."""

import io
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from math import sqrt

import av

from yarnkite.core.base.frozen import Size, digest, even_side
from yarnkite.core.base.rate import nominal
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.format import Settings
from yarnkite.core.encode.makers import makers
from yarnkite.core.encode.streams import preview_stream
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.image.decode import Read
from yarnkite.core.render.composite import Spec
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.core.render.frame_spec import mark
from yarnkite.core.render.picture import Painter

# As many pixels as 960 × 540 has, in any shape.
_PIXELS = 960 * 540
_SEGMENTS_A_SECOND = 3
_FEWEST_FRAMES = 4
CODEC = "avc1.42C028"
_PLAYING = 1


@dataclass(frozen=True)
class Segment:
    """Frames ``first …`` of a clip at the size they are played in, with all that making them needs."""

    key: str
    first: int
    specs: tuple[Spec, ...]
    size: Size
    rate: Fraction


def playing_size(size: Size, beside: int = 1) -> Size:
    """Return the size a clip is played in: its shape, with about as many pixels as 960 × 540, never enlarged; that for
    each of those ``beside`` each other in one picture."""
    scale = min(1.0, sqrt(beside * _PIXELS / (size.width * size.height)))
    return Size(width=even_side(size.width * scale), height=even_side(size.height * scale))


def segments(source: FrameSource, beside: int = 1) -> list[Segment]:
    """Cut a clip, or clips ``beside`` each other, into segments of a third of a second, each named by all that
    determines how it looks."""
    size = playing_size(source.size, beside)
    length = max(_FEWEST_FRAMES, nominal(source.rate) // _SEGMENTS_A_SECOND)
    found = []
    for first in range(0, len(source), length):
        specs = tuple(source.spec(frame) for frame in range(first, min(first + length, len(source))))
        key = digest(makers(), _PLAYING, size, source.rate, *(mark(spec) for spec in specs))
        found.append(Segment(key, first, specs, size, source.rate))
    return found


def render_segment(segment: Segment, read: Read, before_frame: Callable[[], None] = lambda: None) -> bytes:
    """Return a segment as a fragmented MP4 (ISO/IEC 14496-12) that begins at 0 and with a whole frame.

    ``before_frame`` is called before each frame is made, and may wait. Raises ``UnreadableStill``.
    """
    memory = io.BytesIO()
    painter = Painter(segment.size, read)
    options = {"movflags": "empty_moov+default_base_moof+frag_keyframe"}
    with av.open(memory, "w", format="mp4", options=options) as container:
        stream = preview_stream(container, Settings(Encode(), segment.size, segment.rate, len(segment.specs)))
        for position, spec in enumerate(segment.specs):
            before_frame()
            frame = to_video_frame(painter.picture(spec))
            frame.pts, frame.time_base = position, 1 / segment.rate
            for packet in stream.encode(frame):
                packet.duration = 1
                container.mux(packet)
        for packet in stream.encode(None):
            packet.duration = 1
            container.mux(packet)
    return memory.getvalue()
