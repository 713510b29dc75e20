"""Tray Nine: nine seedlings unfolding under a lamp that travels along its rail."""

import math
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numba import njit

from yarnkite.core.image.pixels import ImageArray
from yarnkite.demo.texture import Plane, clouds, developed, fill, glow, grain, smooth_step

WIDTH, HEIGHT = 2000, 1500
_ROWS = ((0.62, 930.0, 0.10), (0.80, 1090.0, 0.55), (1.0, 1290.0, 1.0))
_COLUMNS = (-0.29, 0.01, 0.30)
_LAMP = np.array([255, 226, 188], np.float32)


@dataclass(frozen=True)
class _Seedling:
    x: float
    y: float
    scale: float
    near: float
    begins: float
    vigour: float
    phase: float


def paint(share: float) -> ImageArray:
    """Paint the scene at a share 0…1 of its span; returns RGB, shape (1500, 2000, 3), uint8."""
    lamp_x = WIDTH * (0.30 + 0.40 * share + 0.06 * math.sin(share * 9))
    picture = _lit_tray(lamp_x)
    for seedling in _seedlings():
        _shadow(picture, seedling, share, lamp_x)
    for seedling in _seedlings():
        _plant(picture, seedling, share, lamp_x)
    _front_rim(picture, lamp_x)
    _lamp(picture, lamp_x)
    return developed(picture, _static().grain, int(share * 7919) % 997, 1)


class _Static:
    """What is painted once for all stills."""

    def __init__(self) -> None:
        self.albedo = _tray()
        self.grain = grain(HEIGHT, WIDTH, seed=4, strength=1.7)


@lru_cache(maxsize=1)
def _static() -> _Static:
    return _Static()


@lru_cache(maxsize=1)
def _seedlings() -> tuple[_Seedling, ...]:
    random = np.random.default_rng(9)
    return tuple(
        _Seedling(
            x=WIDTH * (0.5 + column * (0.72 + 0.42 * near)) + float(random.uniform(-16, 16)),
            y=y,
            scale=scale * float(random.uniform(0.9, 1.08)),
            near=near,
            begins=float(random.uniform(0.0, 0.20)),
            vigour=float(random.uniform(0.88, 1.12)),
            phase=float(random.uniform(0, 6.28)),
        )
        for scale, y, near in _ROWS
        for column in _COLUMNS
    )


