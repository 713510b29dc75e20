"""Lettering: lines of text as a picture of their coverage, shaped for any script, in typefaces that come as Debian
packages."""

import unicodedata
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Literal, get_args

import numpy as np
from fontTools.ttLib import TTFont
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFont

from yarnkite.core.base.errors import Refusal

Face = Literal["plain", "narrow", "book", "slab", "round", "slender", "typewriter"]
Alignment = Literal["left", "middle", "right"]
Coverage = NDArray[np.uint8]

_FOLDER = Path("/usr/share/fonts")
FILES: dict[Face, str] = {
    "plain": "truetype/open-sans/OpenSans-Semibold.ttf",
    "narrow": "truetype/open-sans/OpenSans-CondBold.ttf",
    "book": "opentype/ebgaramond/EBGaramond12-Regular.otf",
    "slab": "opentype/roboto/slab/RobotoSlab-Regular.otf",
    "round": "truetype/comfortaa/Comfortaa-Regular.ttf",
    "slender": "opentype/jura/Jura-Medium.otf",
    "typewriter": "truetype/dejavu/DejaVuSansMono.ttf",
}
# What a face has no letters for is taken from the first of these that has.
_OTHERS = (
    "truetype/dejavu/DejaVuSans.ttf",
    *(
        f"truetype/noto/NotoSans{script}-Regular.ttf"
        for script in ("Arabic", "Hebrew", "Devanagari", "Thai", "Armenian", "Georgian", "Symbols", "Symbols2", "Math")
    ),
)
FACES: tuple[Face, ...] = get_args(Face)
LINE_HEIGHT = 1.25
_LARGEST_PX = 2000
_WIDEST_PX = 16_384


@dataclass(frozen=True)
class Lettering:
    """The coverage of some lines, shape (height, width), 0 … 255, and the size of one line in pixels."""

    coverage: Coverage
    line_px: float


@dataclass(frozen=True)
class _Run:
    """Letters of a line that one font draws in one direction."""

    text: str
    font: str
    is_right_to_left: bool


def typefaces() -> list[Path]:
    """Return the files of all typefaces that letters are drawn in."""
    return [Path(_file(name)) for name in (*FILES.values(), *_OTHERS)]


def lettering(lines: tuple[str, ...], face: Face, size_px: float, alignment: Alignment) -> Lettering:
    """Return lines of text as their coverage.

    Parameters
    ----------
    lines : text, shaped as its script asks, right to left where its first letter does
    face : the typeface; letters it has not come from others
    size_px : the size of the type in pixels, up to 2,000
    alignment : how lines of unlike length lie

    Raises
    ------
    Refusal (``no_typefaces``) if the typefaces are not installed
    """
    size_px = min(max(1.0, size_px), _LARGEST_PX)
    rows = [_line(line, face, size_px) for line in lines]
    step = size_px * LINE_HEIGHT
    width = min(_WIDEST_PX, max((row.shape[1] for row in rows), default=1))
    height = max(1, round(step * len(rows)))
    coverage = np.zeros((height, width), np.uint8)
    for number, row in enumerate(rows):
        row = row[:, :width]
        room = width - row.shape[1]
        left = {"left": 0, "middle": room // 2, "right": room}[alignment]
        top = round(step * number)
        part = coverage[top : top + row.shape[0], left : left + row.shape[1]]
        np.maximum(part, row[: part.shape[0]], out=part)
    return Lettering(coverage, step)


def missing(text: str, face: Face) -> str:
    """Return the letters that no typeface at hand has, each once."""
    return "".join(dict.fromkeys(letter for letter in text if _font_for(letter, face, "") is None))


def _line(text: str, face: Face, size_px: float) -> Coverage:
    """Return the coverage of one line, as high as a line."""
    height = max(1, round(size_px * LINE_HEIGHT))
    runs = _runs(text, face)
    if not runs:
        return np.zeros((height, 1), np.uint8)
    fonts = [_font(run.font, size_px) for run in runs]
    lengths = [
        font.getlength(run.text, direction="rtl" if run.is_right_to_left else "ltr")
        for run, font in zip(runs, fonts, strict=True)
    ]
    # Letters may reach beyond where they begin and end.
    margin = size_px * 0.25
    width = min(_WIDEST_PX, int(np.ceil(sum(lengths) + 2 * margin)))
    picture = Image.new("L", (max(1, width), height))
    draw = ImageDraw.Draw(picture)
    baseline = round(size_px * 0.95)
    at = margin
    for run, font, length in zip(runs, fonts, lengths, strict=True):
        direction = "rtl" if run.is_right_to_left else "ltr"
        draw.text((at, baseline), run.text, fill=255, font=font, anchor="ls", direction=direction)
        at += length
    return np.asarray(picture, np.uint8)


def _runs(text: str, face: Face) -> list[_Run]:
    """Cut a line into runs of one font and direction, in the order they stand from left to right."""
    found: list[_Run] = []
    backwards = False
    for letter in text:
        kind = unicodedata.bidirectional(letter)
        if kind in ("R", "AL"):
            backwards = True
        elif kind == "L":
            backwards = False
        before = found[-1] if found else None
        font = _font_for(letter, face, before.font if before else "") or _file(FILES[face])
        if before and before.font == font and before.is_right_to_left == backwards:
            found[-1] = _Run(before.text + letter, font, backwards)
        else:
            found.append(_Run(letter, font, backwards))
    return found[::-1] if _is_right_to_left(text) else _within(found)


def _within(runs: list[_Run]) -> list[_Run]:
    """Return runs of a line from left to right; neighbours that go from right to left change places."""
    ordered: list[_Run] = []
    group: list[_Run] = []
    for run in [*runs, None]:
        if run is not None and run.is_right_to_left:
            group.append(run)
            continue
        ordered += group[::-1]
        group = []
        if run is not None:
            ordered.append(run)
    return ordered


def _is_right_to_left(text: str) -> bool:
    """Tell the direction of a line by its first letter that has one (Unicode TR 9, P2 and P3)."""
    first = next((unicodedata.bidirectional(letter) for letter in text if _is_strong(letter)), "L")
    return first in ("R", "AL")


def _is_strong(letter: str) -> bool:
    return unicodedata.bidirectional(letter) in ("L", "R", "AL")


def _font_for(letter: str, face: Face, before: str) -> str | None:
    """Return the font a letter is drawn with: that of the letter before, if it has it, else the face's own or
    another."""
    own = _file(FILES[face])
    code = ord(letter)
    if letter.isspace() or unicodedata.category(letter) in ("Mn", "Me", "Cf"):
        return before or own
    for font in (own, before, *(_file(other) for other in _OTHERS)):
        if font and code in _letters(font):
            return font
    return None


@lru_cache(maxsize=32)
def _letters(file: str) -> frozenset[int]:
    try:
        with TTFont(file, lazy=True) as font:
            return frozenset(font.getBestCmap())
    except OSError:
        return frozenset()


@lru_cache(maxsize=64)
def _font(file: str, size_px: float) -> ImageFont.FreeTypeFont:
    try:
        return ImageFont.truetype(file, round(size_px, 2), layout_engine=ImageFont.Layout.RAQM)
    except OSError:
        raise Refusal(
            "no_typefaces",
            f"The typeface {Path(file).name} is not installed. Start "
            "the program by ./run, which installs what is missing.",
        ) from None


def _file(name: str) -> str:
    return str(_FOLDER / name)
