"""What is decided about a reel: its running order, its titles, its sound, and the form of the whole."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from yarnkite.core.base.frozen import Fine, Frozen, Size
from yarnkite.core.base.rate import Rate, parse_rate
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.image.lettering import Face
from yarnkite.core.sound.decisions import Sound

MOST_PARTS, MOST_TITLES, MOST_LETTERS = 200, 200, 600
LONGEST_FRAMES = 24 * 3600 * 60

Number = Annotated[int, Field(ge=1)]
Frames = Annotated[int, Field(ge=0, le=LONGEST_FRAMES)]
SomeFrames = Annotated[int, Field(ge=1, le=LONGEST_FRAMES)]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]
Anchor = Literal[
    "top left", "top", "top right", "left", "middle", "right", "bottom left", "bottom", "bottom right"
]  # fmt: skip
ANCHORS: dict[Anchor, tuple[float, float]] = {
    "top left": (0, 0),
    "top": (0.5, 0),
    "top right": (1, 0),
    "left": (0, 0.5),
    "middle": (0.5, 0.5),
    "right": (1, 0.5),
    "bottom left": (0, 1),
    "bottom": (0.5, 1),
    "bottom right": (1, 1),
}
Arrangement = Literal["one", "halves", "thirds", "corner", "stacked", "quarters", "free"]
# How many pictures an arrangement takes.
PLACES: dict[Arrangement, int] = {
    "one": 1,
    "halves": 2,
    "thirds": 3,
    "corner": 2,
    "stacked": 2,
    "quarters": 4,
    "free": 4,
}


class Area(Frozen):
    """A rectangle in a frame, in shares of its width and height."""

    left: Fine
    top: Fine
    width: Annotated[float, Field(ge=0.05, le=1, allow_inf_nan=False), AfterValidator(lambda share: round(share, 6))]
    height: Annotated[float, Field(ge=0.05, le=1, allow_inf_nan=False), AfterValidator(lambda share: round(share, 6))]


class Picture(Frozen):
    """A shot in a part of a reel.

    ``version`` is the version of the shot by id, or the one that is open. ``begin`` and ``end`` are the ids of the
    first and last still of the stretch that is shown, or all there are. ``wait`` is after how many frames of the part
    it begins, ``after`` what is shown when it is over before the part is. ``area`` is where it lies, for a free
    arrangement.
    """

    shot: Number
    version: Number | None = None
    begin: Number | None = None
    end: Number | None = None
    wait: Frames = 0
    after: Literal["hold", "loop", "nothing"] = "hold"
    area: Area | None = None


class Join(Frozen):
    """How a part goes over into the next: at once, by a dissolve, or by way of a colour; ``frames`` is how long it
    takes."""

    kind: Literal["cut", "dissolve", "dip"] = "cut"
    frames: SomeFrames = 25
    colour: Colour = "#000000"


class Part(Frozen):
    """A part of the running order: one picture, or several beside each other; ``colour`` is what lies between them.

    ``frames`` is how long it lasts at most; without it, as long as its longest picture. ``join`` is how it goes over
    into the next part.
    """

    id: Number
    pictures: Annotated[tuple[Picture, ...], Field(min_length=1, max_length=4)]
    arrangement: Arrangement = "one"
    frames: SomeFrames | None = None
    colour: Colour = "#000000"
    join: Join = Join()

    @model_validator(mode="after")
    def _has_room(self) -> "Part":
        if len(self.pictures) > PLACES[self.arrangement]:
            raise ValueError(f"{len(self.pictures)} pictures do not fit into “{self.arrangement}”")
        return self


class Title(Frozen):
    """Text, live text or a picture over the reel; times are frames.

    It hangs on a part, and goes with it, or on the whole reel if ``part`` is ``None``: ``first`` counts from where that
    begins, ``frames`` is how long it is seen, ``None`` to its end. ``size`` is that of the type, or of the picture, as
    a share of the frame's height. ``place`` is one of nine places inside title-safe, or ``None`` for ``x`` and ``y``,
    the middle of it in shares of the frame.
    """

    id: Number
    part: Number | None = None
    kind: Literal["text", "clock", "date", "days", "compression", "picture"] = "text"
    text: Annotated[str, Field(max_length=MOST_LETTERS)] = ""
    picture: Number | None = None
    face: Face = "plain"
    size: Annotated[float, Field(ge=0.01, le=1, allow_inf_nan=False), AfterValidator(lambda share: round(share, 4))] = (
        0.07
    )
    colour: Colour = "#ffffff"
    shade: Literal["none", "soft", "plate"] = "soft"
    place: Anchor | None = "bottom"
    x: Fine = 0.5
    y: Fine = 0.5
    first: Frames = 0
    frames: SomeFrames | None = None
    fade_in: Frames = 0
    fade_out: Frames = 0


class Fades(Frozen):
    """Fades of the whole at its start and end, in frames, picture and sound each for itself; the picture's go to a
    colour."""

    picture_in: Frames = 0
    picture_out: Frames = 0
    sound_in: Frames = 0
    sound_out: Frames = 0
    colour: Colour = "#000000"


class Reel(Frozen):
    """All that is decided about a reel.

    ``timing`` says what happens to a shot of another rate: it keeps its length, or each of its frames is one of the
    reel.
    """

    parts: Annotated[tuple[Part, ...], Field(max_length=MOST_PARTS)] = ()
    size: Size = Size(width=1920, height=1080)
    rate: Rate = parse_rate(25)
    timing: Literal["length", "frames"] = "length"
    titles: Annotated[tuple[Title, ...], Field(max_length=MOST_TITLES)] = ()
    sound: Sound = Sound()
    fades: Fades = Fades()
    encode: Encode = Encode()
    chapters: bool = True

    @model_validator(mode="after")
    def _numbered(self) -> "Reel":
        for things in (self.parts, self.titles, self.sound.tracks):
            numbers = [one.id for one in things]
            if len(set(numbers)) != len(numbers):
                raise ValueError("two parts, titles or tracks have one number")
        return self
