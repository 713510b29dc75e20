"""What the samples of a video mean: BT.709, or BT.2020 with one of the two curves of high dynamic range.

Code points of ITU-T H.273. Sources: ITU-R BT.709-6, BT.2020-2, BT.2100-2 (HLG and PQ), BT.2408-7 (where the white of a
picture of standard range lies: 203 cd/m², 75 % of HLG's and 58 % of PQ's signal), BT.2087-0 (from BT.709 to BT.2020).
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numba import njit
from numpy.typing import NDArray

from yarnkite.core.encode.decisions import DynamicRange
from yarnkite.core.image.pixels import ImageArray, SixteenBit
from yarnkite.core.image.srgb import light_table

LIMITED_RANGE = 1
_WHITE_CD = 203.0
_HLG_PEAK_CD = 1000.0
_HLG_GAMMA = 1.2
# Table 4 of BT.2100: m1, m2, c1, c2, c3.
_PQ = 2610 / 16384, 2523 / 4096 * 128, 3424 / 4096, 2413 / 4096 * 32, 2392 / 4096 * 32
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
HLG = Colours("BT.2020, HLG", 9, 18, 9, 0.2627, 0.0593)
PQ = Colours("BT.2020, PQ", 9, 16, 9, 0.2627, 0.0593)
_OF: dict[DynamicRange, Colours] = {"standard": BT709, "hlg": HLG, "pq": PQ}


def colours_of(wanted: DynamicRange) -> Colours:
    """Return what the samples of a range mean."""
    return _OF[wanted]


def in_range(image: ImageArray, wanted: DynamicRange) -> ImageArray:
    """Return a picture as R'G'B' of the range that is wanted, its white as bright as that of other programmes.

    Parameters
    ----------
    image : RGB, sRGB, shape (height, width, 3), uint8 or uint16

    Returns
    -------
    the picture itself for the standard range, else RGB in BT.2020, uint16
    """
    if wanted == "standard":
        return image
    result = np.empty(image.shape, np.uint16)
    curve, scene = (_HLG_CODES, _HLG_SCENE) if wanted == "hlg" else (_PQ_CODES, _NO_SCENE)
    light, matrix = light_table(image).astype(np.float32), _TO_2020.astype(np.float32)
    _converted(image, light, matrix, scene, HLG.luma.astype(np.float32), curve, result)
    return result


def _hlg_scene(luminance: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return by what light relative to the white of a picture is multiplied to be scene light.

    The inverse of what a screen of 1000 cd/m² does, which goes by the luminance of a pixel, not by its channels
    (BT.2100 table 5): a pixel keeps its hue.
    """
    share = _WHITE_CD / _HLG_PEAK_CD
    return np.asarray(share * (np.maximum(luminance, 1e-9) * share) ** ((1 - _HLG_GAMMA) / _HLG_GAMMA))


def _hlg(scene: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return HLG's signal for scene light, 0 … 1 (BT.2100 table 5)."""
    a, b, c = 0.17883277, 0.28466892, 0.55991073
    high = a * np.log(np.maximum(12 * scene - b, 1e-9)) + c
    return np.where(scene <= 1 / 12, np.sqrt(3 * scene), high)


def _pq(light: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return PQ's signal for light relative to the white of a picture (BT.2100 table 4)."""
    m1, m2, c1, c2, c3 = _PQ
    power = (light * _WHITE_CD / 10_000) ** m1
    return np.asarray(((c1 + c2 * power) / (1 + c3 * power)) ** m2)


def pq_light(signal: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the light of PQ's signal, in cd/m² (BT.2100 table 4)."""
    m1, m2, c1, c2, c3 = _PQ
    power = np.clip(signal, 0, 1) ** (1 / m2)
    return np.asarray(10_000 * (np.maximum(power - c1, 0) / (c2 - c3 * power)) ** (1 / m1))


def _codes(signal: NDArray[np.float64]) -> SixteenBit:
    return np.asarray(np.rint(np.clip(signal, 0, 1) * 65535), np.uint16)


_LIGHT = np.linspace(0, 1, _STEPS) ** 2
_HLG_CODES, _PQ_CODES = _codes(_hlg(_LIGHT)), _codes(_pq(_LIGHT))
_HLG_SCENE, _NO_SCENE = _hlg_scene(_LIGHT).astype(np.float32), np.zeros(0, np.float32)


@njit(nogil=True, cache=True)
def _converted(image, light, matrix, scene, luma, codes, result):  # type: ignore[no-untyped-def]
    last = np.float32(codes.shape[0] - 1)
    none, one, half = np.float32(0), np.float32(1), np.float32(0.5)
    for y in range(image.shape[0]):
        for x in range(image.shape[1]):
            red, green, blue = light[image[y, x, 0]], light[image[y, x, 1]], light[image[y, x, 2]]
            times = one
            if scene.shape[0] > 0:
                luminance = none
                for channel in range(3):
                    value = matrix[channel, 0] * red + matrix[channel, 1] * green + matrix[channel, 2] * blue
                    luminance += luma[channel] * min(max(value, none), one)
                times = scene[int(np.sqrt(min(luminance, one)) * last + half)]
            for channel in range(3):
                value = matrix[channel, 0] * red + matrix[channel, 1] * green + matrix[channel, 2] * blue
                value = min(max(value, none), one) * times
                result[y, x, channel] = codes[int(np.sqrt(min(value, one)) * last + half)]
