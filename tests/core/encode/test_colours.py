"""Signals of high dynamic range against an independent model of the standards."""

import colour
import numpy as np
import pytest

from yarnkite.core.encode.colours import in_range
from yarnkite.core.image.headroom import with_headroom
from yarnkite.core.image.srgb import to_light

# Every corner of the cube, and colours inside it.
SAMPLES = np.concatenate(
    [
        np.array([[r, g, b] for r in (0, 65535) for g in (0, 65535) for b in (0, 65535)]),
        np.random.default_rng(12).integers(0, 65536, (200, 3)),
    ]
).astype(np.uint16)
WHITE_CD = 203.0


def displayed(samples: np.ndarray) -> np.ndarray:
    """What a screen is to show of sRGB, in cd/m², in BT.2020."""
    light = colour.RGB_to_RGB(to_light(samples / 65535.0), "sRGB", "ITU-R BT.2020", chromatic_adaptation_transform=None)
    return np.clip(light, 0, None) * WHITE_CD


def test_hlg_goes_by_the_luminance_of_a_pixel_as_screens_do():
    found = in_range(with_headroom(SAMPLES[None]), "hlg")[0] / 65535.0
    truth = colour.models.eotf_inverse_BT2100_HLG(displayed(SAMPLES), L_B=0, L_W=1000)
    assert found == pytest.approx(truth, abs=0.002)
    (red,) = np.flatnonzero((SAMPLES == (65535, 0, 0)).all(axis=1))
    assert found[red] * 255 == pytest.approx(truth[red] * 255, abs=0.5)


def test_pq_is_the_light_itself():
    found = in_range(with_headroom(SAMPLES[None]), "pq")[0] / 65535.0
    assert found == pytest.approx(colour.models.eotf_inverse_ST2084(displayed(SAMPLES), L_p=10000), abs=0.002)


def test_greys_keep_to_the_white_of_programmes():
    grey = np.repeat(np.array([0, 65535], np.uint16)[None, :, None], 3, axis=2)
    assert in_range(with_headroom(grey), "hlg")[0, :, 0] / 65535 == pytest.approx([0, 0.75], abs=0.002)
    assert in_range(with_headroom(grey), "pq")[0, :, 0] / 65535 == pytest.approx([0, 0.58], abs=0.002)
