"""Scenes made of photographs with layers that move, as no painted scene does: fur, foliage, surf, fog, people close by.

The photographs are those that scikit-image ships with.
"""

from collections.abc import Callable
from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray
from skimage import data

from bench.scenes import HEIGHT, WIDTH, Picture, Scene, noise
from yarnkite.core.image.srgb import to_light

Map = NDArray[np.float32]
_DOWN, _ACROSS = np.mgrid[:HEIGHT, :WIDTH].astype(np.float32)
_MARGIN = 1.5


@cache
def _photograph(name: str) -> Picture:
    """Return a photograph in linear light, larger than the frame by half, so that a window can move over it."""
    image = getattr(data, name)()
    image = image[0] if isinstance(image, tuple) else image
    if image.ndim == 2:
        image = np.repeat(image[..., None], 3, axis=2)
    size = np.array([WIDTH, HEIGHT]) * _MARGIN
    scale = max(size[0] / image.shape[1], size[1] / image.shape[0])
    large = cv2.resize(image, None, fx=scale, fy=scale, interpolation=cv2.INTER_CUBIC)
    return np.asarray(np.clip(to_light(large.astype(np.float32) / 255), 0.001, 1) * 0.8, np.float32)


def _window(picture: Picture, across: float, down: float, turn: float = 0.0, zoom: float = 1.0) -> Picture:
    """Return the frame's view of a larger picture from a place that need not be a whole pixel."""
    spin = np.radians(turn)
    matrix = np.array([[np.cos(spin), -np.sin(spin)], [np.sin(spin), np.cos(spin)]]) / zoom
    middle = np.array([WIDTH, HEIGHT]) / 2
    room = np.array([picture.shape[1], picture.shape[0]]) / 2 + (across, down)
    whole = np.column_stack([matrix, room - matrix @ middle]).astype(np.float32)
    flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
    seen = cv2.warpAffine(picture, whole, (WIDTH, HEIGHT), flags=flags, borderMode=cv2.BORDER_REFLECT)
    return np.asarray(np.maximum(seen, 0.0005), np.float32)


def _drifted(layer: Map, across: float, down: float = 0.0) -> Map:
    """Return the frame's view of a layer larger than it, from its corner so far on, in pixels or parts of them."""
    matrix = np.array([[1, 0, across], [0, 1, down]], np.float32)
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    seen = cv2.warpAffine(layer, matrix, (WIDTH, HEIGHT), flags=flags, borderMode=cv2.BORDER_REFLECT)
    return np.asarray(seen, np.float32)


