"""What a file says about its picture: size, kind, orientation, time and camera, read without decoding."""

import io
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta, timezone
from typing import Any, BinaryIO

import pillow_heif
import rawpy
from PIL import Image, UnidentifiedImageError

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.wording import one_line
from yarnkite.core.image.cicp import CodePoints, code_points_in
from yarnkite.core.image.icc import dcf_optional, needs_conversion
from yarnkite.core.image.kinds import Kind, description, kind_of
from yarnkite.core.image.raw import has_matrix
from yarnkite.core.image.raw_white import white_of
from yarnkite.core.image.remark import Remark, has_gain_map, remark_about_colour
from yarnkite.core.image.tiff import TiffSays, tiff_says
from yarnkite.core.image.xmp import XmpNotes, read_xmp

MOST_PIXELS = 180_000_000
SMALLEST_SIDE, LARGEST_SHAPE = 16, 40
_FIRST_YEAR, _LAST_YEAR = 1801, 2999
_EXIF_IFD, _INTEROP_IFD = 0x8769, 0xA005
_MAKE, _MODEL, _ORIENTATION, _SOFTWARE, _XMP = 0x010F, 0x0110, 0x0112, 0x0131, 0x02BC
_DATE_TIME, _SUB_SECONDS, _OFFSET, _SERIAL, _LENS = 0x9003, 0x9291, 0x9011, 0xA431, 0xA434
_EXPOSURE, _APERTURE, _SENSITIVITY, _FOCAL_LENGTH = 0x829A, 0x829D, 0x8827, 0x920A
_TURNED_RAW = (5, 6)
_AVIF_HEAD = 8192
# What a file says about its samples stands ahead of them.
_SAY_CODE_POINTS, _BOXES = ("HEIF", "AVIF", "PNG"), 65_536
_MAY_HAVE_GAINS = ("JPEG", "HEIF", "AVIF")
_NO_NOTES = XmpNotes()
# Pillow's own limit would refuse large but honest stills; sizes are checked here before anything is decoded.
Image.MAX_IMAGE_PIXELS = None
pillow_heif.register_heif_opener()


@dataclass(frozen=True)
class Header:
    """What a file says about its picture.

    Width and height are upright, in pixels; ``exposure_s`` is in seconds, ``aperture`` an f-number, ``sensitivity``
    by ISO 12232, ``camera`` names the very body where it gives its number. ``profile`` is kept only if it is not sRGB.
    ``code_points`` say what samples mean where that is not sRGB and no profile says it. ``white`` is the XYZ of the
    light a raw file says it was taken in. ``progressive`` says that a JPEG must be held whole to be decoded,
    ``segment_bytes`` what a TIFF's largest strip takes, ``remark`` what is odd about it.
    """

    kind: Kind
    width: int
    height: int
    orientation: int
    mode: str
    bits: int
    captured: datetime | None
    camera: str = ""
    lens: str = ""
    software: str = ""
    exposure_s: float | None = None
    aperture: float | None = None
    sensitivity: int | None = None
    focal_length_mm: float | None = None
    profile: bytes | None = None
    code_points: CodePoints | None = None
    progressive: bool = False
    segment_bytes: int = 0
    white: tuple[float, float, float] | None = None
    remark: Remark | None = None
    rating: int | None = None
    label: str = ""
    caption: str = ""
    has_edits: bool = False


def read_header(data: bytes | BinaryIO, name: str) -> Header:
    """Read what a file, or all bytes of one, says; raises ``UnreadableStill`` for what is not a usable still."""
    suffix = name[name.rfind(".") :] if "." in name else ""
    file = io.BytesIO(data) if isinstance(data, bytes) else data
    file.seek(0)
    kind = kind_of(file.read(16), suffix)
    file.seek(0)
    if kind is None:
        raise UnreadableStill("not_a_still", f"“{name}” was left out: it is a {description(name)}.")
    try:
        return _raw_header(file, name) if kind == "RAW" else _picture_header(file, name, kind)
    except UnreadableStill:
        raise
    except Exception as error:
        # Parsers meet hostile bytes here and raise whatever they like; each such file gets its sentence.
        raise damaged(name, kind, error) from None


def damaged(name: str, kind: Kind, error: Exception) -> UnreadableStill:
    """Return the refusal of a file whose reading ended in ``error``."""
    if "truncated" in str(error).lower():
        return UnreadableStill(
            "truncated", f"“{name}” ends early: part of the picture is missing. Copy it again from the card."
        )
    begins = "raw file" if kind == "RAW" else kind
    return UnreadableStill(
        "damaged", f"“{name}” begins like a {begins} but cannot be decoded. Copy it again from the card."
    )


