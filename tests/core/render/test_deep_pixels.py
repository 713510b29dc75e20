"""Sixteen bits through the whole of making a picture: the same picture as with eight, without their steps."""

from fractions import Fraction

import numpy as np
import pytest
import tifffile
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import scene
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit, Surround
from yarnkite.core.image.lens import Lens
from yarnkite.core.image.pixels import Pixels, as_eight, as_sixteen
from yarnkite.core.image.srgb import codes_of, mean_of_light, to_codes, to_light
from yarnkite.core.render.bridge import Motion
from yarnkite.core.render.picture import fitted

SIZE = Size(width=320, height=180)
FITS = {
    "covered": Fit(size=SIZE),
    "in light": Fit(size=SIZE, linear=True),
    "levelled": Fit(size=SIZE, level=3.0),
    "straightened": Fit(size=SIZE, lens=Lens(k1=0.05, keystone_x=0.1)),
    "turned": Fit(size=SIZE, quarters=1, mirror=True, how="contain", surround=Surround(colour="#804020")),
    "on itself": Fit(size=SIZE, how="contain", zoom=0.7, surround=Surround(kind="blurred")),
    "sharpened": Fit(size=SIZE, sharpen="strong"),
    "enlarged": Fit(size=Size(width=1280, height=720)),
}


def shown(array, fit):
    height, width = array.shape[:2]
    still = Still(path="a", fingerprint="a", width=width, height=height)
    return fitted(still, fit, fit.size, read=lambda still, reduction: Pixels(array, 1))


@pytest.mark.parametrize("fit", FITS.values(), ids=FITS)
def test_a_deep_picture_is_the_plain_one(fit):
    array = scene(640, 480)
    plain, deep = shown(array, fit), shown(as_sixteen(array), fit)
    assert (plain.dtype, deep.dtype) == (np.uint16, np.uint16)
    # What lies behind a still that leaves room is blurred in the depth it has.
    assert np.abs(deep.astype(int) - plain).max() <= (0.7 if fit.surround.kind == "blurred" else 0.1) * 257


@pytest.mark.parametrize("fit", FITS.values(), ids=FITS)
def test_a_slow_slope_keeps_its_levels(fit):
    """A slope of four steps of 8 bits: a picture that had gone through 8 bits anywhere would have a handful of
    levels."""
    slope = np.tile(np.linspace(20_000, 21_028, 640)[None, :, None], (480, 1, 3)).astype(np.uint16)
    deep = shown(slope, fit)
    middle = deep[deep.shape[0] // 2, :, 1] if not fit.quarters else deep[:, deep.shape[1] // 2, 1]
    inside = middle[(middle >= 20_000) & (middle <= 21_028)]
    assert len(np.unique(inside)) > 60


def test_stills_of_either_depth_mix_as_light():
    dark, bright = np.full((4, 4, 3), 40, np.uint8), np.full((4, 4, 3), 52_000, np.uint16)
    mixed = mean_of_light([dark, bright], [Fraction(1, 4), Fraction(3, 4)])
    light = to_light(np.array([40 / 255, 52_000 / 65535])) @ [0.25, 0.75]
    assert mixed.dtype == np.uint16
    assert np.abs(mixed - to_codes(light) * 65535).max() <= 1


@given(st.lists(st.floats(0, 1, width=32), min_size=1, max_size=64))
def test_light_becomes_code_values_as_the_standard_says_down_to_the_darkest(light):
    values = np.array(light, np.float32)
    deep = codes_of(values, deep=True)
    assert np.abs(deep - to_codes(values.astype(float)) * 65535).max() <= 1


def test_every_code_value_comes_back_from_its_light():
    codes = np.arange(65536)
    assert (codes_of(to_light(codes / 65535).astype(np.float32), deep=True) == codes).all()


def test_between_two_deep_stills_there_is_no_step_of_eight_bits():
    slope = np.tile(np.linspace(20_000, 21_028, 320)[None, :, None], (180, 1, 3)).astype(np.uint16)
    between = Motion(slope, slope + np.uint16(200)).at(0.5)
    assert between.dtype == np.uint16
    assert np.abs(between[90, 20:-20, 1].astype(int) - (slope[90, 20:-20, 1] + 100)).max() < 60
    mixed = Motion(as_eight(slope), slope).at(0.5)
    assert mixed.dtype == np.uint16


def test_a_deep_file_is_read_deep_by_the_way_every_picture_is_made(tmp_path):
    slope = np.tile(np.linspace(20_000, 21_028, 640)[None, :, None], (480, 1, 3)).astype(np.uint16)
    tifffile.imwrite(tmp_path / "a.tif", slope, photometric="rgb")
    still = Still(path=str(tmp_path / "a.tif"), fingerprint="a", width=640, height=480)
    assert len(np.unique(fitted(still, FITS["covered"], SIZE)[90, :, 1])) > 200
