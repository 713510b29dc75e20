"""Tables of colours: what becomes of every colour, at the corners of a grid, and between them by tetrahedra.

Between corners the tetrahedra of Sakamoto and Itooka (1981) are used: greys lie on an edge that all of them share, so a
table that leaves greys alone leaves them exactly alone.
"""

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import SixteenBit
from yarnkite.core.light.grade import GradeNumbers
from yarnkite.core.light.oklab import from_oklab, hue_distance, hue_of, to_oklab

Nodes = NDArray[np.float64]
Table = NDArray[np.float32]

SIDE = 33
# Colours this weak, in Oklab, are only partly of their hue: greys have none, and do not change with it.
_GREYISH = 0.05
_MUTED = 0.12
_LIGHTNESS = 0.25
_TINT = 0.06


def has_table(grade: GradeNumbers) -> bool:
    """Tell whether a grade does what only a table of colours can."""
    tints = grade.dark_warmth or grade.dark_tint or grade.bright_warmth or grade.bright_tint
    return bool(grade.hues or grade.muted or grade.monochrome or tints)


def identity(side: int = SIDE) -> Nodes:
    """Return the colours at the corners of the grid, shape (side, side, side, 3): red, green, blue rising."""
    steps = np.linspace(0, 1, side)
    return np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), axis=-1)


def table_of(grade: GradeNumbers, other: Nodes | None = None, strength: float = 0.0) -> Table:
    """Return what a grade makes of every colour, and then, so far as ``strength`` says, another table of it.

    Parameters
    ----------
    grade : its hues, its muted colours, its tints, and whether it is monochrome
    other : sRGB code values 0 … 1 at the corners of a grid, shape (n, n, n, 3)

    Returns
    -------
    code values of 16 bits, shape (m, m, m, 4), the last one 0; m is 33, or n if that is more
    """
    side = max(SIDE, len(other)) if other is not None and strength else SIDE
    colours = graded_colours(grade, identity(side), other, strength)
    table = np.zeros((side, side, side, 4), np.float32)
    table[..., :3] = np.clip(colours, 0, 1) * 65535
    return table


def graded_colours(grade: GradeNumbers, colours: Nodes, other: Nodes | None = None, strength: float = 0.0) -> Nodes:
    """Return what ``table_of`` has at the corners of its grid of any colours, code values 0 … 1, shape (…, 3)."""
    graded = _graded(grade, colours)
    return graded if other is None or not strength else graded + strength * (sampled(other, graded) - graded)


def _graded(grade: GradeNumbers, colours: Nodes) -> Nodes:
    if not has_table(grade):
        return colours
    lab = to_oklab(colours)
    lightness, colour, hue = lab[..., 0], np.hypot(lab[..., 1], lab[..., 2]), hue_of(lab)
    of_hue = colour**2 / (colour**2 + _GREYISH**2)
    turn, more, lifted = np.zeros_like(hue), np.ones_like(hue), np.zeros_like(hue)
    for pull in grade.hues:
        share = _near(hue_distance(hue, pull.hue), pull.width)
        turn += share * pull.turn
        more *= 1 + share * pull.colour
        lifted += share * pull.lightness * _LIGHTNESS * of_hue
    if grade.muted:
        more *= 1 + grade.muted * np.exp(-((colour / _MUTED) ** 2))
    angle, reach = np.radians(hue + turn), colour * more * (not grade.monochrome)
    # At black and white there is no room to be lighter or darker; towards them a change thins out.
    lightness = lightness + lifted * 4 * lightness * (1 - lightness)
    toned = np.stack([lightness, reach * np.cos(angle), reach * np.sin(angle)], axis=-1)
    return from_oklab(_tinted(toned, grade))


def _near(distance: Nodes, width: float) -> Nodes:
    """Return 1 at a hue, 0 from ``width`` degrees on, smoothly."""
    return np.asarray(0.5 + 0.5 * np.cos(np.pi * np.minimum(distance / width, 1.0)))