def _picture_header(file: BinaryIO, name: str, kind: Kind) -> Header:
    try:
        image = Image.open(file, formats=[kind])
    except UnidentifiedImageError:
        if kind != "TIFF":
            raise
        return _deep_tiff_header(file, name)
    with image:
        width, height, mode = image.width, image.height, image.mode
        _check_size(width, height, name)
        bits = _bits(image, kind, file)
        # A PNG without Exif ahead of its pixels would be decoded whole in search of it.
        exif = Image.Exif() if kind == "PNG" and "exif" not in image.info else image.getexif()
        notes = _notes(image.info.get("xmp"))
        profile = image.info.get("icc_profile")
        progressive = bool(image.info.get("progressive"))
    orientation = exif.get(_ORIENTATION, 1)
    # The readers of HEIF and of TIFF turn the picture themselves, that of deep TIFF does not.
    if orientation not in range(1, 9) or kind == "HEIF" or (kind == "TIFF" and bits <= 8):
        orientation = 1
    if orientation >= 5 and kind != "TIFF":
        width, height = height, width
    if not profile and exif.get_ifd(_INTEROP_IFD).get(1) == "R03":
        profile = dcf_optional()
    begin = _first_bytes(file, _BOXES)
    said = code_points_in(begin) if kind in _SAY_CODE_POINTS else None
    # Of high range no profile says all; a PNG's code points count more than its profile, elsewhere the profile does.
    most = said is not None and (said.is_high_range or (kind == "PNG" and said.says_something))
    counts = said is not None and (most or not profile)
    remark = remark_about_colour(said, profile)
    if remark is None and kind in _MAY_HAVE_GAINS and has_gain_map(begin):
        remark = "gain map"
    return Header(
        *(kind, width, height, orientation, mode, bits),
        **_said(dict(exif) | dict(exif.get_ifd(_EXIF_IFD)), notes),
        profile=profile if needs_conversion(profile) and not counts else None,
        code_points=said if said is not None and counts and not said.means_srgb else None,
        progressive=progressive,
        segment_bytes=_tiff(file).segment_bytes if kind == "TIFF" and bits > 8 else 0,
        remark=remark,
    )


def _deep_tiff_header(file: BinaryIO, name: str) -> Header:
    """Read the header of a TIFF that the general reader of pictures does not know, such as one of 32-bit floats."""
    says = _tiff(file)
    _check_size(says.width, says.height, name)
    orientation = says.orientation if says.orientation in range(1, 9) else 1
    width, height = (says.height, says.width) if orientation >= 5 else (says.width, says.height)
    profile = says.profile if needs_conversion(says.profile) else None
    return Header(
        *("TIFF", width, height, orientation, "RGB", says.bits),
        **_said(says.tags),
        profile=profile,
        segment_bytes=says.segment_bytes,
        remark=remark_about_colour(None, says.profile),
    )


def _tiff(file: BinaryIO) -> TiffSays:
    file.seek(0)
    return tiff_says(file)


def _raw_header(file: BinaryIO, name: str) -> Header:
    data = file.read()
    exif = Image.Exif()
    if data[:2] in (b"II", b"MM"):
        exif.load(b"Exif\0\0" + data)
    with rawpy.imread(io.BytesIO(data)) as raw:
        white = white_of(raw, exif)
        remark: Remark | None = None if has_matrix(raw) else "no matrix"
        width, height, other = raw.sizes.width, raw.sizes.height, raw.other
        if raw.sizes.flip in _TURNED_RAW:
            width, height = height, width
    _check_size(width, height, name)
    notes = _notes(exif.get(_XMP))
    said = _said(dict(exif) | dict(exif.get_ifd(_EXIF_IFD)), notes)
    if said["captured"] is None and other.timestamp.year > 1980:
        said["captured"] = _sensible(other.timestamp)
    said["exposure_s"] = said["exposure_s"] or _number(other.shutter_speed)
    said["aperture"] = said["aperture"] or _number(other.aperture)
    said["sensitivity"] = said["sensitivity"] or _whole(other.iso_speed)
    return Header(*("RAW", width, height, 1, "RGB", 16), **said, white=white, remark=remark, has_edits=notes.has_more)


def _notes(packet: object) -> XmpNotes:
    """Return what an embedded packet says; one that cannot be read costs no picture."""
    try:
        return read_xmp(packet, "XMP") if isinstance(packet, bytes | str) else _NO_NOTES
    except UnreadableStill:
        return _NO_NOTES


