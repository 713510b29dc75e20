"""Surface: contrast among neighbours, haze, and fringes of colour, on code values of 16 bits.

What is near and far in a picture is told by an edge-keeping mean, the guided filter (He, Sun and Tang 2013), from a
reduced copy of the luma (He and Sun 2015), so that no halos lie beside edges and large radii cost no more than small
ones.
"""

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import SixteenBit

Plane = NDArray[np.float32]

# Radii in shares of the picture's width, and how much contrast counts as an edge, in code values 0 … 1.
_FINE, _COARSE, _HAZE = 0.006, 0.04, 0.02
_FINE_EDGE, _COARSE_EDGE = 0.08, 0.12
_FINE_MOST, _COARSE_MOST = 1.6, 0.9
_REDUCED_WIDTH = 400
_HAZE_REDUCED_WIDTH = 320
# Never is all of the haze taken: what is far away looks far.
_HAZE_MOST = 0.9
_FRINGE_REACH = 3.0
_FRINGE_EDGE = 0.22


def with_contrast(codes: SixteenBit, fine: float, coarse: float, whole: int = 0) -> SixteenBit:
    """Return a picture with more or less contrast among neighbours, near and far.

    Parameters
    ----------
    codes : RGB, shape (height, width, 3)
    fine, coarse : -1 … 1, below 0 smoother
    whole : the width of the picture it is a part of

    Returns
    -------
    the same shape; hue and saturation stay
    """
    if not fine and not coarse:
        return codes
    small = _small_luma(codes, _REDUCED_WIDTH, whole)
    # What each scale adds is a share of the luma less an offset, so that both together are one such pair.
    share, offset = np.zeros_like(small), np.zeros_like(small)
    for amount, reach, edge in (
        (fine * _FINE_MOST, _FINE, _FINE_EDGE),
        (coarse * _COARSE_MOST, _COARSE, _COARSE_EDGE),
    ):
        if amount:
            kept, besides = _edge_kept(small, _reach(reach, _REDUCED_WIDTH, codes, whole), edge**2)
            share += np.float32(amount) * (1 - kept)
            offset += np.float32(amount) * besides
    result = np.empty_like(codes)
    width = codes.shape[1]
    _lifted(_rows_of(codes), _widened(share, width), _widened(offset, width), _rows_of(result))
    return result


def without_haze(codes: SixteenBit, haze: float, whole: int = 0) -> SixteenBit:
    """Return a picture with its haze thinned, or, below 0, thickened: by the dark channel (He, Sun and Tang 2011).

    Parameters
    ----------
    codes : RGB, shape (height, width, 3)
    haze : -1 … 1
    whole : the width of the picture it is a part of

    Returns
    -------
    the same shape
    """
    if not haze:
        return codes
    small = _small(codes, _HAZE_REDUCED_WIDTH, whole)
    reach = _reach(_HAZE, _HAZE_REDUCED_WIDTH, codes, whole)
    square = np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)
    # As dark as it gets among neighbours: only haze makes that bright.
    veil = np.asarray(cv2.erode(np.ascontiguousarray(small.min(axis=2)), square), np.float32)
    guide = small @ _LUMA
    share, offset = _guided(guide, veil, 2 * reach, 0.02**2)
    result = np.empty_like(codes)
    width, amount = codes.shape[1], np.float32(haze * _HAZE_MOST)
    _unveiled(_rows_of(codes), _widened(share, width), _widened(offset, width), amount, _rows_of(result))
    return result


def without_fringes(codes: SixteenBit, amount: float, scale: float) -> SixteenBit:
    """Return a picture with less of the purple and green that lenses put beside hard edges.

    Parameters
    ----------
    codes : RGB, shape (height, width, 3)
    amount : 0 … 1 of the colour goes
    scale : pixels of the picture for each of the clip

    Returns
    -------
    the same shape; only what is purple or green, and beside a hard edge, changes
    """
    if not amount:
        return codes
    luma = _luma(codes)
    side = 2 * max(1, round(_FRINGE_REACH * scale)) + 1
    square = np.ones((side, side), np.uint8)
    edge = cv2.subtract(cv2.dilate(luma, square), cv2.erode(luma, square))
    result = codes.copy()
    _paled(result, luma, edge, np.float32(amount), np.float32(_FRINGE_EDGE * 65535))
    return result


