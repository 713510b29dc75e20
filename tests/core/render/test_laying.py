"""A still that is laid against the others looks as if it had been moved before: however it is turned, levelled,
straightened."""

from fractions import Fraction

import cv2
import numpy as np
import pytest

from tests.moved import HALF, HEIGHT, WIDTH, scene, seen
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.homography import exponential, homography
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import placement_of
from yarnkite.core.image.lens import Lens
from yarnkite.core.image.pixels import Pixels, as_eight
from yarnkite.core.move.decisions import Move, Steady
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.filling import filled
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.frame_spec import Finish, Layer, mark
from yarnkite.core.render.picture import draw, still_map
from yarnkite.core.render.recipe import Correction, Recipe

SIZE = Size(width=480, height=270)
SHIFT = np.array([11.3 / HALF, -6.1 / HALF, 0, 0, 0, 0, 0, 0])
TURN = np.array([5 / HALF, 3 / HALF, np.radians(2), 0.02, 0, 0, 0, 0])
TILT = np.array([4 / HALF, 0, np.radians(1), 0, 0, 0, 0.03, -0.02])


@pytest.fixture(scope="module")
def taken():
    return np.clip(cv2.GaussianBlur(seen(scene(7), np.eye(3)).astype(np.float32), (0, 0), 2.0), 0, 255).astype(np.uint8)


def still():
    return Still(path="a.jpg", fingerprint="a", width=WIDTH, height=HEIGHT)


def moved(picture, numbers):
    """The still itself moved by a map, by a library."""
    to_half = np.array([[1 / HALF, 0, -(WIDTH - 1) / 2 / HALF], [0, 1 / HALF, -(HEIGHT - 1) / 2 / HALF], [0, 0, 1]])
    pixels = np.linalg.inv(to_half) @ exponential(numbers) @ to_half
    return cv2.warpPerspective(picture, pixels, (WIDTH, HEIGHT), flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)


def drawn(picture, fit, numbers=None):
    correction = Correction(laid=None if numbers is None else homography(exponential(numbers)))
    layer = Layer(still(), placement_of(WIDTH, HEIGHT, fit), correction)
    return as_eight(draw(layer, Finish.of(fit), fit.size, read=lambda one, reduction: Pixels(picture, 1))).astype(int)


@pytest.mark.parametrize("numbers", [SHIFT, TURN, TILT], ids=["shift", "turn", "tilt"])
@pytest.mark.parametrize(
    "more",
    [
        {},
        {"quarters": 1},
        {"quarters": 2, "mirror": True},
        {"quarters": 3},
        {"mirror": True},
        {"level": 3.0},
        {"lens": Lens(keystone_x=0.1, keystone_y=-0.15)},
        {"zoom": 1.6, "x": 0.2, "y": 0.8},
    ],
    ids=str,
)
def test_it_looks_as_the_moved_still_does(taken, numbers, more):
    fit = Fit(size=SIZE, **({"zoom": 1.25} | more))
    laid, wanted = drawn(taken, fit, numbers), drawn(moved(taken, numbers), fit)
    assert np.abs(laid - wanted)[12:-12, 12:-12].mean() < 0.6
    assert np.abs(laid - drawn(taken, fit)).mean() > 4 * np.abs(laid - wanted).mean()


def test_a_shift_alone_is_exact_and_needs_no_other_interpolation(taken):
    fit = Fit(size=SIZE, zoom=1.5)
    whole = np.array([12 / HALF, -6 / HALF, 0, 0, 0, 0, 0, 0])
    shown = drawn(np.roll(taken, (-6, 12), axis=(0, 1)), fit)
    assert np.array_equal(drawn(taken, fit, whole), shown)


def recipe(maps, **more):
    stills = tuple(Still(path=f"{n}.jpg", fingerprint=f"{n}", width=WIDTH, height=HEIGHT) for n in range(len(maps)))
    corrections = tuple(Correction(laid=homography(exponential(one))) for one in maps)
    decisions = Decisions(fit=Fit(size=SIZE), **more)
    return Recipe(stills=stills, decisions=decisions, corrections=corrections, region=(0.04, 0.04, 0.96, 0.96))


def test_what_pace_averages_are_the_steadied_stills():
    maps = np.stack([SHIFT * (-1) ** number for number in range(8)])
    frames = ClipFrames(recipe(maps, pace=Pace(blend="shutter", shutter=360, thin={"way": "every", "every": 4})))
    layers = [layer for layer, _ in frames.spec(0).layers]
    assert len(layers) == 4
    assert [layer.correction.laid for layer in layers] == [homography(exponential(one)) for one in maps[:4]]


def test_a_still_that_lies_otherwise_changes_its_own_frame_and_no_other():
    maps = np.tile(SHIFT, (6, 1))
    other = maps.copy()
    other[3] = TURN
    one, two = (ClipFrames(recipe(each)) for each in (maps, other))
    assert [mark(one.spec(n)) == mark(two.spec(n)) for n in range(6)] == [True, True, True, False, True, True]


def test_no_frame_shows_anything_beyond_the_region():
    frames = ClipFrames(
        recipe(np.zeros((3, 8)), move=Move(views=({"at": 0, "x": 0.0}, {"at": 1, "x": 1.0, "closeness": 1.3})))
    )
    for number in range(3):
        source = frames.spec(number).layers[0][0].placement.source
        assert source.left >= Fraction(4, 100) * WIDTH - 1
        assert source.right <= Fraction(96, 100) * WIDTH + 1


def test_empty_edges_are_taken_from_the_still_that_has_them(taken):
    """A still shifted to the right leaves its left edge empty; the one before has it, as light as itself."""
    fit = Fit(size=SIZE, zoom=1.0)
    right, left = np.array([60 / HALF, 0, 0, 0, 0, 0, 0, 0]), np.array([-60 / HALF, 0, 0, 0, 0, 0, 0, 0])
    finish, truth = Finish.of(fit), drawn(taken, fit)

    def of(numbers):
        layer = Layer(still(), placement_of(WIDTH, HEIGHT, fit), Correction(laid=homography(exponential(numbers))))
        picture = moved(taken, -numbers)
        shown = draw(layer, finish, SIZE, read=lambda one, reduction: Pixels(picture, 1))
        return shown, still_map(layer, finish, SIZE)

    own, lies = of(right)
    assert np.abs(as_eight(own).astype(int) - truth)[:, :20].mean() > 8
    whole = filled(own, lies, [of(left)])
    assert np.abs(as_eight(whole).astype(int) - truth)[5:-5, 2:20].mean() < 1.5
    assert np.array_equal(whole[:, 60:], own[:, 60:])


def test_frames_with_filled_edges_name_the_stills_they_take_them_from():
    swing = np.zeros((12, 8))
    swing[:, 0] = 0.05 * np.sin(np.arange(12) * 1.3)
    made = recipe(swing, move=Move(steady=Steady(how="glide", edges="fill")))
    wide = made.model_copy(update={"region": (0.0, 0.0, 1.0, 1.0)})
    specs = [ClipFrames(wide).spec(number).layers[0][0] for number in range(12)]
    assert any(layer.fills for layer in specs)
    assert all(
        not layer.fills or layer.mark != Layer(layer.picture, layer.placement, layer.correction).mark for layer in specs
    )
    cropped = ClipFrames(made.model_copy(update={"decisions": made.decisions.model_copy(update={"move": Move()})}))
    assert not any(cropped.spec(number).layers[0][0].fills for number in range(12))
