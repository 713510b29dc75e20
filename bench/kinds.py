"""Encoding what several kinds of cameras write to 1920 × 1080, in pairs with the plain pipeline, and how like it is."""

import os
import re
import shutil
import statistics
import tempfile
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import simplejpeg
from numpy.typing import NDArray
from tests.ideal import resampled

from bench.encode import ours
from bench.measure import measure
from bench.plain import plain, top_of
from bench.stills import CAMERAS, USUAL, Camera, make_stills
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import placement_of

STILLS = int(os.environ.get("YARNKITE_BENCH_STILLS", "100"))
PAIRS = int(os.environ.get("YARNKITE_BENCH_PAIRS", "3"))
HD, UHD = Size(width=1920, height=1080), Size(width=3840, height=2160)
ROWS = (*((camera, HD) for camera in CAMERAS), (USUAL, UHD))
COMPARED = (0, 1, STILLS // 2 - 1, STILLS // 2, STILLS - 1)

Planes = list[NDArray[np.float64]]


def run(folder: Path) -> None:
    """Measure and print."""
    print(f"\nKinds: {STILLS} stills each, {PAIRS} pairs; ffmpeg with the whole of x264's medium")
    print(f"{'':50}{'speed':>7}{'from':>7}{'to':>6}{'bytes':>7}   dB: ours Y, U, V     plain Y, U, V")
    for camera, size in ROWS:
        stills = make_stills(folder / re.sub(r"\W+", "-", camera.name), STILLS, camera)
        work = Path(tempfile.mkdtemp(prefix="yarnkite-bench-"))
        try:
            _print(f"{camera.name} → {size}", *_pairs(stills, camera, size, work))
        finally:
            shutil.rmtree(work)


def _pairs(
    stills: list[Still], camera: Camera, size: Size, work: Path
) -> tuple[list[float], float, list[float], list[float]]:
    for still in stills:
        Path(still.path).read_bytes()
    ratios = []
    for number in range(PAIRS):
        one = measure(ours, stills, work / f"ours-{number}", size)
        other = measure(plain, stills, camera, size, work / f"plain-{number}.mp4")
        ratios.append(other.wall_s / one.wall_s)
    clips = work / "ours-0" / "clip.mp4", work / "plain-0.mp4"
    ratio = clips[0].stat().st_size / clips[1].stat().st_size
    exact = placement_of(camera.width, camera.height, Fit(size=size)).source
    top = float(exact.top), float(top_of(camera, size))
    likeness = (_likeness(clip, stills, camera, size, begin) for clip, begin in zip(clips, top, strict=True))
    return ratios, ratio, *likeness


def _likeness(clip: Path, stills: list[Still], camera: Camera, size: Size, top: float) -> list[float]:
    """Return the PSNR in dB of each plane against a reference in double precision, the mean over some frames."""
    found = []
    with av.open(str(clip)) as container:
        for number, frame in enumerate(container.decode(video=0)):
            if number in COMPARED:
                shown = [
                    np.frombuffer(memoryview(p), np.uint8).reshape(p.height, -1)[:, : p.width] for p in frame.planes
                ]
                exact = _exact(stills[number], camera, size, top)
                errors = [((one - other) ** 2).mean() for one, other in zip(shown, exact, strict=True)]
                found.append([10 * np.log10(255**2 / error) for error in errors])
    return [float(value) for value in np.mean(found, axis=0)]


def _exact(still: Still, camera: Camera, size: Size, top: float) -> Planes:
    """Return the planes of a still's frame by the formulas: the kernel's definition, BT.709, colour sited left."""
    pixels = simplejpeg.decode_jpeg(Path(still.path).read_bytes(), colorspace="RGB")
    rows = float(Fraction(camera.width * size.height, size.width))
    image = np.clip(resampled(pixels, (0.0, top, float(camera.width), rows), (size.width, size.height)), 0, 255)
    luma = image @ [0.2126, 0.7152, 0.0722]
    planes = [16 + 219 / 255 * luma]
    for channel, range_of in ((2, 1.8556), (0, 1.5748)):
        colour = 128 + 224 / 255 * (image[..., channel] - luma) / range_of
        pairs = (colour[0::2] + colour[1::2]) / 2
        padded = np.pad(pairs, ((0, 0), (1, 1)), mode="edge")
        planes.append((padded[:, :-2:2] + 2 * padded[:, 1:-1:2] + padded[:, 2::2]) / 4)
    return planes


def _print(name: str, ratios: list[float], size: float, one: list[float], other: list[float]) -> None:
    likeness = "   ".join(", ".join(f"{value:.1f}" for value in values) for values in (one, other))
    median = statistics.median(ratios)
    print(f"{name:50}{median:7.2f}{min(ratios):7.2f}{max(ratios):6.2f}{size:7.3f}   {likeness}", flush=True)
