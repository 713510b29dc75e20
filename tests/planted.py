"""Folders of real files with faults planted at known places: spoiled and missing stills, and light that is not even."""

import contextlib
import hashlib
import shutil
import tempfile
from datetime import datetime, timedelta
from pathlib import Path

import cv2
import numpy as np
from bench import planted as painted_by
from bench.planted import Fault, clean
from PIL import Image

from tests.conftest import BEGINS, exif, scene
from yarnkite.core.image.srgb import to_codes, to_light

STILLS = 36
MISFIRE, SOFT, GAP = 9, 20, 28


def write_planted(folder: Path) -> Path:
    """Write the shot as a camera would, at twice the size it is painted in; it is painted once for all who want it."""
    painter = hashlib.sha256(Path(__file__).read_bytes() + Path(painted_by.__file__).read_bytes()).hexdigest()[:16]
    painted = Path(tempfile.gettempdir()) / f"yarnkite-planted-{painter}"
    if not painted.is_dir():
        unfinished = Path(tempfile.mkdtemp(dir=painted.parent))
        _paint(unfinished)
        with contextlib.suppress(OSError):
            # Somebody else may have been quicker.
            unfinished.rename(painted)
    folder.parent.mkdir(parents=True, exist_ok=True)
    shutil.copytree(painted, folder, copy_function=shutil.copy2)
    return folder


def write_lamps(folder: Path, count: int, brighter_from: int) -> Path:
    """Write a still scene under lamps that are never the same, by a camera that exposes half a stop more from a still
    on."""
    folder.mkdir(parents=True)
    random = np.random.default_rng(12)
    light = to_light(scene(480, 320) / 255) * 0.3
    for number in range(count):
        is_brighter = number >= brighter_from
        stops = random.uniform(-0.2, 0.2) + (0.5 if is_brighter else 0)
        codes = np.rint(to_codes(np.clip(light * 2**stops, 0, 1)) * 255).astype(np.uint8)
        tags = exif(BEGINS + timedelta(seconds=5 * number))
        exposed = {0x829A: 1 / 60 * (2**0.5 if is_brighter else 1), 0x829D: 8.0, 0x8827: 100}
        tags.get_ifd(0x8769).update(exposed)
        Image.fromarray(codes).save(folder / f"LMP_{number:03}.jpg", quality=95, exif=tags)
    return folder


def write_misfires(folder: Path, count: int) -> Path:
    """Write a still scene in which every seventh still is black, so many of them."""
    folder.mkdir(parents=True)
    view = scene(240, 160)
    grain = np.random.default_rng(5)
    for number in range(7 * count + 7):
        codes = view + grain.normal(0, 1, view.shape) if number % 7 != 6 or number > 7 * count else np.zeros_like(view)
        image = Image.fromarray(np.clip(np.rint(codes), 0, 255).astype(np.uint8))
        image.save(folder / f"MSF_{number:04}.jpg", quality=90, exif=exif(BEGINS + timedelta(seconds=5 * number)))
    return folder


def _paint(folder: Path) -> None:
    shot = clean("clouds", 47, STILLS)
    shot.faults = [
        Fault("misfire", MISFIRE, MISFIRE, 1.0),
        Fault("soft", SOFT, SOFT, 1.5),
        Fault("missing", GAP, GAP, 1.0),
    ]
    for still, image in enumerate(shot.images()):
        large = cv2.resize(image, None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC)
        taken: datetime = shot.captured(still)
        Image.fromarray(large).save(folder / f"FEN{shot.number(still):04}.JPG", "JPEG", quality=90, exif=exif(taken))
