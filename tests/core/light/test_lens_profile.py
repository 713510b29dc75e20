"""Lens profiles: found by what Exif says, the same as the library's own correction, and none where none fits."""

import lensfunpy
import numpy as np
import pytest

from yarnkite.core.image.lens import NO_PROFILE, Lens, straightening
from yarnkite.core.light.lens_profile import profile_of


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
