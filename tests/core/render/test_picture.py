"""The picture on the stage is the frame of the clip."""

import cv2
import numpy as np
import pytest
from PIL import Image
from skimage.metrics import structural_similarity

from tests.clips import frame_of
from tests.eight_bits import fitted
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit, Surround
from yarnkite.core.fit.placement import level_along
from yarnkite.core.gather.gathering import gather_still
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.lens import Lens
from yarnkite.core.pace.decisions import Pace, Thin
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe


def recipe_of(stills, **fit):
    return Recipe(stills=stills, decisions=Decisions(fit=Fit(**fit), pace=Pace(hold=2)))


def reduced(image, factor):
    height, width = image.shape[0] // factor, image.shape[1] // factor
    return image.reshape(height, factor, width, factor, 3).mean(axis=(1, 3))


def test_the_preview_is_the_render_on_a_coarser_grid(stills):
    taken = stills(3, (1800, 1200))
    for how in ("cover", "contain"):
        recipe = recipe_of(taken, size=Size(width=1280, height=720), how=how, x=0.2, y=0.8)
        render = reduced(frame_of(recipe, 3), 2)
        preview = frame_of(recipe, 3, Size(width=640, height=360))
        assert np.abs(render - preview).mean() < 1.5
        assert structural_similarity(render, preview.astype(float), channel_axis=2, data_range=255) >= 0.98


EVERY_WAY = {
    "levelled": {"level": 3.2, "y": 0.3},
    "turned and mirrored": {"quarters": 1, "mirror": True, "zoom": 1.2},
    "straightened": {"lens": Lens(k1=0.08, keystone_y=0.12)},
    "levelled and straightened": {"level": -2.0, "lens": Lens(k1=-0.06, keystone_x=-0.1), "zoom": 1.3},
    "stretched": {"how": "stretch"},
    "blurred surround": {"how": "contain", "surround": Surround(kind="blurred")},
    "levelled inside": {"how": "contain", "level": 4.0},
    "sharpened": {"sharpen": "strong"},
    "in light": {"linear": True},
}


@pytest.mark.parametrize("way", EVERY_WAY)
def test_whatever_is_done_to_the_picture_the_preview_shows_the_same(stills, way):
    taken = stills(2, (1800, 1200))
    recipe = recipe_of(taken, size=Size(width=1280, height=720), **EVERY_WAY[way])
    render = reduced(frame_of(recipe, 1), 2)
    preview = frame_of(recipe, 1, Size(width=640, height=360))
    assert structural_similarity(render, preview.astype(float), channel_axis=2, data_range=255) >= 0.98
    assert offset(render, preview) < 0.1


@pytest.mark.parametrize("blend", ["neighbours", "shutter", "motion"])
def test_blended_previews_show_what_the_render_blends(stills, blend):
    thin = Thin(way="every", every=3) if blend == "shutter" else Thin()
    pace = Pace(hold=1 if blend == "shutter" else 3, blend=blend, thin=thin, shutter=360)
    fit = Fit(size=Size(width=1280, height=720))
    recipe = Recipe(stills=stills(9, (1800, 1200)), decisions=Decisions(fit=fit, pace=pace))
    render = reduced(frame_of(recipe, 1), 2)
    preview = frame_of(recipe, 1, Size(width=640, height=360))
    assert structural_similarity(render, preview.astype(float), channel_axis=2, data_range=255) >= 0.98
    # Where movement was misjudged the light of both is mixed, and what is brighter shows more.
    assert offset(render, preview) < (0.15 if blend == "motion" else 0.1)


def offset(one, other) -> float:
    """How far two pictures lie apart, in pixels, by phase correlation."""
    grey = (np.asarray(image, np.float64).mean(axis=2) for image in (one, other))
    window = cv2.createHanningWindow((one.shape[1], one.shape[0]), cv2.CV_64F)
    (across, down), _ = cv2.phaseCorrelate(*grey, window)
    return float(np.hypot(across, down))


def test_levelling_makes_a_tilted_horizon_flat(tmp_path):
    tilted = np.full((1200, 1800, 3), 210, np.uint8)
    across = np.arange(1800)
    horizon = 600 + np.tan(np.radians(2.5)) * (across - 900)
    tilted[np.arange(1200)[:, None] > horizon[None, :]] = 60
    Image.fromarray(tilted).save(tmp_path / "tilted.png")
    still = Still(path=str(tmp_path / "tilted.png"), fingerprint="tilted", width=1800, height=1200)
    size = Size(width=960, height=540)
    level = level_along((0.0, 0.0, 1000.0, float(np.tan(np.radians(2.5)) * 1000)), Fit(size=size))
    image = fitted(still, Fit(size=size, level=level), size)
    rows = [int(np.argmax(image[:, column, 0] < 135)) for column in (5, 480, 954)]
    assert max(rows) - min(rows) <= 1
    assert set(np.unique(image[[0, -1]][:, [0, -1]])) <= {60, 210}


def test_quarter_turns_and_mirror_are_exact(stills):
    (taken,) = stills(1, (600, 400))
    plain = fitted(taken, Fit(size=Size(width=600, height=400)), Size(width=600, height=400))
    upright = Size(width=400, height=600)
    turned = fitted(taken, Fit(size=upright, quarters=1), upright)
    assert np.array_equal(turned, np.rot90(plain, -1))
    mirrored = fitted(taken, Fit(size=upright, quarters=1, mirror=True), upright)
    assert np.array_equal(mirrored, np.rot90(plain, -1)[:, ::-1])


