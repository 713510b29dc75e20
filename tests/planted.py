"""A folder of real files of a shot in which one still misfired, one is soft, and two are missing."""

import contextlib
import hashlib
import shutil
import tempfile
from datetime import datetime
from pathlib import Path

import cv2
from bench import planted as painted_by
from bench.planted import Fault, clean
from PIL import Image

from tests.conftest import exif

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
