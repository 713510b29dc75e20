"""Made-up shots with faults planted at known places, over scenes in which much changes that is no fault."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from math import pi

import cv2
import numpy as np
from numpy.typing import NDArray

from bench.photographs import PHOTOGRAPHS
from bench.scenes import HEIGHT, PAINTED, WIDTH, Picture, Scene
from yarnkite.core.base.counter import numbering
from yarnkite.core.check.finding import Kind, ShotMeasurements
from yarnkite.core.check.shift import Edges, shift_between
from yarnkite.core.gather.measures import measured
from yarnkite.core.order.breaks import Break, Taken, breaks

BEGINS = datetime(2031, 5, 4, 9, 30)
INTERVAL_S = 5
SCENES = {**PAINTED, **PHOTOGRAPHS}
_CARRIED = ("walk", "hand")


@dataclass(frozen=True)
class Fault:
    """A planted fault: its kind, the stills it concerns (first and last), how strong (1 is plainly visible), and how.

    ``how`` names another way of the same kind: ``random`` flicker, a knock that is a ``turn``, a loss of sharpness that
    comes ``slowly``, exposure that Exif leaves ``untold``, a thing in view that is ``bright`` or ``stands``.
    """

    kind: Kind
    first: int
    last: int
    strength: float
    how: str = ""


@dataclass
class Shot:
    """A made-up shot: ``paint`` gives linear light, shape (427, 640, 3), of still n before anything goes wrong.

    ``grain`` is noise in 8-bit steps, ``quality`` that of JPEG files, where they were ones. ``specks`` are specks of
    dirt:
    where, in pixels, how wide, and the share of the light they take.
    """

    scene: str
    seed: int
    stills: int
    paint: Scene
    faults: list[Fault] = field(default_factory=list)
    grain: float = 0.7
    quality: int | None = None
    specks: list[tuple[float, float, float, float]] = field(default_factory=list)

    @property
    def shakes(self) -> bool:
        """Whether the camera is carried by hand."""
        return self.scene in _CARRIED

    def images(self) -> Iterator[NDArray[np.uint8]]:
        """Yield the stills as a camera would have written them, in 8-bit sRGB."""
        rng = np.random.default_rng((self.seed, 7))
        cv2.setRNGSeed(self.seed + 1)
        passes = _passes(self.specks)
        for still in range(self.stills):
            light = _spoiled(self.paint(self.moment(still)), still, self)
            light = light * 2 ** rng.normal(0, 0.004) * passes
            encoded = np.where(light <= 0.0031308, light * 12.92, 1.055 * np.maximum(light, 1e-9) ** (1 / 2.4) - 0.055)
            # Grain of the sensor, after the reduction to the size measures are made at.
            grain = cv2.randn(np.empty(encoded.shape, np.float32), 0, self.grain)
            codes = np.clip(np.rint(encoded * 255 + grain), 0, 255).astype(np.uint8)
            yield codes if self.quality is None else _compressed(codes, self.quality)

    def moment(self, still: int) -> int:
        """Return the still of the faultless shot that shows the same moment: now and then nothing happens."""
        idle = [fault for fault in self.faults if fault.kind == "nothing happens" and still > fault.first]
        return still - sum(min(still, fault.last) - fault.first for fault in idle)

    def number(self, still: int) -> int:
        """Return the number in a still's name, less those that are missing."""
        return still + 1 + sum(missing(fault) for fault in self.faults if still >= fault.first)

    def captured(self, still: int) -> datetime:
        """Return when a still was taken: every five seconds, but for extra ones, after half a second, and pauses."""
        early = sum(
            min(still, fault.last) - fault.first + 1
            for fault in self.faults
            if fault.kind == "extra" and still >= fault.first
        )
        late = sum(3 for fault in self.faults if fault.kind == "pause" and still >= fault.first)
        return BEGINS + timedelta(seconds=INTERVAL_S * (self.number(still) + late) - 4.5 * early)

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
        """Return the exposure value at ISO 100 that Exif would give, not a number where it gives none."""
        if any(fault.how == "untold" for fault in self.faults):
            return float("nan")
        told = [fault for fault in self.faults if fault.kind in ("exposure step", "auto exposure")]
        return 12.0 - sum(gain(fault, still, self.seed) for fault in told)


def missing(fault: Fault) -> int:
    """Return how many stills are missing where a fault says so: two, or as many as ``how`` says."""
    return int(fault.how or 2) if fault.kind == "missing" else 0


