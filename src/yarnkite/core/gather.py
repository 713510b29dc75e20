"""Gather: all that is learned about each still in one reading and one decode."""

import os
import shutil
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import simplejpeg
from numpy.typing import NDArray

from yarnkite.core import memory
from yarnkite.core.errors import NoRoom, UnreadableStill
from yarnkite.core.header import Header
from yarnkite.core.measure import Measures, measured
from yarnkite.core.memory import held_to
from yarnkite.core.opened import OpenedFile, fingerprint_of, opened
from yarnkite.core.recipe import Still
from yarnkite.core.resample import resample, taps
from yarnkite.core.stills import Pixels, decode, header_and_data, read_still

TAIL_WIDTH = 160
PROXY_LONG_SIDE = 1280
THUMBNAIL_LONG_SIDE = 320
PROXY_QUALITY = 90
OTHER_PICTURE = "other_picture"
_LARGEST_REDUCTION = {PROXY_LONG_SIDE: 8, THUMBNAIL_LONG_SIDE: 32}


@dataclass(frozen=True)
class Gathered:
    """One still as gathering found it.

    ``tail_row`` is 160 RGB pixels: the middle of the still from its top (first) to its bottom (last).
    """

    name: str
    header: Header
    size: int
    modified_ns: int
    fingerprint: str
    tail_row: bytes
    measures: Measures


