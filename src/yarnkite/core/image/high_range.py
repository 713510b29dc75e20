"""The curves of high dynamic range, from light to signal and back, and how light beyond white rolls off.

Sources: ITU-R BT.2100-2 (table 4: PQ, table 5: HLG), BT.2020-2 (primaries, weights of brightness), BT.2408-7 (where the
white of a picture of standard range lies).
"""

import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.arrays import Floats

Values = NDArray[np.float64]

WHITE_CD = 203.0
# HLG is meant for a screen of this peak, whose gamma goes by the luminance of a pixel.
HLG_PEAK_CD, HLG_GAMMA = 1000.0, 1.2
# The same against white.
PEAK = HLG_PEAK_CD / WHITE_CD
# The shares of red, green and blue in brightness.
BT2020_LUMA = 0.2627, 0.6780, 0.0593
# Of linear light, both under D65 (BT.2087).
BT2020_TO_SRGB = np.array(
    [[1.660491, -0.587641, -0.072850], [-0.124550, 1.132900, -0.008349], [-0.018151, -0.100579, 1.118730]]
)
_PQ_PEAK_CD = 10_000
# m1, m2, c1, c2, c3 of PQ, and a, b, c of HLG.
_PQ = 2610 / 16384, 2523 / 4096 * 128, 3424 / 4096, 2413 / 4096 * 32, 2392 / 4096 * 32
_HLG = 0.17883277, 0.28466892, 0.55991073


def pq_signal(light: Values) -> Values:
    """Return PQ's signal, 0 … 1, for light in cd/m² (BT.2100 table 4)."""
    m1, m2, c1, c2, c3 = _PQ
    power = (light / _PQ_PEAK_CD) ** m1
    return np.asarray(((c1 + c2 * power) / (1 + c3 * power)) ** m2)


def pq_light(signal: Values) -> Values:
    """Return the light of PQ's signal, in cd/m² (BT.2100 table 4)."""
    m1, m2, c1, c2, c3 = _PQ
    power = np.clip(signal, 0, 1) ** (1 / m2)
    return np.asarray(_PQ_PEAK_CD * (np.maximum(power - c1, 0) / (c2 - c3 * power)) ** (1 / m1))


def hlg_signal(scene: Values) -> Values:
    """Return HLG's signal for scene light, both 0 … 1 (BT.2100 table 5)."""
    a, b, c = _HLG
    high = a * np.log(np.maximum(12 * scene - b, 1e-9)) + c
    return np.where(scene <= 1 / 12, np.sqrt(3 * scene), high)


def hlg_scene(signal: Values) -> Values:
    """Return the scene light of HLG's signal, both 0 … 1 (BT.2100 table 5)."""
    a, b, c = _HLG
    return np.where(signal <= 0.5, signal**2 / 3, (np.exp((signal - c) / a) + b) / 12)


def rolled_off(light: Floats, knee: float, top: float) -> Values:
    """Return linear light that stays as it is up to ``knee`` and reaches 1 at ``top``, and stays there.

    There is no corner, and nothing turns back.
    """
    # How steep the bend begins, in shares of itself: as steep as light goes on.
    slope = (top - knee) / (1 - knee)
    along = np.clip((light - knee) / (top - knee), 0.0, 1.0)
    bent = 1 - (1 - along) ** slope if slope > 1 else slope * along + (1 - slope) * along**2
    return np.asarray(np.where(light <= knee, light, knee + (1 - knee) * bent), np.float64)