def measurements(shot: Shot, images: Iterable[NDArray[np.uint8]] | None = None) -> ShotMeasurements:
    """Measure a made-up shot as gathering measures a real one; ``images`` are its stills, where they are painted
    already."""
    each, shifts = [], [(0.0, 0.0, 0.0, 0.0)]
    before = None
    for image in shot.images() if images is None else images:
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
        colours=np.stack([one.colours for one in each]),
    )


def _name(number: int) -> str:
    return f"PLNT{number:04}.JPG"


def _compressed(codes: NDArray[np.uint8], quality: int) -> NDArray[np.uint8]:
    _, file = cv2.imencode(".jpg", codes[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, quality])
    return np.ascontiguousarray(np.asarray(cv2.imdecode(file, cv2.IMREAD_COLOR), np.uint8)[..., ::-1])


def _passes(specks: list[tuple[float, float, float, float]]) -> Picture:
    down, across = np.mgrid[:HEIGHT, :WIDTH]
    passes = np.ones((HEIGHT, WIDTH), np.float32)
    for x, y, wide, share in specks:
        passes *= 1 - share * np.exp(-((across - x) ** 2 + (down - y) ** 2) / (2 * wide**2))
    return passes[..., None]


def gain(fault: Fault, still: int, seed: int) -> float:
    """Return by how many stops a fault makes the whole of a still brighter."""
    inside = fault.first <= still <= fault.last
    sign = _sign(fault, seed)
    match fault.kind:
        case "misfire" if inside:
            return sign * 2.2 * fault.strength
        case "flicker" if inside and fault.how == "random":
            return float(np.random.default_rng((seed, still, 5)).normal(0, 0.15 * fault.strength))
        case "flicker" if inside:
            return 0.13 * fault.strength * (1 if still % 2 else -1)
        case "exposure step" if still >= fault.first:
            return sign * fault.strength
        case "light step" if still >= fault.first:
            return sign * 0.7 * fault.strength
        case "auto exposure" if still >= fault.first:
            # By thirds of a stop, up and down, every few stills.
            rng = np.random.default_rng((seed, fault.first, 23))
            places = np.cumsum(rng.integers(3, 9, 60)) + fault.first
            thirds = rng.choice([-2, -1, 1, 2], 60)
            return float(thirds[places <= min(still, fault.last)].sum() / 3 * fault.strength)
        case "blinking lamp" if inside:
            rng = np.random.default_rng((seed, fault.first, 29))
            places = fault.first + np.cumsum(rng.integers(3, 10, 60))
            return 0.7 * fault.strength * ((1 + int((places <= still).sum())) % 2)
        case _:
            return 0.0


def _spoiled(light: Picture, still: int, shot: Shot) -> Picture:
    for fault in shot.faults:
        inside = fault.first <= still <= fault.last
        sign = _sign(fault, shot.seed)
        match fault.kind:
            case "blocked view" if inside:
                light = _covered(light, fault, still, shot.seed)
            case "soft" if inside:
                light = cv2.GaussianBlur(light, (0, 0), 1.8 * fault.strength)
            case "lasting softness" if still >= fault.first:
                come = min(1.0, (still - fault.first + 1) / (25 if fault.how == "slowly" else 1))
                light = cv2.GaussianBlur(light, (0, 0), max(0.05, 1.8 * fault.strength * come))
            case "knock" if still >= fault.first and fault.how == "turn":
                light = _turned(light, sign * fault.strength)
            case "knock" if still >= fault.first:
                light = _moved(light, 7 * fault.strength * sign, -5 * fault.strength)
            case "shake" if inside:
                jitter = np.random.default_rng((shot.seed, still)).normal(0, 2.6 * fault.strength, 2)
                light = _moved(light, *jitter)
            case "lamp bands" if inside:
                rng = np.random.default_rng((shot.seed, still, 31))
                waves = np.sin(2 * pi * (np.arange(HEIGHT) / HEIGHT * 2.3 + rng.random()))
                light = light * (2 ** (0.15 * fault.strength * waves)).astype(np.float32)[:, None, None]
            case "colour step" if still >= fault.first:
                light = light * np.array(
                    [2 ** (0.3 * fault.strength * sign), 1, 2 ** (-0.2 * fault.strength * sign)], np.float32
                )
            case _:
                light = light * np.float32(2.0 ** gain(fault, still, shot.seed))
    return np.asarray(light, np.float32)


