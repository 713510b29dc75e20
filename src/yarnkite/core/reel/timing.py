"""When each part of a reel begins and how long it lasts: exact, in frames of the reel."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.reel.decisions import Part, Picture, Reel

# Rates that differ by less than this are those of one world counted in two ways, as 30 and 29.97.
_NEARLY = Fraction(1, 500)


@dataclass(frozen=True)
class ClipRange:
    """Frames ``first … first + frames - 1`` of a shot's clip, whose rate is ``rate``."""

    first: int
    frames: int
    rate: Fraction


@dataclass(frozen=True)
class Span:
    """A part on the reel: its frames ``start … start + frames - 1``.

    ``over`` is how many of its last frames it shares with the next part, in a dissolve; ``dip`` how many frames before
    and after the border go to a colour and come back.
    """

    start: int
    frames: int
    over: int = 0
    dip: int = 0

    @property
    def end(self) -> int:
        return self.start + self.frames


def one_for_one(reel: Reel, rate: Fraction) -> bool:
    """Tell whether each frame of a clip of a rate is one of the reel's."""
    return reel.timing == "frames" or abs(rate / reel.rate - 1) < _NEARLY


def lasts(reel: Reel, stretch: ClipRange) -> int:
    """Return how many frames of the reel a stretch of a clip takes."""
    if one_for_one(reel, stretch.rate):
        return stretch.frames
    return max(1, round(stretch.frames * reel.rate / stretch.rate)) if stretch.frames else 0


def clip_frame(reel: Reel, stretch: ClipRange, frame: int) -> int:
    """Return which frame of its clip a stretch shows in its ``frame``-th frame on the reel."""
    if one_for_one(reel, stretch.rate):
        return stretch.first + frame
    return stretch.first + min(stretch.frames - 1, int(frame * stretch.rate / reel.rate))


def length_of(reel: Reel, part: Part, stretches: Sequence[ClipRange | None]) -> int:
    """Return how many frames a part lasts; a picture whose shot is not there counts for nothing."""
    own = [
        picture.wait + lasts(reel, stretch)
        for picture, stretch in zip(part.pictures, stretches, strict=True)
        if stretch is not None and stretch.frames
    ]
    whole = max(own, default=0)
    if part.frames is None or not whole:
        return whole
    goes_on = any(picture.after != "nothing" for picture in part.pictures)
    return part.frames if goes_on else min(part.frames, whole)


def spans(reel: Reel, lengths: Sequence[int]) -> list[Span]:
    """Return where each part lies, given how long each lasts.

    A dissolve is at most as long as leaves each of its parts a frame of its own; one that touches a part of no length
    is a cut.
    """
    found: list[Span] = []
    start = 0
    taken = 0
    for number, (part, frames) in enumerate(zip(reel.parts, lengths, strict=True)):
        following = next((one for one in lengths[number + 1 :] if one), 0)
        over = dip = 0
        if frames and following and part.join.kind == "dissolve":
            over = max(0, min(part.join.frames, frames - taken - 1, following - 1))
        elif frames and following and part.join.kind == "dip":
            dip = max(0, min(part.join.frames // 2, frames - taken, following))
        found.append(Span(start, frames, over, dip))
        if frames:
            start += frames - over
            taken = over
    return found


def is_over(reel: Reel, picture: Picture, stretch: ClipRange, frame: int) -> int | None:
    """Return which frame of its stretch a picture shows in a frame of its part, ``None`` for nothing.

    It waits on its first frame; when it is over it is held, begins again, or is gone.
    """
    if not stretch.frames:
        return None
    own, at = lasts(reel, stretch), frame - picture.wait
    if at < own:
        return max(0, at)
    if picture.after == "nothing":
        return None
    return at % own if picture.after == "loop" else own - 1