_LUMA: Plane = np.array([0.299, 0.587, 0.114], np.float32)


def _luma(codes: SixteenBit) -> SixteenBit:
    return np.asarray(cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY), np.uint16)


def _small(codes: SixteenBit, width: int, whole: int) -> Plane:
    """Return a picture as shares 0 … 1, reduced by as much as makes the whole it is a part of so wide."""
    by = min(1.0, width / (whole or codes.shape[1]))
    size = max(1, round(codes.shape[1] * by)), max(1, round(codes.shape[0] * by))
    small = cv2.resize(codes, size, interpolation=cv2.INTER_AREA)
    return np.asarray(small, np.float32) * np.float32(1 / 65535)


def _small_luma(codes: SixteenBit, width: int, whole: int) -> Plane:
    return np.asarray(_small(codes, width, whole) @ _LUMA, np.float32)


def _reach(share: float, width: int, codes: SixteenBit, whole: int) -> int:
    """Return how many pixels of the reduced picture a share of the whole one's width is."""
    return max(1, round(share * min(width, whole or codes.shape[1])))


def _widened(plane: Plane, width: int) -> Plane:
    """Return a small plane drawn out to the width of the picture; down it is drawn out row by row."""
    drawn = cv2.resize(plane, (width, plane.shape[0]), interpolation=cv2.INTER_LINEAR)
    return np.asarray(drawn, np.float32)


def _rows_of(codes: SixteenBit) -> SixteenBit:
    return np.ascontiguousarray(codes).reshape(codes.shape[0], -1)


def _edge_kept(plane: Plane, reach: int, edge: float) -> tuple[Plane, Plane]:
    """Return by what share of a plane, and what besides, it is smooth but for its edges (guided by itself)."""
    mean = _mean(plane, reach)
    variance = _mean(plane * plane, reach) - mean * mean
    share = np.asarray(variance / (variance + np.float32(edge)), np.float32)
    return _mean(share, reach), _mean(mean - share * mean, reach)


def _guided(guide: Plane, wanted: Plane, reach: int, edge: float) -> tuple[Plane, Plane]:
    """Return by what share of the guide, and what besides, a plane is smooth but for the guide's edges."""
    guide_mean, wanted_mean = _mean(guide, reach), _mean(wanted, reach)
    variance = _mean(guide * guide, reach) - guide_mean * guide_mean
    together = _mean(guide * wanted, reach) - guide_mean * wanted_mean
    share = np.asarray(together / (variance + np.float32(edge)), np.float32)
    return _mean(share, reach), _mean(wanted_mean - share * guide_mean, reach)


def _mean(plane: Plane, reach: int) -> Plane:
    side = (2 * reach + 1, 2 * reach + 1)
    return np.asarray(cv2.blur(plane, side, borderType=cv2.BORDER_REFLECT), np.float32)


@njit(nogil=True, cache=True, fastmath=True)
def _row(plane, y, height, row):  # type: ignore[no-untyped-def]
    """Write the row of a small plane that lies at a row of the picture, between two of its own."""
    last = plane.shape[0] - 1
    at = min(max((y + 0.5) * plane.shape[0] / height - 0.5, 0.0), float(last))
    above = int(at)
    one, other = plane[above], plane[min(above + 1, last)]
    share = np.float32(at - above)
    for x in range(row.size):
        row[x] = one[x] + share * (other[x] - one[x])


