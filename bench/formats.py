"""Every format against Debian's ffmpeg with the same encoder and settings, reading the same stills in one go."""

import shutil
import tempfile
import time
from pathlib import Path

from bench.encode import HD, ours
from bench.measure import cores, measure
from bench.plain import ffmpeg
from bench.stills import USUAL, make_stills
from yarnkite.core.base.still import Still
from yarnkite.core.encode.decisions import Encode, FormatName
from yarnkite.core.encode.naming import file_ending
from yarnkite.core.encode.render_plan import chunks, render_plan
from yarnkite.core.encode.verify import verified
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.recipe import Recipe

STILLS = 30
# The same encoder, as it is typed: its samples, then its options.
PLAINLY: dict[FormatName, tuple[str, ...]] = {
    "h264": ("yuv420p", "-c:v", "libx264", "-preset", "medium", "-crf", "18"),
    "h265": ("yuv420p10le", "-c:v", "libx265", "-preset", "medium", "-crf", "20", "-x265-params", "log-level=none"),
    "av1": ("yuv420p", "-c:v", "libsvtav1", "-preset", "8", "-crf", "25"),
    "vp9": ("yuv420p", "-c:v", "libvpx-vp9", "-crf", "24", "-b:v", "0", "-cpu-used", "4", "-row-mt", "1"),
    "prores-hq": ("yuv422p10le", "-c:v", "prores_ks", "-profile:v", "hq"),
    "dnxhr-hqx": ("yuv422p10le", "-c:v", "dnxhd", "-profile:v", "dnxhr_hqx"),
    "ffv1": ("yuv422p10le", "-c:v", "ffv1", "-level", "3", "-g", "1", "-slices", "16", "-slicecrc", "1"),
}


def run(folder: Path) -> None:
    """Measure and print."""
    stills = make_stills(folder / "stills", STILLS)
    print(f"\nFormats: {STILLS} stills of 24 megapixels to 1920 × 1080, {cores()} cores, encoded and compared")
    print("| format | ours | ffmpeg | ratio | comparing | memory | bytes |\n|---|---|---|---|---|---|---|")
    for name, plainly in PLAINLY.items():
        work = Path(tempfile.mkdtemp(prefix="yarnkite-bench-"))
        try:
            _one(name, plainly, stills, work)
        finally:
            shutil.rmtree(work)


def _plain(stills: list[Still], samples: str, output: list[str]) -> None:
    ffmpeg(stills, USUAL, HD, *output, samples=samples)


def _one(name: FormatName, plainly: tuple[str, ...], stills: list[Still], work: Path) -> None:
    encode = Encode(format=name)
    made = measure(ours, stills, work / "ours", HD, encode)
    peak_mb = measure(ours, stills, work / "watched", HD, encode, memory=True).peak_mb
    clip = work / "ours" / f"clip.{file_ending(encode)}"
    frames = ClipFrames(Recipe(stills=tuple(stills), decisions=Decisions(fit=Fit(size=HD), encode=encode)))
    begun = time.monotonic()
    verified(clip, render_plan(frames, encode), chunks(frames, encode), work / "ours")
    compared = time.monotonic() - begun
    samples, *options = plainly
    other = work / ("plain.mov" if name.startswith(("prores", "dnxhr")) else "plain.mkv")
    plain = measure(_plain, stills, samples, [*options, str(other)])
    sizes = clip.stat().st_size / other.stat().st_size
    print(
        f"| {name} | {made.wall_s:.1f} s | {plain.wall_s:.1f} s | {plain.wall_s / made.wall_s:.2f} × | "
        f"{compared / made.wall_s:.0%} | {peak_mb:.0f} MB | {sizes:.2f} × |",
        flush=True,
    )
