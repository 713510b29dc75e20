"""Dust planted on skies, clouds and ground that is known: what is given back is held against the truth."""

import cv2
import numpy as np
import pytest
from skimage import data

from yarnkite.core.image.camera_colour import Scene
from yarnkite.core.image.dust import DustPlace, measured_dust, without_dust
from yarnkite.core.image.pixels import Pixels
from yarnkite.core.image.scene import scene_codes
from yarnkite.core.image.srgb import to_codes, to_light

WIDTH, HEIGHT, STILLS = 600, 400, 24
PLACE = DustPlace(0.41, 0.33, 0.02)


def clouds(seed: int, width: int) -> np.ndarray:
    """Return noise of many sizes, from -1 to 1."""
    random = np.random.default_rng(seed)
    total = np.zeros((HEIGHT, width), np.float32)
    for octave in range(1, 7):
        small = random.standard_normal((2 ** (octave + 1), 2 ** (octave + 1))).astype(np.float32)
        total += 0.6**octave * cv2.resize(small, (width, HEIGHT), interpolation=cv2.INTER_CUBIC)
    return total / np.abs(total).max()


PASSING = clouds(1, 3 * WIDTH)


def light_of(number: int, kind: str) -> np.ndarray:
    """Return a scene's linear light: a sky, one over which clouds pass, or that while it gets dark."""
    light = 0.25 + 0.35 * np.linspace(0, 1, HEIGHT)[:, None] * np.ones((1, WIDTH))
    if kind != "sky":
        light = light * (1 + 0.5 * PASSING[:, 37 * number : 37 * number + WIDTH])
    if kind == "dusk":
        light = light * 2.0 ** (-number / 5)
    grain = np.random.default_rng(number).standard_normal(light.shape) * 0.002
    return np.dstack([(light + grain) * share for share in (0.8, 1.0, 1.2)]).clip(0, 1)


def through(place: DustPlace, taken: float, soft: bool) -> np.ndarray:
    rows, columns = np.mgrid[:HEIGHT, :WIDTH] + 0.5
    away = np.hypot(columns - place.x * WIDTH, rows - place.y * HEIGHT)
    if soft:
        return 1 - taken * np.exp(-0.5 * (away / (place.width * WIDTH / 3)) ** 2)
    return 1 - taken / (1 + np.exp(np.clip((away - place.width * WIDTH / 2) / 1.2, -40, 40)))


def eight(light: np.ndarray) -> np.ndarray:
    return np.rint(to_codes(light) * 255).astype(np.uint8)


def shot(kind: str, place: DustPlace = PLACE, taken: float = 0.3, soft: bool = True) -> tuple[list, list]:
    """Return stills without a speck and with it."""
    shade = through(place, taken, soft)[..., None]
    truth = [light_of(number, kind) for number in range(STILLS)]
    return [eight(light) for light in truth], [Pixels(eight(light * shade), 1) for light in truth]


def off(cleaned: np.ndarray, truth: np.ndarray, place: DustPlace) -> float:
    """Return by how many codes 99 of 100 pixels are off at most where the speck was, grain left aside."""
    rows, columns = np.mgrid[:HEIGHT, :WIDTH] + 0.5
    there = np.hypot(columns - place.x * WIDTH, rows - place.y * HEIGHT) < place.width * WIDTH * 0.8
    apart = cv2.GaussianBlur(cleaned.astype(np.float32) - truth, (0, 0), 1.5)
    return float(np.percentile(np.abs(apart[there]), 99))


@pytest.mark.parametrize(("kind", "most"), [("sky", 1.0), ("clouds", 3.0), ("dusk", 3.0)])
@pytest.mark.parametrize("soft", [True, False])
def test_a_speck_of_thirty_percent_is_given_back(kind: str, most: float, soft: bool):
    truth, dirty = shot(kind, soft=soft)
    spot, shown = measured_dust(dirty, PLACE, (WIDTH, HEIGHT))
    assert spot is not None
    assert spot.taken == pytest.approx(0.3, abs=0.03)
    assert max(shown) > 10
    for number in range(0, STILLS, 5):
        assert off(dirty[number].array, truth[number], PLACE) > 5
        cleaned = without_dust(dirty[number], [spot], (WIDTH, HEIGHT)).array
        assert off(cleaned, truth[number], PLACE) < most
        # Nothing else is touched, not even what was given.
        away = np.ones((HEIGHT, WIDTH), bool)
        away[112:152, 226:266] = False
        assert (cleaned[away] == dirty[number].array[away]).all()


