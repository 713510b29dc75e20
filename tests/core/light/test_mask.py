"""Areas: where they are by their formulas, on what they cover however the still lies, and within their limits."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as some
from pydantic import ValidationError

from tests.conftest import scene
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.image.lens import Lens
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.image.still_map import StillMap
from yarnkite.core.light.adjustment import Adjustment, SharedLight, adjusted
from yarnkite.core.light.areas import (
    Area,
    Brush,
    Ellipse,
    Everything,
    Gradient,
    HueLimit,
    Mask,
    Part,
    Stroke,
    stroke_points,
    stroke_text,
)
from yarnkite.core.light.decisions import Light
from yarnkite.core.light.grade import GradeNumbers
from yarnkite.core.light.mask import limited, mask_on
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.picture import picture, still_map_of
from yarnkite.core.render.recipe import Correction, Recipe

WHOLE = StillMap.whole(240, 160)
STILL = Still(path="/stills/1.jpg", fingerprint="1" * 32, width=480, height=320)
SKY = Gradient(x=0.5, y=0.0, to_x=0.5, to_y=0.5)


def mask(*shapes, **limits):
    return Mask(parts=tuple(Part(shape=one) for one in shapes), **limits)


def stroke(points, **brush):
    return Stroke(points=stroke_text(np.array(points, float)), **{"width": 0.1, **brush})


def test_a_gradient_goes_from_all_to_nothing_without_a_corner():
    found = mask_on(mask(SKY), WHOLE)
    assert found[0].min() > 0.999
    assert found[80:].max() == 0
    assert found[40, 120] == pytest.approx(0.5, abs=0.02)
    assert np.abs(np.diff(found[:, 120], 2)).max() < 0.003


def test_a_slanted_gradient_stands_square_in_pixels():
    found = mask_on(mask(Gradient(x=0.2, y=0.3, to_x=0.6, to_y=0.9)), WHOLE)
    down, across = np.gradient(found.astype(float))
    inner = (found > 0.2) & (found < 0.8)
    # The way from (48, 48) to (144, 144) of 240 x 160 pixels is a diagonal.
    assert np.abs(across[inner] - down[inner]).max() < 1e-3


@given(
    some.floats(0.2, 0.8), some.floats(0.2, 0.8), some.floats(0.05, 0.4), some.floats(0.05, 0.4), some.floats(-90, 90)
)
def test_an_ellipse_has_the_size_it_says(x, y, across, down, angle):
    around = Ellipse(x=x, y=y, x_radius=across, y_radius=down, angle_deg=angle, softness=0.0)
    found = mask_on(mask(around), StillMap.whole(960, 640))
    inside = np.pi * around.x_radius * 960 * around.y_radius * 640
    if across + abs(y - 0.5) < 0.35 and down + abs(x - 0.5) < 0.35 and across + abs(x - 0.5) < 0.45:
        assert found.sum() == pytest.approx(inside, rel=0.03)
    assert found.max() <= 1


@given(some.lists(some.tuples(some.floats(-0.4, 1.4), some.floats(-0.4, 1.4)), min_size=1, max_size=60))
def test_a_stroke_is_kept_where_it_was_drawn(points):
    again = stroke_points(stroke_text(np.array(points)))
    assert again[0] == pytest.approx(points[0], abs=4e-4)
    assert again[-1] == pytest.approx(points[-1], abs=4e-4)
    for point in points:
        ends = again[:-1], again[1:]
        if len(again) == 1:
            assert np.hypot(*(again[0] - point)) < 2e-3
            continue
        along = ends[1] - ends[0]
        share = np.clip(((point - ends[0]) * along).sum(1) / np.maximum((along**2).sum(1), 1e-12), 0, 1)
        assert np.hypot(*(ends[0] + share[:, None] * along - point).T).min() < 2.5e-3


def test_a_brush_paints_its_width_and_wipes_away():
    line = stroke([(0.2, 0.5), (0.8, 0.5)], softness=0.0)
    found = mask_on(mask(Brush(strokes=(line,))), StillMap.whole(960, 640))
    assert (found[:, 480] > 0.5).sum() == pytest.approx(96, abs=3)
    wiped = Brush(strokes=(line, stroke([(0.5, 0.5)], width=0.2, softness=0.0, erases=True)))
    found = mask_on(mask(wiped), StillMap.whole(960, 640))
    assert found[320, 480] < 0.01
    assert found[320, 250] > 0.99
    assert mask_on(mask(Brush(strokes=(stroke([(1.4, 1.4)]),))), WHOLE).max() == 0


def test_shapes_are_added_taken_away_and_turned_round():
    round_hole = Part(shape=Ellipse(x=0.5, y=0.1, x_radius=0.1, y_radius=0.1, softness=0.1), takes_away=True)
    both = Mask(parts=(Part(shape=SKY), round_hole))
    found = mask_on(both, WHOLE)
    assert found[16, 120] < 0.01
    assert found[2, 10] > 0.99
    assert mask_on(both.model_copy(update={"inverted": True}), WHOLE) == pytest.approx(1 - found, abs=1e-6)


def codes(colour, shape=(20, 30)):
    return np.full((*shape, 3), np.array(colour) * 257, np.uint16)


def test_brightness_and_hue_limit_an_area():
    ones = np.ones((20, 30), np.float32)
    bright = mask(Everything(), darkest=0.5)
    assert limited(ones, bright, codes((200, 200, 200))).min() == 1
    assert limited(ones, bright, codes((60, 60, 60))).max() == 0
    assert limited(ones, mask(Everything(), brightest=0.5), codes((200, 200, 200))).max() == 0
    blue = mask(Everything(), hue=HueLimit(hue=264, width=40))
    assert limited(ones, blue, codes((40, 60, 220))).min() > 0.9
    for other in ((220, 60, 40), (120, 120, 120), (60, 200, 60)):
        assert limited(ones, blue, codes(other)).max() < 0.05
    # A hue is looked up by how far red and blue lie from green, whatever the brightness: dark, middle and bright ones.
    for colour in ((20, 30, 110), (70, 90, 200), (150, 165, 245)):
        assert limited(ones, blue, codes(colour)).min() > 0.8
    red = mask(Everything(), hue=HueLimit(hue=29, width=40))
    assert limited(ones, red, codes((200, 40, 30))).min() > 0.9
    assert limited(ones, red, codes((200, 150, 30))).max() < 0.05


@pytest.mark.parametrize(
    "fit",
    [
        {},
        {"how": "contain"},
        {"zoom": 2.0, "x": 0.2, "y": 0.7},
        {"level": 7.0},
        {"quarters": 1},
        {"quarters": 3, "mirror": True},
        {"mirror": True},
        {"lens": Lens(k1=0.05, keystone_y=0.1)},
    ],
    ids=str,
)
def test_an_area_stays_on_what_it_covers_however_the_still_is_fitted(fit):
    """The mask of a frame is what the same fit makes of a still painted as the mask."""
    area = mask(Ellipse(x=0.3, y=0.6, x_radius=0.25, y_radius=0.2, angle_deg=20, softness=0.6))
    painted = mask_on(area, StillMap.whole(480, 320))
    still = np.repeat(np.rint(painted * 65535)[..., None], 3, axis=2).astype(np.uint16)
    size = Size(width=200, height=120)
    recipe = Recipe(stills=(STILL,), decisions=Decisions(fit=Fit(size=size, linear=False, **fit)))
    spec = ClipFrames(recipe).spec(0)
    fitted = picture(spec, read=lambda one, reduction: Pixels(still, 1))[..., 0] / 65535
    place = still_map_of(spec, size)
    found = np.zeros((size.height, size.width))
    found[slice(*place.rows), slice(*place.columns)] = mask_on(area, place)
    # At the edge of a still that does not fill the frame the surround is mixed in.
    assert np.abs(found - fitted)[2:-2, 2:-2].max() < 0.04


@pytest.mark.parametrize(
    "fit", [{}, {"level": -5.0, "zoom": 1.4}, {"quarters": 3, "mirror": True}, {"lens": Lens(k1=0.06)}]
)
def test_points_of_the_frame_and_of_the_still_lead_to_one_another(fit):
    spec = ClipFrames(
        Recipe(stills=(STILL,), decisions=Decisions(fit=Fit(size=Size(width=320, height=180), **fit)))
    ).spec(0)
    place = still_map_of(spec, Size(width=320, height=180))
    x, y = np.array([20.0, 160.0, 300.0]), np.array([15.0, 90.0, 150.0])
    again = place.to_points(*place.of_points(x, y))
    assert again[0] == pytest.approx(x, abs=0.01)
    assert again[1] == pytest.approx(y, abs=0.01)


def test_only_the_area_gets_its_grade_and_later_ones_work_on_earlier():
    image = scene(240, 160)
    shared = SharedLight(masks=(mask(SKY), mask(Ellipse(x=0.5, y=0.9, x_radius=0.1, y_radius=0.05))))
    shown = adjusted(image, Adjustment(areas=(GradeNumbers(exposure=1), GradeNumbers())), shared)
    plain = image.astype(int) * 257
    assert np.array_equal(shown[80:], plain[80:])
    whole = adjusted(image, Adjustment(exposure=1)).astype(int)
    assert np.abs(shown[0].astype(int) - whole[0]).max() <= 4
    between = (shown[40, 120].astype(float) - plain[40, 120]) / np.maximum(whole[40, 120] - plain[40, 120], 1)
    assert between == pytest.approx([0.5] * 3, abs=0.05)
    both = SharedLight(masks=(mask(Everything()), mask(Everything())))
    twice = adjusted(image, Adjustment(areas=(GradeNumbers(exposure=-1), GradeNumbers(exposure=-1))), both)
    assert np.abs(twice.astype(int) - adjusted(image, Adjustment(exposure=-2))).max() <= 8


def test_an_area_has_the_same_surface_as_the_whole_picture_would():
    """Radii are shares of the picture, not of the part that is worked on."""
    random = np.random.default_rng(2)
    image = np.clip(scene(480, 320) + random.normal(0, 6, (320, 480, 3)), 0, 255).astype(np.uint8)
    around = mask(Ellipse(x=0.5, y=0.5, x_radius=0.12, y_radius=0.15, softness=0.05))
    grade = GradeNumbers(coarse=0.8, fine=0.5)
    part = adjusted(image, Adjustment(areas=(grade,)), SharedLight(masks=(around,))).astype(float)
    whole = adjusted(image, Adjustment(coarse=0.8, fine=0.5)).astype(float)
    inner = mask_on(around, StillMap.whole(480, 320)) > 0.99
    plain = image[inner].astype(float) * 257
    assert np.abs(part - whole)[inner].mean() < 0.06 * np.abs(whole[inner] - plain).mean()


def test_a_preview_shows_the_same_areas_and_surface():
    light = Adjustment(fine=0.5, coarse=0.4, sharpen=0.5, areas=(GradeNumbers(exposure=1.2),))
    shared = SharedLight(masks=(mask(Ellipse(x=0.4, y=0.5, x_radius=0.3, y_radius=0.3)),))
    recipe = Recipe(
        stills=(STILL,),
        decisions=Decisions(fit=Fit(size=Size(width=480, height=320))),
        corrections=(Correction(light=light),),
        light=shared,
    )
    spec = ClipFrames(recipe).spec(0)

    def read(one, reduction=Fraction(1)):
        return Pixels(scene(480, 320), 1)

    full, small = picture(spec, read=read), picture(spec, Size(width=240, height=160), read=read)
    halved = full.reshape(160, 2, 240, 2, 3).mean(axis=(1, 3))
    assert np.abs(small.astype(float) - halved).mean() < 65535 * 0.006


def test_more_than_a_shot_keeps_is_refused():
    long = Stroke(points="AAAA" * 2000, width=0.1)
    area = Area(name="too much", mask=mask(Brush(strokes=(long,) * 4)))
    with pytest.raises(ValidationError, match="Paint with fewer"):
        Light(areas=(area,))


def test_a_limit_is_soft_to_both_sides_and_none_where_nothing_is_limited():
    ramp = np.repeat(np.arange(256, dtype=np.uint16)[None, :, None] * 257, 3, axis=2)
    ones = np.ones((1, 256), np.float32)
    dark = limited(ones, mask(Everything(), brightest=0.5), ramp)[0]
    bright = limited(ones, mask(Everything(), darkest=0.5), ramp)[0]
    assert dark[:90] == pytest.approx(1)
    assert bright[166:] == pytest.approx(1)
    # Half of it at the limit itself, and what one leaves the other takes.
    assert np.interp(0.5 * 255, np.arange(256), dark) == pytest.approx(0.5, abs=0.01)
    assert dark + bright == pytest.approx(np.ones(256), abs=1e-4)
    assert (np.diff(dark) <= 0).all()
    only_blue = mask(Everything(), hue=HueLimit(hue=264, width=40))
    assert limited(ones, only_blue, codes((0, 2, 30), (1, 256))).min() > 0.3, "black is no limit of it"
