"""What is left of planted flicker in the finished clip, in five kinds of scenes, and what evening and adjusting
cost."""

import io
import shutil
import tempfile
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import av
import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from bench.measure import cores, median_s
from bench.planted import SCENES, clean
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.encode.chunk import render_chunks
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.join import join
from yarnkite.core.encode.render_plan import chunks, task_of
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.gather.gathering import gather_still
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.image.srgb import to_codes, to_light
from yarnkite.core.light.adjustment import Adjustment, SharedLight, adjusted
from yarnkite.core.light.areas import Ellipse, Gradient, Mask, Part
from yarnkite.core.light.decisions import Even
from yarnkite.core.light.evening import evening
from yarnkite.core.light.field import DOWN, waves
from yarnkite.core.light.grade import GradeNumbers, HueNumbers
from yarnkite.core.light.noise import over_time
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Correction, Recipe

# Thresholds were chosen on made-up blocks of light with other seeds.
SEED, STILLS = 611, 160
AMPLITUDES = (0.0, 0.05, 0.2, 0.5)
SIZE = Size(width=320, height=180)
QUICK = 12
TIMED = 5

Lights = NDArray[np.float64]


def run(folder: Path) -> None:
    """Measure and print."""
    folder.mkdir(parents=True, exist_ok=True)
    print(f"\nLight: flicker planted in {STILLS} stills, measured in the finished clip, in stops")
    print(f"{'':10}{'planted':>9}{'from still to still':>21}{'':>9}{'course':>9}{'most gain':>11}")
    print(f"{'':10}{'±':>9}{'before':>12}{'after':>9}{'(0.01)':>9}{'(0.03)':>9}")
    with ProcessPoolExecutor(cores()) as workers:
        wanted = [(scene, amplitude) for scene in SCENES for amplitude in AMPLITUDES]
        for (scene, amplitude), found in zip(wanted, workers.map(_one, wanted), strict=True):
            before, after, course, gain = found
            print(f"{scene:10}{amplitude:9.2f}{before:12.3f}{after:9.4f}{'':>9}{course:9.3f}{gain:11.3f}")
    for name, value, unit in _truths():
        print(f"{name:72}{value:8.3f} {unit}")
    for name, cost in _costs().items():
        print(f"{name:58}{cost * 1000:6.1f} ms")


def _one(wanted: tuple[str, float]) -> tuple[float, float, float, float]:
    """Return the flicker before and after, how far the course is off, and the largest gain."""
    scene, amplitude = wanted
    work = Path(tempfile.mkdtemp(prefix="yarnkite-bench-"))
    try:
        return _evened(scene, amplitude, work)
    finally:
        shutil.rmtree(work)


def _evened(scene: str, amplitude: float, work: Path) -> tuple[float, float, float, float]:
    random = np.random.default_rng(SEED)
    flicker = random.uniform(-amplitude, amplitude, STILLS)
    calm, shaken = [], []
    blocks = []
    (work / "stills").mkdir()
    for number, image in enumerate(clean(scene, SEED, STILLS).images()):
        # Half a stop of room, so that what is planted is not clipped.
        light = to_light(image / 255) * 2**-0.6
        calm.append(_written(work / "stills" / f"calm-{number:04}.jpg", light))
        shaken.append(_written(work / "stills" / f"shaken-{number:04}.jpg", light * 2 ** flicker[number]))
        measures = gather_still(work / "stills", Path(shaken[-1].path).name, Proxies(work / "proxies")).measures
        blocks.append(measures.blocks)
    unknown, sound = np.full(STILLS, np.nan), np.zeros(STILLS, bool)
    gains = evening(np.stack(blocks), unknown, sound, Even(flicker=True, steps=True)).gains
    corrections = tuple(Correction(light=Adjustment(gain=float(gain))) for gain in gains)
    true, before, after = (
        _light_of(_clip(stills, lit, work / name))
        for stills, lit, name in ((calm, (), "calm"), (shaken, (), "before"), (shaken, corrections, "after"))
    )
    off = after - true
    slow = _course(off)
    return (
        _rms((before - true) - _course(before - true)),
        _rms(off - slow),
        _rms(slow - slow.mean()),
        float(np.abs(gains).max()),
    )


