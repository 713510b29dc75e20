"""Pellow Reach: a tidal creek with a boatyard, from afternoon to night; a place that does not exist."""

import math
from functools import lru_cache

import cv2
import numpy as np
from numba import njit

from yarnkite.core.image.pixels import ImageArray
from yarnkite.demo.texture import Colour, Plane, clouds, developed, fill, glow, grain, polygon, ramp, smooth_step

WIDTH, HEIGHT = 2400, 1600
HORIZON = 800
GROUND = 905
_SHARE = 2
_FIRST_LAND = 560

_ZENITH: tuple[tuple[float, Colour], ...] = (
    (-16, (10, 15, 34)),
    (-9, (16, 24, 54)),
    (-4, (38, 52, 98)),
    (0, (74, 96, 146)),
    (6, (92, 138, 186)),
    (28, (78, 136, 194)),
)
_LOW_SKY: tuple[tuple[float, Colour], ...] = (
    (-16, (22, 29, 52)),
    (-9, (44, 46, 78)),
    (-4, (150, 92, 98)),
    (0, (242, 158, 104)),
    (6, (244, 216, 172)),
    (28, (196, 216, 228)),
)
_SUNLIGHT: tuple[tuple[float, Colour], ...] = (
    (-6, (0, 0, 0)),
    (-1, (70, 34, 20)),
    (2, (226, 128, 66)),
    (9, (250, 204, 150)),
    (28, (255, 240, 214)),
)
_AMBIENT: tuple[tuple[float, Colour], ...] = (
    (-16, (0.085, 0.10, 0.15)),
    (-9, (0.11, 0.125, 0.19)),
    (-3, (0.22, 0.22, 0.30)),
    (4, (0.40, 0.42, 0.48)),
    (28, (0.48, 0.51, 0.56)),
)
_LAMPS = (
    # x, y, radius, when it comes on (share of the span), colour
    (610, 742, 26, 0.640, (255, 196, 118)),
    (905, 716, 30, 0.655, (255, 188, 104)),
    (1392, 700, 26, 0.672, (255, 208, 140)),
    (1668, 752, 22, 0.700, (255, 180, 96)),
    (2046, 770, 16, 0.735, (206, 226, 255)),
    (214, 786, 14, 0.688, (255, 200, 130)),
    (2262, 778, 13, 0.780, (255, 214, 160)),
    (350, 780, 10, 0.760, (255, 190, 120)),
)
_WINDOWS = (
    # left, top, width, height, on, off (shares of the span)
    (742, 806, 34, 30, 0.615, 0.955),
    (800, 806, 34, 30, 0.615, 0.955),
    (858, 806, 34, 30, 0.66, 0.90),
    (1186, 792, 40, 34, 0.69, 2),
    (1246, 792, 40, 34, 0.63, 2),
    (1306, 792, 40, 34, 0.71, 0.93),
    (1706, 826, 24, 24, 0.75, 2),
    (1744, 826, 24, 24, 0.68, 2),
    (196, 826, 18, 20, 0.70, 2),
    (232, 826, 18, 20, 0.77, 0.97),
)
_HULLS = (
    (420, 1010, 1.0, (150, 46, 38)),
    (1130, 985, 0.8, (54, 88, 116)),
    (1830, 1040, 1.25, (206, 198, 178)),
    (2150, 972, 0.6, (62, 104, 84)),
)


def paint(share: float) -> ImageArray:
    """Paint the scene at a share 0…1 of its span; returns RGB, shape (1600, 2400, 3), uint8."""
    light = _Light(share)
    upper = _sky(light)
    _land(upper, light)
    _lamps(upper, light)
    picture = np.empty((HEIGHT, WIDTH, 3), np.float32)
    picture[: upper.shape[0]] = upper
    _water(picture, upper, light)
    _boats(picture, light)
    _foreground(picture, light)
    shift = int(share * 7919) % 997
    return developed(picture, _static().grain, shift, 1 + 1.5 * light.night)


def paint_other_bank(share: float) -> ImageArray:
    """Paint an evening, at a share 0…1 of it, from the other bank; as ``paint``."""
    return np.ascontiguousarray(paint(0.42 + 0.2 * share)[:, ::-1])


class _Light:
    """Where the sun is and what that does, at a share of the span."""

    def __init__(self, share: float) -> None:
        self.share = share
        self.elevation = 27 - 43 * share
        self.night = float(smooth_step(-self.elevation, 1, 9))
        self.sun_x = 900 + 1150 * share
        self.sun_y = HORIZON - self.elevation * 23
        self.sunlight = ramp(self.elevation, _SUNLIGHT)
        self.ambient = ramp(self.elevation, _AMBIENT)
        self.water_line = GROUND + 18 + 92 * share