def _sign(fault: Fault, seed: int) -> int:
    if fault.how in ("brighter", "darker"):
        return 1 if fault.how == "brighter" else -1
    return 1 if (fault.first * 31 + seed) % 2 else -1


def _moved(light: Picture, across: float, down: float) -> Picture:
    # Whole pixels: anything else would soften the picture too.
    matrix = np.array([[1, 0, round(across)], [0, 1, round(down)]], np.float32)
    return np.asarray(cv2.warpAffine(light, matrix, (WIDTH, HEIGHT), borderMode=cv2.BORDER_REFLECT), np.float32)


def _turned(light: Picture, degrees: float) -> Picture:
    matrix = cv2.getRotationMatrix2D((WIDTH * 0.5, HEIGHT * 0.5), -degrees, 1.0)
    seen = cv2.warpAffine(light, matrix, (WIDTH, HEIGHT), flags=cv2.INTER_LANCZOS4, borderMode=cv2.BORDER_REFLECT)
    return np.asarray(np.maximum(seen, 0.0005), np.float32)


def covered_by(fault: Fault, still: int, seed: int) -> NDArray[np.float32]:
    """Return which part of the view a thing before the camera takes in a still, soft at its borders."""
    rng = np.random.default_rng((seed, fault.first, 3))
    mask = np.zeros((HEIGHT, WIDTH), np.float32)
    radius = np.sqrt(0.18 * fault.strength * WIDTH * HEIGHT / np.pi)
    # It crosses the view in as many stills as it is there for, or keeps to one side of it.
    step = min(40.0, 260 / max(1, fault.last - fault.first))
    moves = 0.0 if fault.how == "stands" else step * (still - (fault.first + fault.last) / 2)
    centre = (rng.uniform(0.25, 0.75) * WIDTH + moves, rng.uniform(0.35, 0.75) * HEIGHT)
    cv2.ellipse(mask, (int(centre[0]), int(centre[1])), (int(radius * 0.75), int(radius * 1.33)), 0, 0, 360, 1.0, -1)
    return np.asarray(cv2.GaussianBlur(mask, (0, 0), 4), np.float32)


def _covered(light: Picture, fault: Fault, still: int, seed: int) -> Picture:
    share = covered_by(fault, still, seed)[..., None]
    around = float(np.median(light)) * (8 if fault.how == "bright" else 1)
    return light * (1 - share) + share * np.array([0.22, 0.16, 0.14], np.float32) * around


LENGTHS: dict[Kind, int] = {"blocked view": 2, "shake": 16, "flicker": 22, "nothing happens": 26, "extra": 2}
KINDS: tuple[Kind, ...] = (
    *("misfire", "blocked view", "soft", "knock", "shake", "flicker", "exposure step", "light step", "colour step"),
    *("missing", "extra", "other kind", "nothing happens"),
)


def clean(scene: str, seed: int, stills: int = 140) -> Shot:
    """Return a shot of a scene in which nothing goes wrong."""
    rng = np.random.default_rng((seed, len(scene), sum(map(ord, scene))))
    shot = Shot(scene, seed, stills, SCENES[scene](rng, stills))
    if shot.shakes:
        shot.faults.append(Fault("by hand", 0, stills - 1, 1.0))
    return shot


def faulty(scene: str, seed: int, strength: float = 1.0, stills: int = 140) -> Shot:
    """Return a shot of a scene with three faults of different kinds, well apart."""
    shot = clean(scene, seed, stills)
    rng = np.random.default_rng((seed, 11))
    # A walk shakes by itself, and a knock is lost in it.
    kinds = [kind for kind in KINDS if not shot.shakes or kind not in ("shake", "knock")]
    chosen = [kinds[(seed * 3 + turn * 4) % len(kinds)] for turn in range(3)]
    for turn, kind in enumerate(dict.fromkeys(chosen)):
        first = 14 + turn * 42 + int(rng.integers(0, 10))
        shot.faults.append(Fault(kind, first, first + LENGTHS.get(kind, 1) - 1, strength))
    return shot


