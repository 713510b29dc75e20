"""Measures of a still, from which the check finds what is wrong.

Light is measured in stops: log2 of relative luminance, linear light (IEC 61966-2-1).
"""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import EightBit
from yarnkite.core.image.srgb import SRGB_TO_LINEAR

Floats = NDArray[np.float32]
GRID = (16, 24)
DARKEST = 2.0**-12
LUMINANCE = np.array([0.2126, 0.7152, 0.0722], np.float32)
_BALANCE_SIZE = (32, 32)


@dataclass(frozen=True)
class Measures:
    """What is measured of one still.

    ``low``, ``middle`` and ``high`` are the 5th, 50th and 95th percentile of its light in stops, ``mean`` the mean
    relative luminance; ``dark`` and ``bright`` the shares of pixels at either end; ``red`` and ``blue`` the balance
    against green in stops; ``sharpness`` the share of fine in coarse detail, in stops; ``noise`` the standard deviation
    of noise in 8-bit steps (Immerkær 1996); ``dhash`` a 64-bit difference hash; ``blocks`` the light in stops of a grid
    of 16 × 24 blocks, rows first; ``colours`` their red and blue against green in stops.
    """

    mean: float
    low: float
    middle: float
    high: float
    dark: float
    bright: float
    red: float
    blue: float
    sharpness: float
    noise: float
    dhash: int
    blocks: Floats
    colours: Floats


def measured(image: EightBit, small: EightBit) -> Measures:
    """Measure a still.

    Parameters
    ----------
    image : a copy of about 1280 pixels on its longer side, for fine detail; RGB, sRGB, uint8, shape (height, width, 3)
    small : one of about 160 × 160, for light and colour, the same way
    """
    linear = cv2.LUT(small, SRGB_TO_LINEAR)
    light = cv2.transform(linear, LUMINANCE[None, :]).reshape(small.shape[:2])
    stops = np.log2(np.maximum(light, DARKEST))
    low, middle, high = np.percentile(stops, (5, 50, 95))
    # By the median over the view, so that who walks past in a red coat does not count as a change of light.
    coarse_light = np.maximum(cv2.resize(linear, _BALANCE_SIZE, interpolation=cv2.INTER_AREA), DARKEST)
    balance = np.log2(coarse_light.reshape(-1, 3))
    blocks = np.maximum(cv2.resize(linear, (GRID[1], GRID[0]), interpolation=cv2.INTER_AREA), DARKEST)
    colours = np.log2(blocks)
    brightest = small.max(axis=2)
    bands = _bands(image)
    # Detail of two pixels: what is finer is mostly grain.
    fine = cv2.resize(bands, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    grey = cv2.cvtColor(small, cv2.COLOR_RGB2GRAY)
    coarse = cv2.resize(grey, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
    return Measures(
        mean=float(light.mean()),
        low=float(low),
        middle=float(middle),
        high=float(high),
        dark=float((brightest <= 2).mean()),
        bright=float((brightest >= 253).mean()),
        red=float(np.median(balance[:, 0] - balance[:, 1])),
        blue=float(np.median(balance[:, 2] - balance[:, 1])),
        sharpness=float(
            np.log2((_detail(np.asarray(fine, np.uint8)) + 0.05) / (_detail(np.asarray(coarse, np.uint8)) + 0.05))
        ),
        noise=_noise(bands),
        dhash=_dhash(np.asarray(grey, np.uint8)),
        blocks=np.log2(cv2.transform(blocks, LUMINANCE[None, :])).astype(np.float32),
        colours=(colours[..., ::2] - colours[..., 1:2]).astype(np.float32),
    )


def _bands(image: EightBit) -> EightBit:
    """Return three level bands of a picture, a quarter of it, as grey: enough to judge detail by."""
    height = image.shape[0]
    tall = max(1, height // 12)
    rows = [
        image[middle - tall // 2 : middle - tall // 2 + tall] for middle in (height // 4, height // 2, 3 * height // 4)
    ]
    return np.asarray(cv2.cvtColor(np.concatenate(rows), cv2.COLOR_RGB2GRAY), np.uint8)


def _detail(grey: EightBit) -> float:
    """Return the mean amount of detail between neighbouring pixels; a gain in exposure changes it alike at any
    scale."""
    return float(cv2.norm(cv2.Laplacian(grey, cv2.CV_16S), cv2.NORM_L1)) / grey.size


def _noise(grey: EightBit) -> float:
    """Estimate noise by a mask that answers neither to edges nor to slopes (Immerkær 1996), by the median."""
    answer = cv2.filter2D(grey, cv2.CV_16S, np.array([[1, -2, 1], [-2, 4, -2], [1, -2, 1]], np.float32))
    return float(np.median(np.abs(answer[::2, ::4]))) / 0.6745 / 6


def _dhash(grey: EightBit) -> int:
    small = cv2.resize(grey, (9, 8), interpolation=cv2.INTER_AREA)
    return int.from_bytes(np.packbits(small[:, 1:] > small[:, :-1]).tobytes())