def _tray() -> Plane:
    wall = clouds(HEIGHT, WIDTH, seed=61, octaves=7, stretch=1.6)[:, :, None]
    albedo = np.array([118, 138, 142], np.float32) * (0.78 + 0.3 * wall)
    bench = clouds(HEIGHT, WIDTH, seed=62, octaves=9, stretch=3)[:, :, None]
    plank = np.array([150, 116, 82], np.float32) * (0.7 + 0.45 * bench)
    albedo[820:] = plank[820:]
    body = np.zeros((HEIGHT, WIDTH, 3), np.float32)
    fill(body, [(330, 812), (1670, 812), (1960, 1420), (40, 1420)], (52, 62, 66))
    soil = clouds(HEIGHT, WIDTH, seed=63, octaves=10, stretch=0.14)[:, :, None]
    crumbs = np.random.default_rng(64).normal(1, 0.20, (HEIGHT // 3, WIDTH // 3, 1)).astype(np.float32)
    rough = cv2.resize(crumbs, (WIDTH, HEIGHT), interpolation=cv2.INTER_CUBIC)[:, :, None]
    earth = np.array([98, 72, 52], np.float32) * (0.45 + 0.8 * soil) * rough
    for row in range(3):
        for column in range(3):
            cell = [
                _on_tray(column / 3 + 0.02, row / 3 + 0.03),
                _on_tray(column / 3 + 0.313, row / 3 + 0.03),
                _on_tray(column / 3 + 0.313, row / 3 + 0.30),
                _on_tray(column / 3 + 0.02, row / 3 + 0.30),
            ]
            mask = np.zeros((HEIGHT, WIDTH), np.uint8)
            fill(mask, cell, (255,))
            share = cv2.GaussianBlur(mask, (0, 0), 1.2).astype(np.float32)[:, :, None] / 255
            inner = (
                cv2.GaussianBlur(cv2.erode(mask, np.ones((5, 5), np.uint8)), (0, 0), 14).astype(np.float32)[:, :, None]
                / 255
            )
            body += (earth * (0.45 + 0.55 * inner) - body) * share
    covered = np.zeros((HEIGHT, WIDTH), np.uint8)
    fill(covered, [(330, 812), (1670, 812), (1960, 1420), (40, 1420)], (255,))
    share = covered.astype(np.float32)[:, :, None] / 255
    albedo += (body - albedo) * share
    return np.asarray(albedo, np.float32)


def _on_tray(across: float, down: float) -> tuple[float, float]:
    y = 820 + 590 * down**1.15
    half = 650 + 270 * (y - 820) / 590
    return WIDTH / 2 + (across - 0.5) * 2 * half, y


def _lit_tray(lamp_x: float) -> Plane:
    down = np.linspace(0, 1, HEIGHT // 4, dtype=np.float32)[:, None]
    across = np.linspace(0, 1, WIDTH // 4, dtype=np.float32)[None, :]
    x = lamp_x / WIDTH
    cone = np.exp(-(((across - x) / (0.16 + 0.42 * down)) ** 2))
    level = 0.10 + 0.95 * cone * np.where(down < 0.55, 0.46 + 0.5 * down, 0.90)
    light = cv2.resize(level.astype(np.float32), (WIDTH, HEIGHT))
    return np.asarray(_lit(_static().albedo, light, _LAMP / np.float32(255)), np.float32)


@njit(cache=True)
def _lit(albedo, light, tint):  # type: ignore[no-untyped-def]
    result = np.empty_like(albedo)
    for y in range(albedo.shape[0]):
        for x in range(albedo.shape[1]):
            for c in range(3):
                result[y, x, c] = albedo[y, x, c] * light[y, x] * tint[c]
    return result


def _growth(seedling: _Seedling, share: float) -> float:
    return float(smooth_step(share, seedling.begins, seedling.begins + 0.85 / seedling.vigour))


def _stem(seedling: _Seedling, share: float) -> list[tuple[float, float]]:
    """Return points along the stem, foot first; it hooks at first, straightens, and circles as it grows."""
    grown = _growth(seedling, share)
    length = 330 * seedling.scale * seedling.vigour * grown**0.85
    sway = math.sin(share * 38 + seedling.phase) * (0.10 + 0.14 * (1 - grown))
    hook = 2.6 * (1 - float(smooth_step(grown, 0.12, 0.5)))
    x, y, heading, points = seedling.x, seedling.y, -math.pi / 2, [(seedling.x, seedling.y)]
    steps = 18
    for step in range(steps):
        part = (step + 1) / steps
        heading = -math.pi / 2 + sway * part * 1.6 + hook * max(0.0, part - 0.45) * 1.9
        x += math.cos(heading) * length / steps
        y += math.sin(heading) * length / steps
        points.append((x, y))
    return points


def _leaves(seedling: _Seedling, share: float) -> list[tuple[float, float, float, float, float]]:
    """Return the leaves as (foot x, foot y, direction, length, openness), the oldest first."""
    grown = _growth(seedling, share)
    stem = _stem(seedling, share)
    leaves = []
    nod = 0.12 * math.sin(share * 30 + seedling.phase * 2)
    for pair, (place, begins, ends, size) in enumerate(
        ((0.80, 0.26, 0.62, 118), (1.0, 0.50, 0.86, 150), (1.0, 0.72, 1.05, 96))
    ):
        opening = float(smooth_step(grown, begins, ends))
        if opening <= 0.02:
            continue
        x, y = stem[round(place * (len(stem) - 1))]
        for side in (-1, 1):
            spread = 0.22 + (1.05 - 0.22 * pair) * opening
            direction = -math.pi / 2 + side * spread + nod * (1 if pair else 0.5)
            leaves.append(
                (x, y, direction, size * seedling.scale * seedling.vigour * (0.2 + 0.8 * opening), 0.2 + 0.8 * opening)
            )
    return leaves


def _leaf_outline(x: float, y: float, direction: float, length: float, openness: float) -> list[tuple[float, float]]:
    outline = []
    for side in (-1, 1):
        positions = range(13) if side < 0 else range(12, -1, -1)
        for position in positions:
            along = position / 12
            width = 0.34 * openness * math.sin(math.pi * along**0.8) ** 0.9
            droop = 0.10 * along * along
            px, py = (
                along * length,
                side * width * length * 0.5 + droop * length * math.copysign(1, math.cos(direction)),
            )
            outline.append(
                (
                    x + px * math.cos(direction) - py * math.sin(direction),
                    y + px * math.sin(direction) + py * math.cos(direction),
                )
            )
    return outline


def _shadow(picture: Plane, seedling: _Seedling, share: float, lamp_x: float) -> None:
    lean = (seedling.x - lamp_x) / 520
    flat = 0.24

    def cast(point: tuple[float, float]) -> tuple[float, float]:
        height = seedling.y - point[1]
        return point[0] + lean * height * 0.7, seedling.y + height * flat * 0.35 + abs(lean) * 4

    left, top = int(seedling.x - 420), int(seedling.y - 60)
    mask = np.zeros((260, 840), np.uint8)
    for outline in [
        _ribbon(_stem(seedling, share), 5 * seedling.scale),
        *[_leaf_outline(*leaf) for leaf in _leaves(seedling, share)],
    ]:
        fill(mask, [(px - left, py - top) for px, py in map(cast, outline)], (255,))
    soft = cv2.GaussianBlur(mask, (0, 0), 5 * seedling.scale).astype(np.float32)[:, :, None] / 255
    first, last = max(0, left), min(WIDTH, left + 840)
    region = picture[top : min(HEIGHT, top + 260), first:last]
    region *= 1 - 0.58 * soft[: region.shape[0], first - left : last - left]


def _ribbon(points: list[tuple[float, float]], width: float) -> list[tuple[float, float]]:
    left = [(x - width * (1.15 - 0.5 * i / len(points)), y) for i, (x, y) in enumerate(points)]
    right = [(x + width * (1.15 - 0.5 * i / len(points)), y) for i, (x, y) in enumerate(points)]
    return left + right[::-1]


def _plant(picture: Plane, seedling: _Seedling, share: float, lamp_x: float) -> None:
    grown = _growth(seedling, share)
    if grown <= 0.01:
        return
    near_lamp = math.exp(-(((seedling.x - lamp_x) / 760) ** 2))
    light = _LAMP / 255 * (0.30 + 0.86 * near_lamp) * (0.72 + 0.28 * seedling.near)
    stem = _stem(seedling, share)
    width = 5.2 * seedling.scale * (0.5 + 0.5 * grown)
    fill(picture, _ribbon(stem, width), np.array([150, 176, 92], np.float32) * light * 0.8)
    toward = -1 if lamp_x < seedling.x else 1
    fill(
        picture,
        _ribbon([(x + toward * width * 0.45, y) for x, y in stem], width * 0.35),
        np.array([206, 222, 140], np.float32) * light,
    )
    if grown < 0.45:
        x, y = stem[-1]
        shell = 15 * seedling.scale * (1 - float(smooth_step(grown, 0.25, 0.45)))
        if shell > 1:
            fill(
                picture,
                [(x + shell * math.cos(a) * 0.8, y + shell * math.sin(a) * 1.2) for a in np.linspace(0, 6.2, 20)],
                np.array([138, 104, 70], np.float32) * light,
            )
    for number, (x, y, direction, length, openness) in enumerate(_leaves(seedling, share)):
        facing = 0.74 + 0.30 * math.cos(direction - math.atan2(-760, lamp_x - x))
        tone = np.array([84 + 12 * (number // 2), 148 + 12 * (number // 2), 62], np.float32) * light * facing * 1.2
        outline = _leaf_outline(x, y, direction, length, openness)
        fill(picture, outline, tone)
        fill(picture, [*outline[:13], outline[0]], tone * 0.84)
        tip = outline[12]
        vein = [(x - 1.2, y), (x + 1.2, y), tip]
        fill(picture, vein, np.minimum(tone * 1.32, 255))
        for along in (0.35, 0.55, 0.75):
            rib = round(along * 12)
            middle = (x + (tip[0] - x) * (along - 0.14), y + (tip[1] - y) * (along - 0.14))
            for edge in (outline[rib], outline[25 - rib]):
                inner = (middle[0] + (edge[0] - middle[0]) * 0.8, middle[1] + (edge[1] - middle[1]) * 0.8)
                fill(picture, [(middle[0] - 0.8, middle[1]), (middle[0] + 0.8, middle[1]), inner], tone * 1.16)


def _front_rim(picture: Plane, lamp_x: float) -> None:
    light = _LAMP / 255 * (0.35 + 0.5 * math.exp(-(((1000 - lamp_x) / 900) ** 2)))
    fill(picture, [(40, 1420), (1960, 1420), (1946, 1484), (56, 1484)], np.array([44, 54, 58], np.float32) * light)
    fill(picture, [(36, 1412), (1964, 1412), (1962, 1428), (38, 1428)], np.array([92, 106, 110], np.float32) * light)


def _lamp(picture: Plane, lamp_x: float) -> None:
    fill(picture, [(0, 84), (WIDTH, 84), (WIDTH, 98), (0, 98)], (46, 48, 50))
    fill(picture, [(lamp_x - 12, 90), (lamp_x + 12, 90), (lamp_x + 12, 150), (lamp_x - 12, 150)], (58, 60, 62))
    fill(picture, [(lamp_x - 120, 150), (lamp_x + 120, 150), (lamp_x + 190, 226), (lamp_x - 190, 226)], (70, 74, 76))
    fill(picture, [(lamp_x - 180, 220), (lamp_x + 180, 220), (lamp_x + 176, 236), (lamp_x - 176, 236)], (255, 246, 226))
    for offset in (-110, 0, 110):
        glow(picture, lamp_x + offset, 232, 64, _LAMP, 0.55)
