"""Where pictures beside each other lie in a frame, in whole even pixels."""

from dataclasses import dataclass

from yarnkite.core.base.frozen import Size, even_side
from yarnkite.core.reel.decisions import Area, Part

# The small picture in the corner, and how far it stays from the edges.
_SMALL, _EDGE = 0.3, 0.05


@dataclass(frozen=True)
class TileArea:
    """A rectangle of a frame in pixels."""

    left: int
    top: int
    size: Size


def areas(part: Part) -> list[Area]:
    """Return the rectangle of each picture of a part, in shares of the frame, the one at the back first."""
    count = len(part.pictures)
    match part.arrangement:
        case "halves":
            return _row(2, count)
        case "thirds":
            return _row(3, count)
        case "stacked":
            return [Area(left=0, top=number / 2, width=1, height=0.5) for number in range(2)][:count]
        case "quarters":
            corners = ((0.0, 0.0), (0.5, 0.0), (0.0, 0.5), (0.5, 0.5))
            return [Area(left=left, top=top, width=0.5, height=0.5) for left, top in corners][:count]
        case "corner":
            small = Area(left=1 - _SMALL - _EDGE, top=1 - _SMALL - _EDGE, width=_SMALL, height=_SMALL)
            return [_WHOLE, small][:count]
        case "free":
            return [picture.area or _WHOLE for picture in part.pictures]
    return [_WHOLE][:count]


_WHOLE = Area(left=0, top=0, width=1, height=1)


def _row(columns: int, count: int) -> list[Area]:
    return [Area(left=number / columns, top=0, width=1 / columns, height=1) for number in range(columns)][:count]


def tiles(part: Part, size: Size) -> list[TileArea]:
    """Return where each picture of a part lies in a frame of a size; neighbours meet, none is wider than the frame."""
    return [_place(area, size) for area in areas(part)]


def _place(area: Area, size: Size) -> TileArea:
    left, top = _even(area.left * size.width), _even(area.top * size.height)
    right, bottom = _even((area.left + area.width) * size.width), _even((area.top + area.height) * size.height)
    width, height = even_side(right - left), even_side(bottom - top)
    width, height = min(width, size.width), min(height, size.height)
    return TileArea(
        max(0, min(left, size.width - width)), max(0, min(top, size.height - height)), Size(width=width, height=height)
    )


def _even(pixels: float) -> int:
    return round(pixels / 2) * 2
