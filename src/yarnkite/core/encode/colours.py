"""What the samples of a video mean: BT.709, or BT.2020 with one of the two curves of high dynamic range.

Code points of ITU-T H.273. Sources: ITU-R BT.709-6, BT.2020-2, BT.2100-2 (HLG and PQ, in ``high_range``), BT.2408-7
(where the white of a picture of standard range lies: 75 % of HLG's and 58 % of PQ's signal), BT.2087-0 (from BT.709 to
BT.2020).
"""

from dataclasses import dataclass
from functools import cache, cached_property

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.encode.decisions import DynamicRange
from yarnkite.core.image.high_range import BT2020_LUMA, HLG_GAMMA, HLG_PEAK_CD, PEAK, WHITE_CD, hlg_signal, pq_signal
from yarnkite.core.image.pixels import ImageArray, SixteenBit
from yarnkite.core.image.srgb import light_table

LIMITED_RANGE = 1
_RED, _, _BLUE = BT2020_LUMA
# Light is turned into code by a table over its square root, whose steps are finest where the eye's are.
_STEPS = 65_536
_TO_2020 = np.array([[0.6274, 0.3293, 0.0433], [0.0691, 0.9195, 0.0114], [0.0164, 0.0880, 0.8956]])


@dataclass(frozen=True)
class Colours:
    """Primaries, transfer and matrix as code points, and the share of red and of blue in brightness."""

    name: str
    primaries: int
    transfer: int
    matrix: int
    red: float
    blue: float

    @property
    def tags(self) -> tuple[int, int, int, int]:
        """Primaries, transfer, matrix, range, as they are read from a file."""
        return self.primaries, self.transfer, self.matrix, LIMITED_RANGE

    @cached_property
    def luma(self) -> NDArray[np.float64]:
        """The weights of red, green and blue in luma."""
        return np.array([self.red, 1 - self.red - self.blue, self.blue])

    @cached_property
    def chroma(self) -> NDArray[np.float64]:
        """The weights of red, green and blue in the two of colour, shape (2, 3)."""
        red, green, blue = self.luma
        return np.array(
            [
                np.array([-red, -green, 1 - blue]) / (2 * (1 - blue)),
                np.array([1 - red, -green, -blue]) / (2 * (1 - red)),
            ]
        )


BT709 = Colours("BT.709", 1, 1, 1, 0.2126, 0.0722)
HLG = Colours("BT.2020, HLG", 9, 18, 9, _RED, _BLUE)
PQ = Colours("BT.2020, PQ", 9, 16, 9, _RED, _BLUE)
_OF: dict[DynamicRange, Colours] = {"standard": BT709, "hlg": HLG, "pq": PQ}


def colours_of(wanted: DynamicRange) -> Colours:
    """Return what the samples of a range mean."""
    return _OF[wanted]


def in_range(image: ImageArray, wanted: DynamicRange) -> ImageArray:
    """Return a picture as R'G'B' of the range that is wanted, its white as bright as that of other programmes.

    Parameters
    ----------
    image : RGB, sRGB, shape (height, width, 3), uint8 or uint16; with headroom (``image.headroom``) unless the
        standard range is wanted

    Returns
    -------
    the picture itself for the standard range, else RGB in BT.2020, uint16
    """
    if wanted == "standard":
        return image
    result = np.empty(image.shape, np.uint16)
    curve, scene = _tables(wanted)
    light, matrix = (light_table(image) * PEAK).astype(np.float32), _TO_2020.astype(np.float32)
    _converted(image, light, matrix, scene, HLG.luma.astype(np.float32), curve, result)
    return result


def _to_scene(luminance: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return by what light relative to the white of a picture is multiplied to be scene light.

    The inverse of what a screen of 1000 cd/m² does, which goes by the luminance of a pixel, not by its channels
    (BT.2100 table 5): a pixel keeps its hue.
    """
    share = WHITE_CD / HLG_PEAK_CD
    return np.asarray(share * (np.maximum(luminance, 1e-9) * share) ** ((1 - HLG_GAMMA) / HLG_GAMMA))


def _codes(signal: NDArray[np.float64]) -> SixteenBit:
    return np.asarray(np.rint(np.clip(signal, 0, 1) * 65535), np.uint16)


@cache
def _tables(wanted: DynamicRange) -> tuple[SixteenBit, NDArray[np.float32]]:
    """Return the code of each root of light, evenly up to 1 for HLG, which has that of the scene, and to the peak,
    and what light is multiplied by before, by the root of its luminance up to the peak; nothing where that is not
    done."""
    roots = np.linspace(0, 1, _STEPS) ** 2
    if wanted == "hlg":
        return _codes(hlg_signal(roots)), _to_scene(roots * PEAK).astype(np.float32)
    return _codes(pq_signal(roots * PEAK * WHITE_CD)), np.zeros(0, np.float32)


@njit(nogil=True, cache=True)
def _converted(image, light, matrix, scene, luma, codes, result):  # type: ignore[no-untyped-def]
    last = np.float32(codes.shape[0] - 1)
    none, one, half, most = np.float32(0), np.float32(1), np.float32(0.5), np.float32(PEAK)
    of_scene = scene.shape[0] > 0
    end = one if of_scene else most
    for y in range(image.shape[0]):
        for x in range(image.shape[1]):
            red, green, blue = light[image[y, x, 0]], light[image[y, x, 1]], light[image[y, x, 2]]
            times = one
            if of_scene:
                luminance = none
                for channel in range(3):
                    value = matrix[channel, 0] * red + matrix[channel, 1] * green + matrix[channel, 2] * blue
                    luminance += luma[channel] * min(max(value, none), most)
                times = scene[int(np.sqrt(min(luminance / most, one)) * last + half)]
            for channel in range(3):
                value = matrix[channel, 0] * red + matrix[channel, 1] * green + matrix[channel, 2] * blue
                value = min(max(value, none), most) * times
                result[y, x, channel] = codes[int(np.sqrt(min(value / end, one)) * last + half)]
