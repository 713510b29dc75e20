"""Gather: all that is learned about each still in one reading and one decode."""

import shutil
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import simplejpeg

from yarnkite.core.base.atomic import completed, write_completed
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.fingerprint import NEWEST, Kind
from yarnkite.core.base.safe_open import OpenedFile, has_fingerprint, safe_open
from yarnkite.core.gather.deep_copy import packed
from yarnkite.core.gather.measures import Measures, measured
from yarnkite.core.gather.proxies import THUMBNAIL_LONG_SIDE, Proxies, proxy_reduction
from yarnkite.core.image import memory
from yarnkite.core.image.decode import decode, header_and_data
from yarnkite.core.image.header import Header
from yarnkite.core.image.memory import held_to
from yarnkite.core.image.pixels import EightBit, ImageArray, Pixels, as_eight, is_deep
from yarnkite.core.image.resample import area_taps, resample
from yarnkite.core.image.scene import developed

TAIL_WIDTH = 160
PROXY_QUALITY = 90
OTHER_PICTURE = "other_picture"


@dataclass(frozen=True)
class Gathered:
    """One still as gathering found it.

    ``tail_row`` is 160 RGB pixels: the middle of the still from its top (first) to its bottom (last).
    ``other_fingerprints`` are those under which earlier editions of the program may know the file.
    """

    name: str
    header: Header
    size: int
    modified_ns: int
    fingerprint: str
    tail_row: bytes
    measures: Measures
    other_fingerprints: tuple[str, ...] = ()
    changed_ns: int | None = None


def gather_still(
    folder: Path,
    name: str,
    proxies: Proxies,
    copy_to: Path | None = None,
    kinds: Sequence[Kind] = (NEWEST,),
    copy_as: str | None = None,
) -> Gathered:
    """Read one file once and decode it once: header, fingerprint, proxy, thumbnail, tail row and measures.

    ``copy_to`` is a folder that gets a copy of the file as it was read, under its own name or the one it has there
    (``copy_as``), on the disk when this ends; the fingerprint is of the first of ``kinds``.
    Raises ``UnreadableStill`` for a file that cannot be used, ``DiskFull`` if a copy cannot be written.
    """
    path = folder / name
    with held_to(memory.MOST_BYTES), safe_open(path) as file:
        header, data = header_and_data(file)
        divisor = proxy_reduction(header.width, header.height)
        memory.check_room(header, file.size, Fraction(divisor), path.name)
        pixels = decode(data, header, path.name, Fraction(divisor))
        copied = Pixels(_reduced(pixels, header, divisor), divisor, pixels.camera)
        if pixels.is_cut:
            header = replace(header, remark=header.remark or "cut light")
        del pixels
        read = data if isinstance(data, bytes) else None
        fingerprint, *others = (file.fingerprint(read, kind) for kind in kinds)
        file.check_unchanged()
        if copy_to is not None:
            _copy(file, header, copy_to / (copy_as or name))
    reduced = as_eight(developed(copied).array)
    if is_deep(copied.array):
        _write(proxies.deep(fingerprint), packed(copied))
    elif divisor > 1 or header.kind != "JPEG":
        _write(proxies.path(fingerprint), _jpeg(reduced))
    thumbnail = _thumbnail(reduced, header, divisor)
    _write(proxies.thumbnail(fingerprint), _jpeg(thumbnail))
    small = np.asarray(cv2.resize(thumbnail, (TAIL_WIDTH, TAIL_WIDTH), interpolation=cv2.INTER_AREA), np.uint8)
    return Gathered(
        name=copy_as or name,
        header=replace(header, profile=None),
        size=file.size,
        modified_ns=file.modified_ns,
        fingerprint=fingerprint,
        tail_row=_tail_row(small),
        measures=measured(reduced, small),
        other_fingerprints=tuple(others),
        changed_ns=file.changed_ns,
    )


def _copy(file: OpenedFile, header: Header, target: Path) -> None:
    """Copy a file that was read; a copy of another picture, which may be the only one left, is never replaced."""
    if target.exists():
        if has_fingerprint(target, file.fingerprint()):
            return
        with safe_open(target) as copied:
            before, _ = header_and_data(copied)
        if before.captured is None or before.captured != header.captured:
            raise UnreadableStill(
                OTHER_PICTURE,
                f"“{file.path.name}” is another picture than the one that was copied under this name. Gather its "
                "folder as a shot of its own.",
            )
    with completed(target, durable=True, modified_ns=file.modified_ns) as unfinished:
        file.handle.seek(0)
        with unfinished.open("wb") as written:
            shutil.copyfileobj(file.handle, written, 8_000_000)


def _reduced(pixels: Pixels, header: Header, divisor: int) -> ImageArray:
    """Reduce what no decoder could reduce, each pixel standing for exactly ``divisor``² pixels of the still."""
    if pixels.reduction == divisor:
        return pixels.array
    step = divisor // pixels.reduction
    width, height = -(-header.width // divisor), -(-header.height // divisor)
    rows = area_taps(Fraction(0), Fraction(height * step), pixels.array.shape[0], height)
    columns = area_taps(Fraction(0), Fraction(width * step), pixels.array.shape[1], width)
    reduced = resample(pixels.array, rows, columns)
    return reduced if is_deep(pixels.array) else as_eight(reduced)


def _thumbnail(reduced: EightBit, header: Header, divisor: int) -> EightBit:
    wanted = proxy_reduction(header.width, header.height, THUMBNAIL_LONG_SIDE)
    return as_eight(_reduced(Pixels(reduced, divisor), header, wanted))


def _jpeg(image: EightBit) -> bytes:
    return bytes(simplejpeg.encode_jpeg(np.ascontiguousarray(image), quality=PROXY_QUALITY, colorsubsampling="420"))


def _tail_row(small: EightBit) -> bytes:
    middle = small[:, TAIL_WIDTH * 3 // 8 : TAIL_WIDTH * 5 // 8]
    return bytes(np.rint(middle.mean(axis=1)).astype(np.uint8).tobytes())


def _write(path: Path, data: bytes) -> None:
    if not path.exists():
        write_completed(path, data)
