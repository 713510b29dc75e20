"""Raw stills are drawn in the light of the scene: laid and lit before it rolls off and is cut down to sRGB."""

import colour
import numpy as np
import pytest

from tests.ideal import resampled
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit, Surround
from yarnkite.core.gather.deep_copy import packed, unpacked
from yarnkite.core.image.camera_colour import CameraColour
from yarnkite.core.image.high_range import BT2020_TO_SRGB
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.image.scene import BRIGHTEST, LIGHT, base_curve, developed, scene_of
from yarnkite.core.image.srgb import to_codes
from yarnkite.core.light.adjustment import Adjustment
from yarnkite.core.light.surface import without_haze
from yarnkite.core.render.picture import fitted
from yarnkite.core.render.recipe import Correction

WIDTH, HEIGHT = 96, 64
SIZE = Size(width=WIDTH, height=HEIGHT)
# A sensor with more room above what is white for its least sensitive colour: red is doubled, blue raised by half.
CAMERA = CameraColour(balance=(1.0, 0.5, 0.75), matrix=((1.5, -0.4, -0.1), (-0.2, 1.4, -0.2), (0.0, -0.5, 1.5)))


def greys(*light):
    """Camera colour of upright stripes of grey, 1 where green clips, which clips first."""
    row = np.repeat(np.array(light, float), WIDTH // len(light))
    samples = np.rint(np.minimum(row[:, None] * 0.5, (1.0, 0.5, 0.75)) * 65535).astype(np.uint16)
    return Pixels(np.tile(samples[None], (HEIGHT, 1, 1)), 1, CAMERA)


def shown(pixels, light=Adjustment(), fit=Fit(size=SIZE)):
    height, width = pixels.array.shape[:2]
    still = Still(path="a.dng", fingerprint="a", width=width, height=height)
    return fitted(still, fit, fit.size, read=lambda still, reduction: pixels, correction=Correction(light=light))


def codes(light):
    """The codes of sRGB, 0 … 65535, that light of the scene is shown as."""
    return to_codes(np.asarray(base_curve(np.asarray(light, float)))) * 65535


@pytest.mark.parametrize("stops", [-2.0, -1 / 3, 0.0, 1 / 3, 1.0])
@pytest.mark.parametrize("how", ["exposure", "gain"])
def test_a_stop_is_a_stop_of_the_scene_from_shadow_to_highlight(how, stops):
    scene = np.array([0.01, 0.05, 0.18, 0.4, 0.7, 0.95])
    found = shown(greys(*scene), Adjustment(**{how: stops}))[HEIGHT // 2, 8::16, 1]
    # In evening what is raised rolls off to white as it always does (``white``): far below that nothing bends.
    far = scene * 2**stops < (4 if how == "exposure" else 0.25)
    assert np.abs(found - codes(scene * 2**stops))[far].max() < 40


def test_a_camera_that_changes_its_exposure_by_a_third_is_evened_to_a_code_everywhere():
    scene = np.array([0.02, 0.06, 0.12, 0.18, 0.24, 0.3])
    before, after = greys(*scene), greys(*scene * 2 ** (1 / 3))
    jumped = shown(after)[8, 8::16, 1].astype(int) - shown(before)[8, 8::16, 1]
    evened = shown(after, Adjustment(gain=-1 / 3))[8, 8::16, 1].astype(int) - shown(before)[8, 8::16, 1]
    assert jumped.min() > 2 * 257
    assert np.abs(evened).max() < 0.2 * 257


def test_what_the_sensor_held_above_white_comes_back_when_it_is_darkened():
    """Neighbours that are all but white, two stops down: told apart as the scene has them."""
    scene = np.array([0.9, 1.2, 1.5, 1.8])
    found = shown(greys(*scene), Adjustment(exposure=-2))[8, 12::24].mean(axis=1)
    assert np.abs(found - codes(scene / 4))[:3].max() < 0.02 * 65535
    assert (np.diff(found) > 3 * 257).all()


def test_what_is_blown_out_in_all_colours_stays_as_bright_however_it_is_evened():
    blown = greys(0.2, 4.0)
    seen = [
        shown(blown, Adjustment(gain=gain, evened_white=-0.4))[8, 80].astype(int) for gain in (-0.4, -0.2, 0.0, 0.2)
    ]
    assert np.ptp(seen, axis=0).max() <= 257


def test_colours_outside_srgb_survive_until_they_are_led_back_in():
    """A green that sRGB lacks, made paler: what it would be had it never been cut off."""
    seen = np.array([0.1, 0.45, 0.15])
    linear = np.array(CAMERA.matrix) @ seen
    assert linear.min() < -0.04
    assert (np.linalg.inv(BT2020_TO_SRGB) @ linear).min() > 0
    samples = np.rint(seen * 0.5 * 65535).astype(np.uint16)
    pixels = Pixels(np.tile(samples, (HEIGHT, WIDTH, 1)), 1, CAMERA)
    luminance = linear @ [0.2126390, 0.7151687, 0.0721923]
    paler = luminance + 0.4 * (linear - luminance)
    found = shown(pixels, Adjustment(saturation=-0.6))[8, 8]
    assert np.abs(found - codes(paler)).max() < 60


def test_the_way_to_srgb_is_that_of_the_standards():
    library = colour.matrix_RGB_to_RGB(colour.RGB_COLOURSPACES["ITU-R BT.2020"], colour.RGB_COLOURSPACES["sRGB"])
    assert np.abs(BT2020_TO_SRGB - library).max() < 2e-4


def test_it_is_laid_on_the_frame_before_it_rolls_off():
    """A bright lamp a pixel wide, reduced: its light is what the kernel makes of the scene, not of codes that end."""
    row = np.full((192, 3), 0.1)
    row[96] = 1.9
    samples = np.rint(row * 0.5 * 65535).astype(np.uint16)
    pixels = Pixels(np.tile(samples[None], (128, 1, 1)), 1, CAMERA)
    still = scene_of(pixels)
    roots = resampled(still.array, (0, 0, 192, 128), (WIDTH, HEIGHT)).clip(0, 65535) / 65535
    wanted = codes((roots**2 * BRIGHTEST) @ BT2020_TO_SRGB.T)
    found = shown(pixels)
    assert np.abs(found[20:40, 4:-4] - wanted[20:40, 4:-4]).max() < 60


def test_where_nothing_is_decided_it_is_what_developing_gives_from_the_file_and_from_the_copy():
    rng = np.random.default_rng(4)
    samples = (rng.integers(0, 30_000, (HEIGHT, WIDTH, 1)) * [1, 0.5, 0.7]).astype(np.uint16)
    pixels = Pixels(samples, 1, CAMERA)
    assert np.abs(shown(pixels).astype(int) - developed(pixels).array).max() <= 1
    assert np.array_equal(developed(scene_of(pixels)).array, developed(pixels).array)
    smooth = greys(0.02, 0.1, 0.3, 0.6, 0.8, 1.2)
    copied = unpacked(packed(smooth))
    assert copied.camera is not None
    found, wanted = (shown(one, Adjustment(exposure=-1)).astype(int) for one in (copied, smooth))
    assert np.abs(found - wanted)[:, 4:12].max() < 257


def test_light_of_the_scene_takes_as_much_as_its_samples_hold():
    assert LIGHT[0] == 0
    assert LIGHT[-1] == BRIGHTEST
    pixels = scene_of(greys(0.0, 0.18, 0.9, 4.0))
    light = LIGHT[pixels.array[8, 12::24, 1]]
    assert light[:3] == pytest.approx([0, 0.18, 0.9], abs=2e-3)
    assert light[3] == pytest.approx(pixels.scene.blown, abs=0.02)
    assert scene_of(pixels) is pixels


@pytest.mark.parametrize(
    "fit",
    [
        Fit(size=SIZE, level=2.0),
        Fit(size=SIZE, linear=True),
        Fit(size=SIZE, how="contain", zoom=0.6, surround=Surround(kind="blurred")),
        Fit(size=SIZE, how="contain", zoom=0.6, surround=Surround(colour="#336699")),
    ],
    ids=["levelled", "in light", "blurred around", "a colour around"],
)
def test_every_way_it_lies_shows_a_grey_as_that_grey(fit):
    found = shown(greys(0.18), fit=fit)
    assert found.dtype == np.uint16
    middle = found[HEIGHT // 2 - 4 : HEIGHT // 2 + 4, WIDTH // 2 - 8 : WIDTH // 2 + 8]
    assert np.abs(middle - codes(0.18)).max() < 60
    if fit.surround.colour == "#336699":
        assert found[0, 0].tolist() == [0x33 * 257, 0x66 * 257, 0x99 * 257]


def test_haze_is_thinned_in_the_picture_after_the_scene_was_lit():
    pixels = greys(0.1, 0.2, 0.4, 0.6)
    lit = shown(pixels, Adjustment(exposure=-0.5))
    wanted = without_haze(lit, 0.6, WIDTH)
    assert np.abs(shown(pixels, Adjustment(exposure=-0.5, haze=0.6)).astype(int) - wanted).max() <= 257
