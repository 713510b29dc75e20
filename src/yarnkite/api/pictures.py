"""Pictures as responses, which a browser may keep for ever where their address names what they show."""

import struct
import zlib
from collections.abc import Callable

from fastapi import Query, Response

from yarnkite.core.gather.gathering import TAIL_WIDTH
from yarnkite.core.image.pixels import ImageArray
from yarnkite.core.image.png import png_chunk
from yarnkite.services import pictures
from yarnkite.services.running import Services

FOREVER = "private, max-age=31536000, immutable"
CACHE_FOREVER = {"Cache-Control": FOREVER}
ASK_AGAIN = {"Cache-Control": "no-cache"}

State = Query("", max_length=120, description="The state of the shot's stills the address was made from.")


def answer(services: Services, shot_id: int, state: str, picture: Callable[[], bytes | ImageArray]) -> Response:
    """Return a picture, which the browser may keep for ever if its address names the state it shows.

    Another order, a split or another gathering makes another state, and so another address.
    """
    return _answer(services, shot_id, state, lambda: (jpeg_of(picture()), None))


def answer_frame(
    services: Services, shot_id: int, state: str, picture: Callable[[], pictures.FramePicture]
) -> Response:
    """Return a frame as ``answer`` does, with its timecode in a header."""

    def made() -> tuple[bytes, str | None]:
        frame = picture()
        return frame.jpeg, frame.timecode

    return _answer(services, shot_id, state, made)


def jpeg_of(picture: bytes | ImageArray) -> bytes:
    return picture if isinstance(picture, bytes) else pictures.encoded(picture)


def _answer(services: Services, shot_id: int, state: str, picture: Callable[[], tuple[bytes, str | None]]) -> Response:
    before = pictures.content_version(services, shot_id) if state else ""
    data, timecode = picture()
    steady = bool(state) and before == state == pictures.content_version(services, shot_id)
    headers = {"Cache-Control": FOREVER if steady else "no-store"}
    if timecode is not None:
        headers["Yarnkite-Timecode"] = timecode
    return Response(data, media_type="image/jpeg", headers=headers)


def png_of_rows(rows: list[bytes]) -> bytes:
    """Write rows of 160 RGB pixels as a PNG (ISO/IEC 15948); plain zlib is much faster here than an image library."""
    header = struct.pack(">IIBBBBB", TAIL_WIDTH, len(rows), 8, 2, 0, 0, 0)
    data = zlib.compress(b"".join(b"\0" + row for row in rows), 1)
    return b"\x89PNG\r\n\x1a\n" + png_chunk(b"IHDR", header) + png_chunk(b"IDAT", data) + png_chunk(b"IEND", b"")