def _check_size(width: int, height: int, name: str) -> None:
    if width * height > MOST_PIXELS:
        raise UnreadableStill(
            "too_many_pixels",
            f"“{name}” says it has {width} × {height} pixels; up to {MOST_PIXELS // 1_000_000} million are read. "
            "Make it smaller, or leave it out.",
        )
    if min(width, height) < SMALLEST_SIDE or max(width, height) > max(
        LARGEST_SHAPE * min(width, height), SMALLEST_SIDE
    ):
        raise UnreadableStill(
            "not_the_shape_of_a_still",
            f"“{name}” has {width} × {height} pixels; a still has at least {SMALLEST_SIDE} on each side and is at most "
            f"{LARGEST_SHAPE} times as long as wide. Leave it out.",
        )


def _bits(image: Image.Image, kind: Kind, file: BinaryIO) -> int:
    if kind == "TIFF":
        samples = getattr(image, "tag_v2", {}).get(258, (8,))
        return int(max(samples) if isinstance(samples, tuple) else samples)
    if kind == "PNG":
        return _png_bits(file)
    if kind == "AVIF":
        return _avif_bits(file)
    return int(image.info.get("bit_depth", 8)) if kind == "HEIF" else 8


def _png_bits(file: BinaryIO) -> int:
    """Return the bit depth of IHDR (ISO/IEC 15948, 11.2.2); Pillow reads colours of 16 bits as 8."""
    return 16 if _first_bytes(file, 25)[24:25] == b"\x10" else 8


def _avif_bits(file: BinaryIO) -> int:
    """Return the bit depth of the AV1 configuration box (AV1-ISOBMFF, 2.3.3)."""
    begin = _first_bytes(file, _AVIF_HEAD)
    at = begin.find(b"av1C")
    flags = begin[at + 6] if 0 <= at < len(begin) - 6 else 0
    return 8 if not flags & 0x40 else 12 if flags & 0x20 else 10


def _first_bytes(file: BinaryIO, count: int) -> bytes:
    at = file.tell()
    file.seek(0)
    begin = file.read(count)
    file.seek(at)
    return begin


def _said(exif: Mapping[int, Any], notes: XmpNotes = _NO_NOTES) -> dict[str, Any]:
    """Read Exif 2.32 tags, those of the picture and of its Exif directory together, else as XMP has them."""
    detail = {**notes.exif, **exif}
    make, model, serial = (_text(detail.get(tag)) for tag in (_MAKE, _MODEL, _SERIAL))
    maker = "" if model.casefold().startswith(make.casefold()) else make
    sensitivity = detail.get(_SENSITIVITY)
    if isinstance(sensitivity, tuple) and sensitivity:
        sensitivity = sensitivity[0]
    return {
        "captured": _capture_time(detail),
        "camera": " ".join(part for part in (maker, model, f"no. {serial}" if serial else "") if part),
        "lens": _text(detail.get(_LENS)),
        "software": _text(detail.get(_SOFTWARE)),
        "exposure_s": _number(detail.get(_EXPOSURE)),
        "aperture": _number(detail.get(_APERTURE)),
        "sensitivity": _whole(sensitivity),
        "focal_length_mm": _number(detail.get(_FOCAL_LENGTH)),
        "rating": notes.rating,
        "label": notes.label,
        "caption": notes.caption,
    }


def _text(value: object) -> str:
    if isinstance(value, bytes):
        value = value.decode("utf-8", "replace")
    said = str(value or "").split("\0")[0]
    return one_line(said)[:120]


def _number(value: Any) -> float | None:
    """Return a positive finite number, or ``None`` for anything else a file may hold there."""
    try:
        number = float(value)
    except (TypeError, ValueError, ZeroDivisionError, OverflowError):
        return None
    return number if 0 < number < float("inf") else None


def _whole(value: Any) -> int | None:
    number = _number(value)
    return None if number is None or not 0.5 <= number <= 2**31 else round(number)


def _sensible(captured: datetime) -> datetime | None:
    """Return a time some camera may have taken a still at; others, and their offsets, lead out of the calendar."""
    return captured if _FIRST_YEAR <= captured.year <= _LAST_YEAR else None


def _capture_time(detail: Mapping[int, Any]) -> datetime | None:
    text = str(detail.get(_DATE_TIME, "")).strip("\0 ")
    try:
        captured = datetime.strptime(text, "%Y:%m:%d %H:%M:%S")
        digits = str(detail.get(_SUB_SECONDS, "")).strip("\0 ")
        if digits.isdecimal():
            captured += timedelta(microseconds=round(float(f"0.{digits}") * 1e6))
        offset = str(detail.get(_OFFSET, "")).strip("\0 ")
        if len(offset) == 6 and offset[0] in "+-":
            minutes = int(offset[1:3]) * 60 + int(offset[4:6])
            captured = captured.replace(tzinfo=timezone(timedelta(minutes=-minutes if offset[0] == "-" else minutes)))
    except (ValueError, OverflowError):
        return None
    return _sensible(captured)
