"""Beacon Walk: along a plank way over the flats towards a beacon, taken step by step by somebody who walks."""

import math
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from yarnkite.core.image.pixels import ImageArray
from yarnkite.demo.texture import Plane, clouds, developed, fill, grain, ramp

WIDTH, HEIGHT = 1800, 1200
STILLS = 96
_FOCAL = 1.12 * WIDTH
_PER_METRE = 44
_GROUND = (30.0, 120.0)
_PANORAMA = (3200, 1500)
_SUN = np.array([255, 232, 190], np.float32)
_HAZE = np.array([206, 204, 196], np.float32)
# The lantern of the beacon, in metres: what a walk can be held on.
BEACON = (3.4, 15.2, 96.0)

Matrix = NDArray[np.float64]


@dataclass(frozen=True)
class _Camera:
    """Where the camera is, in metres, and how it is turned, in radians: to the right, up, and with the clock."""

    x: float
    y: float
    z: float
    yaw: float
    pitch: float
    roll: float

    @property
    def turn(self) -> Matrix:
        """The rotation from the world's axes (right, up, ahead) to the camera's (right, down, ahead)."""
        yaw, pitch, roll = self.yaw, self.pitch, self.roll
        across = np.array([[math.cos(yaw), 0, -math.sin(yaw)], [0, 1, 0], [math.sin(yaw), 0, math.cos(yaw)]])
        up = np.array([[1, 0, 0], [0, math.cos(pitch), -math.sin(pitch)], [0, math.sin(pitch), math.cos(pitch)]])
        about = np.array([[math.cos(roll), math.sin(roll), 0], [-math.sin(roll), math.cos(roll), 0], [0, 0, 1]])
        return np.asarray(about @ np.diag([1.0, -1.0, 1.0]) @ up @ across)

    def seen(self, *point: float) -> tuple[float, float, float]:
        """Return where a point of the world lies in the still, in pixels, and how far ahead it is, in metres."""
        x, y, ahead = self.turn @ (np.array(point) - [self.x, self.y, self.z])
        return WIDTH / 2 + _FOCAL * x / ahead, HEIGHT / 2 + _FOCAL * y / ahead, float(ahead)


def camera_at(step: int) -> _Camera:
    """Return the camera at a step of the walk: with sway, bob and turn, in steps of uneven length."""
    random = np.random.default_rng(5)
    lengths = random.uniform(0.22, 0.5, STILLS * 2)
    uneven = random.normal(0, 1, (STILLS * 2, 5))
    swing = step * 1.9
    shaken = uneven[min(step, len(uneven) - 1)]
    return _Camera(
        x=0.07 * math.sin(swing) + 0.012 * shaken[0],
        y=1.62 + 0.035 * math.sin(2 * swing) + 0.012 * shaken[1],
        z=float(lengths[:step].sum()),
        yaw=math.radians(0.8) * math.sin(swing + 0.6) + math.radians(0.35) * shaken[2],
        pitch=math.radians(1.6) + math.radians(0.3) * shaken[3],
        roll=math.radians(1.1) * math.sin(swing + 0.3) + math.radians(0.25) * shaken[4],
    )


def paint(share: float) -> ImageArray:
    """Paint the scene at a share 0 … 1 of its span; returns RGB, shape (1200, 1800, 3), uint8."""
    step = max(0, round(share * (STILLS - 1)))
    camera = camera_at(step)
    picture = _sky(camera, share)
    _ground(picture, camera)
    _beacon(picture, camera)
    for z in np.arange(_nearest(camera.z, 2.4) + 60.0, camera.z + 1.2, -2.4):
        _posts(picture, camera, float(z))
    return developed(picture, _static().grain, int(share * 7919) % 991, 1)


def _nearest(z: float, every: float) -> float:
    return math.ceil(z / every) * every


class _Static:
    """What is painted once for all stills."""

    def __init__(self) -> None:
        self.panorama = _painted_panorama()
        self.cloud = clouds(_PANORAMA[1], _PANORAMA[0] * 2, seed=81, octaves=7, stretch=2.2)
        ground = _painted_ground()
        # What lies far is seen small: averaged beforehand, so that it does not shimmer.
        softer = (ground, cv2.GaussianBlur(ground, (0, 0), 4), cv2.GaussianBlur(ground, (0, 0), 17))
        self.grounds = [np.asarray(np.clip(one, 0, 255), np.uint8) for one in softer]
        self.grain = grain(HEIGHT, WIDTH, seed=6, strength=1.8)


@lru_cache(maxsize=1)
def _static() -> _Static:
    return _Static()


