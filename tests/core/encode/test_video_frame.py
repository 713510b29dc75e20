"""Pictures as frames of video, against the standard's formulas in double precision."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import scene
from yarnkite.core.encode.samples import Samples
from yarnkite.core.encode.video_frame import to_video_frame
from yarnkite.core.image.pixels import as_sixteen

_KR, _KB = 0.2126, 0.0722
TEN = Samples("420", 10)


def planes(frame, depth=8):
    kind = np.uint8 if depth == 8 else np.uint16
    return [
        np.frombuffer(memoryview(plane), kind).reshape(plane.height, -1)[:, : plane.width].astype(float)
        for plane in frame.planes
    ]


def by_the_standard(image, depth=8, chroma="420"):
    """Y, Cb and Cr of BT.709, limited range; colour in line with every second column, between two rows."""
    step = 2 ** (depth - 8)
    red, green, blue = np.moveaxis(image / (65535 if image.dtype == np.uint16 else 255), 2, 0)
    luma = _KR * red + (1 - _KR - _KB) * green + _KB * blue
    found = [(16 + 219 * luma) * step]
    for colour, share in ((blue, _KB), (red, _KR)):
        difference = (colour - luma) / (2 * (1 - share))
        if chroma == "420":
            difference = (difference[0::2] + difference[1::2]) / 2
        if chroma != "444":
            padded = np.pad(difference, ((0, 0), (1, 1)), mode="edge")
            difference = (padded[:, :-2:2] + 2 * padded[:, 1:-1:2] + padded[:, 2::2]) / 4
        found.append((128 + 224 * difference) * step)
    return found


def likeness(one, other):
    return 10 * np.log10(255**2 / max(1e-9, ((one - other) ** 2).mean()))


def test_eight_bits_are_the_standards_values_rounded():
    image = np.random.default_rng(3).integers(0, 256, (90, 160, 3), dtype=np.uint8)
    for found, exact in zip(planes(to_video_frame(image)), by_the_standard(image), strict=True):
        assert np.abs(found - exact).max() <= 0.51


@given(st.integers(0, 255))
def test_greys_have_no_colour(grey):
    luma, blue, red = planes(to_video_frame(np.full((16, 32, 3), grey, np.uint8)))
    assert (luma == round(16 + 219 * grey / 255)).all()
    assert (blue == 128).all()
    assert (red == 128).all()


def test_a_red_edge_has_its_colour_where_its_luma_is():
    """Colour sited half a pixel off would shift the edge of red against that of luma, by a quarter of its height."""
    image = np.zeros((32, 64, 3), np.uint8)
    image[:, 31:] = (255, 0, 0)
    luma, _, red = planes(to_video_frame(image))
    # Column 30 of the picture is in line with sample 15: it and its left neighbour are black, one of four parts is red.
    assert red[8, 15] == pytest.approx(128 + 112 / 4, abs=1)
    assert red[8, 14] == 128
    assert red[8, 16] == 240
    assert (luma[8, 31], luma[8, 30]) == (round(16 + 219 * _KR), 16)


@pytest.mark.parametrize(
    ("chroma", "depth"), [("420", 10), ("422", 8), ("422", 10), ("444", 10), ("444", 16)], ids=lambda one: str(one)
)
def test_samples_of_every_form_are_the_standards_values_rounded(chroma, depth):
    image = scene(160, 90)
    wanted = Samples(chroma, depth)
    for picture in (image, as_sixteen(image)):
        if depth == 8 and picture is not image:
            continue
        frame = to_video_frame(picture, wanted)
        assert frame.format.name == wanted.pixel_format
        for found, exact in zip(planes(frame, depth), by_the_standard(picture, depth, chroma), strict=True):
            assert np.abs(found - exact).max() <= 0.51


def night_sky():
    """Light that grows from nothing to 2 % of white, as 16-bit code values, over a frame."""
    light = np.linspace(0, 0.02, 1920)
    codes = np.where(light <= 0.0031308, light * 12.92, 1.055 * light ** (1 / 2.4) - 0.055)
    return np.tile((codes * 65535)[None, :, None], (64, 1, 3)).astype(np.uint16)


def test_a_night_sky_has_its_levels_in_ten_bits_and_no_steps_in_eight():
    sky = night_sky()
    ten, _, _ = planes(to_video_frame(sky, TEN), 10)
    assert len(np.unique(ten[0])) >= 60
    eight, blue, red = planes(to_video_frame(sky))
    # Over 15 × 15 pixels the mean follows the slope: nowhere a step as high as one code of 8 bits.
    window = np.lib.stride_tricks.sliding_window_view(eight, (15, 15)).mean(axis=(2, 3))
    assert np.abs(np.diff(window, axis=1)).max() < 0.3
    assert np.abs(window[20] - by_the_standard(sky)[0][27, 7:-7]).max() < 0.12
    assert np.abs(blue - 128).max() <= 1
    assert np.abs(red - 128).max() <= 1


def test_a_slope_of_two_hundredths_of_the_code_values_is_smooth_though_it_has_few_levels():
    """2 % of the code values are 4 steps of luma in 8 bits and 18 in 10: dithering carries what lies between them."""
    slope = np.tile(np.linspace(20_000, 20_000 + 0.02 * 65535, 1920)[None, :, None], (64, 1, 3)).astype(np.uint16)
    assert len(np.unique(planes(to_video_frame(slope, TEN), 10)[0])) >= 18
    eight, _, _ = planes(to_video_frame(slope))
    window = np.lib.stride_tricks.sliding_window_view(eight, (15, 15)).mean(axis=(2, 3))
    assert np.abs(np.diff(window, axis=1)).max() < 0.3
    assert np.abs(window[20] - by_the_standard(slope)[0][27, 7:-7]).max() < 0.12


def test_the_same_picture_is_the_same_frame():
    one, two = (to_video_frame(night_sky()) for _ in range(2))
    assert all((a == b).all() for a, b in zip(planes(one), planes(two), strict=True))


def test_colour_is_like_the_standards():
    image = scene(640, 360)
    found, exact = planes(to_video_frame(image)), by_the_standard(image)
    assert min(likeness(a, b) for a, b in zip(found, exact, strict=True)) > 54
