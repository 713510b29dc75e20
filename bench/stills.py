"""The stills that are measured on, made here, with the size, the detail and the grain of several kinds of cameras."""

import io
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
import simplejpeg
from PIL import Image

from yarnkite.core.base.still import Still
from yarnkite.core.image.pixels import ImageArray
from yarnkite.demo import pellow_reach


@dataclass(frozen=True)
class Camera:
    """What a camera of a kind writes, and of what: size, sampling of colour, and how the scene is."""

    name: str
    width: int = 6000
    height: int = 4000
    subsampling: str = "422"
    progressive: bool = False
    grain: int = 6
    begins: float = 0.0
    flickers: bool = False


USUAL = Camera("24 MP, 4:2:2, harbour with grain")
CAMERAS = (
    USUAL,
    Camera("24 MP, 4:2:0, smooth", subsampling="420", grain=0),
    Camera("24 MP, 4:2:0, progressive, flickering", subsampling="420", progressive=True, grain=3, flickers=True),
    Camera("12 MP, 4:2:0, dusk and night", width=4240, height=2832, subsampling="420", grain=8, begins=0.7),
    Camera("45 MP, 4:2:2, harbour with grain", width=8256, height=5504),
)


def make_stills(folder: Path, count: int, camera: Camera = USUAL) -> list[Still]:
    """Return ``count`` JPEGs of a camera in ``folder``, making those that are not there."""
    folder.mkdir(parents=True, exist_ok=True)
    missing = [number for number in range(count) if not _path(folder, number).exists()]
    if missing:
        print(f"Making {len(missing)} stills ({camera.name}) in {folder} …", flush=True)
        with ProcessPoolExecutor() as pool:
            list(pool.map(_make, [folder] * len(missing), missing, [camera] * len(missing)))
    return [
        Still(
            path=str(_path(folder, number)),
            fingerprint=f"bench-{camera.name}-{number}",
            width=camera.width,
            height=camera.height,
        )
        for number in range(count)
    ]


def _make(folder: Path, number: int, camera: Camera) -> None:
    cv2.setNumThreads(1)
    scene = pellow_reach.paint(min(0.999, camera.begins + number / 1000))
    painted = cv2.resize(scene, (camera.width, camera.height), interpolation=cv2.INTER_CUBIC)
    random = np.random.default_rng(number)
    shape = (camera.height, camera.width, 1)
    grain = random.integers(-camera.grain, camera.grain + 1, shape, dtype=np.int16)
    gain = random.uniform(0.85, 1.0) if camera.flickers else 1.0
    picture = np.clip(painted * gain + grain, 0, 255).astype(np.uint8)
    unfinished = _path(folder, number).with_suffix(".part")
    unfinished.write_bytes(_jpeg(picture, camera))
    unfinished.replace(_path(folder, number))


def _jpeg(picture: ImageArray, camera: Camera) -> bytes:
    if not camera.progressive:
        return bytes(simplejpeg.encode_jpeg(picture, quality=93, colorsubsampling=camera.subsampling))
    file = io.BytesIO()
    Image.fromarray(picture).save(file, "JPEG", quality=93, subsampling="4:2:0", progressive=True)
    return file.getvalue()


def _path(folder: Path, number: int) -> Path:
    return folder / f"{number:05}.jpg"
