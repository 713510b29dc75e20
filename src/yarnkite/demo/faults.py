"""What goes wrong in the demo shots, apart from the scenes: planted where a camera or a person would have done it."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

import cv2
import numpy as np
import simplejpeg
from PIL import Image

from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.image.xmp_rating import with_rating
from yarnkite.demo.dng import write_dng

# A camera's counter starts again after this number (DCF, CIPA DC-009).
LAST_NUMBER = 9999

# Exposures whose files are gone: the numbers are missing, and so is the time they took.
LOST: dict[str, tuple[int, ...]] = {"Pellow Reach": (61, 62)}

# The camera was stopped before this exposure, for this long.
PAUSES = {"Pellow Reach": (242, timedelta(minutes=50))}

# Exposures whose file a person edited, that have a raw file beside them, and that were rated by another program.
EDITED = {"Pellow Reach": (31,)}
WITH_RAW = {"Pellow Reach": (24,)}
RATED = {"Pellow Reach": {0: 4, 1: 3, 24: 5, 31: 2}}

# Stretches of exposures, the last one not included.
BLACK = {"Pellow Reach": (95,)}
BLOWN_OUT = {"Pellow Reach": (171,)}
SOFT = {"Pellow Reach": (133,)}
KNOCKED = {"Pellow Reach": (150, (13, -8))}
OPENED_UP = {"Pellow Reach": (204, 1.0)}
FLICKER = {"Pellow Reach": (30, 54, 0.10), "Tray Nine": (44, 56, 0.22)}
HAND = {"Tray Nine": (88, 90)}


@dataclass(frozen=True)
class Cards:
    """Two cards used in turn: how many exposures went on one before the other was put in, and their first numbers."""

    turns: tuple[int, ...]
    first_numbers: tuple[int, int]


CARDS = {"Merged Cards": Cards((14, 21, 9, 28), (412, 87))}
# From this exposure on the camera's clock is an hour back, and says so.
CLOCK_SET_BACK = {"Merged Cards": 40}


def number_of(title: str, first: int, exposure: int) -> int:
    """Return the counter of an exposure (from 0) of a shot whose first has the number ``first``."""
    if title in CARDS:
        return _number_on_card(CARDS[title], exposure)
    return (first - 1 + exposure) % LAST_NUMBER + 1


def _number_on_card(cards: Cards, exposure: int) -> int:
    used, begins = [0, 0], 0
    for turn, count in enumerate(cards.turns):
        if exposure < begins + count:
            return cards.first_numbers[turn % 2] + used[turn % 2] + exposure - begins
        used[turn % 2] += count
        begins += count
    raise ValueError(f"exposure {exposure} is on no card")


def exposure_of(title: str, still: int) -> int:
    """Return which exposure of a shot a still (from 0) is, once the lost ones are left out."""
    exposure = still
    for lost in LOST.get(title, ()):
        if exposure >= lost:
            exposure += 1
    return exposure


def pause_before(title: str, exposure: int) -> timedelta:
    """Return for how long the camera had been stopped by an exposure."""
    begins, length = PAUSES.get(title, (0, timedelta()))
    return length if length and exposure >= begins else timedelta()


def offset_from_utc(title: str, exposure: int) -> timedelta:
    """Return what the camera's clock says of its offset from UTC."""
    return timedelta(hours=0 if exposure >= CLOCK_SET_BACK.get(title, exposure + 1) else 1)


def stops_opened(title: str, exposure: int) -> float:
    """Return by how many stops the camera had opened up its exposure, as night fell."""
    begins, stops = OPENED_UP.get(title, (0, 0.0))
    return stops if stops and exposure >= begins else 0.0


def spoiled(title: str, exposure: int, picture: ImageArray) -> ImageArray:
    """Return a painted exposure as it came out."""
    if exposure in BLACK.get(title, ()):
        return np.asarray(picture // 24, np.uint8)
    if exposure in BLOWN_OUT.get(title, ()):
        return _brighter(picture, 3.0)
    if title in KNOCKED and exposure >= KNOCKED[title][0]:
        picture = _shifted(picture, *KNOCKED[title][1])
    if exposure in SOFT.get(title, ()):
        picture = np.asarray(cv2.GaussianBlur(picture, (0, 0), 5), np.uint8)
    stops = stops_opened(title, exposure)
    if title in FLICKER:
        begins, ends, strength = FLICKER[title]
        if begins <= exposure < ends:
            stops += strength * (1 if exposure % 2 else -1) * (0.8 + 0.4 * (exposure * 7 % 5) / 4)
    if stops:
        picture = _brighter(picture, stops)
    if title in HAND and HAND[title][0] <= exposure < HAND[title][1]:
        picture = _with_hand(picture, exposure - HAND[title][0])
    return picture


def beside(folder: Path, title: str, exposure: int, picture: Path, captured: datetime) -> None:
    """Write what a camera or a person would have put beside a picture file: notes, a raw file, an edited copy."""
    if rating := RATED.get(title, {}).get(exposure):
        picture.with_suffix(".XMP").write_bytes(with_rating(None, rating, picture.name))
    if exposure in WITH_RAW.get(title, ()):
        image = simplejpeg.decode_jpeg(picture.read_bytes(), colorspace="RGB")
        write_dng(picture.with_suffix(".DNG"), image, "Marrow Optical Lantern 3", captured)
    if exposure in EDITED.get(title, ()):
        with Image.open(picture) as original:
            exif = original.getexif()
            exif[0x0131] = "Darkshed 4.1"
            small = original.resize((1200, 800), Image.Resampling.LANCZOS)
            small.point(lambda value: min(255, round(value * 1.12))).save(
                folder / f"{picture.stem}-edit.JPG", "JPEG", quality=90, exif=exif
            )


def _brighter(picture: ImageArray, stops: float) -> ImageArray:
    """Return the picture as more light would have made it: a gain in linear light, clipped."""
    values = np.arange(256) / 255
    linear = np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4) * 2**stops
    clipped = np.clip(linear, 0, 1)
    encoded = np.where(clipped <= 0.0031308, clipped * 12.92, 1.055 * clipped ** (1 / 2.4) - 0.055)
    return np.asarray(cv2.LUT(picture, np.rint(encoded * 255).astype(np.uint8)), np.uint8)


def _shifted(picture: ImageArray, across: int, down: int) -> ImageArray:
    moved = cv2.warpAffine(
        picture,
        np.array([[1, 0, across], [0, 1, down]], np.float32),
        (picture.shape[1], picture.shape[0]),
        borderMode=cv2.BORDER_REFLECT,
    )
    return np.asarray(moved, np.uint8)


def _with_hand(picture: ImageArray, step: int) -> ImageArray:
    height, width = picture.shape[:2]
    shade = np.zeros((height, width), np.float32)
    reach = int(width * (0.42 - 0.1 * step))
    wrist = (width + 40, int(height * 0.78))
    palm = (reach + 260, int(height * 0.55))
    cv2.line(shade, wrist, palm, 1.0, 210)
    for finger in range(4):
        cv2.line(shade, palm, (reach + 30 * abs(finger - 1), int(height * (0.42 + 0.07 * finger))), 1.0, 74)
    cv2.line(shade, palm, (reach + 230, int(height * 0.83)), 1.0, 80)
    share = cv2.GaussianBlur(shade, (0, 0), 9)[..., None]
    skin = np.array((122, 84, 66), np.float32) * (
        0.75 + 0.25 * np.linspace(1, 0, height, dtype=np.float32)[:, None, None]
    )
    return np.asarray(np.rint(picture * (1 - share) + skin * share), np.uint8)
