"""Made-up shots with faults planted at known places, over scenes in which much changes that is no fault."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.base.counter import numbering
from yarnkite.core.check.finding import Kind, ShotMeasurements
from yarnkite.core.check.shift import Edges, shift_between
from yarnkite.core.gather.measures import measured
from yarnkite.core.order.breaks import Break, Taken, breaks

WIDTH, HEIGHT = 640, 427
BEGINS = datetime(2031, 5, 4, 9, 30)
Picture = NDArray[np.float32]


@dataclass(frozen=True)
class Fault:
    """A planted fault: its kind, the stills it concerns (first and last), how strong (1 is plainly visible)."""

    kind: Kind
    first: int
    last: int
    strength: float


@dataclass
class Shot:
    """A made-up shot: ``paint`` gives linear light, shape (427, 640, 3), of still n before anything goes wrong."""

    scene: str
    seed: int
    stills: int
    paint: Callable[[int], Picture]
    faults: list[Fault] = field(default_factory=list)
    shakes: bool = False

    def images(self) -> Iterator[NDArray[np.uint8]]:
        """Yield the stills as a camera would have written them, in 8-bit sRGB."""
        rng = np.random.default_rng((self.seed, 7))
        cv2.setRNGSeed(self.seed + 1)
        for still in range(self.stills):
            light = _spoiled(self.paint(self.moment(still)), still, self.faults, self.seed)
            light = light * 2 ** rng.normal(0, 0.004)
            encoded = np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 1e-9) ** (1 / 2.4) - 0.055)
            # Grain of the sensor, after the reduction to the size measures are made at.
            grain = cv2.randn(np.empty(encoded.shape, np.float32), 0, 0.7)
            yield np.clip(np.rint(encoded * 255 + grain), 0, 255).astype(np.uint8)

    def moment(self, still: int) -> int:
        """Return the still of the faultless shot that shows the same moment: now and then nothing happens."""
        idle = [fault for fault in self.faults if fault.kind == "nothing happens" and still > fault.first]
        return still - sum(min(still, fault.last) - fault.first for fault in idle)

    def number(self, still: int) -> int:
        """Return the number in a still's name; missing ones are two in a row."""
        return still + 1 + 2 * sum(fault.kind == "missing" and still >= fault.first for fault in self.faults)

    def captured(self, still: int) -> datetime:
        """Return when a still was taken: every five seconds, but for extra ones, after half a second."""
        early = sum(
            min(still, fault.last) - fault.first + 1
            for fault in self.faults
            if fault.kind == "extra" and still >= fault.first
        )
        return BEGINS + timedelta(seconds=5 * self.number(still) - 4.5 * early)

    def shape(self, still: int) -> tuple[int, int, str]:
        """Return the size and the camera of a still."""
        other = any(fault.kind == "other kind" and fault.first <= still <= fault.last for fault in self.faults)
        return (480, 320, "Fen") if other else (WIDTH, HEIGHT, "Fen")

    def breaks(self) -> list[Break]:
        """Return what the order step finds, as the check is told of it."""
        names = [_name(self.number(still)) for still in range(self.stills)]
        taken = [Taken(name, self.captured(still), BEGINS, f"{still}") for still, name in enumerate(names)]
        return breaks(taken, range(self.stills), numbering(names))

    def exposure(self, still: int) -> float:
        """Return the exposure value at ISO 100 that Exif would give."""
        return 12.0 - sum(
            _sign(fault, self.seed) * fault.strength
            for fault in self.faults
            if fault.kind == "exposure step" and still >= fault.first
        )


def measurements(shot: Shot) -> ShotMeasurements:
    """Measure a made-up shot as gathering measures a real one."""
    each, shifts = [], [(0.0, 0.0, 0.0, 0.0)]
    before = None
    for image in shot.images():
        each.append(measured(image, np.asarray(cv2.resize(image, (160, 160), interpolation=cv2.INTER_AREA), np.uint8)))
        edges = Edges(np.asarray(cv2.resize(image, (320, 213), interpolation=cv2.INTER_AREA), np.uint8))
        if before is not None:
            shift = shift_between(before, edges)
            shifts.append((shift.x, shift.y, shift.rotation_deg, shift.trust))
        before = edges
    moves = np.array(shifts)
    return ShotMeasurements(
        ids=range(1, shot.stills + 1),
        names=[_name(shot.number(still)) for still in range(shot.stills)],
        captured=[shot.captured(still) for still in range(shot.stills)],
        blocks=np.stack([one.blocks for one in each]),
        **{
            name: np.array([getattr(one, name) for one in each])
            for name in ("red", "blue", "sharpness", "bright", "dark")
        },
        shifts=moves[:, :3],
        trust=moves[:, 3],
        exposure=np.array([shot.exposure(still) for still in range(shot.stills)]),
        dhashes=[one.dhash for one in each],
        shapes=[shot.shape(still) for still in range(shot.stills)],
    )


