"""Dimensions: the shapes and sizes a clip can have, and what a size that looks like a slip was probably meant to be."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.base.frozen import LARGEST_SIDE, SMALLEST_SIDE, Size, even_side


@dataclass(frozen=True)
class AspectRatio:
    """A shape by its name, and the sizes people use it in, small to large."""

    name: str
    sizes: tuple[tuple[int, int], ...]


SHAPES = (
    AspectRatio("16:9", ((1280, 720), (1920, 1080), (2560, 1440), (3840, 2160), (7680, 4320))),
    AspectRatio("9:16", ((720, 1280), (1080, 1920), (1440, 2560), (2160, 3840))),
    AspectRatio("1:1", ((1080, 1080), (1440, 1440), (2160, 2160))),
    AspectRatio("4:5", ((1080, 1350), (1440, 1800), (2160, 2700))),
    AspectRatio("4:3", ((960, 720), (1440, 1080), (2880, 2160), (4000, 3000))),
    AspectRatio("3:2", ((1080, 720), (1620, 1080), (3240, 2160), (6000, 4000))),
    AspectRatio("2.39:1", ((1720, 720), (2048, 858), (2582, 1080), (4096, 1716), (5164, 2160))),
    AspectRatio("1.90:1", ((2048, 1080), (4096, 2160))),
)
_USUAL_SHORT_SIDES = (720, 1080, 1440, 2160, 4320)
_NEAR = 0.03
# What coding in blocks of 16 made of 1080, and similar: such numbers are read off from files, not chosen.
_PADDED = {1088: 1080, 1936: 1920, 2176: 2160, 736: 720}


@dataclass(frozen=True)
class Advice:
    """What is odd about a size, and the sizes that were probably meant; ``usable`` says whether one may insist."""

    usable: bool
    sentence: str
    meant: tuple[Size, ...]


def as_shot(width: int, height: int) -> AspectRatio:
    """Return the shape of the stills themselves, in sizes up to their own."""
    sizes = []
    for short in (*_USUAL_SHORT_SIDES, min(width, height)):
        scale = Fraction(short, min(width, height))
        size = even_side(width * scale), even_side(height * scale)
        if scale <= 1 and max(size) <= LARGEST_SIDE and size not in sizes:
            sizes.append(size)
    return AspectRatio("as shot", tuple(sizes))


def advice(width: int, height: int, still: tuple[int, int] | None = None) -> Advice | None:
    """Say whether a size looks like a slip; ``None`` if it does not.

    ``still`` is the upright width and height of the stills, whose own shape is never a slip.
    """
    if max(width, height) > LARGEST_SIDE:
        scale = Fraction(LARGEST_SIDE, max(width, height))
        fits = _sizes([(int(width * scale) // 2 * 2, int(height * scale) // 2 * 2)])
        return Advice(False, f"A side may have up to {LARGEST_SIDE:,} pixels.", fits)
    if min(width, height) < SMALLEST_SIDE:
        return Advice(False, f"A side needs at least {SMALLEST_SIDE} pixels.", _sizes(_known_near(width, height)))
    if width % 2 or height % 2:
        return Advice(
            False,
            f"{width} × {height} has an odd side. Colour in a video is "
            "stored for two pixels at a time, so both sides must be even.",
            _sizes([*_known_near(width, height), (even_side(width), even_side(height))])[:2],
        )
    if (width, height) in _every_known() or (still and (width, height) in as_shot(*still).sizes):
        return None
    near = [*_known_near(width, height)]
    if near:
        padded = [side for side in (width, height) if side in _PADDED]
        why = f"{padded[0]} is {_PADDED[padded[0]]} filled up to whole blocks" if padded else "it is off by a little"
        name = " × ".join(map(str, near[0]))
        return Advice(
            True, f"{width} × {height} looks like {name}: {why}. Players and editors expect that.", _sizes(near[:2])
        )
    if min(width, height) < 240:
        return Advice(True, f"{width} × {height} is very small: on most screens it will look soft.", ())
    return None


def _every_known() -> set[tuple[int, int]]:
    return {size for shape in SHAPES for size in shape.sizes}


def _known_near(width: int, height: int) -> Iterator[tuple[int, int]]:
    def distance(size: tuple[int, int]) -> float:
        return abs(size[0] / width - 1) + abs(size[1] / height - 1)

    known = sorted(_every_known(), key=distance)
    yield from (one for one in known if max(abs(one[0] / width - 1), abs(one[1] / height - 1)) <= _NEAR)


def _sizes(found: list[tuple[int, int]] | Iterator[tuple[int, int]]) -> tuple[Size, ...]:
    usable = (one for one in dict.fromkeys(found) if min(one) >= SMALLEST_SIDE and max(one) <= LARGEST_SIDE)
    return tuple(Size(width=width, height=height) for width, height in usable)
