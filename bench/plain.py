"""The plain pipeline everything is held against: Debian's ffmpeg, as someone would type it."""

import subprocess
from pathlib import Path

from bench.stills import Camera
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still


def plain(stills: list[Still], camera: Camera, size: Size, target: Path) -> None:
    """Encode the stills in one go with Debian's ffmpeg, as someone would type it: crop, scale by area, medium, crf
    18."""
    ffmpeg(stills, camera, size, "-c:v", "libx264", "-preset", "medium", "-crf", "18", str(target))


def ffmpeg(
    stills: list[Still],
    camera: Camera,
    size: Size | None,
    *output: str,
    threads: int | None = None,
    samples: str = "yuv420p",
) -> None:
    """Have Debian's ffmpeg read the stills, crop and scale them by area unless no size is wanted, and write them."""
    command = ["ffmpeg", "-v", "error", "-y", *(("-threads", str(threads)) if threads else ()), "-framerate", "25"]
    command += ["-i", str(Path(stills[0].path).parent / "%05d.jpg"), "-frames:v", str(len(stills))]
    if size:
        rows = camera.width * size.height // size.width
        scale = f"scale={size.width}:{size.height}:flags=area:out_color_matrix=bt709:out_range=tv,format={samples}"
        command += ["-vf", f"crop={camera.width}:{rows}:0:{top_of(camera, size)},{scale}"]
    subprocess.run([*command, *output], check=True)


def top_of(camera: Camera, size: Size) -> int:
    """Return the first row of a still that the frame keeps."""
    return (camera.height - camera.width * size.height // size.width) // 2
