"""Showing a finished clip: its file, its frames at full quality, a stand-in where a browser cannot play it."""

import html
import io
import mimetypes
from fractions import Fraction
from pathlib import Path

import av.error
from PIL import Image

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import parse_rate
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.frames_of import frame_of, write_stand_in
from yarnkite.services.encode import clip_file
from yarnkite.services.running import Services
from yarnkite.store.database import Row

_KINDS = {
    "mp4": "video/mp4",
    "mkv": "video/x-matroska",
    "webm": "video/webm",
    "mxf": "application/mxf",
    "zip": "application/zip",
    "gif": "image/gif",
    "webp": "image/webp",
    "avif": "image/avif",
}
_PICTURES = ("gif", "webp", "avif")
_POSTER_QUALITY = 90


def media_type(row: Row) -> str:
    """Return the media type of a clip's file."""
    container = format_of(row["encode"]).container_of(row["encode"])
    return _KINDS.get(container) or mimetypes.types_map[f".{container}"]


def plays_as(row: Row) -> str:
    """Return what a browser is asked whether it plays it: a media type with codecs, or nothing where none does."""
    format = format_of(row["encode"])
    container = format.container_of(row["encode"])
    if container in _PICTURES:
        return _KINDS[container]
    if not format.plays_as or container not in ("mp4", "webm"):
        return ""
    return f'{_KINDS[container]}; codecs="{format.plays_as}"'


def frame_png(services: Services, clip_id: int, number: int) -> bytes:
    """Return a frame of a clip as it is in the file, as a PNG; raises ``NotFound`` for one that is not in it."""
    return _written(_frame(services, clip_id, number), "PNG", compress_level=1)


def poster(services: Services, clip_id: int, number: int) -> bytes:
    """Return a frame as a JPEG that is shown before a video plays."""
    return _written(_frame(services, clip_id, number), "JPEG", quality=_POSTER_QUALITY)


def _written(image: Image.Image, kind: str, **options: int) -> bytes:
    memory = io.BytesIO()
    image.save(memory, kind, **options)
    return memory.getvalue()


def _frame(services: Services, clip_id: int, number: int) -> Image.Image:
    file = clip_file(services, clip_id)
    try:
        found = frame_of(file.path, number, _rate(file.row), file.row["encode"])
    except (av.error.FFmpegError, ValueError, OSError) as error:
        raise _damaged(file.name, error) from None
    return Image.fromarray(found)


def _rate(row: Row) -> Fraction:
    return parse_rate(row["rate"] or "25")


def _damaged(name: str, error: Exception) -> Refusal:
    return Refusal("clip_damaged", f"“{name}” cannot be read: {error}. Encode it again.")


def stand_in(services: Services, clip_id: int) -> Path:
    """Return a small H.264 of a clip, made by a worker where there is none yet."""
    file = clip_file(services, clip_id)
    target = services.workspace.shown(clip_id)
    if target.exists() and target.stat().st_mtime >= file.path.stat().st_mtime:
        return target
    row = file.row
    size = Size.model_construct(width=row["width"] or 1920, height=row["height"] or 1080)
    try:
        services.runner.submit(write_stand_in, file.path, target, size, _rate(row), row["encode"]).result()
    except (av.error.FFmpegError, ValueError) as error:
        raise _damaged(file.name, error) from None
    return target


def snippet(services: Services, clip_id: int) -> str:
    """Return what a web page needs to show a clip: its element, with the size, so that the page does not jump."""
    row = clip_file(services, clip_id).row
    name, width, height = html.escape(row["name"]), row["width"], row["height"]
    if format_of(row["encode"]).container_of(row["encode"]) in _PICTURES:
        return f'<img src="{name}" width="{width}" height="{height}" alt="">'
    stem = html.escape(row["name"].rpartition(".")[0])
    kind = plays_as(row).replace('"', "'") or media_type(row)
    return (
        f'<video controls playsinline preload="metadata" width="{width}" height="{height}" poster="{stem}.jpg">\n'
        f'  <source src="{name}" type="{kind}">\n</video>'
    )