@pytest.mark.parametrize("mirror", [False, True])
@pytest.mark.parametrize("quarters", [1, 2, 3])
def test_a_turned_preview_shows_the_place_the_plain_one_shows(tmp_path, quarters, mirror):
    # A copy of an eighth of 1203 × 805 has a column and a row that reach beyond the still. What is smooth is hardly
    # changed by sampling, so that a picture that lies an eighth of such a pixel too far is seen.
    across, down = np.meshgrid(np.linspace(0, 1, 1203), np.linspace(0, 1, 805))
    taken = np.stack([40 + 160 * across, 40 + 160 * down, 128 + 0 * across], axis=2).round().astype(np.uint8)
    Image.fromarray(taken).save(tmp_path / "slope.jpg", quality=98, subsampling=0)
    still = Still(path=str(tmp_path / "slope.jpg"), fingerprint="slope", width=1203, height=805)
    full, small = Size(width=1200, height=800), Size(width=150, height=100)
    plain = fitted(still, Fit(size=full, how="stretch"), small).astype(float)
    if quarters % 2:
        full, small = (Size(width=size.height, height=size.width) for size in (full, small))
    turned = fitted(still, Fit(size=full, how="stretch", quarters=quarters, mirror=mirror), small).astype(float)
    wanted = np.rot90(plain, -quarters)[:, :: -1 if mirror else 1]
    assert np.abs(turned - wanted).max() <= 2
    assert np.abs((turned - wanted).mean(axis=(0, 1))).max() < 0.1


def test_a_blend_in_light_lies_between_its_stills_and_above_the_mean_of_codes(stills):
    fit = Fit(size=Size(width=480, height=320))
    taken = stills(2)
    recipe = Recipe(stills=taken, decisions=Decisions(fit=fit, pace=Pace(hold=2, blend="neighbours")))
    one, other = (fitted(still, fit, fit.size).astype(float) for still in taken)
    blend = frame_of(recipe, 1).astype(float)
    assert (blend >= np.minimum(one, other) - 1).all()
    assert (blend <= np.maximum(one, other) + 1).all()
    differs = np.abs(one - other).max(axis=2) > 60
    assert (blend - (one + other) / 2)[differs].mean() > 3


def test_linear_reduction_keeps_small_lights_bright(tmp_path):
    night = np.zeros((1200, 1200, 3), np.uint8)
    night[::12, ::12] = 255
    Image.fromarray(night).save(tmp_path / "night.png")
    still = Still(path=str(tmp_path / "night.png"), fingerprint="night", width=1200, height=1200)
    size = Size(width=100, height=100)
    codes, light = (fitted(still, Fit(size=size, linear=linear), size).mean() for linear in (False, True))
    # One lit pixel in 144: 255 / 144 as codes; as light 1/144, which the sRGB curve writes as about 21.
    assert codes == pytest.approx(255 / 144, abs=0.6)
    assert light == pytest.approx(21, abs=2)


def test_the_preview_from_the_proxy_is_the_render(stills, tmp_path):
    (taken,) = stills(1, (3200, 2160))
    folder, name = taken.path.rsplit("/", 1)
    proxies = Proxies(tmp_path / "proxies")
    from pathlib import Path

    gathered = gather_still(Path(folder), name, proxies)
    known = taken.model_copy(update={"fingerprint": gathered.fingerprint})
    fit = Fit(size=Size(width=1920, height=1080), y=0.3)
    size = Size(width=960, height=540)
    preview = fitted(known, fit, size, read=proxies.read)
    render = reduced(fitted(known, fit, fit.size), 2)
    assert proxies.path(gathered.fingerprint).exists()
    assert structural_similarity(render, preview.astype(float), channel_axis=2, data_range=255) >= 0.98
    edge = np.argmax(np.abs(np.diff(render[:, :, 0].mean(axis=0))))
    assert abs(int(np.argmax(np.abs(np.diff(preview[:, :, 0].astype(float).mean(axis=0))))) - int(edge)) <= 1


def test_black_edges_are_black_and_whole_and_the_picture_is_not(stills):
    recipe = recipe_of(stills(1, (800, 600)), size=Size(width=1280, height=720), how="contain")
    image = frame_of(recipe, 0)
    assert image.shape == (720, 1280, 3)
    assert (image[:, :160] == 0).all()
    assert (image[:, 1120:] == 0).all()
    assert image[:, 160:1120].min(axis=2).mean() > 20


def test_an_edge_that_falls_between_preview_pixels_is_shared_between_them(stills):
    (taken,) = stills(1, (800, 600))
    fit = Fit(size=Size(width=1280, height=720), how="contain")
    preview = fitted(taken, fit, Size(width=426, height=240)).astype(float)
    # The picture begins at 160 of 1280, which is 53.25 of 426: pixel 53 shows three quarters of it.
    assert (preview[:, :53] == 0).all()
    share = preview[20:220, 53].mean() / preview[20:220, 54].mean()
    assert 0.7 < share < 0.8


def test_cover_keeps_the_part_that_was_asked_for(stills):
    (taken,) = stills(1, (600, 900))
    wide = Size(width=600, height=300)
    top = fitted(taken, Fit(size=wide, y=0.0), wide)
    bottom = fitted(taken, Fit(size=wide, y=1.0), wide)
    whole = fitted(taken, Fit(size=Size(width=600, height=900)), Size(width=600, height=900))
    assert np.abs(top.astype(int) - whole[:300]).max() <= 1
    assert np.abs(bottom.astype(int) - whole[600:]).max() <= 1


def test_held_frames_show_the_same_still(stills):
    recipe = recipe_of(stills(3), size=Size(width=320, height=180))
    assert (frame_of(recipe, 2) == frame_of(recipe, 3)).all()
    assert (frame_of(recipe, 3) != frame_of(recipe, 4)).any()
