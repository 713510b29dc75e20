"""Lens profiles: found by what Exif says, the same as the library's own correction, and none where none fits."""

import lensfunpy
import numpy as np
import pytest

from tests.conftest import scene
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.lens import NO_PROFILE, Lens, Profile, straightening
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.image.srgb import to_codes
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, SharedLight
from yarnkite.core.light.decisions import LensChoice
from yarnkite.core.light.lens_profile import known_lenses, profile_by_choice, profile_of
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.picture import picture
from yarnkite.core.render.recipe import Recipe


def some_lens():
    """The first lens of the database that bends, with a camera it fits on."""
    database = lensfunpy.Database()
    for body in database.cameras:
        for lens in database.find_lenses(body)[:3]:
            found = profile_of(f"{body.maker} {body.model} no. 77", lens.model, lens.min_focal, 8.0)
            if (
                found is not None
                and max(abs(one) for one in found.bends[1:]) > 0.01
                and lens.type.name == "RECTILINEAR"
            ):
                return body, lens, found
    pytest.fail("the database has no lens")


def test_it_bends_as_the_library_does():
    body, lens, found = some_lens()
    modifier = lensfunpy.Modifier(lens, body.crop_factor, 600, 400)
    modifier.initialize(lens.min_focal, 8.0, 1000.0, scale=1.0, flags=lensfunpy.ModifyFlags.DISTORTION)
    theirs = modifier.apply_geometry_distortion()
    x, y = np.meshgrid(np.arange(600), np.arange(400))
    half = np.hypot(299.5, 199.5)
    radius = np.hypot(x - 299.5, y - 199.5) / half
    factor = sum(bend * radius**power for power, bend in enumerate(found.bends))
    assert np.abs((x - 299.5) * factor + 299.5 - theirs[..., 0]).max() < 0.6
    assert np.abs((y - 199.5) * factor + 199.5 - theirs[..., 1]).max() < 0.6


def test_nothing_empty_shows_at_the_edges():
    _, _, found = some_lens()
    straight = straightening(600, 400, Lens(), found)
    edge = np.linspace(-1, 1, 101)
    across, down = 600 / np.hypot(600, 400), 400 / np.hypot(600, 400)
    x, y = straight.bent(edge * across, np.full(101, down))
    assert np.abs(x).max() <= across + 1e-6
    assert np.abs(y).max() <= down + 1e-6


@pytest.mark.parametrize(("camera", "lens"), [("", ""), ("Nobody One", "Glass 50mm"), ("A" * 300, "B" * 300)])
def test_what_nobody_knows_has_no_profile(camera, lens):
    assert profile_of(camera, lens, 50, 8) is None


def test_a_focal_length_outside_of_the_lens_has_no_profile():
    body, lens, _ = some_lens()
    assert profile_of(f"{body.maker} {body.model}", lens.model, lens.max_focal * 3 + 100, 8) is None
    assert NO_PROFILE.bends == (1, 0, 0, 0, 0)


def drawn(light=NO_SHARED_LIGHT, lens=None, image=None):
    """A frame of a still with hard detail, with what its light shares and a lens set by hand."""
    image = scene(480, 320) if image is None else image
    still = Still(path="/a.jpg", fingerprint="a" * 32, width=480, height=320)
    fit = Fit(size=Size(width=320, height=180), lens=lens or Lens())
    spec = ClipFrames(Recipe(stills=(still,), decisions=Decisions(fit=fit), light=light)).spec(0)
    return picture(spec, read=lambda one, reduction: Pixels(image, 1)).astype(int)


def test_a_profile_straightens_as_the_same_lens_set_by_hand_does():
    profile = Profile(name="x", bends=(1.0, 0.0, 0.06, 0.0, 0.02))
    known, by_hand = drawn(SharedLight(profile=profile)), drawn(lens=Lens(k1=0.06, k2=0.02))
    assert np.abs(known - by_hand).max() <= 1
    assert np.abs(known - drawn()).mean() > 2
    both = drawn(SharedLight(profile=profile), lens=Lens(k1=-0.06, k2=-0.02))
    assert np.abs(both - drawn()).mean() < np.abs(known - drawn()).mean()


def test_red_is_enlarged_about_the_middle_and_green_stays():
    across = np.arange(480) + 0.5
    edge = np.repeat(np.rint(255 / (1 + np.exp(-(across - 400) / 2.0)))[None, :, None], 320, axis=0).repeat(3, axis=2)
    plain, shown = (
        drawn(image=edge.astype(np.uint8)),
        drawn(SharedLight(channels=(1.003, 1.0)), image=edge.astype(np.uint8)),
    )
    places = [
        np.interp(127.5, row[90, 200:300, channel], np.arange(200, 300)) for row in (plain, shown) for channel in (0, 1)
    ]
    # 400 of 480 lies 160 pixels right of the middle, of which the frame shows two thirds.
    assert places[2] - places[0] == pytest.approx(0.003 * 160 * 320 / 480, abs=0.06)
    assert places[3] - places[1] == pytest.approx(0.0, abs=0.06)


def test_corners_that_the_lens_darkens_are_raised_to_what_they_were():
    aspect, darkens = 480 / 320, (-0.4, 0.1, 0.0)
    x, y = np.meshgrid((np.arange(480) + 0.5) / 480 - 0.5, (np.arange(320) + 0.5) / 320 - 0.5)
    square = (x**2 + (y / aspect) ** 2) / (0.25 + 0.25 / aspect**2)
    light = 0.3 * (1 + square * (darkens[0] + square * darkens[1]))
    dark = np.rint(to_codes(light)[..., None].repeat(3, axis=2) * 65535).astype(np.uint16)
    shown = drawn(SharedLight(profile=Profile(name="x", darkens=darkens)), image=dark)
    assert np.ptp(shown[4:-4, 4:-4]) < 0.02 * shown.mean()


def test_a_lens_that_is_chosen_does_what_one_that_is_named_does():
    body, lens, found = some_lens()
    name = f"{lens.maker} {lens.model}".strip()
    assert name in [one.name for one in known_lenses(name)]
    choice = LensChoice(name=name, focal_mm=lens.min_focal)
    assert profile_by_choice(f"{body.maker} {body.model}", choice, 8.0) == found
    # On a camera that is not known its sensor is the one the lens was measured on.
    other = profile_by_choice("", choice, 8.0)
    assert other is not None
    assert other.name == found.name
    assert profile_by_choice("", LensChoice(name="no such lens", focal_mm=24), 8.0) is None
    # What it has no numbers for counts as the nearest it has.
    assert profile_by_choice("", choice.model_copy(update={"focal_mm": 0.5 * lens.min_focal}), 8.0) == other


def test_lenses_are_found_by_some_words_of_their_names():
    _, lens, _ = some_lens()
    words = lens.model.split()[-1][:4]
    found = known_lenses(words)
    assert found
    assert all(words.casefold() in one.name.casefold() for one in found)
    assert known_lenses("  ") == []
