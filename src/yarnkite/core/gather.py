"""Gather: what is in a folder, and all that is learned about each still in one reading and one decode."""

import hashlib
import os
from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import simplejpeg
from numpy.typing import NDArray

from yarnkite.core.errors import NoRoom
from yarnkite.core.formats import description, kind_of
from yarnkite.core.places import FoundFile
from yarnkite.core.recipe import Still
from yarnkite.core.resample import resample, taps
from yarnkite.core.stills import Header, Pixels, decode, read_bytes, read_header, read_still

TAIL_WIDTH = 160
PROXY_LONG_SIDE = 1280
PROXY_QUALITY = 90


@dataclass(frozen=True)
class LeftOut:
    """A file that is not part of the shot, and the sentence that says why."""

    name: str
    reason: str


@dataclass(frozen=True)
class Gathered:
    """One still as gathering found it.

    ``tail_row`` is 160 RGB pixels: the middle of the still from its top (first) to its bottom (last).
    ``luminance`` is the mean relative luminance, linear light, 0…1 (IEC 61966-2-1).
    """

    name: str
    header: Header
    size: int
    modified: datetime
    fingerprint: str
    tail_row: bytes
    luminance: float


@dataclass(frozen=True)
class Proxies:
    """Reduced copies of stills, kept by fingerprint; used wherever they are fine enough."""

    folder: Path

    def path(self, fingerprint: str) -> Path:
        return self.folder / fingerprint[:2] / f"{fingerprint}.jpg"

    def read(self, still: Still, reduction: Fraction) -> Pixels:
        """Read a still from its proxy if that has the wanted reduction or finer, else from the original."""
        divisor = proxy_reduction(still.width, still.height)
        if divisor <= reduction:
            try:
                data = self.path(still.fingerprint).read_bytes()
                return Pixels(simplejpeg.decode_jpeg(data, colorspace="RGB"), divisor)
            except (OSError, ValueError):
                pass
        return read_still(still, reduction)


def sort_out(folder: Path, found: list[FoundFile]) -> tuple[list[FoundFile], list[LeftOut]]:
    """Divide a folder's files into those that begin like a still and those that do not, with the reason."""
    stills, left_out = [], []
    for file in found:
        reason = _reason_to_leave_out(folder, file)
        if reason is None:
            stills.append(file)
        else:
            left_out.append(LeftOut(_printable(file.name), reason))
    return stills, left_out


def gather_still(folder: Path, name: str, proxies: Proxies) -> Gathered:
    """Read one file once and decode it once: header, fingerprint, proxy, tail row and measures.

    Raises ``UnreadableStill`` for a file that cannot be used, ``NoRoom`` if the proxy cannot be written.
    """
    path = folder / name
    data = read_bytes(path)
    header = read_header(data, path.name)
    divisor = proxy_reduction(header.width, header.height)
    pixels = decode(data, header, path.name, Fraction(divisor))
    reduced = _reduced(pixels, header, divisor)
    fingerprint = hashlib.blake2b(data, digest_size=16).hexdigest()
    if divisor > 1 or header.kind != "JPEG":
        proxy = simplejpeg.encode_jpeg(np.ascontiguousarray(reduced), quality=PROXY_QUALITY, colorsubsampling="420")
        _write(proxies.path(fingerprint), proxy)
    small = np.asarray(cv2.resize(reduced, (TAIL_WIDTH, TAIL_WIDTH), interpolation=cv2.INTER_AREA), np.uint8)
    return Gathered(
        name=name,
        header=header,
        size=len(data),
        modified=datetime.fromtimestamp(path.stat().st_mtime),
        fingerprint=fingerprint,
        tail_row=_tail_row(small),
        luminance=_luminance(small),
    )


def proxy_reduction(width: int, height: int) -> int:
    """Return the reduction, a power of two up to 8, at which a proxy still has 1280 pixels on its longer side."""
    divisor = 1
    while divisor < 8 and max(width, height) >= 2 * divisor * PROXY_LONG_SIDE:
        divisor *= 2
    return divisor


def _reason_to_leave_out(folder: Path, file: FoundFile) -> str | None:
    name = _printable(Path(file.name).name)
    if name != Path(file.name).name:
        return f"“{name}” has a name that is not readable text. Rename it, then gather the folder again."
    if file.outside:
        return f"“{name}” is a link to a file outside the place. Copy the file itself here, then gather again."
    if name.startswith("."):
        return f"“{name}” is hidden: systems keep notes of their own under such names."
    try:
        with (folder / file.name).open("rb") as opened:
            head = opened.read(16)
    except OSError:
        head = b""
    if not head and Path(name).suffix.lower() in (".jpg", ".jpeg", ".png", ".tif", ".tiff"):
        return None
    if kind_of(head, Path(name).suffix) is None:
        return f"“{name}” was left out: it is a {description(name)}."
    return None


def _printable(name: str) -> str:
    return name.encode("utf-8", "replace").decode()


def _reduced(pixels: Pixels, header: Header, divisor: int) -> NDArray[np.uint8]:
    """Reduce what no decoder could reduce, each pixel standing for exactly ``divisor``² pixels of the still."""
    if pixels.reduction == divisor:
        return pixels.array
    width, height = -(-header.width // divisor), -(-header.height // divisor)
    rows = taps(Fraction(0), Fraction(height * divisor), header.height, height)
    columns = taps(Fraction(0), Fraction(width * divisor), header.width, width)
    return resample(pixels.array, rows, columns)


def _tail_row(small: NDArray[np.uint8]) -> bytes:
    middle = small[:, TAIL_WIDTH * 3 // 8 : TAIL_WIDTH * 5 // 8]
    return bytes(np.rint(middle.mean(axis=1)).astype(np.uint8).tobytes())


def _luminance(small: NDArray[np.uint8]) -> float:
    encoded = small.astype(np.float32) / 255
    linear = np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)
    return float((linear @ np.array([0.2126, 0.7152, 0.0722], np.float32)).mean())


def _write(path: Path, data: bytes) -> None:
    if path.exists():
        return
    unfinished = path.with_suffix(f".{os.getpid()}.part")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        unfinished.write_bytes(data)
        unfinished.replace(path)
    except OSError as error:
        unfinished.unlink(missing_ok=True)
        raise NoRoom(
            "cannot_write",
            f"No room for reduced copies in {path.parent}: {error.strerror}. Free some space, then go on.",
        ) from error