@dataclass(frozen=True)
class Proxies:
    """Reduced copies of stills, in two sizes, kept by fingerprint; used wherever they are fine enough."""

    folder: Path

    def path(self, fingerprint: str) -> Path:
        return self.folder / fingerprint[:2] / f"{fingerprint}.jpg"

    def thumbnail(self, fingerprint: str) -> Path:
        return self.folder / fingerprint[:2] / f"{fingerprint}.small.jpg"

    def read(self, still: Still, reduction: Fraction) -> Pixels:
        """Read a still from the smallest copy that has the wanted reduction or finer, else from the original."""
        return self.read_copy(still, reduction) or read_still(still, reduction)

    def read_copy(self, still: Still, reduction: Fraction) -> Pixels | None:
        """Read a still from the smallest copy that has the wanted reduction or finer, if there is one."""
        for path, long_side in (
            (self.thumbnail(still.fingerprint), THUMBNAIL_LONG_SIDE),
            (self.path(still.fingerprint), PROXY_LONG_SIDE),
        ):
            divisor = proxy_reduction(still.width, still.height, long_side)
            if divisor <= reduction:
                try:
                    return Pixels(simplejpeg.decode_jpeg(path.read_bytes(), colorspace="RGB"), divisor)
                except (OSError, ValueError):
                    continue
        return None

    def read_quickly(self, still: Still, reduction: Fraction) -> Pixels:
        """Read a still as ``read`` does, but from the larger copy where none is fine enough: softer, never late."""
        return self.read(still, self.quick_reduction(still, reduction))

    def quick_reduction(self, still: Still, reduction: Fraction) -> Fraction:
        """Return the reduction at which the larger copy does."""
        return max(reduction, Fraction(proxy_reduction(still.width, still.height)))

    def thumbnail_of(self, still: Still) -> NDArray[np.uint8]:
        """Return a still at about 320 pixels on its longer side."""
        divisor = proxy_reduction(still.width, still.height, THUMBNAIL_LONG_SIDE)
        pixels = self.read(still, Fraction(divisor))
        step = divisor // pixels.reduction
        if step == 1:
            return pixels.array
        size = (max(1, pixels.array.shape[1] // step), max(1, pixels.array.shape[0] // step))
        return np.asarray(cv2.resize(pixels.array, size, interpolation=cv2.INTER_AREA), np.uint8)


def gather_still(folder: Path, name: str, proxies: Proxies, copy_to: Path | None = None) -> Gathered:
    """Read one file once and decode it once: header, fingerprint, proxy, thumbnail, tail row and measures.

    ``copy_to`` is a folder that gets a copy of the file as it was read. Raises ``UnreadableStill`` for a file that
    cannot be used, ``NoRoom`` if a copy cannot be written.
    """
    path = folder / name
    with held_to(memory.MOST_BYTES), opened(path) as file:
        header, data = header_and_data(file)
        divisor = proxy_reduction(header.width, header.height)
        memory.check_room(header, file.size, Fraction(divisor), path.name)
        pixels = decode(data, header, path.name, Fraction(divisor))
        reduced = _reduced(pixels, header, divisor)
        fingerprint = file.fingerprint(data if isinstance(data, bytes) else None)
        file.check_unchanged()
        if copy_to is not None:
            _copy(file, header, copy_to / name)
    if divisor > 1 or header.kind != "JPEG":
        _write(proxies.path(fingerprint), _jpeg(reduced))
    _write(proxies.thumbnail(fingerprint), _jpeg(_thumbnail(reduced, header, divisor)))
    small = np.asarray(cv2.resize(reduced, (TAIL_WIDTH, TAIL_WIDTH), interpolation=cv2.INTER_AREA), np.uint8)
    return Gathered(
        name=name,
        header=replace(header, profile=None),
        size=file.size,
        modified_ns=file.modified_ns,
        fingerprint=fingerprint,
        tail_row=_tail_row(small),
        measures=measured(reduced, small),
    )


def _copy(file: OpenedFile, header: Header, target: Path) -> None:
    """Copy a file that was read; a copy of another picture, which may be the only one left, is never replaced."""
    if target.exists():
        if fingerprint_of(target) == file.fingerprint():
            return
        with opened(target) as copied:
            before, _ = header_and_data(copied)
        if before.captured is None or before.captured != header.captured:
            raise UnreadableStill(
                OTHER_PICTURE,
                f"“{file.path.name}” is another picture than the one that was copied under this name. Gather its folder "
                "as a shot of its own.",
            )
    unfinished = target.with_name(f"{target.name}.{os.getpid()}.part")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        file.handle.seek(0)
        with unfinished.open("wb") as written:
            shutil.copyfileobj(file.handle, written, 8_000_000)
        os.utime(unfinished, ns=(file.modified_ns, file.modified_ns))
        unfinished.replace(target)
    except OSError as error:
        unfinished.unlink(missing_ok=True)
        raise _cannot_write(target, error) from error


def proxy_reduction(width: int, height: int, long_side: int = PROXY_LONG_SIDE) -> int:
    """Return the largest power of two by which a copy can be reduced and keep ``long_side`` on its longer side.

    It is 8 at the most for a proxy, which is what a JPEG decoder gives for nothing.
    """
    divisor = 1
    while divisor < _LARGEST_REDUCTION[long_side] and max(width, height) >= 2 * divisor * long_side:
        divisor *= 2
    return divisor


def _reduced(pixels: Pixels, header: Header, divisor: int) -> NDArray[np.uint8]:
    """Reduce what no decoder could reduce, each pixel standing for exactly ``divisor``² pixels of the still."""
    if pixels.reduction == divisor:
        return pixels.array
    step = divisor // pixels.reduction
    width, height = -(-header.width // divisor), -(-header.height // divisor)
    rows = taps(Fraction(0), Fraction(height * step), pixels.array.shape[0], height)
    columns = taps(Fraction(0), Fraction(width * step), pixels.array.shape[1], width)
    return resample(pixels.array, rows, columns)


def _thumbnail(reduced: NDArray[np.uint8], header: Header, divisor: int) -> NDArray[np.uint8]:
    wanted = proxy_reduction(header.width, header.height, THUMBNAIL_LONG_SIDE)
    return _reduced(Pixels(reduced, divisor), header, wanted)


def _jpeg(image: NDArray[np.uint8]) -> bytes:
    return bytes(simplejpeg.encode_jpeg(np.ascontiguousarray(image), quality=PROXY_QUALITY, colorsubsampling="420"))


def _tail_row(small: NDArray[np.uint8]) -> bytes:
    middle = small[:, TAIL_WIDTH * 3 // 8 : TAIL_WIDTH * 5 // 8]
    return bytes(np.rint(middle.mean(axis=1)).astype(np.uint8).tobytes())


def _write(path: Path, data: bytes) -> None:
    if path.exists():
        return
    unfinished = path.with_name(f"{path.name}.{os.getpid()}.part")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        unfinished.write_bytes(data)
        unfinished.replace(path)
    except OSError as error:
        unfinished.unlink(missing_ok=True)
        raise _cannot_write(path, error) from error


def _cannot_write(path: Path, error: OSError) -> NoRoom:
    return NoRoom(
        "cannot_write",
        f"“{path.name}” cannot be written in {path.parent}: {error.strerror}. Free some space, then go on.",
    )