class _Static:
    """What is painted once for all stills."""

    def __init__(self) -> None:
        rows, columns = GROUND // _SHARE + 1, WIDTH // _SHARE
        self.high_clouds = clouds(rows, columns * 2, seed=11, octaves=6, stretch=0.55)
        self.low_clouds = clouds(rows, columns * 2, seed=23, octaves=6, stretch=0.9)
        self.down = np.linspace(0, 1, rows, dtype=np.float32)[:, None]
        self.albedo, self.cover, self.distance = _painted_land()
        self.ripple = clouds(HEIGHT - HORIZON, WIDTH, seed=5, octaves=6, stretch=0.25)
        self.fine_ripple = _wide(clouds((HEIGHT - HORIZON) * 5, WIDTH, seed=6, octaves=4, stretch=0.07))
        self.mud = clouds(260, WIDTH, seed=31, octaves=8, stretch=0.4)
        self.grain = grain(HEIGHT, WIDTH, seed=2, strength=2.2)
        random = np.random.default_rng(8)
        self.stars = np.stack(
            [random.uniform(0, WIDTH, 420), random.uniform(0, HORIZON - 60, 420), random.random(420)], 1
        )
        self.reeds = np.stack([random.uniform(1480, 2420, 260), random.uniform(130, 420, 260), random.random(260)], 1)


@lru_cache(maxsize=1)
def _static() -> _Static:
    return _Static()


def _sky(light: _Light) -> Plane:
    static = _static()
    rows, columns = GROUND // _SHARE + 1, WIDTH // _SHARE
    height = (static.down * GROUND / HORIZON) ** 1.4
    sky = (
        ramp(light.elevation, _ZENITH) * (1 - height[:, :, None]) + ramp(light.elevation, _LOW_SKY) * height[:, :, None]
    )
    sky = np.repeat(sky, columns, axis=1).astype(np.float32)
    down, across = np.ogrid[0:rows, 0:columns]
    distance = ((across * _SHARE - light.sun_x) / 1.5) ** 2 + (down * _SHARE - light.sun_y) ** 2
    warmth = np.exp(-distance / (2 * 330**2)).astype(np.float32)[:, :, None]
    sky += warmth * light.sunlight * (0.40 - 0.007 * max(light.elevation, 0))
    disc = np.exp(-((distance / 46**2) ** 2)).astype(np.float32)[:, :, None]
    sky += disc * light.sunlight * 1.3 * float(smooth_step(light.elevation, -3, 2))
    _clouds(sky, light, warmth)
    upper: Plane = cv2.resize(sky, (WIDTH, rows * _SHARE), interpolation=cv2.INTER_LINEAR)
    _stars(upper, light)
    return upper[:GROUND]


def _clouds(sky: Plane, light: _Light, warmth: Plane) -> None:
    static = _static()
    base = ramp(light.elevation, _LOW_SKY) * np.float32(0.82) + np.float32(16) * light.ambient
    for noise, speed, threshold, strength in (
        (static.high_clouds, 330, 0.50, 0.55),
        (static.low_clouds, 760, 0.56 - 0.10 * math.sin(light.share * 5), 0.85),
    ):
        _lay_clouds(sky, noise, light.share * speed, threshold, strength, base, light.sunlight, warmth)


@njit(cache=True)
def _lay_clouds(sky, noise, drift, threshold, strength, base, sunlight, warmth):  # type: ignore[no-untyped-def]
    whole = int(drift)
    part = np.float32(drift - whole)
    period = noise.shape[1]
    for y in range(sky.shape[0]):
        thinner = strength * (1 - 0.55 * (y / sky.shape[0]) ** 6)
        for x in range(sky.shape[1]):
            density = noise[y, (x + whole) % period] * (1 - part) + noise[y, (x + whole + 1) % period] * part
            cover = min(max((density - threshold) / 0.30, 0.0), 1.0)
            if cover > 0:
                cover *= cover * (3 - 2 * cover) * thinner
                shade = min(max((density - threshold - 0.10) / 0.40, 0.0), 1.0)
                shade *= shade * (3 - 2 * shade)
                for c in range(3):
                    lit = base[c] + sunlight[c] * (0.16 + 0.5 * warmth[y, x, 0])
                    sky[y, x, c] += (min(lit * (1.06 - 0.42 * shade), 255.0) - sky[y, x, c]) * cover


