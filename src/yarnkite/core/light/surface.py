"""Surface: contrast among neighbours, haze, and fringes of colour, on code values of 16 bits.

What is near and far in a picture is told by an edge-keeping mean, the guided filter (He, Sun and Tang 2013), from a
reduced copy of the luma (He and Sun 2015), so that no halos lie beside edges and large radii cost no more than small ones.
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
_REDUCED_WIDTH = 640
_HAZE_REDUCED_WIDTH = 320
# Never is all of the haze taken: what is far away looks far.
_HAZE_MOST = 0.9
_AIRLIGHT = 1.0
_FRINGE_REACH = 3.0
_FRINGE_EDGE = 0.22


def with_contrast(codes: SixteenBit, fine: float, coarse: float) -> SixteenBit:
    """Return a picture with more or less contrast among neighbours, near and far.

    Parameters
    ----------
    codes : RGB, shape (height, width, 3)
    fine, coarse : -1 … 1, below 0 smoother

    Returns
    -------
    the same shape; hue and saturation stay
    """
    if not fine and not coarse:
        return codes
    luma = _luma(codes)
    small = _reduced(luma, _REDUCED_WIDTH)
    height, width = luma.shape
    added = np.zeros(luma.shape, np.float32)
    for amount, reach, edge, most in (
        (fine, _FINE, _FINE_EDGE, _FINE_MOST),
        (coarse, _COARSE, _COARSE_EDGE, _COARSE_MOST),
    ):
        if amount:
            share, offset = _guided(small, small, max(1, round(reach * small.shape[1])), edge**2)
            share, offset = (_drawn_out(one, width, height) for one in (share, offset))
            _add_detail(luma, share, offset, np.float32(amount * most), added)
    result = np.empty_like(codes)
    _lifted(codes, luma, added, result)
    return result


def without_haze(codes: SixteenBit, haze: float) -> SixteenBit:
    """Return a picture with its haze thinned, or, below 0, thickened: by the dark channel (He, Sun and Tang 2011).

    Parameters
    ----------
    codes : RGB, shape (height, width, 3)
    haze : -1 … 1

    Returns
    -------
    the same shape
    """
    if not haze:
        return codes
    darkest = codes.min(axis=2)
    small = _reduced(darkest, _HAZE_REDUCED_WIDTH)
    guide = _reduced(_luma(codes), _HAZE_REDUCED_WIDTH)
    reach = max(1, round(_HAZE * small.shape[1]))
    square = np.ones((2 * reach + 1, 2 * reach + 1), np.uint8)
    # As dark as it gets among neighbours: only haze makes that bright.
    veil = np.asarray(cv2.erode(small, square), np.float32)
    share, offset = _guided(guide, veil, 2 * reach, 0.02**2)
    height, width = darkest.shape
    share, offset = (_drawn_out(one, width, height) for one in (share, offset))
    result = np.empty_like(codes)
    _unveiled(codes, share, offset, np.float32(haze * _HAZE_MOST), np.float32(_AIRLIGHT), result)
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


def _luma(codes: SixteenBit) -> SixteenBit:
    return np.asarray(cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY), np.uint16)


def _drawn_out(plane: Plane, width: int, height: int) -> Plane:
    return np.asarray(cv2.resize(plane, (width, height), interpolation=cv2.INTER_LINEAR), np.float32)


def _reduced(plane: SixteenBit, width: int) -> Plane:
    """Return a plane as shares 0 … 1, reduced to about a width."""
    across = min(width, plane.shape[1])
    down = max(1, round(plane.shape[0] * across / plane.shape[1]))
    small = cv2.resize(plane, (across, down), interpolation=cv2.INTER_AREA)
    return np.asarray(small, np.float32) / np.float32(65535)


def _guided(guide: Plane, wanted: Plane, reach: int, edge: float) -> tuple[Plane, Plane]:
    """Return by what share of the guide, and what besides, the smooth plane is made (guided filter)."""
    side = (2 * reach + 1, 2 * reach + 1)

    def mean(plane: Plane) -> Plane:
        return np.asarray(cv2.blur(plane, side, borderType=cv2.BORDER_REFLECT), np.float32)

    guide_mean, wanted_mean = mean(guide), mean(wanted)
    variance = mean(guide * guide) - guide_mean * guide_mean
    together = mean(guide * wanted) - guide_mean * wanted_mean
    share = np.asarray(together / (variance + np.float32(edge)), np.float32)
    return mean(share), mean(wanted_mean - share * guide_mean)


@njit(nogil=True, cache=True, fastmath=True)
def _add_detail(luma, share, offset, amount, added):  # type: ignore[no-untyped-def]
    unit = np.float32(1 / 65535)
    one = np.float32(1)
    for y in range(luma.shape[0]):
        for x in range(luma.shape[1]):
            here = np.float32(luma[y, x]) * unit
            added[y, x] += amount * (here - share[y, x] * here - offset[y, x]) * min(one, np.float32(8) * here)


@njit(nogil=True, cache=True, fastmath=True)
def _lifted(codes, luma, added, result):  # type: ignore[no-untyped-def]
    most, floor, half = np.float32(65535), np.float32(400), np.float32(0.5)
    for y in range(codes.shape[0]):
        for x in range(codes.shape[1]):
            here = np.float32(luma[y, x])
            there = min(max(here + added[y, x] * most, np.float32(0)), most)
            factor = (there + floor) / (here + floor)
            for channel in range(3):
                result[y, x, channel] = np.uint16(min(np.float32(codes[y, x, channel]) * factor, most) + half)


@njit(nogil=True, cache=True, fastmath=True)
def _unveiled(codes, share, offset, haze, airlight, result):  # type: ignore[no-untyped-def]
    unit, most, half = np.float32(1 / 65535), np.float32(65535), np.float32(0.5)
    one, black = np.float32(1), np.float32(0)
    for y in range(codes.shape[0]):
        for x in range(codes.shape[1]):
            guide = (
                np.float32(0.299) * codes[y, x, 0]
                + np.float32(0.587) * codes[y, x, 1]
                + np.float32(0.114) * codes[y, x, 2]
            ) * unit
            veil = min(max(share[y, x] * guide + offset[y, x], black), airlight) / airlight
            if haze > 0:
                through = max(one - haze * veil, np.float32(0.1))
                for channel in range(3):
                    value = np.float32(codes[y, x, channel]) * unit
                    clear = (value - airlight) / through + airlight
                    result[y, x, channel] = np.uint16(min(max(clear, black), one) * most + half)
            else:
                for channel in range(3):
                    value = np.float32(codes[y, x, channel]) * unit
                    thick = value - haze * veil * (airlight - value)
                    result[y, x, channel] = np.uint16(min(max(thick, black), one) * most + half)


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
