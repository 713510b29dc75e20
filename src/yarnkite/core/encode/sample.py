"""A sample of a clip's frames, painted anew: what was rendered is held against pictures that owe nothing to its
rendering.

Each is made by a painter of its own, from the original files and by way of RGB, whatever way the rendering took.
"""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from itertools import groupby, pairwise

import numpy as np

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.frozen import digest
from yarnkite.core.encode.chunk import finished, painter_for
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.likeness import coarser, parts_of, tile_means
from yarnkite.core.image.decode import Read, read_still
from yarnkite.core.image.pixels import EightBit
from yarnkite.core.render.composite import Composite, Spec
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.core.render.picture import size_of

LEAST = 4
_A_FRAME_MORE_IN = 1500
_MOST_BORDERS = _MOST_STRETCHES = 4
# The ways of a rendering differ by rounding: reduced copies by less than this all over a sixteenth of a frame.
_ANOTHER = 2.5


@dataclass(frozen=True)
class Sampled:
    """A frame of a clip that is to be painted anew: its number from 0, and what it is."""

    frame: int
    spec: Spec


def sample_of(source: FrameSource, mark: str) -> list[Sampled]:
    """Choose frames of a source, at least four where it has so many: the first and the last, those at borders, one amid
    those that are made alike, with the same titles for instance, and others that ``mark`` chooses, so that the same
    clip has the same sample.
    """
    count = len(source)
    chosen = {0, count - 1} if count else set()
    chosen |= set(_amid_stretches(source))
    borders = [one for one in source.borders if 0 < one < count]
    step = max(1, -(-len(borders) // _MOST_BORDERS))
    chosen |= {frame for border in borders[::step] for frame in (border - 1, border)}
    wanted = min(count, max(LEAST + count // _A_FRAME_MORE_IN, len(chosen) + 1))
    turn = 0
    while len(chosen) < wanted:
        chosen.add(int(digest(mark, turn), 16) % count)
        turn += 1
    return [Sampled(frame, source.spec(frame)) for frame in sorted(chosen)]


def _amid_stretches(source: FrameSource) -> list[int]:
    """Return a frame in the middle of each stretch of frames that are made alike, of a few of them; none where all
    are."""
    ends = [0]
    for _, alike in groupby(range(len(source)), key=lambda frame: _made_of(source.spec(frame))):
        ends.append(ends[-1] + sum(1 for _ in alike))
    if len(ends) <= 2:
        return []
    middles = [(first + end) // 2 for first, end in pairwise(ends)]
    return middles[:: -(-len(middles) // _MOST_STRETCHES)]


def _made_of(spec: Spec) -> Hashable:
    """Return what goes into a frame, whatever is shown of it at this moment."""
    if not isinstance(spec, Composite):
        return spec.finish.size, spec.moving
    return (
        tuple((tile.left, tile.top) for scene, _ in spec.scenes for tile in scene.tiles),
        tuple((one.x, one.y, one.anchor) for one in spec.overlays),
        spec.fade and spec.fade[0],
    )


def painted_anew(sample: Sequence[Sampled], encode: Encode, *, read: Read = read_still) -> dict[int, EightBit]:
    """Return the copies of a sample's frames, painted anew; a frame whose still is not there is left out."""
    format = format_of(encode)
    found = {}
    for one in sample:
        painter = painter_for(encode, size_of(one.spec), read)
        try:
            found[one.frame] = finished(painter.picture(one.spec), encode, format).copy
        except UnreadableStill as refusal:
            if refusal.code != "lost":
                raise
    return found


def differing(copy: EightBit, anew: EightBit, width: int) -> str:
    """Say how the copy of a frame that was rendered, ``width`` pixels wide, differs from that of the frame painted
    anew, or nothing.

    The two ways to colour differ from sample to sample where a small still is nothing but grain of colour.
    """
    if copy.shape != anew.shape:
        return "another size than the frame painted anew"
    for what, one, other in zip(("", "colour of the ", "colour of the "), parts_of(copy), parts_of(anew), strict=True):
        if what:
            one, other = coarser(one, width), coarser(other, width)
        if (worst := max(tile_means(np.abs(one.astype(np.float32) - other)))) > _ANOTHER:
            return f"off by {worst:.1f} steps of 255 in the {what}frame painted anew"
    return ""