def _written(path: Path, light: Lights) -> Still:
    codes = np.rint(to_codes(np.clip(light, 0, 1)) * 255).astype(np.uint8)
    file = io.BytesIO()
    Image.fromarray(codes).save(file, "JPEG", quality=95)
    path.write_bytes(file.getvalue())
    return Still(path=str(path), fingerprint=path.name, width=codes.shape[1], height=codes.shape[0])


def _clip(stills: list[Still], corrections: tuple[Correction, ...], folder: Path) -> Path:
    folder.mkdir()
    encode = Encode(preset="ultrafast", crf=10)
    decisions = Decisions(fit=Fit(size=SIZE), encode=encode)
    frames = ClipFrames(Recipe(stills=tuple(stills), decisions=decisions, corrections=corrections))
    parts = chunks(frames, encode)
    render_chunks([task_of(frames, encode, part) for part in parts], folder)
    return join(frames.rate, [folder / part.file_name for part in parts], folder / "clip.mp4")


def _light_of(clip: Path) -> Lights:
    """Return the light of each frame in stops: of a grid of 8 × 6 fields the median, so that who walks past counts
    little."""
    fields = []
    with av.open(str(clip)) as container:
        for frame in container.decode(video=0):
            luminance = to_light(frame.to_ndarray(format="rgb24") / 255) @ [0.2126, 0.7152, 0.0722]
            height, width = luminance.shape
            grid = luminance[: height // 6 * 6, : width // 8 * 8].reshape(6, height // 6, 8, width // 8)
            fields.append(np.log2(grid.mean(axis=(1, 3)).reshape(-1) + 2**-12))
    light = np.array(fields)
    return np.asarray(np.median(light - light.mean(axis=0), axis=1) + light.mean())


def _course(values: Lights) -> Lights:
    """Return a moving mean over ``QUICK`` values, by code of its own."""
    padded = np.pad(values, QUICK // 2, mode="reflect", reflect_type="odd")
    return np.convolve(padded, np.ones(QUICK + 1) / (QUICK + 1), mode="valid")


def _rms(values: Lights) -> float:
    return float(np.sqrt(np.mean(values**2)))


def _truths() -> list[tuple[str, float, str]]:
    """Return what is known to be true beside what light makes of it: a stop, noise over time, ghosts, bands."""
    random = np.random.default_rng(SEED)
    grey = np.full((64, 96, 3), 90, np.uint8)
    doubled = to_light(adjusted(grey, Adjustment(exposure=1)) / 65535).mean() / to_light(grey / 255).mean()
    still = np.clip(cv2.resize(random.uniform(30, 220, (20, 30, 3)), (960, 640), interpolation=cv2.INTER_CUBIC), 0, 255)
    own, *others = (
        np.clip(still + random.normal(0, 6, still.shape), 0, 255).round().astype(np.uint8) for _ in range(7)
    )
    before, after = (np.mean((one - still) ** 2) for one in (own.astype(float), over_time(own, others) / 257))
    truths = [
        ("one stop more: linear light times (bar: 2 ± 0.01)", float(doubled), ""),
        ("noise of σ = 6, averaged with three before and after (bar: 5)", float(10 * np.log10(before / after)), "dB"),
        (
            "ghost of what moved by its own width, most (bar: 2)",
            max(_ghost(step, random) for step in (20, 60, 130)),
            "codes",
        ),
    ]
    for waves_down in (1, 3, 6):
        left = _bands_left(waves_down, random)
        truths.append(
            (f"bands of ± 0.2 stops, {waves_down} half waves, from still to still (bar: 0.02)", left, "stops")
        )
    return truths


def _ghost(contrast: int, random: np.random.Generator) -> float:
    """Return how bright, in codes, what is left of a bar at where it was in the stills before and after."""

    def at(left: int) -> ImageArray:
        image = np.full((160, 320, 3), 90.0)
        image[40:120, left : left + 30] += contrast
        return np.clip(image + random.normal(0, 6, image.shape), 0, 255).round().astype(np.uint8)

    places = (30, 70, 110, 190, 230, 270)
    shown = over_time(at(150), [at(left) for left in places]) / 257
    return max(float(abs(shown[50:110, left + 6 : left + 24].mean() - 90)) for left in places)


def _bands_left(waves_down: int, random: np.random.Generator) -> float:
    """Return what evening leaves of bands that roll through a still scene, root mean square of what is quick."""
    blocks = random.uniform(-6, -1, (1, 16, 24)) + random.normal(0, 0.01, (STILLS, 16, 24))
    phase = random.uniform(0, 2 * np.pi, STILLS)[:, None]
    planted = 0.2 * np.cos(np.pi * waves_down * (np.arange(16) + 0.5) / 16 + phase)
    planted -= planted.mean(axis=1, keepdims=True)
    unknown, sound = np.full(STILLS, np.nan), np.zeros(STILLS, bool)
    found = evening(blocks + planted[:, :, None], unknown, sound, Even(flicker=True, bands=True))
    left = planted + found.bands[:, :DOWN] @ waves(DOWN, 16).T
    return _rms(np.concatenate([row - _course(row) for row in left.T]))


_HUE = HueNumbers(hue=240, width=40, turn=10, colour=0.3)
_DARKER, _WARMER = GradeNumbers(exposure=-0.7), GradeNumbers(warmth=30)
_AREAS = SharedLight(
    masks=(
        Mask(parts=(Part(shape=Gradient(x=0.5, y=0.0, to_x=0.5, to_y=0.5)),)),
        Mask(parts=(Part(shape=Ellipse(x=0.5, y=0.7, x_radius=0.3, y_radius=0.2)),)),
    )
)


def _costs() -> dict[str, float]:
    random = np.random.default_rng(1)
    frame = random.integers(0, 256, (1080, 1920, 3), dtype=np.uint8)
    # Colours of a picture lie together, those of noise do not.
    smooth = np.ascontiguousarray(cv2.resize(frame[::40, ::40], (1920, 1080), interpolation=cv2.INTER_CUBIC))
    blocks = np.repeat(random.uniform(-6, -1, (1, 16, 24)), 1000, axis=0) + random.normal(0, 0.1, (1000, 1, 1))
    unknown, sound = np.full(1000, np.nan), np.zeros(1000, bool)
    works = {
        "exposure and curve, 1920 × 1080, one core (bar: 15)": lambda: adjusted(
            frame, Adjustment(exposure=0.3, dark=0.2)
        ),
        "with colour (bar: 15)": lambda: adjusted(frame, Adjustment(exposure=0.3, dark=0.2, warmth=20, saturation=0.2)),
        "with hues around the circle": lambda: adjusted(frame, Adjustment(exposure=0.3, warmth=20, hues=(_HUE,))),
        "tone, colour, contrast near and far, two areas (bar: 40)": lambda: adjusted(
            smooth, Adjustment(exposure=0.3, warmth=20, fine=0.4, coarse=0.3, areas=(_DARKER, _WARMER)), _AREAS
        ),
        "haze": lambda: adjusted(smooth, Adjustment(haze=0.5)),
        "sharpening": lambda: adjusted(smooth, Adjustment(sharpen=1.0)),
        "noise of one still": lambda: adjusted(smooth, Adjustment(noise=0.5, colour_noise=0.5)),
        "averaged with three before and after (bar: 150)": lambda: over_time(smooth, [smooth] * 6),
        "even light of 1,000 stills (bar: 500)": lambda: evening(
            blocks, unknown, sound, Even(flicker=True, steps=True)
        ),
    }
    return {name: median_s(work, TIMED) for name, work in works.items()}
