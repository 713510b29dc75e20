"""The stills that are measured on: 24 megapixels, made here, with the detail and grain of a camera's."""

from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2
import numpy as np
import simplejpeg

from yarnkite.core.base.still import Still
from yarnkite.demo import pellow_reach

WIDTH, HEIGHT = 6000, 4000


def make_stills(folder: Path, count: int) -> list[Still]:
    """Return ``count`` 24-megapixel JPEGs in ``folder``, making those that are not there."""
    folder.mkdir(parents=True, exist_ok=True)
    missing = [number for number in range(count) if not _path(folder, number).exists()]
    if missing:
        print(f"Making {len(missing)} stills of 24 megapixels in {folder} …", flush=True)
        with ProcessPoolExecutor() as pool:
            list(pool.map(_make, [folder] * len(missing), missing))
    return [
        Still(path=str(_path(folder, number)), fingerprint=f"bench-{number}", width=WIDTH, height=HEIGHT)
        for number in range(count)
    ]


def _make(folder: Path, number: int) -> None:
    cv2.setNumThreads(1)
    painted = cv2.resize(pellow_reach.paint(number / 1000), (WIDTH, HEIGHT), interpolation=cv2.INTER_CUBIC)
    random = np.random.default_rng(number)
    grain = random.integers(-6, 7, (HEIGHT, WIDTH, 1), dtype=np.int16)
    picture = np.clip(painted.astype(np.int16) + grain, 0, 255).astype(np.uint8)
    data = simplejpeg.encode_jpeg(picture, quality=93, colorsubsampling="422")
    unfinished = _path(folder, number).with_suffix(".part")
    unfinished.write_bytes(data)
    unfinished.replace(_path(folder, number))


def _path(folder: Path, number: int) -> Path:
    return folder / f"{number:05}.jpg"