def _painted_panorama() -> Plane:
    width, height = _PANORAMA
    down = np.linspace(0, 1, height, dtype=np.float32)
    rows = np.stack(
        [ramp(float(one), [(0, (96, 140, 186)), (0.36, (168, 192, 208)), (0.5, (232, 216, 188))]) for one in down]
    )
    picture = np.repeat(rows[:, None], width, axis=1).astype(np.float32)
    random = np.random.default_rng(12)
    for far, (tone, rise, seed) in enumerate(
        (((150, 164, 172), 70, 1), ((118, 134, 138), 44, 2), ((84, 98, 92), 22, 3))
    ):
        ridge = clouds(4, width, seed=90 + seed, octaves=8, stretch=1.4)[2] * rise + 6
        edge = [(float(x), height / 2 - float(ridge[x])) for x in range(0, width, 4)]
        fill(picture, [(0, height), *edge, (width, height)], tone)
        for _ in range(26 * far):
            x, size = float(random.uniform(0, width)), float(random.uniform(8, 20))
            base = height / 2 - float(ridge[min(width - 1, int(x))]) * 0.3
            colour = np.array(tone) * random.uniform(0.55, 0.85)
            fill(
                picture,
                [
                    (x, base),
                    (x + size, base),
                    (x + size, base - size),
                    (x + size / 2, base - 1.7 * size),
                    (x, base - size),
                ],
                colour,
            )
    return picture


def _painted_ground() -> Plane:
    wide, long = (int(side * _PER_METRE) for side in _GROUND)
    mud = clouds(long, wide, seed=71, octaves=9, stretch=0.5)[:, :, None]
    picture = np.array([128, 116, 96], np.float32) * (0.62 + 0.5 * mud)
    pools = clouds(long, wide, seed=72, octaves=6, stretch=0.8)[:, :, None]
    water = np.clip((pools - 0.56) * 12, 0, 1)
    picture = picture * (1 - water) + np.array([186, 194, 196], np.float32) * water
    green = np.clip((clouds(long, wide, seed=73, octaves=8, stretch=0.4)[:, :, None] - 0.52) * 8, 0, 1) * (1 - water)
    picture = picture * (1 - green) + np.array([104, 118, 66], np.float32) * (0.6 + 0.5 * mud) * green
    random = np.random.default_rng(74)
    middle, half = wide // 2, int(1.05 * _PER_METRE)
    picture[:, middle - half - 14 : middle + half + 14] *= 0.55
    for top in range(0, long, 13):
        tone = np.array([158, 140, 112], np.float32) * random.uniform(0.72, 1.08)
        ends = random.integers(-7, 8, 2)
        plank = picture[top : top + 11, middle - half + ends[0] : middle + half + ends[1]]
        plank[:] = tone * (0.85 + 0.3 * mud[top : top + 11, middle - half + ends[0] : middle + half + ends[1]])
        plank[-2:] *= 0.6
    return picture


def _projection() -> Matrix:
    return np.array([[_FOCAL, 0, WIDTH / 2], [0, _FOCAL, HEIGHT / 2], [0, 0, 1.0]])


def _sky(camera: _Camera, share: float) -> Plane:
    """Return what is endlessly far, turned as the camera is."""
    static = _static()
    width, height = _PANORAMA
    lens = np.array([[_FOCAL, 0, width / 2], [0, _FOCAL, height / 2], [0, 0, 1.0]])
    straight = np.diag([1.0, -1.0, 1.0])
    there = lens @ straight @ camera.turn.T @ np.linalg.inv(_projection())
    shift = int(share * width * 0.4)
    cloud = static.cloud[:, shift : shift + width, None]
    fade = np.clip(1 - np.linspace(0, 2, height), 0, 1)[:, None, None].astype(np.float32) ** 0.7
    cover = np.clip((cloud - 0.42) * 3, 0, 1) * fade * 0.8
    picture = static.panorama * (1 - cover) + (_SUN * 0.94) * cover
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.asarray(cv2.warpPerspective(picture.astype(np.float32), there, (WIDTH, HEIGHT), flags=flags))


def _ground(picture: Plane, camera: _Camera) -> None:
    """Lay the ground into the picture, the farther it is the softer and the hazier."""
    static = _static()
    wide, long = _GROUND
    # From the texture to the world, from there to the still: a plane seen by a camera is a homography.
    world = np.array([[1 / _PER_METRE, 0, -wide / 2], [0, 0, 0.0], [0, -1 / _PER_METRE, long]])
    moved = world - np.array([[0, 0, camera.x], [0, 0, camera.y], [0, 0, camera.z]])
    to_still = _projection() @ camera.turn @ moved
    down, across = np.mgrid[0:HEIGHT, 0:WIDTH].astype(np.float32)
    rays = np.linalg.inv(_projection() @ camera.turn)
    fall = -(rays[1, 0] * across + rays[1, 1] * down + rays[1, 2])
    ahead = rays[2, 0] * across + rays[2, 1] * down + rays[2, 2]
    far = np.where(fall > 1e-4, camera.y * ahead / np.maximum(fall, 1e-4), 1e4).astype(np.float32)
    layers = [
        cv2.warpPerspective(one, to_still, (WIDTH, HEIGHT), borderValue=(150.0, 148.0, 136.0)) for one in static.grounds
    ]
    level = np.log2(np.maximum(far, 1.0) / 4)[..., None]
    first, second = np.clip(level / 1.6, 0, 1), np.clip(level / 1.6 - 1.2, 0, 1)
    ground = layers[0] * (1 - first) + layers[1] * first
    ground = ground * (1 - second) + layers[2] * second
    haze = (1 - np.exp(-far / 70))[..., None]
    ground = ground * (1 - haze) + _HAZE * haze
    inside = ((fall > 1e-3) & (far < long - camera.z - 2)).astype(np.float32)[..., None]
    picture[:] = picture * (1 - inside) + ground * inside


