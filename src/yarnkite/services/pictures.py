"""Pictures for the stage: the same code as the encoder's, at the size of the screen."""

import threading
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from fractions import Fraction

import numpy as np
import simplejpeg

from yarnkite.core.base.cache import Cache
from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.frozen import LARGEST_SIDE, SMALLEST_SIDE, Size, even_side
from yarnkite.core.base.still import Still
from yarnkite.core.base.timecode import timecode
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.decode import read_still
from yarnkite.core.image.dust import DustSpot, without_dust
from yarnkite.core.image.pixels import ImageArray, Pixels, as_eight
from yarnkite.core.image.scene import developed, scene_of
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, UNADJUSTED, SharedLight
from yarnkite.core.render.composite import Spec
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.frame_spec import FrameSpec, mark
from yarnkite.core.render.picture import fitted, picture
from yarnkite.core.render.recipe import Correction, Picture
from yarnkite.resolve.light import adjustments_of_shot
from yarnkite.resolve.move import steadying_of_shot
from yarnkite.resolve.shot import ResolvedShot
from yarnkite.services.decisions import Change, resolved_with
from yarnkite.services.running import Services
from yarnkite.store import shots, snapshots, stills

WIDEST = 3840
QUALITY = 90
PICTURES_MOST_BYTES = 120_000_000
COPIES_MOST_BYTES = 60_000_000
# What two originals of 45 megapixels take; a larger one is not kept.
ORIGINALS_MOST_BYTES = 300_000_000
# Originals are read in the server a few at a time, by the bytes they take, whatever number of pictures is asked for.
READING_MOST_BYTES = 1_200_000_000


class Room:
    """Lets work go on as long as there is room for the bytes it takes; what is too large for all of it goes on
    alone."""

    def __init__(self, bytes_in_all: int) -> None:
        self._all = self._free = bytes_in_all
        self._changed = threading.Condition()

    def take(self, wanted: int) -> int:
        """Wait for room; returns how much to give back."""
        wanted = min(wanted, self._all)
        with self._changed:
            self._changed.wait_for(lambda: self._free >= wanted)
            self._free -= wanted
        return wanted

    def give_back(self, taken: int) -> None:
        with self._changed:
            self._free += taken
            self._changed.notify_all()


_reading = Room(READING_MOST_BYTES)
_pictures: Cache[bytes] = Cache(PICTURES_MOST_BYTES, len, threading.Lock())
# The still that is looked at is read once, however often its light or its fit is pulled.
_copies: Cache[Pixels] = Cache(COPIES_MOST_BYTES, lambda pixels: pixels.array.nbytes, threading.Lock())
_originals: Cache[Pixels] = Cache(ORIGINALS_MOST_BYTES, lambda pixels: pixels.array.nbytes, threading.Lock())


def read_from(proxies: Proxies, *, quickly: bool = False) -> Callable[[Still, Fraction], Pixels]:
    """Return what reads stills for pictures: from reduced copies where they do, else from originals as there is
    room."""

    def read(still: Still, reduction: Fraction) -> Pixels:
        reduction = proxies.quick_reduction(still, reduction) if quickly else reduction
        key = (still.fingerprint, reduction, proxies)
        if (copy := _copies.peek(key) or proxies.read_copy(still, reduction)) is not None:
            copy = scene_of(copy)
            _copies.put(key, copy)
            return copy
        taken = _reading.take(
            round(_bytes_a_pixel(still) * still.width * still.height / max(Fraction(1), reduction) ** 2)
        )
        try:
            pixels = scene_of(read_still(still, reduction))
        finally:
            _reading.give_back(taken)
        if quickly:
            _copies.put(key, pixels)
        return pixels

    return read


def _bytes_a_pixel(still: Still) -> int:
    """Return what a pixel takes while it is read and drawn: twice its samples, of 8 bits in a JPEG, perhaps 16 in
    others."""
    return 6 if still.path.lower().endswith((".jpg", ".jpeg")) else 12


def read_original(still: Still, reduction: Fraction, dust: tuple[DustSpot, ...] = ()) -> Pixels:
    """Read a still in full, without spots of dust, or return it as it was read last: a person pans over one, and steps
    to and fro."""

    def read() -> Pixels:
        taken = _reading.take(_bytes_a_pixel(still) * still.width * still.height)
        try:
            seen = scene_of(read_still(still, Fraction(1)))
            return developed(without_dust(seen, dust, (still.width, still.height)))
        finally:
            _reading.give_back(taken)

    return _originals.get((still, dust), read)


def jpeg(still: Picture, fit: Fit, size: Size, proxies: Proxies, light: SharedLight = NO_SHARED_LIGHT) -> bytes:
    """Return a still, fitted, on a grid of ``size``, as JPEG."""
    key: Hashable = (still, fit, size, proxies, light)
    return _pictures.get(key, lambda: encoded(fitted(still, fit, size, read=read_from(proxies), light=light)))


def frame_jpeg(spec: Spec, size: Size, proxies: Proxies, *, quickly: bool) -> bytes:
    """Return the picture of a frame as JPEG; an edit that leaves the frame as it was finds it made already.

    ``quickly`` makes do with reduced stills, which shows the same a little softer where they are enlarged.
    """
    key: Hashable = (mark(spec), size, proxies, quickly)
    read = read_from(proxies, quickly=quickly)
    return _pictures.get(key, lambda: encoded(picture(spec, size, read=read)))