def _tinted(lab: Nodes, grade: GradeNumbers) -> Nodes:
    """Return colours with dark and bright ones leaning their way; black and white themselves stay."""
    lightness = lab[..., 0]
    room = np.minimum(1, 12 * lightness) * np.minimum(1, 12 * (1 - lightness))
    dark, bright = room * (1 - lightness) ** 2, room * lightness**2
    warm = dark * grade.dark_warmth + bright * grade.bright_warmth
    red = dark * grade.dark_tint + bright * grade.bright_tint
    # Warm is towards yellow and a little red, tint across it, towards magenta.
    result = lab.copy()
    result[..., 1] += _TINT * (0.35 * warm + 0.8 * red)
    result[..., 2] += _TINT * (0.94 * warm - 0.35 * red)
    return result


def sampled(table: Nodes, colours: Nodes) -> Nodes:
    """Return what a table makes of colours, by tetrahedra.

    Parameters
    ----------
    table : shape (n, n, n, 3)
    colours : code values 0 … 1, shape (…, 3)

    Returns
    -------
    shape as ``colours``
    """
    last = len(table) - 1
    at = np.clip(colours, 0, 1) * last
    corner = np.minimum(at.astype(int), last - 1)
    share = at - corner
    order = np.argsort(-share, axis=-1, kind="stable")
    parts = np.take_along_axis(share, order, axis=-1)
    place = corner.copy()
    result = (1 - parts[..., :1]) * table[tuple(np.moveaxis(place, -1, 0))]
    for step in range(3):
        np.put_along_axis(
            place, order[..., step : step + 1], np.take_along_axis(place, order[..., step : step + 1], -1) + 1, -1
        )
        after = parts[..., step + 1 : step + 2] if step < 2 else 0.0
        result = result + (parts[..., step : step + 1] - after) * table[tuple(np.moveaxis(place, -1, 0))]
    return np.asarray(result)


def apply_table(codes: SixteenBit, table: Table) -> None:
    """Lead every colour of a picture through a table, in place.

    Parameters
    ----------
    codes : RGB, shape (height, width, 3), contiguous
    table : as ``table_of`` returns it
    """
    _apply(codes.reshape(codes.shape[0], -1), table.reshape(-1), len(table))


# Unsigned indices spare the compiler a test for negative ones; a corner of the table has four samples.
@njit(nogil=True, cache=True, fastmath=True)
def _apply(codes, table, side):  # type: ignore[no-untyped-def]
    by_blue, by_green, by_red = np.uint32(4), np.uint32(4 * side), np.uint32(4 * side * side)
    opposite = np.uint32(by_red + by_green + by_blue)
    step = np.float32((side - 1) / 65535)
    one, half, most = np.float32(1), np.float32(0.5), np.float32(65535)
    top = np.uint32(side - 2)
    count = codes.shape[1] // 3
    first, second, third = np.empty(count, np.uint32), np.empty(count, np.uint32), np.empty(count, np.uint32)
    shares = np.empty((4, count), np.float32)
    share0, share1, share2, share3 = shares[0], shares[1], shares[2], shares[3]
    for y in range(codes.shape[0]):
        row = codes[y]
        for x in range(count):
            p = np.uintp(3 * x)
            red_at = np.float32(row[p]) * step
            green_at = np.float32(row[p + np.uintp(1)]) * step
            blue_at = np.float32(row[p + np.uintp(2)]) * step
            red, green, blue = min(np.uint32(red_at), top), min(np.uint32(green_at), top), min(np.uint32(blue_at), top)
            r, g, b = red_at - np.float32(red), green_at - np.float32(green), blue_at - np.float32(blue)
            high, low = max(max(r, g), b), min(min(r, g), b)
            middle = r + g + b - high - low
            # From a corner to the one opposite: along the largest share first, along the smallest last.
            along_high = by_red if r == high else (by_green if g == high else by_blue)
            along_low = by_blue if b == low else (by_green if g == low else by_red)
            at = red * by_red + green * by_green + blue * by_blue
            first[x], second[x], third[x] = at, at + along_high, at + opposite - along_low
            share0[x], share1[x], share2[x], share3[x] = one - high, high - middle, middle - low, low
        for x in range(count):
            p = np.uintp(3 * x)
            a, b0, c = np.uintp(first[x]), np.uintp(second[x]), np.uintp(third[x])
            d = np.uintp(first[x] + opposite)
            s0, s1, s2, s3 = share0[x], share1[x], share2[x], share3[x]
            for channel in range(3):
                q = np.uintp(channel)
                value = s0 * table[a + q] + s1 * table[b0 + q] + s2 * table[c + q] + s3 * table[d + q]
                row[p + q] = np.uint16(min(value + half, most))