def _hazy(colour: tuple[float, float, float], far: float) -> tuple[float, ...]:
    haze = 1 - math.exp(-far / 90)
    return tuple((np.array(colour) * (1 - haze) + _HAZE * haze).tolist())


def _upright(
    picture: Plane,
    camera: _Camera,
    x: float,
    z: float,
    low: float,
    high: float,
    ends: tuple[float, float],
    colour: tuple[float, float, float],
) -> None:
    """Draw something upright that faces the walker: from ``low`` to ``high``, so wide at its foot and its top."""
    corners = [(x - ends[0] / 2, low), (x + ends[0] / 2, low), (x + ends[1] / 2, high), (x - ends[1] / 2, high)]
    seen = [camera.seen(across, up, z) for across, up in corners]
    fill(picture, [(one[0], one[1]) for one in seen], _hazy(colour, seen[0][2]))


def _beacon(picture: Plane, camera: _Camera) -> None:
    x, _, z = BEACON
    _upright(picture, camera, x, z, -0.2, 1.6, (7.5, 5.2), (96, 92, 84))
    for number in range(5):
        low, high = 1.4 + number * 2.5, 3.9 + number * 2.5
        ends = (3.6 - 0.22 * number, 3.6 - 0.22 * (number + 1))
        tone = (226, 222, 210) if number % 2 == 0 else (58, 92, 112)
        _upright(picture, camera, x, z, low, high, ends, tone)
        _upright(
            picture,
            camera,
            x + ends[0] * 0.3,
            z,
            low,
            high,
            (ends[0] * 0.4, ends[1] * 0.4),
            (tone[0] * 0.72, tone[1] * 0.72, tone[2] * 0.72),
        )
    _upright(picture, camera, x, z, 13.9, 14.3, (3.6, 3.6), (46, 50, 54))
    _upright(picture, camera, x, z, 14.3, 16.2, (1.9, 1.9), (250, 226, 150))
    _upright(picture, camera, x - 0.5, z, 14.3, 16.2, (0.14, 0.14), (46, 50, 54))
    _upright(picture, camera, x + 0.5, z, 14.3, 16.2, (0.14, 0.14), (46, 50, 54))
    _upright(picture, camera, x, z, 16.2, 17.6, (2.5, 0.2), (150, 64, 48))


def _posts(picture: Plane, camera: _Camera, z: float) -> None:
    """Draw the two posts at a place of the way, the rope to the next ones, and the reeds beside them."""
    random = np.random.default_rng(int(z * 10) % 9973)
    for side in (-1, 1):
        x = side * 1.32
        for _ in range(7):
            foot, rise = x + side * random.uniform(0.4, 5.0), random.uniform(0.35, 0.95)
            lean = random.uniform(-0.12, 0.12)
            ends = [camera.seen(foot, 0.0, z), camera.seen(foot + 0.05, 0.0, z), camera.seen(foot + lean, rise, z)]
            fill(picture, [(one[0], one[1]) for one in ends], _hazy((120, 124, 70), ends[0][2]))
        ahead = camera.seen(x, 0.95, z + 2.4)
        near = camera.seen(x, 0.95, z)
        middle = camera.seen(x, 0.78, z + 1.2)
        rope = np.array([[one[0], one[1]] for one in (ahead, middle, near)])
        cv2.polylines(
            picture,
            [np.round(rope * 16).astype(np.int32)],
            False,
            _hazy((176, 160, 126), near[2]),
            max(1, round(_FOCAL * 0.02 / near[2])),
            cv2.LINE_AA,
            4,
        )
        height = 1.05 + random.uniform(-0.06, 0.08)
        _upright(picture, camera, x, z, -0.1, height, (0.15, 0.13), (112, 96, 74))
        _upright(picture, camera, x + 0.035, z, -0.1, height, (0.06, 0.05), (78, 66, 52))
        _upright(picture, camera, x, z, height, height + 0.04, (0.13, 0.08), (206, 202, 190))
