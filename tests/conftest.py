"""Real stills for the tests: small pictures with true Exif, written as cameras and scanners write them."""

import io
from collections.abc import Callable
from datetime import datetime, timedelta
from functools import lru_cache
from pathlib import Path

import numpy as np
import pytest
from hypothesis import settings
from numpy.typing import NDArray
from PIL import Image

from tests.durations import Durations
from tests.serving import card, client, finished, gathered, masters, project, services  # noqa: F401
from yarnkite.core.base.still import Still

settings.register_profile("steady", deadline=None, derandomize=True, max_examples=60)
settings.load_profile("steady")

BEGINS = datetime(2031, 5, 4, 9, 30, 0)
# The longest files first: what is left for the end is short, so that no core waits for another.
_FOLDERS = ("screen", "api", "store", "cli", "camera", "jobs")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Run the files that take longest first."""
    items.sort(key=lambda item: next((n for n, name in enumerate(_FOLDERS) if name in item.path.parts), len(_FOLDERS)))


def pytest_configure(config: pytest.Config) -> None:
    if not hasattr(config, "workerinput"):
        config.pluginmanager.register(Durations())


def scene(width: int, height: int, number: int = 0) -> NDArray[np.uint8]:
    """A picture with a gradient, sharp edges and a bright square that moves with ``number``."""
    across, down = np.meshgrid(np.linspace(0, 1, width), np.linspace(0, 1, height))
    picture = np.stack([across * 200 + 20, down * 180 + 30, (1 - across) * 120 + 40 + 40 * np.sin(down * 30)], axis=2)
    picture[height // 3 : height // 2, width // 8 : width // 3] = (230, 60, 40)
    left = (number * 7) % max(1, width - width // 10)
    picture[height // 2 : height // 2 + height // 10, left : left + width // 10] = (250, 250, 240)
    return picture.astype(np.uint8)


def exif(captured: datetime | None = None, orientation: int = 1) -> Image.Exif:
    tags = Image.Exif()
    tags[0x0112] = orientation
    if captured is not None:
        detail = tags.get_ifd(0x8769)
        detail[0x9003] = f"{captured:%Y:%m:%d %H:%M:%S}"
        detail[0x9291] = f"{captured.microsecond // 1000:03}"
        detail[0x9011] = "+02:00"
    return tags


def write_jpeg(path: Path, number: int = 0, size: tuple[int, int] = (480, 320), orientation: int = 1) -> Path:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(_jpeg(number, size, orientation))
    return path


@lru_cache(maxsize=1500)
def _jpeg(number: int, size: tuple[int, int], orientation: int) -> bytes:
    """Paint and pack a still; many tests want the same ones."""
    captured = BEGINS + timedelta(seconds=5 * number, milliseconds=250)
    packed = io.BytesIO()
    Image.fromarray(scene(*size, number)).save(packed, "JPEG", quality=92, exif=exif(captured, orientation))
    return packed.getvalue()


@pytest.fixture
def shoot(tmp_path: Path) -> Callable[..., Path]:
    """Write a folder of numbered JPEGs, as a camera would; returns the folder."""

    def shoot(count: int, folder: str = "card", size: tuple[int, int] = (480, 320), first: int = 1) -> Path:
        for number in range(count):
            write_jpeg(tmp_path / folder / f"MRW_{first + number}.jpg", number, size)
        return tmp_path / folder

    return shoot


@pytest.fixture
def stills(shoot: Callable[..., Path]) -> Callable[..., tuple[Still, ...]]:
    """Write numbered JPEGs and return them as the stills of a recipe."""

    def make(count: int, size: tuple[int, int] = (480, 320)) -> tuple[Still, ...]:
        folder = shoot(count, f"stills-{size[0]}x{size[1]}-{count}", size)
        return tuple(
            Still(path=str(folder / f"MRW_{n + 1}.jpg"), fingerprint=f"still-{n}", width=size[0], height=size[1])
            for n in range(count)
        )

    return make
