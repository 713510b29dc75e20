"""What is decided about the sound of a reel: its tracks, where each lies, and how loud the whole is."""

from fractions import Fraction
from typing import Annotated

from pydantic import AfterValidator, Field

from yarnkite.core.base.frozen import Frozen, rounded

# Samples a second of everything inside; files are brought to it when they are taken in.
RATE = 48_000
_LONGEST = 24 * 3600 * RATE
MOST_TRACKS = 16
LONGEST_FADE = 60 * RATE

Samples = Annotated[int, Field(ge=0, le=_LONGEST)]
Fade = Annotated[int, Field(ge=0, le=LONGEST_FADE)]
Decibels = Annotated[float, Field(ge=-60, le=24, allow_inf_nan=False), AfterValidator(lambda value: round(value, 2))]


class Splice(Frozen):
    """A place where a track leaves its sound and goes on from another place of it, in samples of the sound."""

    leave: Samples
    enter: Samples


class Track(Frozen):
    """A sound under the picture; all times are samples at 48 kHz.

    ``start`` is where in the reel it begins, ``skip`` how much of its beginning is cut off, ``length`` how long it is
    heard at most. ``splices`` make it longer or shorter, in the order they are met; ``repeats`` begins it again at its
    end. ``duck_db`` is by how much it steps back while another sound that does not step back is heard.
    """

    id: Annotated[int, Field(ge=1)]
    sound: Annotated[int, Field(ge=1)]
    start: Samples = 0
    skip: Samples = 0
    length: Annotated[int, Field(ge=1, le=_LONGEST)] | None = None
    repeats: bool = False
    splices: Annotated[tuple[Splice, ...], Field(max_length=400)] = ()
    gain_db: Decibels = 0.0
    fade_in: Fade = 0
    fade_out: Fade = 0
    duck_db: Annotated[float, Field(ge=0, le=40, allow_inf_nan=False), rounded(1)] = 0.0
    muted: bool = False


class Sound(Frozen):
    """The tracks of a reel, and the loudness the whole is brought to, in LUFS (ITU-R BS.1770-4); ``None`` leaves it."""

    tracks: Annotated[tuple[Track, ...], Field(max_length=MOST_TRACKS)] = ()
    loudness: Annotated[float, Field(ge=-36, le=-8, allow_inf_nan=False), rounded(1)] | None = -16.0


def samples_of(frames: int, rate: Fraction) -> int:
    """Return how many samples lie under so many frames, to the nearest one."""
    return round(frames * RATE / rate)
