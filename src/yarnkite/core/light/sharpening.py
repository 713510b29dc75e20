"""Sharpening: edges of the luma that stand out, and flat parts that are left alone."""

import cv2
import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.image.pixels import SixteenBit

Plane = NDArray[np.float32]

_RADIUS = 1.1
_MASK_RADIUS = 1.6
# Differences between neighbours this large, as shares of white, are wholly an edge; below the first they are none.
_NO_EDGE, _EDGE = 0.012, 0.05


def sharpened(codes: SixteenBit, amount: float, scale: float) -> SixteenBit:
    """Return a picture whose edges stand out, by an unsharp mask of the luma.

    Parameters
    ----------
    codes : RGB, shape (height, width, 3)
    amount : 0 … 2
    scale : pixels of the picture for each of the clip, so that a smaller one shows the same

    Returns
    -------
    the same shape
    """
    if not amount:
        return codes
    luma = cv2.cvtColor(codes, cv2.COLOR_RGB2GRAY)
    soft = cv2.GaussianBlur(luma, (0, 0), _RADIUS * scale, borderType=cv2.BORDER_REPLICATE)
    result = np.empty_like(codes)
    _add(codes, luma, soft, edges(codes, scale), np.float32(amount), result)
    return result


def edges(codes: SixteenBit, scale: float) -> Plane:
    """Return how much of sharpening each pixel gets, 0 … 1: what is an edge, and not grain in a flat part.

    Parameters
    ----------
    codes : RGB, shape (height, width, 3)
    scale : pixels of the picture for each of the clip
    """
    height, width = codes.shape[:2]
    size = max(1, width // 2), max(1, height // 2)
    small = cv2.resize(codes, size, interpolation=cv2.INTER_AREA)
    luma = cv2.cvtColor(small, cv2.COLOR_RGB2GRAY).astype(np.float32) * np.float32(1 / 65535)
    calm = cv2.GaussianBlur(luma, (0, 0), _MASK_RADIUS * scale / 2)
    x, y = cv2.Sobel(calm, cv2.CV_32F, 1, 0, scale=0.125), cv2.Sobel(calm, cv2.CV_32F, 0, 1, scale=0.125)
    # A smaller picture has steeper edges from pixel to pixel.
    strength = cv2.magnitude(x, y) * np.float32(scale)
    within = np.clip((strength - np.float32(_NO_EDGE)) / np.float32(_EDGE - _NO_EDGE), 0, 1)
    soft = cv2.GaussianBlur(within, (0, 0), _MASK_RADIUS * scale / 2)
    return np.asarray(cv2.resize(soft, (width, height), interpolation=cv2.INTER_LINEAR), np.float32)


@njit(nogil=True, cache=True, fastmath=True)
def _add(codes, luma, soft, shares, amount, result):  # type: ignore[no-untyped-def]
    most, half, black = np.float32(65535), np.float32(0.5), np.float32(0)
    for y in range(codes.shape[0]):
        for x in range(codes.shape[1]):
            by = amount * shares[y, x] * (np.float32(luma[y, x]) - np.float32(soft[y, x]))
            for channel in range(3):
                result[y, x, channel] = np.uint16(min(max(np.float32(codes[y, x, channel]) + by, black), most) + half)
