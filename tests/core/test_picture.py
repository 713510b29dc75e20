"""The picture on the stage is the frame of the clip."""

import numpy as np
from skimage.metrics import structural_similarity

from yarnkite.core.gather import Proxies, gather_still
from yarnkite.core.picture import fitted, picture
from yarnkite.core.recipe import Decisions, Fit, Pace, Recipe, Size


def recipe_of(stills, **fit):
    return Recipe(stills=stills, decisions=Decisions(fit=Fit(**fit), pace=Pace(hold=2)))


def reduced(image, factor):
    height, width = image.shape[0] // factor, image.shape[1] // factor
    return image.reshape(height, factor, width, factor, 3).mean(axis=(1, 3))


def test_the_preview_is_the_render_on_a_coarser_grid(stills):
    taken = stills(3, (1800, 1200))
    for how in ("cover", "contain"):
        recipe = recipe_of(taken, size=Size(width=1280, height=720), how=how, across=0.2, down=0.8)
        render = reduced(picture(recipe, 3), 2)
        preview = picture(recipe, 3, Size(width=640, height=360))
        assert np.abs(render - preview).mean() < 1.5
        assert structural_similarity(render, preview.astype(float), channel_axis=2, data_range=255) >= 0.98


def test_the_preview_from_the_proxy_is_the_render(stills, tmp_path):
    (taken,) = stills(1, (3200, 2160))
    folder, name = taken.path.rsplit("/", 1)
    proxies = Proxies(tmp_path / "proxies")
    from pathlib import Path

    gathered = gather_still(Path(folder), name, proxies)
    known = taken.model_copy(update={"fingerprint": gathered.fingerprint})
    fit = Fit(size=Size(width=1920, height=1080), down=0.3)
    size = Size(width=960, height=540)
    preview = fitted(known, fit, size, read=proxies.read)
    render = reduced(fitted(known, fit, fit.size), 2)
    assert proxies.path(gathered.fingerprint).exists()
    assert structural_similarity(render, preview.astype(float), channel_axis=2, data_range=255) >= 0.98
    edge = np.argmax(np.abs(np.diff(render[:, :, 0].mean(axis=0))))
    assert abs(int(np.argmax(np.abs(np.diff(preview[:, :, 0].astype(float).mean(axis=0))))) - int(edge)) <= 1


def test_black_edges_are_black_and_whole_and_the_picture_is_not(stills):
    recipe = recipe_of(stills(1, (800, 600)), size=Size(width=1280, height=720), how="contain")
    image = picture(recipe, 0)
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
    top = fitted(taken, Fit(size=wide, down=0.0), wide)
    bottom = fitted(taken, Fit(size=wide, down=1.0), wide)
    whole = fitted(taken, Fit(size=Size(width=600, height=900)), Size(width=600, height=900))
    assert np.abs(top.astype(int) - whole[:300]).max() <= 1
    assert np.abs(bottom.astype(int) - whole[600:]).max() <= 1


def test_held_frames_show_the_same_still(stills):
    recipe = recipe_of(stills(3), size=Size(width=320, height=180))
    assert (picture(recipe, 2) == picture(recipe, 3)).all()
    assert (picture(recipe, 3) != picture(recipe, 4)).any()