def _name(number: int) -> str:
    return f"PLNT{number:04}.JPG"


def _spoiled(light: Picture, still: int, faults: list[Fault], seed: int) -> Picture:
    for fault in faults:
        inside = fault.first <= still <= fault.last
        sign = _sign(fault, seed)
        match fault.kind:
            case "misfire" if inside:
                light = light * 2.0 ** (sign * 2.2 * fault.strength)
            case "blocked view" if inside:
                light = _covered(light, fault, still, seed)
            case "soft" if inside:
                light = cv2.GaussianBlur(light, (0, 0), 1.8 * fault.strength)
            case "knock" if still >= fault.first:
                light = _moved(light, 7 * fault.strength * sign, -5 * fault.strength)
            case "shake" if inside:
                jitter = np.random.default_rng((seed, still)).normal(0, 2.6 * fault.strength, 2)
                light = _moved(light, *jitter)
            case "flicker" if inside:
                light = light * 2.0 ** (0.13 * fault.strength * (1 if still % 2 else -1))
            case "exposure step" if still >= fault.first:
                light = light * 2.0 ** (sign * fault.strength)
            case "light step" if still >= fault.first:
                light = light * 2.0 ** (sign * 0.7 * fault.strength)
            case "colour step" if still >= fault.first:
                light = light * np.array(
                    [2 ** (0.3 * fault.strength * sign), 1, 2 ** (-0.2 * fault.strength * sign)], np.float32
                )
            case _:
                pass
    return light


def _sign(fault: Fault, seed: int) -> int:
    return 1 if (fault.first * 31 + seed) % 2 else -1


def _moved(light: Picture, across: float, down: float) -> Picture:
    # Whole pixels: anything else would soften the picture too.
    matrix = np.array([[1, 0, round(across)], [0, 1, round(down)]], np.float32)
    return np.asarray(cv2.warpAffine(light, matrix, (WIDTH, HEIGHT), borderMode=cv2.BORDER_REFLECT), np.float32)


def _covered(light: Picture, fault: Fault, still: int, seed: int) -> Picture:
    rng = np.random.default_rng((seed, fault.first, 3))
    mask = np.zeros((HEIGHT, WIDTH), np.float32)
    area = 0.18 * fault.strength * WIDTH * HEIGHT
    radius = np.sqrt(area / np.pi)
    centre = (rng.uniform(0.25, 0.75) * WIDTH + 40 * (still - fault.first), rng.uniform(0.35, 0.75) * HEIGHT)
    cv2.ellipse(mask, (int(centre[0]), int(centre[1])), (int(radius * 0.75), int(radius * 1.33)), 0, 0, 360, 1.0, -1)
    share = cv2.GaussianBlur(mask, (0, 0), 4)[..., None]
    around = float(np.median(light))
    return light * (1 - share) + share * np.array([0.22, 0.16, 0.14], np.float32) * around


