"""Painted scenes in which much changes that is no fault: dusk, clouds, crowds, a plant, a walk."""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

WIDTH, HEIGHT = 640, 427
Picture = NDArray[np.float32]
Scene = Callable[[int], Picture]


def noise(rng: np.random.Generator, height: int, width: int, scales: tuple[int, ...]) -> NDArray[np.float32]:
    """Return noise 0…1 of several scales, the largest a little strongest, as photographs have it."""
    total = np.zeros((height, width), np.float32)
    for scale in scales:
        small = rng.random((max(2, height // scale + 2), max(2, width // scale + 2))).astype(np.float32)
        total += cv2.resize(small, (width, height), interpolation=cv2.INTER_CUBIC) * scale**0.25
    return (total - total.min()) / (total.max() - total.min())


def _ground(rng: np.random.Generator, width: int = WIDTH, height: int = HEIGHT) -> Picture:
    """Return a still landscape with fine detail and hard edges."""
    base = 0.05 + 0.35 * noise(rng, height, width, (160, 64, 24, 8, 4, 2))
    picture = np.stack([base * rng.uniform(0.8, 1.2), base, base * rng.uniform(0.7, 1.1)], axis=2)
    for _ in range(26):
        x, y = rng.integers(0, width - 40), rng.integers(int(height * 0.4), height - 30)
        wide, tall = rng.integers(12, 80), rng.integers(12, 90)
        picture[y : y + tall, x : x + wide] *= rng.uniform(0.3, 2.2, 3).astype(np.float32)
    return np.clip(picture, 0.002, 0.8).astype(np.float32)


def _rolled(picture: NDArray[np.float32], across: float, rows: slice) -> NDArray[np.float32]:
    """Return a part of a wide picture, seen through a window that moves over it."""
    start = int(across) % (picture.shape[1] - WIDTH)
    return picture[rows, start : start + WIDTH]


def dusk(rng: np.random.Generator, stills: int) -> Scene:
    """Day becomes night: seven stops, turning blue, lights coming on one by one, clouds drifting."""
    ground, clouds = _ground(rng), noise(rng, HEIGHT // 2, WIDTH * 3, (200, 90, 40))
    lamps = [(rng.integers(20, WIDTH - 20), rng.integers(200, HEIGHT - 20), rng.uniform(0.35, 0.85)) for _ in range(14)]
    speed = rng.uniform(0.8, 2.5)

    def paint(still: int) -> Picture:
        share = still / stills
        gain = 2.0 ** (-7 / (1 + np.exp(-9 * (share - 0.55))))
        blue = np.array([1 - 0.35 * share, 1 - 0.15 * share, 1 + 0.3 * share], np.float32)
        picture = ground.copy()
        sky = _rolled(clouds, still * speed, slice(None))
        picture[: HEIGHT // 2] = picture[: HEIGHT // 2] * 0.3 + (0.35 + 0.35 * sky)[..., None]
        picture = picture * gain * blue
        for x, y, comes in lamps:
            if share > comes:
                cv2.circle(picture, (int(x), int(y)), 5, (0.5, 0.36, 0.16), -1)
        return picture

    return paint


def clouds(rng: np.random.Generator, stills: int) -> Scene:
    """A bright day: clouds cross the sky, their shadows the land, the sun comes and goes, water glitters."""
    ground = _ground(rng)
    sky, shade = (noise(rng, HEIGHT // 2 + 1, WIDTH * 5, (260, 120, 50)) for _ in range(2))
    sun = cv2.GaussianBlur(rng.random((1, stills)).astype(np.float32), (0, 0), 5)[0]
    sun = (sun - sun.min()) / (sun.max() - sun.min())
    speed = rng.uniform(4, 11)

    def paint(still: int) -> Picture:
        picture = ground.copy()
        half = HEIGHT // 2
        seen = _rolled(sky, still * speed, slice(0, half))
        picture[:half] = (0.30 + 0.5 * np.clip((seen - 0.45) * 3, 0, 1))[..., None]
        shadow = np.clip((_rolled(shade, still * speed * 1.3, slice(0, HEIGHT - half)) - 0.45) * 4, 0, 1)
        picture[half:] *= (1 - 0.55 * shadow)[..., None] * (0.72 + 0.28 * sun[still])
        glitter = cv2.GaussianBlur(
            np.random.default_rng((still, 5)).random((60, WIDTH)).astype(np.float32), (0, 0), 1.2
        )
        picture[HEIGHT - 60 :] *= (0.3 + 1.5 * glitter)[..., None]
        return picture * 0.9

    return paint


def crowds(rng: np.random.Generator, stills: int) -> Scene:
    """A square with people: each still has them elsewhere."""
    ground = _ground(rng)
    busy = rng.integers(20, 60)

    def paint(still: int) -> Picture:
        picture = ground.copy()
        people = np.random.default_rng((still, int(busy)))
        for _ in range(int(people.poisson(busy))):
            tall = people.uniform(10, 46)
            x, y = people.uniform(0, WIDTH), people.uniform(HEIGHT * 0.4, HEIGHT)
            colour = tuple(float(value) for value in people.uniform(0.01, 0.5, 3))
            cv2.ellipse(picture, (int(x), int(y)), (int(tall * 0.28), int(tall)), 0, 0, 360, colour, -1)
        return picture

    return paint


def macro(rng: np.random.Generator, stills: int) -> Scene:
    """A plant under a lamp: leaves that grow and turn slowly."""
    ground = _ground(rng) * 0.4
    leaves = [
        (
            rng.uniform(0.2, 0.8) * WIDTH,
            rng.uniform(0.3, 0.8) * HEIGHT,
            rng.uniform(20, 60),
            rng.uniform(0, 180),
            rng.uniform(-0.5, 0.5),
        )
        for _ in range(14)
    ]
    texture = 0.6 + 0.8 * noise(rng, HEIGHT, WIDTH, (40, 8, 3, 2))

    def paint(still: int) -> Picture:
        picture = ground.copy()
        for x, y, size, angle, turn in leaves:
            grown = size * (0.7 + 0.6 * still / stills)
            cv2.ellipse(
                picture,
                (int(x), int(y)),
                (int(grown), int(grown * 0.35)),
                angle + turn * still,
                0,
                360,
                (0.08, 0.3, 0.05),
                -1,
            )
        return picture * texture[..., None]

    return paint


def walk(rng: np.random.Generator, stills: int) -> Scene:
    """Carried by hand: every still a little elsewhere, nearer all the time."""
    ground = _ground(rng, WIDTH * 2, HEIGHT * 2)
    path = rng.normal(0, 4.5, (stills, 2))

    def paint(still: int) -> Picture:
        zoom = 0.9 + 0.35 * still / stills
        across, down = WIDTH - WIDTH * zoom + path[still, 0], HEIGHT - HEIGHT * zoom + path[still, 1]
        matrix = np.array([[zoom, 0, across - WIDTH * 0.5], [0, zoom, down - HEIGHT * 0.5]], np.float32)
        return np.asarray(cv2.warpAffine(ground, matrix, (WIDTH, HEIGHT), borderMode=cv2.BORDER_REFLECT), np.float32)

    return paint


PAINTED: dict[str, Callable[[np.random.Generator, int], Scene]] = {
    "dusk": dusk,
    "clouds": clouds,
    "crowds": crowds,
    "macro": macro,
    "walk": walk,
}
