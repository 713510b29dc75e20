"""What samples mean by code points (ITU-T H.273), as HEIF, AVIF and PNG files say it, turned into sRGB.

Sources: ISO/IEC 14496-12 (``colr`` box, ``nclx``), PNG third edition (``cICP``), ITU-R BT.2020-2, SMPTE EG 432-1; the
curves of high range are in ``high_range``.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats
from yarnkite.core.image.gamut import all_led_in
from yarnkite.core.image.high_range import (
    BT2020_LUMA,
    BT2020_TO_SRGB,
    HLG_GAMMA,
    PEAK,
    WHITE_CD,
    hlg_scene,
    pq_light,
)
from yarnkite.core.image.pixels import ImageArray, SixteenBit, is_deep
from yarnkite.core.image.srgb import to_codes, to_light

Light = NDArray[np.float32]

_BAND = 256
# Light of high range stays as it is up to here, then rolls off to the peak of its screen.
_KNEE, _TOP = 0.7, PEAK
# How bent it is: as it begins it goes on as steeply as light does.
_LEAN = 1 / ((_TOP - _KNEE) / (1 - _KNEE) - 1)
_PQ, _HLG, _LINEAR = 16, 18, 8
_GAMMAS = {4: 2.2, 5: 2.8}
# All that ITU-T H.273 gives a meaning, tables 2 and 3, and 2, which says that nothing is said.
_KNOWN_PRIMARIES, _KNOWN_TRANSFERS = {1, 2, *range(4, 13), 22}, {1, 2, *range(4, 19)}
# To the primaries of sRGB, of linear light.
_P3 = np.array([[1.224940, -0.224940, 0.0], [-0.042057, 1.042057, 0.0], [-0.019638, -0.078636, 1.098274]])
_TO_SRGB = {9: BT2020_TO_SRGB, 12: _P3}
_LUMA = np.array(BT2020_LUMA, np.float32)
_STEPS = 65_535


@dataclass(frozen=True)
class CodePoints:
    """Primaries and transfer of a file's samples."""

    primaries: int
    transfer: int

    @property
    def is_high_range(self) -> bool:
        """Whether light goes far beyond the white of a picture."""
        return self.transfer in (_PQ, _HLG)

    @property
    def is_known(self) -> bool:
        """Whether the standard gives both numbers a meaning."""
        return self.primaries in _KNOWN_PRIMARIES and self.transfer in _KNOWN_TRANSFERS

    @property
    def says_something(self) -> bool:
        """Whether both have a meaning, and not both that nothing is said."""
        return self.is_known and (self.primaries, self.transfer) != (2, 2)

    @property
    def means_srgb(self) -> bool:
        """Whether samples can be taken for sRGB: so are those of which nothing is known, or of cameras for video."""
        plain = not self.is_high_range and self.transfer != _LINEAR and self.transfer not in _GAMMAS
        return plain and self.primaries not in _TO_SRGB


def code_points_in(begin: bytes) -> CodePoints | None:
    """Return what the begin of a file says its samples mean, or ``None`` where it does not.

    The first box counts, which is that of the picture itself; lengths are not trusted.
    """
    if begin[:8] == b"\x89PNG\r\n\x1a\n":
        at = begin.find(b"cICP")
        said = begin[at + 4 : at + 6] if at > 0 else b""
        return CodePoints(said[0], said[1]) if len(said) == 2 else None
    at = begin.find(b"colrnclx")
    said = begin[at + 8 : at + 12] if at > 0 else b""
    return CodePoints(int.from_bytes(said[:2]), int.from_bytes(said[2:])) if len(said) == 4 else None


def srgb_of(array: ImageArray, said: CodePoints) -> SixteenBit:
    """Return samples of other code points as sRGB; what is brighter than white rolls off, and what sRGB lacks is led
    to its edge.

    Parameters
    ----------
    array : RGB, shape (height, width, 3), uint8 or uint16
    """
    result = np.empty(array.shape, np.uint16)
    deep = is_deep(array)
    table = _light_of(said.transfer, deep=deep)
    matrix = _TO_SRGB[said.primaries].astype(np.float32) if said.primaries in _TO_SRGB else None
    codes = _codes(high=said.is_high_range)
    top = np.float32(_TOP if said.is_high_range else 1.0)
    for row in range(0, array.shape[0], _BAND):
        light = table[array[row : row + _BAND]]
        if said.transfer == _HLG:
            # What a screen does to scene light goes by the luminance of a pixel.
            light = light * np.maximum(light @ _LUMA, 1e-9)[..., None] ** np.float32(HLG_GAMMA - 1) * top
        if matrix is not None:
            light = all_led_in(matrix, light.reshape(-1, 3)).reshape(light.shape)
        roots = np.sqrt(np.clip(light, 0, top) / top)
        result[row : row + _BAND] = codes[np.rint(roots * _STEPS).astype(np.uint16)]
    return result


@lru_cache(maxsize=8)
def _light_of(transfer: int, *, deep: bool) -> Light:
    """Return the light of each sample against white; for HLG that of the scene, 0 … 1."""
    signal = np.linspace(0, 1, 65_536 if deep else 256)
    if transfer == _PQ:
        light = pq_light(signal) / WHITE_CD
    elif transfer == _HLG:
        light = hlg_scene(signal)
    elif transfer == _LINEAR:
        light = signal
    elif transfer in _GAMMAS:
        light = signal ** _GAMMAS[transfer]
    else:
        light = to_light(signal)
    return np.asarray(light, np.float32)


@lru_cache(maxsize=2)
def _codes(*, high: bool) -> SixteenBit:
    """Return the code of each root of light, evenly from black to the brightest there is."""
    light = np.linspace(0, 1, _STEPS + 1) ** 2 * (_TOP if high else 1.0)
    if high:
        light = shown_of(light)
    return np.asarray(np.rint(to_codes(light) * 65_535), np.uint16)


def shown_of(light: Floats) -> NDArray[np.float64]:
    """Return the light that a picture shows of high range, both against white: the peak is shown as white.

    It leans over like a hyperbola, so that even the brightest keeps steps of 16 bits to go back by:
    ``light_of_shown``.
    """
    along = np.clip((np.asarray(light, float) - _KNEE) / (_TOP - _KNEE), 0.0, 1.0)
    rolled = _KNEE + (1 - _KNEE) * along * (1 + _LEAN) / (along + _LEAN)
    return np.asarray(np.where(light <= _KNEE, light, rolled), np.float64)


def light_of_shown(shown: Floats) -> NDArray[np.float64]:
    """Return the light of high range, against white, that a picture shows so: ``shown_of`` gone back on."""
    share = np.clip((np.asarray(shown, float) - _KNEE) / (1 - _KNEE), 0.0, 1.0)
    along = share * _LEAN / (1 + _LEAN - share)
    return np.asarray(np.where(shown <= _KNEE, shown, _KNEE + (_TOP - _KNEE) * along), np.float64)