def encoded(image: ImageArray) -> bytes:
    """Return an image, RGB, as a JPEG for the stage."""
    return bytes(simplejpeg.encode_jpeg(np.ascontiguousarray(as_eight(image)), quality=QUALITY, colorsubsampling="444"))


def on_screen(size: Size, width: int) -> Size:
    """Return ``size`` reduced, in shape, to at most ``width`` pixels across."""
    width = max(SMALLEST_SIDE, min(width, size.width, WIDEST))
    return Size.as_wide(width, (size.width, size.height))


def as_shot(still: Still, width: int) -> Fit:
    """Return the fit that shows a still whole, at most ``width`` pixels across."""
    whole = Size(width=even_side(min(still.width, LARGEST_SIDE)), height=even_side(min(still.height, LARGEST_SIDE)))
    return Fit(
        size=on_screen(whole, width), how="contain" if max(still.width, still.height) > LARGEST_SIDE else "cover"
    )


@dataclass(frozen=True)
class FramePicture:
    """A frame as JPEG, with its timecode; a still that is not in the clip has none."""

    jpeg: bytes
    timecode: str | None


def frame(
    services: Services, shot_id: int, number: int, revision: int, change: Change, width: int, *, quickly: bool
) -> Callable[[], FramePicture]:
    """Return what makes a frame of the clip as a revision, with a change on top, shows it; raises ``NotFound``."""
    frames = ClipFrames(resolved_with(services, shot_id, revision, change).recipe)
    if not 0 <= number < len(frames):
        raise NotFound("no_such_frame", f"The clip has {len(frames)} frames; there is no frame {number}.")
    return _framed(services, frames, frames.spec(number), width, number, quickly=quickly)


def still_as_frame(
    services: Services, shot_id: int, position: int, revision: int, change: Change, width: int, *, quickly: bool
) -> Callable[[], FramePicture]:
    """Return what makes a picture of a still as the clip shows it, also of one that is set aside."""
    made = resolved_with(services, shot_id, revision, change)
    frames = ClipFrames(made.recipe)
    spec, number = spec_of_still(services, shot_id, frames, made, position)
    return _framed(services, frames, spec, width, number, quickly=quickly)


def spec_of_still(
    services: Services, shot_id: int, frames: ClipFrames, made: ResolvedShot, position: int
) -> tuple[FrameSpec, int | None]:
    """Return what a frame is that shows a still, and its number; a still that is not in the clip has none."""
    number, still = original(services, shot_id, position)
    slot = next((slot for slot, one in enumerate(made.slots) if one.still == number), None)
    if slot is not None:
        return frames.spec_of_slot(slot), frames.frame_of(slot)
    shot = shots.one(services.database, shot_id)
    light = adjustments_of_shot(services.database, shot, made.decisions).get(number, UNADJUSTED)
    wished = made.decisions.move.steady.is_wished
    maps = steadying_of_shot(services.database, shot, made.decisions).maps if wished else {}
    return frames.spec_of_other(still, Correction(light=light, laid=maps.get(number))), None


def _framed(
    services: Services, frames: ClipFrames, spec: FrameSpec, width: int, number: int | None, *, quickly: bool
) -> Callable[[], FramePicture]:
    size = on_screen(frames.size, width)
    code = None if number is None else timecode(number, frames.rate)
    proxies = services.workspace.proxies
    return lambda: FramePicture(frame_jpeg(spec, size, proxies, quickly=quickly), code)


def original(services: Services, shot_id: int, position: int) -> tuple[int, Still]:
    """Return the id of the still at a position (from 0), and the still as it was shot; raises ``NotFound``."""
    return snapshots.of_shot(services.database, shots.one(services.database, shot_id)).at(position)


def as_it_was_shot(services: Services, shot_id: int, position: int, width: int) -> bytes:
    """Return a still as it was shot, upright, as JPEG at most ``width`` pixels across; raises ``NotFound``."""
    _, still = original(services, shot_id, position)
    fit = as_shot(still, width)
    return jpeg(still, fit, fit.size, services.workspace.proxies)


def thumbnail(services: Services, shot_id: int, position: int) -> bytes:
    """Return a still as it was shot, upright, as JPEG about 320 pixels on its longer side; raises ``NotFound``.

    It is the copy that gathering made, as it lies on the disk; one that is gone is made of the still.
    """
    _, still = original(services, shot_id, position)
    try:
        return services.workspace.proxies.thumbnail(still.fingerprint).read_bytes()
    except OSError:
        return encoded(services.workspace.proxies.thumbnail_of(still))


def middle(services: Services, shot_id: int, width: int) -> bytes:
    """Return the still in the middle of the shot, to know the shot by."""
    return as_it_was_shot(services, shot_id, stills.count(services.database, shot_id) // 2, width)


def content_version(services: Services, shot_id: int) -> str:
    """Return a text that changes whenever a shot's stills, their files, names or order change."""
    return snapshots.state(services.database, shot_id)
