"""Reduced copies of deep stills keep the depth, and what a raw file needs to be developed another way."""

import imagecodecs
import numpy as np
import pytest
import tifffile

from tests.conftest import BEGINS, scene
from yarnkite.core.base.still import Still
from yarnkite.core.gather.deep_copy import packed, unpacked
from yarnkite.core.gather.gathering import gather_still
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.camera_colour import CameraColour
from yarnkite.core.image.decode import read_still
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.image.scene import developed
from yarnkite.demo.dng import write_dng


def night_sky(width, height):
    """A slope of a few steps of 8 bits near black, with the noise of a long exposure."""
    slope = np.linspace(700, 2100, width)[None, :, None] + np.zeros((height, 1, 3))
    return np.clip(slope + np.random.default_rng(5).normal(0, 60, (height, width, 3)), 0, 65535).astype(np.uint16)


@pytest.mark.parametrize("camera", [None, CameraColour((1.0, 0.5, 0.7))])
def test_a_copy_is_nearly_the_still_and_finer_than_eight_bits_where_it_is_dark(camera):
    array = night_sky(320, 200)
    pixels = unpacked(packed(Pixels(array, 4, camera)))
    assert (pixels.reduction, pixels.camera) == (4, camera)
    error = pixels.array.astype(float) - array
    # Rounding to 8 bits would be off by up to 128, by 74 in the mean square.
    assert np.sqrt((error**2).mean()) < 74
    columns = np.abs(error.mean(axis=(0, 2)))
    assert columns.max() < 40


@pytest.mark.parametrize(
    "data", [b"", b"YKD1", b"nothing of the kind", b"YKD1\x02\0\0\0{}", packed(Pixels(night_sky(64, 64), 1))[:-300]]
)
def test_other_bytes_are_no_copy(data):
    with pytest.raises(ValueError, match="deep copy"):
        unpacked(data)


@pytest.mark.parametrize("kind", ["a.tif", "a.png", "a.dng"])
def test_a_gathered_deep_still_is_read_from_its_copy_with_its_depth(tmp_path, kind):
    if kind == "a.dng":
        write_dng(tmp_path / kind, scene(3000, 2000), "Marrow Lantern", BEGINS)
    else:
        sky = np.repeat(np.repeat(night_sky(1500, 1000), 2, axis=0), 2, axis=1)
        if kind == "a.tif":
            tifffile.imwrite(tmp_path / kind, sky, photometric="rgb")
        else:
            (tmp_path / kind).write_bytes(imagecodecs.png_encode(sky, level=1))
    proxies = Proxies(tmp_path / "proxies")
    found = gather_still(tmp_path, kind, proxies)
    still = Still(path=str(tmp_path / kind), fingerprint=found.fingerprint, width=3000, height=2000)
    copy = proxies.read_copy(still, 2)
    assert copy is not None
    assert copy.reduction == 2
    assert (copy.camera is None) == (kind != "a.dng")
    assert copy.array.dtype == np.uint16
    original = developed(read_still(still, 2)).array.astype(float)
    if kind != "a.dng":
        original = original.reshape(1000, 2, 1500, 2, 3).mean(axis=(1, 3))
    assert np.sqrt(((developed(copy).array - original) ** 2).mean()) < 300
    assert all(path.parent.is_dir() for path in proxies.copies(found.fingerprint))
    assert proxies.deep(found.fingerprint).stat().st_size < 4_000_000


def test_a_damaged_copy_is_passed_over(tmp_path):
    tifffile.imwrite(tmp_path / "a.tif", night_sky(2600, 400), photometric="rgb")
    proxies = Proxies(tmp_path / "proxies")
    found = gather_still(tmp_path, "a.tif", proxies)
    still = Still(path=str(tmp_path / "a.tif"), fingerprint=found.fingerprint, width=2600, height=400)
    proxies.deep(found.fingerprint).write_bytes(b"YKD1 hurt")
    assert proxies.read_copy(still, 2) is None
    assert proxies.read(still, 2).array.shape == (400, 2600, 3)
