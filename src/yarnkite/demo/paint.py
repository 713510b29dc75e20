"""Painting the demo shots into folders, as a camera would have written them."""

import multiprocessing
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor, as_completed
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import Literal

import cv2
import numpy as np
import simplejpeg
from PIL import Image

from yarnkite.core.base.atomic import completed, write_completed
from yarnkite.core.image.exif import with_exif
from yarnkite.core.image.pixels import ImageArray
from yarnkite.demo import beacon_walk, faults, pellow_reach, tray_nine
from yarnkite.demo.dng import write_dng
from yarnkite.demo.faults import exposure_of, number_of

QUALITY = 91
_SCENES = {
    "pellow_reach": pellow_reach.paint,
    "pellow_dawn": lambda share: pellow_reach.paint(1 - share),
    "tray_nine": tray_nine.paint,
    "slack_water": pellow_reach.paint_other_bank,
    "beacon_walk": beacon_walk.paint,
}


@dataclass(frozen=True)
class DemoShot:
    """A painted shot: how many stills, from when, how far apart, and what the camera calls them."""

    title: str
    scene: Literal["pellow_reach", "pellow_dawn", "tray_nine", "slack_water", "beacon_walk"]
    stills: int
    prefix: str
    first_number: int
    begins: datetime
    interval_s: float
    focal_length_mm: int
    raw: bool = False

    def name(self, index: int) -> str:
        number = number_of(self.title, self.first_number, exposure_of(self.title, index))
        return f"{self.prefix}{number:04}.{'DNG' if self.raw else 'JPG'}"

    def captured(self, index: int) -> datetime:
        """Return when a still was taken: the interval, and the few hundredths a shutter is late."""
        exposure = exposure_of(self.title, index)
        late = timedelta(milliseconds=(exposure * 37) % 60)
        stopped = faults.pause_before(self.title, exposure)
        return self.begins + timedelta(seconds=self.interval_s * exposure) + stopped + late

    def share(self, index: int) -> float:
        """Return how far into the span of its first burst, 0…1, a still was taken; later ones go on a little beyond."""
        whole = self.interval_s * (exposure_of(self.title, self.burst - 1)) + 0.06
        passed = (self.captured(index) - self.begins).total_seconds()
        return min(passed / whole, 1 + 0.02 * passed / whole)

    @property
    def burst(self) -> int:
        """How many stills were taken before the camera was stopped."""
        begins, _ = faults.PAUSES.get(self.title, (0, None))
        return sum(exposure_of(self.title, index) < begins for index in range(self.stills)) or self.stills


SHOTS = (
    DemoShot("Pellow Reach", "pellow_reach", 256, "LNTN", 9881, datetime(2031, 9, 14, 15, 42, 10), 75, 24),
    DemoShot("Tray Nine", "tray_nine", 120, "TRAY", 1, datetime(2031, 3, 2, 6, 0, 0), 2880, 60),
    DemoShot("Merged Cards", "pellow_dawn", 72, "LNTN", 0, datetime(2031, 10, 26, 5, 40, 0), 60, 35),
    DemoShot("Slack Water", "slack_water", 40, "SLCK", 101, datetime(2031, 9, 21, 18, 20, 0), 45, 28, raw=True),
    DemoShot("Beacon Walk", "beacon_walk", beacon_walk.STILLS, "WALK", 1, datetime(2031, 9, 20, 17, 5, 0), 3, 35),
)


def paint_missing(folder: Path, tell: Callable[[str], None]) -> None:
    """Paint the demo shots that are not in ``folder`` yet."""
    todo = [shot for shot in SHOTS if not _done(folder, shot).exists()]
    if not todo:
        return
    tell("Painting the demo shots; this is done once …")
    context = multiprocessing.get_context("forkserver")
    with ProcessPoolExecutor(mp_context=context, initializer=cv2.setNumThreads, initargs=(1,)) as pool:
        for shot in todo:
            (folder / shot.title).mkdir(parents=True, exist_ok=True)
            tasks = [pool.submit(paint_still, folder / shot.title, shot, index) for index in range(shot.stills)]
            for count, task in enumerate(as_completed(tasks), 1):
                task.result()
                if count % 40 == 0:
                    tell(f"  {shot.title}: {count} of {shot.stills}")
            _done(folder, shot).write_text("All stills of this demo shot are painted.\n")


def _done(folder: Path, shot: DemoShot) -> Path:
    return folder / f".{shot.title}.painted"


def paint_still(folder: Path, shot: DemoShot, index: int) -> Path:
    """Paint one still and write it as a JPEG with its capture time; one that is there is left alone."""
    path = folder / shot.name(index)
    if path.exists():
        return path
    exposure = exposure_of(shot.title, index)
    painted = faults.spoiled(shot.title, exposure, _SCENES[shot.scene](shot.share(index)))
    if shot.raw:
        return _write_raw(path, painted, shot.captured(index))
    data = simplejpeg.encode_jpeg(painted, quality=QUALITY, colorsubsampling="422")
    modified_ns = round(shot.captured(index).timestamp() * 1e9)
    write_completed(path, with_exif(data, _exif(shot, index)), modified_ns=modified_ns)
    faults.beside(folder, shot.title, exposure, path, shot.captured(index))
    return path


# How strong red, green and blue of what is white are at evening, as a sensor sees them.
_EVENING = (1.0, 0.8, 0.47)
_RAW_SIZE = (1600, 1066)


def _write_raw(path: Path, painted: ImageArray, captured: datetime) -> Path:
    """Write a still as a raw file, the whole of it or nothing."""
    small = np.asarray(cv2.resize(painted, _RAW_SIZE, interpolation=cv2.INTER_AREA), np.uint8)
    with completed(path) as unfinished:
        write_dng(unfinished, small, "Marrow Optical Lantern 3", captured, _EVENING)
    return path


def _exif(shot: DemoShot, index: int) -> Image.Exif:
    """Return Exif 2.32 tags of an invented camera."""
    exposure = exposure_of(shot.title, index)
    offset = faults.offset_from_utc(shot.title, exposure)
    clock = shot.captured(index) - timedelta(hours=1) + offset
    exif = Image.Exif()
    exif[0x010F], exif[0x0110], exif[0x0112], exif[0x0131] = "Marrow Optical", "Lantern 3", 1, "Lantern 1.2"
    exif[0x0132] = f"{clock:%Y:%m:%d %H:%M:%S}"
    detail = exif.get_ifd(0x8769)
    detail[0x9003] = detail[0x9004] = f"{clock:%Y:%m:%d %H:%M:%S}"
    detail[0x9291] = f"{clock.microsecond // 10_000:02}"
    detail[0x9011] = f"+{offset // timedelta(hours=1):02}:00"
    shutter = 0.04 * 2 ** faults.stops_opened(shot.title, exposure)
    detail[0x829A], detail[0x829D], detail[0x8827], detail[0x920A] = shutter, 8.0, 200, float(shot.focal_length_mm)
    return exif
