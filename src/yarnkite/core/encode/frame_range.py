"""A stretch of a clip alone: its frames, cut into chunks where the whole clip is, so that both share them."""

from fractions import Fraction

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.render_plan import chunks
from yarnkite.core.render.composite import Spec
from yarnkite.core.render.frame_source import FrameSource


class FrameRange:
    """Frames ``first … end - 1`` of another source, as a frame source of its own."""

    def __init__(self, source: FrameSource, first: int, end: int) -> None:
        if not 0 <= first < end <= len(source):
            raise Refusal(
                "no_such_stretch",
                f"The clip has {len(source):,} frames; a stretch from frame {first + 1:,} to {end:,} is not in it.",
            )
        self._source, self._first, self._end = source, first, end

    @property
    def size(self) -> Size:
        """The size of the frames in pixels."""
        return self._source.size

    @property
    def rate(self) -> Fraction:
        """Frames per second, exact."""
        return self._source.rate

    @property
    def borders(self) -> tuple[int, ...]:
        """Where a chunk of the whole clip begins, counted from the first frame of the stretch."""
        starts = (chunk.first - self._first for chunk in chunks(self._source, Encode()))
        return tuple(start for start in starts if 0 < start < len(self))

    def __len__(self) -> int:
        return self._end - self._first

    def spec(self, frame: int) -> Spec:
        """Return what a frame is, counted from the first of the stretch; raises ``IndexError`` outside."""
        if not 0 <= frame < len(self):
            raise IndexError(frame)
        return self._source.spec(self._first + frame)
