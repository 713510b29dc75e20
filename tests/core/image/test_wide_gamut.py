"""Colours beyond sRGB keep hue and shading; those within it are what an independent colour engine says they are."""

import io
import struct

import colour
import imagecodecs
import numpy as np
import pytest
from PIL import Image, ImageCms

from yarnkite.core.image.icc import named_profile, to_srgb
from yarnkite.core.image.wide_gamut import wide_gamut

# The spaces by their published primaries and curves (of opRGB in IEC 61966-2-5), in another library.
OPRGB = colour.RGB_Colourspace(
    "opRGB",
    [[0.64, 0.33], [0.21, 0.71], [0.15, 0.06]],
    [0.3127, 0.3290],
    cctf_encoding=lambda light: light ** (256 / 563),
)
SPACES = {"opRGB": OPRGB} | {name: colour.RGB_COLOURSPACES[name] for name in ("Display P3", "ROMM RGB")}


def as_written(linear_srgb: np.ndarray, name: str, deep: bool) -> np.ndarray:
    """Return linear sRGB as a camera would write it in a wider space."""
    wide = colour.RGB_to_RGB(linear_srgb, "sRGB", SPACES[name], chromatic_adaptation_transform="Bradford")
    most = 65535 if deep else 255
    encoded = SPACES[name].cctf_encoding(np.clip(wide, 0, 1))
    return np.rint(np.clip(encoded, 0, 1) * most).astype(np.uint16 if deep else np.uint8)


@pytest.mark.parametrize("name", SPACES)
@pytest.mark.parametrize("deep", [False, True], ids=["8 bits", "16 bits"])
def test_what_srgb_has_is_what_it_was(name, deep):
    rng = np.random.default_rng(4)
    # No further from grey than nine tenths: beyond that colours begin to pale.
    grey = rng.uniform(0.02, 0.9, (60, 80, 1))
    linear = grey + (rng.uniform(0.02, 0.95, (60, 80, 3)) - grey) * 0.6
    most = 65535 if deep else 255
    shown = to_srgb(as_written(linear, name, deep), named_profile(name)).astype(float) / most
    wanted = colour.cctf_encoding(linear, "sRGB")
    difference = np.abs(shown - wanted)
    # What eight bits of a space that is much wider tell is that much coarser.
    assert difference.max() < (0.002 if deep else 0.03)
    assert difference.mean() < (0.0006 if deep else 0.004)


@pytest.mark.parametrize("name", SPACES)
def test_white_black_and_greys_stay_what_they_are(name):
    greys = np.repeat(np.arange(256, dtype=np.uint8)[None, :, None], 3, axis=2)
    shown = to_srgb(greys, named_profile(name)).astype(int)
    assert (shown.max(axis=2) - shown.min(axis=2)).max() <= 1
    assert tuple(shown[0, 0]) == (0, 0, 0)
    assert tuple(shown[0, 255]) == (255, 255, 255)
    assert (np.diff(shown[0, :, 1]) >= 0).all()


def oklab_hue(srgb: np.ndarray) -> np.ndarray:
    lab = colour.XYZ_to_Oklab(colour.sRGB_to_XYZ(srgb))
    return np.degrees(np.arctan2(lab[..., 2], lab[..., 1]))


def test_a_petal_beyond_srgb_keeps_its_shading_where_an_engine_cuts_it_off():
    # A red of the wide space that grows ever more pure, as light fades into the middle of a flower.
    ramp = np.linspace(0.45, 0.0, 60)
    linear_wide = np.stack([np.full(60, 0.5), ramp**2, ramp**2], axis=1)[None]
    samples = np.rint(colour.RGB_COLOURSPACES["Display P3"].cctf_encoding(linear_wide) * 65535).astype(np.uint16)
    ours = to_srgb(samples, named_profile("Display P3")).astype(float) / 65535
    cut = imagecodecs.cms_transform(
        samples,
        named_profile("Display P3"),
        named_profile("sRGB"),
        colorspace="rgb",
        outcolorspace="rgb",
        outdtype="uint16",
        intent=imagecodecs.CMS.INTENT.RELATIVE_COLORIMETRIC,
    ).astype(float)
    beyond = (cut[0] == 0).any(axis=1)
    assert 10 < beyond.sum() < 50
    # The engine shows the last part of it as one green; here every step is another one.
    assert len(np.unique(cut[0, beyond, 1])) == 1
    steps = np.diff(ours[0, beyond, 1])
    assert (steps <= 0).all()
    assert (steps < 0).mean() > 0.9
    luminance = colour.sRGB_to_XYZ(ours[0])[:, 1]
    wanted = linear_wide[0] @ colour.RGB_COLOURSPACES["Display P3"].matrix_RGB_to_XYZ[1]
    assert np.abs(luminance / wanted - 1).max() < 0.01


def with_table() -> bytes:
    """Return a profile that says its colours by a table (ICC.1:2022, 10.10, lut8Type), which mixes them."""
    lab = [
        (0, 128, 128),
        (90, 90, 40),
        (220, 60, 200),
        (200, 190, 60),
        (120, 200, 190),
        (80, 140, 230),
        (230, 110, 150),
    ]
    table = b"".join(bytes(corner) for corner in (*lab, (255, 128, 128)))
    identity = struct.pack(">9i", *(65536 * (row == column) for row in range(3) for column in range(3)))
    straight = bytes(range(256)) * 3
    body = b"mft1" + bytes(4) + bytes([3, 3, 2, 0]) + identity + straight + table + straight
    header = bytearray(named_profile("opRGB")[:128])
    header[0:4], header[20:24] = struct.pack(">I", 128 + 16 + len(body)), b"Lab "
    return bytes(header) + struct.pack(">I4sII", 1, b"A2B0", 144, len(body)) + body


def test_a_profile_that_is_more_than_curves_and_a_matrix_is_left_to_the_engine():
    samples = np.random.default_rng(2).integers(0, 256, (40, 50, 3), np.uint8)
    assert wide_gamut(named_profile("opRGB"), 255) is not None
    assert wide_gamut(with_table(), 255) is None
    engine = ImageCms.profileToProfile(
        Image.fromarray(samples),
        ImageCms.ImageCmsProfile(io.BytesIO(with_table())),
        ImageCms.createProfile("sRGB"),
        renderingIntent=ImageCms.Intent.RELATIVE_COLORIMETRIC,
        flags=ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )
    assert np.array_equal(to_srgb(samples, with_table()), np.asarray(engine))