def _stars(upper: Plane, light: _Light) -> None:
    shining = float(smooth_step(-light.elevation, 7, 13))
    if shining <= 0:
        return
    for x, y, size in _static().stars:
        at_x, at_y = (x + 210 * light.share) % WIDTH, y - 40 * light.share
        if 2 <= at_x < WIDTH - 2 and 2 <= at_y < HORIZON - 70:
            clear = max(0.0, 1 - float(upper[int(at_y), int(at_x)].mean()) / 62)
            glow(
                upper,
                at_x,
                at_y,
                1.2 + 1.6 * size,
                np.array([225, 230, 245], np.float32),
                shining * clear * (0.25 + 0.6 * size),
            )


def _wide(noise: Plane) -> Plane:
    """Press noise flat, so that its features are wide and low like ripples seen from the bank."""
    return np.asarray(
        cv2.resize(noise, (noise.shape[1], noise.shape[0] // 5), interpolation=cv2.INTER_AREA), np.float32
    )


def _painted_land() -> tuple[Plane, Plane, Plane]:
    """Return the far bank's colours under white light, its coverage 0…1, and how far it is in the haze 0…1."""
    shape = (GROUND, WIDTH)
    albedo = np.zeros((*shape, 3), np.float32)
    across = np.arange(0, WIDTH + 12, 12)
    random = np.random.default_rng(3)
    cover, far = np.zeros(shape, np.float32), np.zeros(shape, np.float32)

    def lay(mask: Plane, colour: Plane, distance: float) -> None:
        albedo[:] += (colour - albedo) * mask[:, :, None]
        far[:] += (distance - far) * mask
        cover[:] = 1 - (1 - cover) * (1 - mask)

    def ridge(base: float, swing: float, seed: int, roughness: float, colour: Colour, distance: float) -> None:
        line = clouds(8, WIDTH + 12, seed=seed, octaves=7, stretch=roughness)[4]
        points = [(float(x), base - swing * float(line[min(x, WIDTH + 11)])) for x in across]
        mask = polygon(shape, [*points, (WIDTH + 12, GROUND), (0, GROUND)])
        texture = clouds(GROUND, WIDTH, seed=seed + 50, octaves=8, stretch=0.12)
        lay(mask, np.array(colour, np.float32) * (0.72 + 0.5 * texture[:, :, None]), distance)

    ridge(806, 190, 41, 1.6, (104, 118, 126), 0.75)
    ridge(822, 120, 42, 0.9, (92, 112, 92), 0.45)
    ridge(838, 66, 43, 0.22, (62, 84, 56), 0.15)
    ground = polygon(shape, [(0, 852), (700, 846), (1500, 850), (WIDTH, 858), (WIDTH, GROUND), (0, GROUND)])
    gravel = clouds(GROUND, WIDTH, seed=77, octaves=9, stretch=0.1)
    lay(ground, np.array([168, 158, 142], np.float32) * (0.7 + 0.5 * gravel[:, :, None]), 0.0)
    yard, mask = np.zeros((*shape, 3), np.uint8), np.zeros(shape, np.uint8)
    _yard(yard, mask, random)
    lay(mask.astype(np.float32) / 255, yard.astype(np.float32) * (0.86 + 0.2 * gravel[:, :, None]), 0.0)
    return albedo, cover, far


def _yard(yard: ImageArray, mask: ImageArray, random: np.random.Generator) -> None:
    def put(points: list[tuple[float, float]], colour: Colour) -> None:
        fill(yard, points, colour)
        fill(mask, points, (255,))

    def shed(left: float, width: float, eaves: float, ridge: float, wall: Colour, roof: Colour) -> None:
        right, foot = left + width, 872.0
        put([(left, eaves), (right, eaves), (right, foot), (left, foot)], wall)
        put(
            [
                (left - 16, eaves + 4),
                (left + width * 0.10, ridge),
                (right - width * 0.10, ridge),
                (right + 16, eaves + 4),
            ],
            roof,
        )
        for seam in np.arange(left + 14, right, 14):
            shade = float(random.uniform(0.82, 1.0))
            put(
                [(seam, eaves + 6), (seam + 2.2, eaves + 6), (seam + 2.2, foot), (seam, foot)],
                tuple(c * shade for c in wall),
            )
        for seam in np.arange(left + 8, right, 22):
            lean = (seam - left - width / 2) * 0.17
            put(
                [(seam, eaves), (seam + 2, eaves), (seam + 2 - lean, ridge + 3), (seam - lean, ridge + 3)],
                tuple(c * 0.86 for c in roof),
            )

    shed(700, 250, 782, 722, (150, 62, 50), (96, 92, 96))
    shed(1130, 330, 770, 690, (88, 112, 120), (130, 78, 62))
    shed(1668, 140, 806, 764, (196, 184, 156), (78, 86, 92))
    shed(170, 110, 808, 772, (202, 190, 168), (120, 66, 54))
    put([(1196, 800), (1290, 800), (1290, 872), (1196, 872)], (52, 60, 64))
    for x, height, thick in (
        (1010, 250, 7),
        (1560, 330, 6),
        (1604, 270, 5),
        (2010, 300, 6),
        (2090, 220, 5),
        (2300, 190, 5),
        (520, 210, 5),
    ):
        put([(x, 880 - height), (x + thick, 880 - height), (x + thick + 1, 884), (x - 1, 884)], (196, 190, 178))
        put([(x + thick, 846), (x + thick, 840), (x + 96, 852), (x + 96, 857)], (150, 130, 104))
        for stay in (-62, 70):
            put([(x + 1, 884 - height), (x + 4, 884 - height), (x + stay + 3, 880), (x + stay, 880)], (120, 118, 112))
    for x, length, colour in ((1510, 150, (226, 222, 210)), (1990, 190, (48, 70, 98)), (470, 150, (188, 172, 74))):
        put([(x, 842), (x + length, 836), (x + length - 26, 872), (x + 22, 874)], colour)
        put([(x + 4, 850), (x + length - 6, 845), (x + length - 9, 852), (x + 8, 857)], (150, 44, 36))
        for leg in (30, length - 44):
            put([(x + leg, 870), (x + leg + 7, 870), (x + leg + 4, 894), (x + leg - 3, 894)], (92, 78, 62))
    for x, y, *_ in _LAMPS:
        put([(x - 2.5, y), (x + 2.5, y), (x + 3, 884), (x - 3, 884)], (70, 72, 74))
    for left, top, width, height, *_ in _WINDOWS:
        put(
            [
                (left - 3, top - 3),
                (left + width + 3, top - 3),
                (left + width + 3, top + height + 3),
                (left - 3, top + height + 3),
            ],
            (214, 206, 190),
        )
        put([(left, top), (left + width, top), (left + width, top + height), (left, top + height)], (46, 56, 66))


def _land(upper: Plane, light: _Light) -> None:
    static = _static()
    haze = ramp(light.elevation, _LOW_SKY) * np.float32(0.86)
    rows = slice(_FIRST_LAND, GROUND)
    direct = light.sunlight / np.float32(255) * np.float32(0.56)
    _light_land(
        upper[rows],
        static.albedo[rows],
        static.cover[rows],
        static.distance[rows],
        _sunny(light),
        light.ambient,
        direct,
        haze,
    )


@njit(cache=True)
def _light_land(upper, albedo, cover, distance, sunny, ambient, direct, haze):  # type: ignore[no-untyped-def]
    for y in range(upper.shape[0]):
        for x in range(upper.shape[1]):
            if cover[y, x] > 0:
                for c in range(3):
                    lit = albedo[y, x, c] * (ambient[c] + direct[c] * sunny[y, x])
                    lit += (haze[c] - lit) * distance[y, x]
                    upper[y, x, c] += (lit - upper[y, x, c]) * cover[y, x]


def _sunny(light: _Light) -> Plane:
    """Return 1 where the sun reaches the bank and less in the shadows of sheds, masts and passing clouds."""
    rows = GROUND - _FIRST_LAND
    if light.elevation <= 0.5:
        return np.ones((rows, WIDTH), np.float32)
    length = min(330.0, 44 / math.tan(math.radians(light.elevation)))
    lean = -length * (0.35 + 0.9 * light.share) + 60 * (0.35 - light.share)
    shadow = np.zeros((rows, WIDTH), np.uint8)
    foot = 868.0 - _FIRST_LAND
    for left, right, top in ((700, 950, 782), (1130, 1460, 770), (1668, 1808, 806), (170, 280, 808)):
        reach = (884 - top) / 110
        tip = foot + 34 * reach
        fill(shadow, [(left, foot), (right, foot), (right + lean * reach, tip), (left + lean * reach, tip)], (255,))
    for x in (1010, 1560, 1604, 2010, 2090, 520):
        fill(
            shadow,
            [(x, foot + 12), (x + 6, foot + 12), (x + 6 + lean * 1.6, foot + 36), (x + lean * 1.6, foot + 36)],
            (255,),
        )
    cv2.GaussianBlur(shadow, (0, 0), 3, dst=shadow)
    drift = np.roll(_static().low_clouds, -int(light.share * 900), axis=1)[:1, : WIDTH // _SHARE]
    passing = smooth_step(np.asarray(cv2.resize(drift, (WIDTH, 1)), np.float32), 0.55, 0.85)
    return np.asarray((1 - shadow * np.float32(0.72 / 255)) * (1 - 0.3 * passing), np.float32)


def _lamps(upper: Plane, light: _Light) -> None:
    for left, top, width, height, on, off in _WINDOWS:
        power = float(smooth_step(light.share, on, on + 0.004)) * (
            1 - float(smooth_step(light.share, off, off + 0.004))
        )
        if power > 0:
            pane = np.array([255, 206, 128], np.float32) * (0.35 + 0.65 * light.night)
            upper[top : top + height, left : left + width] += (
                pane - upper[top : top + height, left : left + width]
            ) * power
            upper[top : top + height, left + width // 2 - 1 : left + width // 2 + 2] *= 0.35
            glow(
                upper,
                left + width / 2,
                top + height / 2,
                34,
                np.array([255, 190, 110], np.float32),
                0.16 * power * light.night,
            )
    for x, y, radius, on, colour in _LAMPS:
        power = float(smooth_step(light.share, on, on + 0.006))
        if power > 0:
            tint = np.array(colour, np.float32)
            glow(upper, x, y, radius, tint, power * (0.55 + 0.6 * light.night))
            glow(upper, x, 880, radius * 2.6, tint * 0.8, 0.16 * power * light.night)


def _water(picture: Plane, upper: Plane, light: _Light) -> None:
    static = _static()
    rows = HEIGHT - GROUND
    y = np.arange(GROUND, HEIGHT, dtype=np.float32)[:, None]
    depth = np.clip((y - light.water_line) / (HEIGHT - light.water_line), 0, 1)
    phase = light.share * 5200
    near = np.roll(static.ripple, int(phase) % WIDTH, axis=1)[:rows] - np.float32(0.5)
    fine = np.roll(static.fine_ripple, -int(phase * 1.7) % WIDTH, axis=1)[:rows] - np.float32(0.5)
    wave = near * (8 + 90 * depth) + fine * (5 + 60 * depth)
    across = np.arange(WIDTH, dtype=np.float32)[None, :] + wave * np.float32(0.35)
    mirrored = np.clip(2 * GROUND - 26 - y - (y - light.water_line) * 0.28 + wave, 0, GROUND - 1)
    streaked = cv2.blur(upper, (1, 1 + 2 * int(24 * light.night))) if light.night > 0.05 else upper
    water = cv2.remap(streaked, across, mirrored.astype(np.float32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
    deep = ramp(light.elevation, _ZENITH) * np.float32(0.42) + np.array([10, 20, 20], np.float32) * light.ambient
    sun = light.sunlight * np.float32(0.8 * float(smooth_step(light.elevation, -3, 1)))
    mud_light = light.ambient + light.sunlight / np.float32(255) * np.float32(0.5)
    _mix_water(
        picture[GROUND:],
        np.asarray(water, np.float32),
        fine,
        static.mud,
        depth,
        y - np.float32(light.water_line),
        deep,
        sun,
        np.float32(light.sun_x),
        mud_light,
    )


@njit(cache=True)
def _mix_water(target, water, fine, mud, depth, below, deep, sun, sun_x, mud_light):  # type: ignore[no-untyped-def]
    clay = (112.0, 96.0, 78.0)
    for y in range(target.shape[0]):
        far = depth[y, 0]
        edge = min(max(below[y, 0] / 3, 0.0), 1.0)
        width = 90 + 240 * far
        for x in range(target.shape[1]):
            sparkle = min(max((fine[y, x] - 0.2) / 0.22, 0.0), 1.0)
            if sparkle > 0:
                away = (x - sun_x) / width
                sparkle *= sparkle * np.exp(-away * away) * (0.35 + 0.65 * far) * (0.35 + 1.3 * fine[y, x])
            ground = 0.55 + 0.7 * mud[min(y, mud.shape[0] - 1), x]
            for c in range(3):
                wet = water[y, x, c] * 0.8
                wet += (deep[c] - wet) * (0.12 + 0.42 * far) + sparkle * sun[c]
                dry = clay[c] * ground * mud_light[c] + wet * 0.2
                target[y, x, c] = dry + (wet - dry) * edge


def _boats(picture: Plane, light: _Light) -> None:
    lit = light.ambient + light.sunlight / 255 * 0.55
    for number, (x, y, scale, colour) in enumerate(_HULLS):
        swing = 46 * math.sin(light.share * 3.1 + number) + 5 * math.sin(light.share * 60 + number * 2)
        bob = 2.4 * math.sin(light.share * 140 + number * 1.7)
        left, level = x + swing, y + (light.water_line - GROUND) * 0.62 + bob
        length, height = 210 * scale, 44 * scale
        mirror = [
            (left + 6, level),
            (left + length - 6, level),
            (left + length - 40 * scale, level + height * 1.1),
            (left + 30 * scale, level + height),
        ]
        shade = np.zeros(picture.shape[:2], np.uint8)[int(level) - 4 : int(level) + int(height * 1.4)]
        fill(shade, [(px, py - int(level) + 4) for px, py in mirror], (120,))
        region = picture[int(level) - 4 : int(level) - 4 + shade.shape[0]]
        dark = np.array(colour, np.float32) * lit * 0.45
        region += (dark - region) * (shade.astype(np.float32) / 255)[:, :, None]
        hull = [
            (left, level - height),
            (left + length, level - height * 0.92),
            (left + length - 34 * scale, level + 4),
            (left + 26 * scale, level + 5),
        ]
        fill(picture, hull, np.array(colour, np.float32) * lit)
        rim = [
            (left - 2, level - height - 3),
            (left + length + 3, level - height * 0.92 - 3),
            (left + length, level - height * 0.76),
            (left + 2, level - height * 0.82),
        ]
        fill(picture, rim, np.array([232, 226, 210], np.float32) * lit)
        if scale > 0.7:
            cabin = [
                (left + length * 0.3, level - height * 1.7),
                (left + length * 0.58, level - height * 1.7),
                (left + length * 0.66, level - height * 0.95),
                (left + length * 0.27, level - height * 0.95),
            ]
            fill(picture, cabin, np.array([222, 214, 196], np.float32) * lit * 0.92)
            mast = left + length * 0.5 + bob
            fill(
                picture,
                [
                    (mast, level - 230 * scale),
                    (mast + 4, level - 230 * scale),
                    (mast + 6, level - height),
                    (mast - 1, level - height),
                ],
                np.array([190, 180, 160], np.float32) * lit,
            )
        if scale > 1 and light.share > 0.72:
            glow(picture, mast + 2, level - 232 * scale, 12, np.array([255, 240, 214], np.float32), 0.9 * light.night)


def _foreground(picture: Plane, light: _Light) -> None:
    lit = light.ambient * 0.7 + light.sunlight / 255 * 0.25
    wood = np.array([104, 86, 66], np.float32) * lit
    fill(picture, [(0, 1330), (640, 1268), (652, 1296), (0, 1372)], wood * 1.25)
    fill(picture, [(0, 1372), (652, 1296), (652, 1312), (0, 1396)], wood * 0.6)
    for plank in range(0, 640, 34):
        top = 1330 - plank * 0.097
        fill(picture, [(plank, top), (plank + 3, top), (plank + 3, top + 40), (plank, top + 40)], wood * 0.7)
    for x, top in ((60, 1250), (300, 1228), (560, 1208)):
        fill(picture, [(x, top), (x + 34, top - 4), (x + 37, 1600), (x - 2, 1600)], wood * 0.82)
        fill(picture, [(x + 22, top - 3), (x + 34, top - 4), (x + 37, 1600), (x + 25, 1600)], wood * 0.55)
    for x, height, tone in _static().reeds:
        sway = 16 * math.sin(light.share * 90 + x * 0.013) * height / 300
        tip = (x + sway + 26 * (tone - 0.5), HEIGHT - height)
        colour = np.array([108 + 60 * tone, 118 + 34 * tone, 58], np.float32) * lit * (0.75 + 0.4 * tone)
        fill(
            picture,
            [
                (x - 4, HEIGHT),
                (x + 4, HEIGHT),
                (x + sway * 0.4 + 3, HEIGHT - height * 0.5),
                tip,
                (x + sway * 0.4 - 3, HEIGHT - height * 0.5),
            ],
            colour,
        )
