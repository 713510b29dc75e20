"""Numbered export: other programs read back the pixels, the time and the colour space."""

import io
from datetime import datetime, timedelta, timezone

import numpy as np
import pytest
import tifffile
from PIL import Image, ImageCms

from tests.conftest import write_jpeg
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.export import Writing, export_still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.decode import read_still
from yarnkite.core.image.header import read_header
from yarnkite.core.image.srgb import to_codes
from yarnkite.core.render.picture import fitted
from yarnkite.demo.dng import shown_of, write_dng

CAPTURED = datetime(2031, 5, 4, 9, 30, 5, 250_000, timezone(timedelta(hours=2)))


@pytest.mark.parametrize(("kind", "most"), [("JPEG", 2.5), ("PNG", 0), ("TIFF", 0)])
@pytest.mark.parametrize("fit", [None, Fit(size=Size(width=320, height=180), y=0.2)])
def test_a_written_picture_has_its_pixels_its_time_and_its_profile(tmp_path, kind, most, fit):
    path = write_jpeg(tmp_path / "a.jpg", 3, orientation=8)
    still = Still(path=str(path), fingerprint="a", width=320, height=480)
    target = tmp_path / "new" / "b.out"
    assert export_still(still, Writing(format=kind, fit=fit), CAPTURED, target) == target.stat().st_size
    expected = read_still(still).array if fit is None else fitted(still, fit, fit.size)
    with Image.open(target) as image:
        profile = image.info["icc_profile"]
        assert image.format == kind
    assert "sRGB" in ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(profile)))
    if kind == "TIFF":
        sixteen = tifffile.imread(target)
        assert sixteen.dtype == np.uint16
        shown = sixteen / 257
    else:
        shown = np.asarray(Image.open(target), float)
    assert shown.shape == expected.shape
    assert np.abs(shown - expected).mean() <= most
    header = read_header(target.read_bytes(), "b." + kind.lower())
    assert (header.width, header.height) == (expected.shape[1], expected.shape[0])
    assert header.captured.replace(tzinfo=None, microsecond=0) == CAPTURED.replace(tzinfo=None, microsecond=0)
    if kind != "TIFF":
        assert header.captured == CAPTURED


def test_a_tiff_keeps_the_depth_of_a_raw_file_and_of_a_deep_still(tmp_path):
    ramp = np.repeat(np.linspace(0, 255, 512).astype(np.uint8)[None, :, None], 64, axis=0).repeat(3, axis=2)
    write_dng(tmp_path / "a.dng", ramp, "Marrow Lantern", CAPTURED)
    deep = (np.arange(512 * 64 * 3, dtype=np.uint16).reshape(64, 512, 3) * 17) % 65521
    tifffile.imwrite(tmp_path / "b.tif", deep, photometric="rgb")
    for name in ("a.dng", "b.tif"):
        still = Still(path=str(tmp_path / name), fingerprint=name, width=512, height=64)
        export_still(still, Writing(format="TIFF"), None, tmp_path / f"{name}.out.tif")
    assert (tifffile.imread(tmp_path / "b.tif.out.tif") == deep).all()
    developed = tifffile.imread(tmp_path / "a.dng.out.tif")
    assert np.abs(developed / 257 - to_codes(shown_of(ramp / 255).astype(float)) * 255).max() < 2
    assert (developed % 257 != 0).any()


def test_originals_are_read_only_and_a_lost_one_is_named(tmp_path):
    still = Still(path=str(tmp_path / "gone.jpg"), fingerprint="a", width=32, height=32)
    with pytest.raises(Exception, match=r"gone\.jpg"):
        export_still(still, Writing(), None, tmp_path / "out" / "a.jpg")
    assert not (tmp_path / "out").exists()
    path = write_jpeg(tmp_path / "a.jpg")
    before = path.read_bytes()
    export_still(Still(path=str(path), fingerprint="a", width=480, height=320), Writing(), None, tmp_path / "c.jpg")
    assert path.read_bytes() == before