def _noise(rng: np.random.Generator, height: int, width: int, scales: tuple[int, ...]) -> NDArray[np.float32]:
    """Return noise 0…1 of several scales, the largest a little strongest, as photographs have it."""
    total = np.zeros((height, width), np.float32)
    for scale in scales:
        small = rng.random((max(2, height // scale + 2), max(2, width // scale + 2))).astype(np.float32)
        total += cv2.resize(small, (width, height), interpolation=cv2.INTER_CUBIC) * scale**0.25
    return (total - total.min()) / (total.max() - total.min())


def _ground(rng: np.random.Generator, width: int = WIDTH, height: int = HEIGHT) -> Picture:
    """Return a still landscape with fine detail and hard edges."""
    base = 0.05 + 0.35 * _noise(rng, height, width, (160, 64, 24, 8, 4, 2))
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


def dusk(rng: np.random.Generator, stills: int) -> Callable[[int], Picture]:
    """Day becomes night: seven stops, turning blue, lights coming on one by one, clouds drifting."""
    ground, clouds = _ground(rng), _noise(rng, HEIGHT // 2, WIDTH * 3, (200, 90, 40))
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


def clouds(rng: np.random.Generator, stills: int) -> Callable[[int], Picture]:
    """A bright day: clouds cross the sky, their shadows the land, the sun comes and goes, water glitters."""
    ground = _ground(rng)
    sky, shade = (_noise(rng, HEIGHT // 2 + 1, WIDTH * 5, (260, 120, 50)) for _ in range(2))
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


def crowds(rng: np.random.Generator, stills: int) -> Callable[[int], Picture]:
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


def macro(rng: np.random.Generator, stills: int) -> Callable[[int], Picture]:
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
    texture = 0.6 + 0.8 * _noise(rng, HEIGHT, WIDTH, (40, 8, 3, 2))

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


def walk(rng: np.random.Generator, stills: int) -> Callable[[int], Picture]:
    """Carried by hand: every still a little elsewhere, nearer all the time."""
    ground = _ground(rng, WIDTH * 2, HEIGHT * 2)
    path = rng.normal(0, 4.5, (stills, 2))

    def paint(still: int) -> Picture:
        zoom = 0.9 + 0.35 * still / stills
        across, down = WIDTH - WIDTH * zoom + path[still, 0], HEIGHT - HEIGHT * zoom + path[still, 1]
        matrix = np.array([[zoom, 0, across - WIDTH * 0.5], [0, zoom, down - HEIGHT * 0.5]], np.float32)
        return np.asarray(cv2.warpAffine(ground, matrix, (WIDTH, HEIGHT), borderMode=cv2.BORDER_REFLECT), np.float32)

    return paint


SCENES = {"dusk": dusk, "clouds": clouds, "crowds": crowds, "macro": macro, "walk": walk}
LENGTHS: dict[Kind, int] = {"blocked view": 2, "shake": 16, "flicker": 22, "nothing happens": 26, "extra": 2}
KINDS: tuple[Kind, ...] = (
    *("misfire", "blocked view", "soft", "knock", "shake", "flicker", "exposure step", "light step", "colour step"),
    *("missing", "extra", "other kind", "nothing happens"),
)


def clean(scene: str, seed: int, stills: int = 140) -> Shot:
    """Return a shot of a scene in which nothing goes wrong."""
    rng = np.random.default_rng((seed, len(scene), sum(map(ord, scene))))
    return Shot(scene, seed, stills, SCENES[scene](rng, stills), shakes=scene == "walk")


def faulty(scene: str, seed: int, strength: float = 1.0, stills: int = 140) -> Shot:
    """Return a shot of a scene with three faults of different kinds, well apart."""
    shot = clean(scene, seed, stills)
    rng = np.random.default_rng((seed, 11))
    # A walk shakes by itself, and a knock is lost in it.
    kinds = [kind for kind in KINDS if scene != "walk" or kind not in ("shake", "knock")]
    chosen = [kinds[(seed * 3 + turn * 4) % len(kinds)] for turn in range(3)]
    for turn, kind in enumerate(dict.fromkeys(chosen)):
        first = 14 + turn * 42 + int(rng.integers(0, 10))
        shot.faults.append(Fault(kind, first, first + LENGTHS.get(kind, 1) - 1, strength))
    return shot


def dirty(
    scene: str, seed: int, strength: float, stills: int = 140
) -> tuple[list[NDArray[np.uint8]], list[tuple[float, float]]]:
    """Return every third still of a shot with two specks on the sensor, and where they are in shares.

    ``strength`` is the share of the light that the middle of a speck takes.
    """
    shot = clean(scene, seed, stills)
    rng = np.random.default_rng((seed, 3))
    down, across = np.mgrid[:HEIGHT, :WIDTH]
    passes = np.ones((HEIGHT, WIDTH), np.float32)
    places = []
    for half in range(2):
        # In the sky, where something moves behind them; dirt on what stands still cannot be told from it.
        x, y = rng.uniform(30 + 320 * half, 290 + 320 * half), rng.uniform(20, HEIGHT / 2 - 25)
        passes *= 1 - strength * np.exp(-((across - x) ** 2 + (down - y) ** 2) / (2 * rng.uniform(1.5, 3) ** 2))
        places.append(((x + 0.5) / WIDTH, (y + 0.5) / HEIGHT))
    bare = shot.paint
    shot.paint = lambda still: bare(still) * passes[..., None]
    return list(shot.images())[::3], places