# Row by row, and unsigned indices, so that the compiler does several pixels at a time.
@njit(nogil=True, cache=True, fastmath=True)
def _lifted(codes, share, offset, result):  # type: ignore[no-untyped-def]
    most, floor, half, unit = np.float32(65535), np.float32(400), np.float32(0.5), np.float32(1 / 65535)
    one, black, eight = np.float32(1), np.float32(0), np.float32(8)
    red, green, blue = np.float32(0.299), np.float32(0.587), np.float32(0.114)
    height, width = codes.shape[0], share.shape[1]
    shares, offsets = np.empty(width, np.float32), np.empty(width, np.float32)
    factors = np.empty(width, np.float32)
    for y in range(height):
        row, written = codes[y], result[y]
        _row(share, y, height, shares)
        _row(offset, y, height, offsets)
        for x in range(width):
            p = np.uintp(3 * x)
            factors[x] = red * row[p] + green * row[p + np.uintp(1)] + blue * row[p + np.uintp(2)]
        for x in range(width):
            here = factors[x]
            light = here * unit
            adds = (shares[x] * light - offsets[x]) * min(one, eight * light) * most
            factors[x] = (min(max(here + adds, black), most) + floor) / (here + floor)
        for x in range(width):
            p = np.uintp(3 * x)
            factor = factors[x]
            for channel in range(3):
                q = p + np.uintp(channel)
                written[q] = np.uint16(np.int32(min(row[q] * factor, most) + half))


@njit(nogil=True, cache=True, fastmath=True)
def _unveiled(codes, share, offset, haze, result):  # type: ignore[no-untyped-def]
    unit, most, half = np.float32(1 / 65535), np.float32(65535), np.float32(0.5)
    one, black, least = np.float32(1), np.float32(0), np.float32(0.1)
    red, green, blue = np.float32(0.299), np.float32(0.587), np.float32(0.114)
    height, width = codes.shape[0], share.shape[1]
    shares, offsets = np.empty(width, np.float32), np.empty(width, np.float32)
    # Haze is white: what is left of a colour is white less the white that it lacks.
    lacks = np.empty(width, np.float32)
    for y in range(height):
        row, written = codes[y], result[y]
        _row(share, y, height, shares)
        _row(offset, y, height, offsets)
        for x in range(width):
            p = np.uintp(3 * x)
            guide = red * row[p] + green * row[p + np.uintp(1)] + blue * row[p + np.uintp(2)]
            veil = min(max(shares[x] * guide * unit + offsets[x], black), one)
            lacks[x] = one / max(one - haze * veil, least) if haze > black else one + haze * veil
        for x in range(width):
            p = np.uintp(3 * x)
            lack = lacks[x]
            for channel in range(3):
                q = p + np.uintp(channel)
                value = most - (most - row[q]) * lack
                written[q] = np.uint16(np.int32(min(max(value, black), most) + half))


@njit(nogil=True, cache=True, fastmath=True)
def _paled(codes, luma, edge, amount, least):  # type: ignore[no-untyped-def]
    one, black, half = np.float32(1), np.float32(0), np.float32(0.5)
    for y in range(codes.shape[0]):
        for x in range(codes.shape[1]):
            strength = np.float32(edge[y, x]) / least - one
            if strength <= black:
                continue
            red, green, blue = np.float32(codes[y, x, 0]), np.float32(codes[y, x, 1]), np.float32(codes[y, x, 2])
            # Purple has less green than both others, green more than both.
            purple, leaf = min(red, blue) - green, green - max(red, blue)
            colour = max(purple, leaf) / (np.float32(0.04) * np.float32(65535))
            if colour <= black:
                continue
            share = amount * min(strength, one) * min(colour, one)
            grey = np.float32(luma[y, x])
            codes[y, x, 0] = np.uint16(red + share * (grey - red) + half)
            codes[y, x, 1] = np.uint16(green + share * (grey - green) + half)
            codes[y, x, 2] = np.uint16(blue + share * (grey - blue) + half)
