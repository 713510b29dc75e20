"""Two clips beside each other in one picture: what is seen of both at a time is always what belongs together."""

from bisect import bisect_left
from collections import defaultdict
from collections.abc import Sequence
from fractions import Fraction
from typing import Literal

import numpy as np

from yarnkite.core.base.frozen import Size, even_side
from yarnkite.core.render.composite import Composite, Scene, Tile
from yarnkite.core.render.frame_source import ClipFrames

InStep = Literal["still", "share", "clock"]


def partners(first: Sequence[int], second: Sequence[int], in_step: InStep) -> list[int]:
    """Return for each frame of a clip that of another one it is seen beside.

    ``first`` and ``second`` say the position in the shot of the still each frame shows, or by the ``clock`` at which
    moment of the day it was taken. In step by ``still`` or by the clock, both show the same one, or the nearest there
    is, and of several frames that do the one at the nearest share of the clip; by ``share``, both are equally far
    through their clip.
    """
    shares = [min(len(second) - 1, (2 * at + 1) * len(second) // (2 * len(first))) for at in range(len(first))]
    if in_step == "share":
        return shares
    showing: dict[int, list[int]] = defaultdict(list)
    for frame, still in enumerate(second):
        showing[still].append(frame)
    known = np.array(sorted(showing))
    places = np.clip(np.searchsorted(known, first), 1, max(1, len(known) - 1))
    found = []
    for still, share, place in zip(first, shares, places, strict=True):
        near = known[max(0, place - 1) : place + 1]
        frames = showing[int(near[np.argmin(np.abs(near - still))])]
        at = bisect_left(frames, share)
        found.append(min(frames[max(0, at - 1) : at + 1], key=lambda one: abs(one - share)))
    return found


class PairFrames:
    """The frames of a clip, each with one of another clip to its right, as high as the first.

    ``beside`` names the other clip's frame for each of the first's.
    """

    def __init__(self, first: ClipFrames, second: ClipFrames, beside: Sequence[int]) -> None:
        self._first, self._second, self._beside = first, second, beside
        own, other = first.size, second.size
        self._other = Size(width=even_side(other.width * own.height / other.height), height=own.height)

    @property
    def size(self) -> Size:
        """The size of both together in pixels."""
        return Size.model_construct(width=self._first.size.width + self._other.width, height=self._first.size.height)

    @property
    def edge(self) -> float:
        """Where the first ends, as a share of the width of both."""
        return self._first.size.width / self.size.width

    @property
    def borders(self) -> tuple[int, ...]:
        """There are none but those of its length."""
        return ()

    @property
    def rate(self) -> Fraction:
        """Frames per second of the first, exact."""
        return self._first.rate

    def __len__(self) -> int:
        return len(self._first)

    def spec(self, frame: int) -> Composite:
        """Return what a frame is, counted from 0; raises ``IndexError`` outside."""
        tiles = (
            Tile(self._first.spec(frame)),
            Tile(self._second.spec(self._beside[frame]), left=self._first.size.width, size=self._other),
        )
        return Composite(self.size, ((Scene(tiles), Fraction(1)),))