# Of each kind: the least and the greatest strength, the shortest and the longest it lasts, and the ways it comes.
VARIED: dict[Kind, tuple[float, float, int, int, tuple[str, ...]]] = {
    "misfire": (0.4, 1.8, 1, 12, ("brighter", "darker")),
    "blocked view": (0.4, 3.3, 1, 12, ("", "stands", "bright")),
    "soft": (0.5, 1.5, 1, 12, ("",)),
    "lasting softness": (0.6, 1.5, 1, 1, ("", "slowly")),
    "knock": (0.3, 2.0, 1, 1, ("", "turn")),
    "shake": (0.4, 1.5, 10, 30, ("",)),
    "flicker": (0.3, 1.2, 20, 60, ("", "random", "random")),
    "exposure step": (0.33, 1.3, 1, 1, ("",)),
    "light step": (0.4, 1.5, 1, 1, ("",)),
    "colour step": (0.4, 1.2, 1, 1, ("",)),
    "auto exposure": (1.0, 1.0, 40, 60, ("", "untold")),
    "blinking lamp": (0.5, 1.3, 40, 60, ("",)),
    "lamp bands": (0.4, 1.2, 20, 60, ("",)),
    "missing": (1.0, 1.0, 1, 1, ("1", "2", "4")),
    "pause": (1.0, 1.0, 1, 1, ("",)),
    "extra": (1.0, 1.0, 1, 3, ("",)),
    "other kind": (1.0, 1.0, 1, 3, ("",)),
    "nothing happens": (1.0, 1.0, 26, 40, ("",)),
}
# What lies at the first or the last stills as well as anywhere, and what only shows between others.
_AT_ENDS = ("misfire", "blocked view", "soft")


def varied(scene: str, seed: int) -> Shot:
    """Return a shot with faults of any kind, weak to plain, of any length, at the ends and near each other too."""
    rng = np.random.default_rng((seed, 41, sum(map(ord, scene))))
    stills = int(rng.integers(120, 160))
    shot = clean(scene, seed, stills)
    shot.grain = float(rng.choice([0.7, 2.0, 4.0]))
    shot.quality = int(rng.choice([80, 90, 95])) if rng.random() < 0.7 else None
    kinds = [
        kind
        for kind in VARIED
        if not shot.shakes or kind in ("misfire", "missing", "pause", "extra", "other kind", "soft")
    ]
    free = 6
    for kind in rng.permutation(np.array(kinds, object))[:4]:
        weakest, plainest, shortest, longest, ways = VARIED[kind]
        strength = float(weakest * (plainest / weakest) ** rng.random())
        lasts = int(rng.integers(shortest, longest + 1))
        first = free + int(rng.integers(6, 16))
        if kind in _AT_ENDS and free == 6 and rng.random() < 0.3:
            first = 0
        elif kind in _AT_ENDS and rng.random() < 0.25 and free < stills - lasts - 12:
            first = stills - lasts
        if kind == "lasting softness":
            # Nothing that comes after it can be told from it.
            first = max(first, int(rng.integers(stills // 2, stills - 30)))
        last = first + lasts - 1
        if kind == "lasting softness" and first > stills - 40:
            continue
        if last > stills - (1 if kind in _AT_ENDS else 9):
            continue
        shot.faults.append(Fault(kind, first, last, strength, str(ways[int(rng.integers(len(ways)))])))
        free = last + 1
        if kind == "lasting softness":
            break
    if any(fault.how == "untold" for fault in shot.faults):
        shot.faults = [fault for fault in shot.faults if fault.kind != "exposure step"]
    if scene in ("rooftops", "clouds", "dusk") and rng.random() < 0.6:
        at = (rng.uniform(30, WIDTH - 30), rng.uniform(20, HEIGHT / 2 - 25))
        shot.specks.append((*at, float(rng.uniform(1.5, 5)), float(rng.choice([0.1, 0.2, 0.3]))))
    return shot


def dirty(
    scene: str, seed: int, strength: float, stills: int = 140
) -> tuple[list[NDArray[np.uint8]], list[tuple[float, float]]]:
    """Return every third still of a shot with two specks on the sensor, and where they are in shares.

    ``strength`` is the share of the light that the middle of a speck takes.
    """
    shot = clean(scene, seed, stills)
    rng = np.random.default_rng((seed, 3))
    for half in range(2):
        # In the sky, where something moves behind them; dirt on what stands still cannot be told from it.
        x, y = rng.uniform(30 + 320 * half, 290 + 320 * half), rng.uniform(20, HEIGHT / 2 - 25)
        shot.specks.append((x, y, rng.uniform(1.5, 3), strength))
    places = [((x + 0.5) / WIDTH, (y + 0.5) / HEIGHT) for x, y, _, _ in shot.specks]
    return list(shot.images())[::3], places