@pytest.mark.parametrize("name", ["coffee", "chelsea", "rocket", "astronaut"])
def test_before_photographs_that_move_and_get_dark_little_of_it_is_left(name: str):
    """Photographs nobody tuned to, with the contrast a camera gives its pictures."""
    photograph = to_light(cv2.resize(getattr(data, name)(), (1100, 900), interpolation=cv2.INTER_CUBIC) / 255)
    shade = through(PLACE, 0.3, soft=True)[..., None]

    def taken(light: np.ndarray) -> np.ndarray:
        codes = to_codes(light)
        return np.rint(255 * (codes + 0.35 * (codes * codes * (3 - 2 * codes) - codes))).astype(np.uint8)

    seen = [photograph[10 * n : 10 * n + HEIGHT, 16 * n : 16 * n + WIDTH] * 2 ** (-n / 20) for n in range(30)]
    dirty = [Pixels(taken(light * shade), 1) for light in seen]
    spot, _ = measured_dust(dirty, PLACE, (WIDTH, HEIGHT))
    assert spot is not None
    for number in range(0, 30, 5):
        truth = taken(seen[number])
        left = off(without_dust(dirty[number], [spot], (WIDTH, HEIGHT)).array, truth, PLACE)
        assert left < max(2.0, 0.25 * off(dirty[number].array, truth, PLACE))


def test_what_lets_nothing_through_is_filled_from_around():
    truth, dirty = shot("sky", taken=1.0, soft=False)
    spot, _ = measured_dust(dirty, PLACE, (WIDTH, HEIGHT))
    assert spot is not None
    cleaned = without_dust(dirty[3], [spot], (WIDTH, HEIGHT)).array
    assert off(dirty[3].array, truth[3], PLACE) > 90
    assert off(cleaned, truth[3], PLACE) < 1.5


def test_a_speck_at_the_edge_is_removed_too():
    place = DustPlace(0.008, 0.5, 0.014)
    truth, dirty = shot("sky", place)
    spot, _ = measured_dust(dirty, place, (WIDTH, HEIGHT))
    assert spot is not None
    assert off(without_dust(dirty[0], [spot], (WIDTH, HEIGHT)).array, truth[0], place) < 2.5


def test_the_same_spot_serves_reduced_and_deep_pixels_and_light_of_the_scene():
    truth, dirty = shot("clouds")
    spot, _ = measured_dust(dirty, PLACE, (WIDTH, HEIGHT))
    assert spot is not None
    half = cv2.resize(dirty[4].array, (WIDTH // 2, HEIGHT // 2), interpolation=cv2.INTER_AREA)
    wanted = cv2.resize(truth[4], (WIDTH // 2, HEIGHT // 2), interpolation=cv2.INTER_AREA)
    cleaned = without_dust(Pixels(half, 2), [spot], (WIDTH, HEIGHT)).array
    back = cv2.resize(cleaned, (WIDTH, HEIGHT)), cv2.resize(wanted, (WIDTH, HEIGHT))
    assert off(back[0], back[1], PLACE) < 3
    light = to_light(dirty[4].array / 255)
    deep = without_dust(Pixels(np.rint(to_codes(light) * 65535).astype(np.uint16), 1), [spot], (WIDTH, HEIGHT)).array
    assert deep.dtype == np.uint16
    assert off(deep / 257, truth[4], PLACE) < 3
    seen = Pixels(scene_codes(light.astype(np.float32)), 1, scene=Scene(1.0))
    given = without_dust(seen, [spot], (WIDTH, HEIGHT))
    assert given.scene == seen.scene
    assert off(to_codes((given.array / 65535.0) ** 2 * 4) * 255, truth[4], PLACE) < 3


def test_nothing_is_made_of_nothing():
    _, dirty = shot("clouds")
    assert measured_dust(dirty[:2], PLACE, (WIDTH, HEIGHT))[0] is None
    white = [Pixels(np.full((HEIGHT, WIDTH, 3), 255, np.uint8), 1)] * 5
    assert measured_dust(white, PLACE, (WIDTH, HEIGHT)) == (None, [0.0] * 5)
    spot, _ = measured_dust(dirty, PLACE, (WIDTH, HEIGHT))
    assert spot is not None
    # Of another shape, a still is of another sensor.
    assert without_dust(dirty[0], [spot], (HEIGHT, WIDTH)) is dirty[0]
    assert without_dust(dirty[0], [], (WIDTH, HEIGHT)) is dirty[0]
