"""Comparing the frames of a finished clip, one after another, with the copies of what they should be."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import chain

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.likeness import coarser, parts_of, shift, similarity_map, tile_means
from yarnkite.core.image.pixels import EightBit

# Copies whose differences have a mean square above this, in steps of 8 bits, can be told from each other.
_TELLS_APART = 0.3
_NEARER = 0.25
_BLACK = 20
# No encoder is off by so much all over a sixteenth of a reduced frame; what is lost on the way is.
_DAMAGED = 12
_PART_BELOW = 0.4
# What is lost on the way to a file is lost both ways: no sixteenth of a frame becomes brighter or of another colour by
# more than its format says, and all of it does not move.
_MOVED_PX, _FAIR = 0.6, 23
# In a fade an encoder may go before or after it: as far as this towards a neighbour, and by no more than that.
_TOWARDS, _MOST_TOWARDS = 0.6, 5.0
# How far colour may be off here and there; and how much of a frame's colour may be, of its mean square, where there is
# some.
_OFF_COLOUR = 10
_SOME_COLOUR, _MOST_LOST, _USUAL = 4.0, 0.6, 2.5


@dataclass(frozen=True)
class Evidence:
    """How many frames were compared, the lowest likeness and at which frame, the mean, and what is wrong with which.

    ``anew`` of them were painted anew, to hold the rendering against.
    """

    frames: int = 0
    lowest: float = 1.0
    lowest_at: int = 0
    mean: float = 1.0
    faults: list[tuple[int, str]] = field(default_factory=list)
    anew: int = 0


def is_exact(encode: Encode) -> bool:
    """Tell whether decoding gives every picture back to the last step."""
    format = format_of(encode)
    # Pixels that go into another colour space and back are rounded twice.
    return format.is_lossless and (format.way != "numbered" or encode.profile == "sRGB")


class Comparison:
    """Takes decoded frames ``width`` wide in order; holds three copies at a time. Formats without loss give their
    pictures back to the last step.
    """

    def __init__(self, copies: Iterator[EightBit], encode: Encode, width: int) -> None:
        self._format, self._exact, self._width = format_of(encode), is_exact(encode), width
        # Rough encoders let slow movement lag behind by pixels.
        self._most_moved = _MOVED_PX * 2 ** max(0.0, (encode.crf - _FAIR) / 6 if self._format.has_quality else 0.0)
        self._copies = chain(copies, [None])
        self._before: EightBit | None = None
        self._own: EightBit | None = next(self._copies, None)
        self._after: EightBit | None = next(self._copies, None) if self._own is not None else None
        self._frames, self._sum = 0, 0.0
        self._lowest, self._lowest_at = 1.0, 0
        self._faults: list[tuple[int, str]] = []

    def compare(self, found: EightBit) -> None:
        """Compare the next frame, reduced as the copies are."""
        own = self._own
        if own is None:
            # Frames beyond the last one are counted by who decodes.
            return
        if own.shape != found.shape:
            self._note("another size", 0.0)
        else:
            likeness = similarity_map(parts_of(own)[0], parts_of(found)[0])
            mean = 1.0 if np.array_equal(own, found) else min(float(likeness.mean()), 0.9999)
            self._note(self._fault(own, found, mean, likeness), mean)
        self._before, self._own = own, self._after
        self._after = next(self._copies, None) if self._after is not None else None

    def result(self) -> Evidence:
        """Return what was found once all frames are compared."""
        mean = self._sum / self._frames if self._frames else 1.0
        return Evidence(self._frames, self._lowest, self._lowest_at, mean, self._faults)

    def _note(self, fault: str, mean: float) -> None:
        if fault:
            self._faults.append((self._frames, fault))
        if mean < self._lowest:
            self._lowest, self._lowest_at = mean, self._frames
        self._sum += mean
        self._frames += 1

    def _fault(self, own: EightBit, found: EightBit, mean: float, likeness: NDArray[np.float32]) -> str:
        if self._exact:
            return "" if mean >= 1.0 else "not exactly its picture"
        (own, *own_colours), (found, *found_colours) = parts_of(own), parts_of(found)
        off = _off(own, found)
        for other, which in ((self._before, "before"), (self._after, "after")):
            # An encoder that leaves out what hardly changes comes near a neighbour, never much nearer than to its own.
            other = None if other is None else parts_of(other)[0]
            if other is not None and _off(own, other) > _TELLS_APART and _off(other, found) < off * _NEARER:
                return f"the picture of the frame {which} it"
        if float(found.mean()) < _BLACK <= float(own.mean()):
            return "black"
        floor = self._format.likeness_floor
        own_coarse, found_coarse = (coarser(one, self._width) for one in (own, found))
        if own_coarse is not own:
            likeness = similarity_map(own_coarse, found_coarse)
        if (seen := float(likeness.mean())) < floor:
            return f"a likeness of {seen:.3f} only"
        worst = max(tile_means(np.abs(own_coarse.astype(np.float32) - found_coarse)))
        if worst > _DAMAGED:
            return f"a part that is off by {worst:.0f} steps of 255"
        beside = [parts_of(one)[0] for one in (self._before, self._after) if one is not None]
        if brighter := _unlike_any(own, found, beside, self._format.within):
            return f"a part that is {'darker' if brighter > 0 else 'brighter'} by {abs(brighter):.1f} steps of 255"
        moved = max(shift(own, found)) * max(1, self._width // own.shape[1])
        if moved > self._most_moved:
            return f"its picture moved by {moved:.1f} pixels"
        lowest = min(tile_means(likeness))
        if lowest < floor - _PART_BELOW:
            return f"a part with a likeness of {lowest:.3f} only"
        coloured, seen_coloured = (
            [coarser(one, self._width) for one in colours] for colours in (own_colours, found_colours)
        )
        return _colour_fault(coloured, seen_coloured, self._format.within)


def _unlike_any(own: EightBit, found: EightBit, beside: Sequence[EightBit], within: float) -> float:
    """Return by how much a part is darker (negative: brighter) than its own, the most of all that go towards no
    neighbour; 0 where no such part is off by more than ``within``.
    """
    mine = own.astype(np.float32)
    off = np.array(tile_means(mine - found))
    wrong = np.abs(off) > within
    if not wrong.any():
        return 0.0
    for other in beside:
        way = np.array(tile_means(mine - other))
        wrong &= ~((off * way > 0) & (np.abs(off) <= np.minimum(_TOWARDS * np.abs(way), _MOST_TOWARDS)))
    return float(max(off[wrong].tolist(), key=abs, default=0.0))


def _colour_fault(own: Sequence[EightBit], found: Sequence[EightBit], within: float) -> str:
    """Say what is wrong with the colour of a frame: with a part of it, or with how much there is of it, and where it
    points."""
    for mine, its in zip(own, found, strict=True):
        apart = mine.astype(np.float32) - its
        if (worst := max(tile_means(np.abs(apart)))) > _OFF_COLOUR + 2 * (within - _USUAL):
            return f"a part whose colour is off by {worst:.0f} steps of 255"
        if (other := max(map(abs, tile_means(apart)))) > within:
            return f"a part whose colour is another by {other:.1f} steps of 255"
    strength = sum(_off(mine, np.full_like(mine, 128)) for mine in own)
    lost = sum(_off(mine, its) for mine, its in zip(own, found, strict=True))
    some = _SOME_COLOUR * (within / _USUAL) ** 2
    return "its colour is another" if strength > some and lost > strength * _MOST_LOST else ""


def _off(one: EightBit, other: EightBit) -> float:
    """Return the mean square of the differences of two copies, in steps of 8 bits."""
    return float(np.square(one.astype(np.float32) - other).mean())
