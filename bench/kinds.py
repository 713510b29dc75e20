"""Encoding what several kinds of cameras write to 1920 × 1080, in pairs with the plain pipeline, and how like it is."""

import re
import shutil
import statistics
import subprocess
import tempfile
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import simplejpeg
from numpy.typing import NDArray

from bench.encode import ours
from bench.measure import measure
from bench.stills import CAMERAS, Camera, make_stills
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.fit.placement import placement_of

STILLS = 100
PAIRS = 3
WIDTH, HEIGHT = 1920, 1080
COMPARED = (0, 1, 49, 50, 99)

Planes = list[NDArray[np.float64]]


def run(folder: Path) -> None:
    """Measure and print."""
    print(f"\nKinds: {STILLS} stills each to {WIDTH} × {HEIGHT}, {PAIRS} pairs; ffmpeg with the whole of x264's medium")
    print(f"{'':40}{'speed':>7}{'from':>7}{'to':>6}{'bytes':>7}   dB: ours Y, U, V     plain Y, U, V")
    for camera in CAMERAS:
        stills = make_stills(folder / re.sub(r"\W+", "-", camera.name), STILLS, camera)
        work = Path(tempfile.mkdtemp(prefix="yarnkite-bench-"))
        try:
            _print(camera, *_pairs(stills, camera, work))
        finally:
            shutil.rmtree(work)


def _pairs(stills: list[Still], camera: Camera, work: Path) -> tuple[list[float], float, list[float], list[float]]:
    for still in stills:
        Path(still.path).read_bytes()
    ratios = []
    for number in range(PAIRS):
        one = measure(ours, stills, work / f"ours-{number}")
        other = measure(plain, stills, camera, work / f"plain-{number}.mp4")
        ratios.append(other.wall_s / one.wall_s)
    clips = work / "ours-0" / "clip.mp4", work / "plain-0.mp4"
    size = clips[0].stat().st_size / clips[1].stat().st_size
    exact = placement_of(camera.width, camera.height, Fit()).source
    top = float(exact.top), float(_top(camera))
    return ratios, size, *(_likeness(clip, stills, camera, begin) for clip, begin in zip(clips, top, strict=True))


def plain(stills: list[Still], camera: Camera, target: Path) -> None:
    """Encode the stills in one go with Debian's ffmpeg, as someone would type it: crop, scale by area, medium, crf 18."""
    rows = camera.width * HEIGHT // WIDTH
    crop = f"crop={camera.width}:{rows}:0:{_top(camera)},scale={WIDTH}:{HEIGHT}:flags=area"
    command = ["ffmpeg", "-v", "error", "-y", "-framerate", "25", "-i", str(Path(stills[0].path).parent / "%05d.jpg")]
    command += ["-frames:v", str(len(stills)), "-vf", f"{crop}:out_color_matrix=bt709:out_range=tv,format=yuv420p"]
    subprocess.run([*command, "-c:v", "libx264", "-preset", "medium", "-crf", "18", str(target)], check=True)


def _top(camera: Camera) -> int:
    return (camera.height - camera.width * HEIGHT // WIDTH) // 2


def _likeness(clip: Path, stills: list[Still], camera: Camera, top: float) -> list[float]:
    """Return the PSNR in dB of each plane against a reference in double precision, the mean over some frames."""
    found = []
    with av.open(str(clip)) as container:
        for number, frame in enumerate(container.decode(video=0)):
            if number in COMPARED:
                shown = [
                    np.frombuffer(memoryview(p), np.uint8).reshape(p.height, -1)[:, : p.width] for p in frame.planes
                ]
                exact = _exact(stills[number], camera, top)
                errors = [((one - other) ** 2).mean() for one, other in zip(shown, exact, strict=True)]
                found.append([10 * np.log10(255**2 / error) for error in errors])
    return [float(value) for value in np.mean(found, axis=0)]


def _exact(still: Still, camera: Camera, top: float) -> Planes:
    """Return the planes of a still's frame by the formulas: averaged by area, BT.709, colour sited left."""
    pixels = simplejpeg.decode_jpeg(Path(still.path).read_bytes(), colorspace="RGB").astype(float)
    rows = float(Fraction(camera.width * HEIGHT, WIDTH))
    image = _averaged(_averaged(pixels, top, rows, HEIGHT).transpose(1, 0, 2), 0.0, camera.width, WIDTH).transpose(
        1, 0, 2
    )
    luma = image @ [0.2126, 0.7152, 0.0722]
    planes = [16 + 219 / 255 * luma]
    for channel, range_of in ((2, 1.8556), (0, 1.5748)):
        colour = 128 + 224 / 255 * (image[..., channel] - luma) / range_of
        pairs = (colour[0::2] + colour[1::2]) / 2
        padded = np.pad(pairs, ((0, 0), (1, 1)), mode="edge")
        planes.append((padded[:, :-2:2] + 2 * padded[:, 1:-1:2] + padded[:, 2::2]) / 4)
    return planes


def _averaged(pixels: NDArray[np.float64], begin: float, length: float, count: int) -> NDArray[np.float64]:
    edges = begin + length / count * np.arange(count + 1)
    sums = np.concatenate([np.zeros((1, *pixels.shape[1:])), np.cumsum(pixels, axis=0)])
    whole = np.minimum(np.floor(edges + 1e-9).astype(int), pixels.shape[0])
    part = (edges - whole)[:, None, None]
    at_edges = sums[whole] * (1 - part) + sums[np.minimum(whole + 1, pixels.shape[0])] * part
    return np.diff(at_edges, axis=0) / (length / count)


def _print(camera: Camera, ratios: list[float], size: float, one: list[float], other: list[float]) -> None:
    likeness = "   ".join(", ".join(f"{value:.1f}" for value in values) for values in (one, other))
    median = statistics.median(ratios)
    print(f"{camera.name:40}{median:7.2f}{min(ratios):7.2f}{max(ratios):6.2f}{size:7.3f}   {likeness}", flush=True)