def _pushed(picture: Picture, across: Map, down: Map) -> Picture:
    seen = cv2.remap(picture, _ACROSS + across, _DOWN + down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
    return np.asarray(seen, np.float32)


def _slow(rng: np.random.Generator, stills: int, over: float, size: float) -> NDArray[np.float64]:
    """Return a value a still that wanders slowly, of a standard deviation."""
    raw = cv2.GaussianBlur(rng.normal(0, 1, (1, stills + 1)), (0, 0), over)[0]
    return np.asarray((raw - raw.mean()) / (raw.std() + 1e-9) * size)


def rooftops(rng: np.random.Generator, stills: int) -> Scene:
    """A mast against a sky: clouds drift behind it, birds pass, the light wanders."""
    ground = _window(_photograph("rocket"), *rng.uniform(-60, 60, 2))
    sky = noise(rng, HEIGHT, WIDTH * 4, (240, 110, 50, 20))
    above = np.clip(1.25 - _DOWN / (HEIGHT * 0.6), 0, 1)[..., None]
    speed, light = rng.uniform(0.6, 6), _slow(rng, stills, 9, 0.12)

    def paint(still: int) -> Picture:
        drift = _drifted(sky, still * speed)
        picture = ground * (1 - 0.8 * above) + above * (0.1 + 0.45 * np.clip((drift - 0.35) * 2, 0, 1))[..., None]
        birds = np.random.default_rng((still, 3))
        for _ in range(int(birds.poisson(0.7))):
            at = (int(birds.uniform(0, WIDTH)), int(birds.uniform(0, HEIGHT * 0.6)))
            cv2.ellipse(picture, at, (int(birds.uniform(3, 14)), 3), 20, 0, 360, (0.02, 0.02, 0.02), -1)
        return np.asarray(picture * 2 ** light[still], np.float32)

    return paint


def meadow(rng: np.random.Generator, stills: int) -> Scene:
    """Grass in a strong wind, with shadows of clouds that cross it."""
    ground = _window(_photograph("grass"), *rng.uniform(-60, 60, 2))
    shade = noise(rng, HEIGHT, WIDTH * 6, (300, 130, 60))
    speed, strength = rng.uniform(3, 14), rng.uniform(1, 3.5)

    def paint(still: int) -> Picture:
        wind = np.random.default_rng((still, 9))
        push = cv2.resize(
            wind.normal(0, strength, (7, 10)).astype(np.float32), (WIDTH, HEIGHT), interpolation=cv2.INTER_CUBIC
        )
        over = _drifted(shade, still * speed)
        return _pushed(ground, push, 0.4 * push) * (1 - 0.5 * np.clip((over - 0.45) * 4, 0, 1))[..., None]

    return paint


def shore(rng: np.random.Generator, stills: int) -> Scene:
    """Pebbles under surf: the lower half rolls to and fro and foams, the upper half stands."""
    ground = _window(_photograph("gravel"), *rng.uniform(-60, 60, 2))
    foam = noise(rng, HEIGHT * 2, WIDTH * 2, (60, 20, 6, 3))
    edge = np.clip((_DOWN - HEIGHT * rng.uniform(0.35, 0.55)) / 30, 0, 1)
    reach = rng.uniform(6, 25)

    def paint(still: int) -> Picture:
        waves = np.random.default_rng((still, 13))
        across, down = waves.normal(0, reach, 2)
        push = np.sin(_DOWN / 17 + waves.uniform(0, 6.3)) * 3 + across
        white = _drifted(foam, WIDTH / 2 + 3 * across, HEIGHT / 2 + 3 * down)
        wet = _pushed(ground * 0.5, push.astype(np.float32), np.full_like(push, down, np.float32))
        wet = wet + 0.5 * np.clip((white - 0.55) * 4, 0, 1)[..., None]
        return ground * (1 - edge)[..., None] + wet * edge[..., None]

    return paint


def animal(rng: np.random.Generator, stills: int) -> Scene:
    """Fur that breathes, and a head that is held differently now and then."""
    photo = _photograph("chelsea")
    base = rng.uniform(-70, 70, 2)
    ground = _window(photo, *base)
    at = (WIDTH * rng.uniform(0.35, 0.65), HEIGHT * rng.uniform(0.35, 0.65))
    near = np.exp(-(((_ACROSS - at[0]) / 130) ** 2 + ((_DOWN - at[1]) / 100) ** 2)).astype(np.float32)
    held = np.cumsum(rng.normal(0, 9, (stills, 2)) * (rng.random((stills, 1)) < 0.08), axis=0)
    light = _slow(rng, stills, 14, 0.1)

    def paint(still: int) -> Picture:
        breath = 1.6 * np.sin(still * 0.9)
        across, down = np.clip(held[still], -25, 25)
        return _pushed(ground, near * np.float32(across), near * np.float32(down + breath)) * np.float32(
            2 ** light[still]
        )

    return paint


def yard(rng: np.random.Generator, stills: int) -> Scene:
    """A yard in which people walk, some of them close by."""
    ground = _window(_photograph("stereo_motorcycle"), *rng.uniform(-60, 60, 2))
    cloth = _photograph("coffee")
    busy = rng.uniform(4, 14)

    def paint(still: int) -> Picture:
        picture = ground.copy()
        people = np.random.default_rng((still, int(busy * 10)))
        for _ in range(int(people.poisson(busy))):
            tall = people.uniform(15, 55)
            x, y = int(people.uniform(0, WIDTH)), int(people.uniform(HEIGHT * 0.35, HEIGHT))
            mask = np.zeros((HEIGHT, WIDTH), np.uint8)
            cv2.ellipse(mask, (x, y), (int(tall * 0.3), int(tall)), 0, 0, 360, 255, -1)
            start = int(people.integers(0, 200))
            picture[mask > 0] = cloth[start : start + HEIGHT, start : start + WIDTH][mask > 0] * people.uniform(
                0.2, 1.2
            )
        return picture

    return paint


def wall(rng: np.random.Generator, stills: int) -> Scene:
    """A wall at dusk: seven stops fall, a shadow creeps over it, windows of light come on."""
    ground = _window(_photograph("brick"), *rng.uniform(-60, 60, 2))
    lamps = [
        (rng.uniform(0, WIDTH), rng.uniform(0, HEIGHT), rng.uniform(0.4, 0.9), rng.uniform(25, 70)) for _ in range(5)
    ]
    middle, slope = rng.uniform(0.4, 0.65), rng.uniform(6, 10)

    def paint(still: int) -> Picture:
        share = still / stills
        gain = 2.0 ** (-6.5 / (1 + np.exp(-slope * (share - middle))))
        shadow = np.clip((_ACROSS + 0.4 * _DOWN - WIDTH * (1.4 * share - 0.2)) / 20, 0, 1)
        picture = ground * (gain * np.array([1 - 0.3 * share, 1, 1 + 0.35 * share], np.float32))
        picture = picture * (1 - 0.45 * shadow * (1 - share))[..., None]
        for x, y, comes, size in lamps:
            if share > comes:
                glow = np.exp(-((_ACROSS - x) ** 2 + (_DOWN - y) ** 2) / (2 * size**2)).astype(np.float32)
                picture = picture + ground * glow[..., None] * np.array([0.12, 0.08, 0.04], np.float32)
        return np.asarray(picture, np.float32)

    return paint


def fog(rng: np.random.Generator, stills: int) -> Scene:
    """A view through fog that thickens and thins."""
    ground = _window(_photograph("coffee"), *rng.uniform(-40, 40, 2))
    banks = noise(rng, HEIGHT, WIDTH * 3, (320, 150, 70))
    speed, thick = rng.uniform(0.5, 4), np.clip(0.7 + _slow(rng, stills, 20, 0.08), 0.4, 0.92)

    def paint(still: int) -> Picture:
        drift = _drifted(banks, still * speed)
        veil = (thick[still] + 0.16 * (drift - 0.5))[..., None]
        return np.asarray(ground * (1 - veil) + 0.35 * veil, np.float32)

    return paint


def slide(rng: np.random.Generator, stills: int) -> Scene:
    """A camera that a motor moves along by parts of a pixel."""
    photo = _photograph(("coffee", "chelsea", "rocket")[int(rng.integers(3))])
    speed = rng.uniform(0.2, 1.0) * (1 if rng.random() < 0.5 else -1)
    light = _slow(rng, stills, 12, 0.08)

    def paint(still: int) -> Picture:
        return _window(photo, speed * (still - stills / 2), 0.15 * speed * still) * np.float32(2 ** light[still])

    return paint


def traffic(rng: np.random.Generator, stills: int) -> Scene:
    """A dark street with headlights that are elsewhere in each still, and signs that stay lit."""
    ground = _window(_photograph("stereo_motorcycle"), *rng.uniform(-60, 60, 2)) * np.float32(0.03)
    signs = [(int(rng.uniform(0, WIDTH)), int(rng.uniform(0, HEIGHT * 0.5))) for _ in range(9)]

    def paint(still: int) -> Picture:
        picture = ground.copy()
        for x, y in signs:
            cv2.rectangle(picture, (x, y), (x + 14, y + 8), (0.5, 0.3, 0.12), -1)
        cars = np.random.default_rng((still, 21))
        for _ in range(int(cars.poisson(6))):
            x, y = int(cars.uniform(0, WIDTH)), int(HEIGHT * cars.uniform(0.62, 0.85))
            cv2.line(picture, (x, y), (x + int(cars.uniform(10, 90)), y + 2), (0.8, 0.75, 0.6), 3)
        return np.asarray(picture + cv2.GaussianBlur(picture, (0, 0), 6) * 0.5, np.float32)

    return paint


def hand(rng: np.random.Generator, stills: int) -> Scene:
    """Carried by hand: the view wanders, turns and shakes all the time."""
    photo = _photograph(("coffee", "chelsea", "stereo_motorcycle")[int(rng.integers(3))])
    jitter = rng.normal(0, rng.uniform(1.2, 5), (stills, 2))
    wander = np.stack([_slow(rng, stills, 8, 18)[:stills], _slow(rng, stills, 8, 10)[:stills]], axis=1)
    turns = rng.normal(0, 0.25, stills)

    def paint(still: int) -> Picture:
        return _window(photo, *(jitter[still] + wander[still]), turns[still])

    return paint


PHOTOGRAPHS: dict[str, Callable[[np.random.Generator, int], Scene]] = {
    "rooftops": rooftops,
    "meadow": meadow,
    "shore": shore,
    "animal": animal,
    "yard": yard,
    "wall": wall,
    "fog": fog,
    "slide": slide,
    "traffic": traffic,
    "hand": hand,
}
