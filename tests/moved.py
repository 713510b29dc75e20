"""Made-up shots whose movement is known: a scene with texture, seen through a camera that shakes, is knocked or
walks."""

from datetime import timedelta
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tests.conftest import BEGINS, exif
from yarnkite.core.base.homography import exponential, mapped

WIDTH, HEIGHT = 960, 640
HALF = np.hypot(WIDTH, HEIGHT) / 2
# Where the scene has a mark of its own, in half diagonals of the first still: something to hold on to.
MARK = np.array([0.2, -0.12])

Floats = NDArray[np.float64]


def scene(seed: int = 3) -> NDArray[np.float32]:
    """A place with texture at all scales, half as large again as a still, and a dark mark with a light rim."""
    random = np.random.default_rng(seed)
    width, height = WIDTH * 3 // 2, HEIGHT * 3 // 2
    out = np.zeros((height, width, 3), np.float32)
    for cell in (4, 9, 19, 40, 90):
        noise = random.normal(0, 1, (height // cell + 2, width // cell + 2, 3)).astype(np.float32)
        out += cv2.resize(noise, (width, height), interpolation=cv2.INTER_CUBIC) * np.float32(cell**0.6)
    out = out / out.std() * 24 + 110
    for _ in range(50):
        x, y = int(random.integers(0, width)), int(random.integers(0, height))
        size = random.integers(10, 90, 2)
        colour = random.uniform(25, 225, 3).tolist()
        cv2.rectangle(out, (x, y), (x + int(size[0]), y + int(size[1])), colour, -1, cv2.LINE_AA)
    middle = tuple(int(one) for one in MARK * HALF + np.array([width, height]) / 2)
    cv2.circle(out, middle, 17, (235, 235, 230), -1, cv2.LINE_AA)
    cv2.circle(out, middle, 9, (20, 20, 30), -1, cv2.LINE_AA)
    return out


def seen(place: NDArray[np.float32], camera: Floats) -> NDArray[np.uint8]:
    """Return the still a camera takes: ``camera`` leads its points, in half diagonals, to those of the scene."""
    still = np.array([[1 / HALF, 0, -(WIDTH - 1) / 2 / HALF], [0, 1 / HALF, -(HEIGHT - 1) / 2 / HALF], [0, 0, 1]])
    height, width = place.shape[:2]
    middle = np.array([[HALF, 0, (width - 1) / 2], [0, HALF, (height - 1) / 2], [0, 0, 1]])
    flags = cv2.INTER_CUBIC | cv2.WARP_INVERSE_MAP
    picture = cv2.warpPerspective(place, middle @ camera @ still, (WIDTH, HEIGHT), flags=flags)
    return np.clip(np.rint(picture), 0, 255).astype(np.uint8)


def grey_of(picture: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Return the brightness of a picture."""
    return np.asarray(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), np.uint8)


def shaken(stills: int, seed: int = 4, px: float = 4.0) -> Floats:
    """Cameras that shake about one place, by up to ``px`` pixels and a little turn and size."""
    random = np.random.default_rng(seed)
    numbers = np.zeros((stills, 8))
    numbers[:, :2] = random.uniform(-px, px, (stills, 2)) / HALF
    numbers[:, 2] = np.radians(random.uniform(-0.5, 0.5, stills))
    numbers[:, 3] = random.uniform(-0.008, 0.008, stills)
    return exponential(numbers)


def knocked(stills: int, at: int) -> Floats:
    """A camera on a tripod that is knocked by 3 % and 1° before a still."""
    numbers = np.zeros((stills, 8))
    numbers[at:, :3] = 0.03 * WIDTH / HALF, -0.01, np.radians(1)
    return exponential(numbers)


def walked(stills: int, seed: int = 6) -> Floats:
    """A camera that is carried: sway, steps and turn."""
    random = np.random.default_rng(seed)
    time = np.arange(stills) * 1.0
    numbers = np.zeros((stills, 8))
    numbers[:, 0] = 0.02 * np.sin(time * 1.3) + 0.002 * time
    numbers[:, 1] = 0.012 * np.abs(np.sin(time * 1.3)) + random.normal(0, 0.002, stills)
    numbers[:, 2] = np.radians(1.0) * np.sin(time * 1.3 + 0.5)
    cameras = exponential(numbers)
    return np.asarray(np.linalg.inv(cameras[0]) @ cameras)


def write_moved(folder: Path, cameras: Floats, hidden: range = range(0), seed: int = 3) -> Path:
    """Write a moved shot as JPEGs; over some stills the mark is hidden behind something dark."""
    folder.mkdir(parents=True)
    place = scene(seed)
    for number, camera in enumerate(cameras):
        picture = np.ascontiguousarray(seen(place, camera))
        if number in hidden:
            x, y = (place_of_mark(cameras)[number] * HALF + np.array([WIDTH, HEIGHT]) / 2).astype(int)
            cv2.rectangle(picture, (int(x) - 70, int(y) - 90), (int(x) + 70, int(y) + 90), (60, 62, 70), -1)
        captured = BEGINS + timedelta(seconds=5 * number)
        path = folder / f"WLK_{number + 1:04}.JPG"
        Image.fromarray(picture).save(path, "JPEG", quality=93, exif=exif(captured))
    return folder


def place_of_mark(cameras: Floats) -> Floats:
    """Return where the mark is in each still, in half diagonals; the first one's camera is at rest."""
    return mapped(np.linalg.inv(cameras), MARK[None])


def shares(points: Floats) -> Floats:
    """Return points in half diagonals as shares of the still."""
    return (points * HALF / np.array([WIDTH, HEIGHT])) + 0.5
