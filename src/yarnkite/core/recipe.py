"""The recipe: every decision that determines the clip's pixels, as frozen data."""

import hashlib
from collections import Counter
from fractions import Fraction
from functools import cached_property
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from yarnkite.core.rate import Rate, parse_rate

SMALLEST_SIDE = 16
LARGEST_SIDE = 8192


class Frozen(BaseModel):
    """Immutable data with no unknown fields."""

    model_config = ConfigDict(frozen=True, extra="forbid")


def _even(side: int) -> int:
    if side % 2:
        raise ValueError(f"{side} is odd; a video's sides are even. {side - 1} and {side + 1} both work.")
    return side


Side = Annotated[int, Field(ge=SMALLEST_SIDE, le=LARGEST_SIDE), AfterValidator(_even)]
Share = Annotated[float, Field(ge=0, le=1, allow_inf_nan=False), AfterValidator(lambda share: round(share, 4))]


class Size(Frozen):
    """A picture's width and height in pixels."""

    width: Side
    height: Side

    def __str__(self) -> str:
        return f"{self.width} × {self.height}"


OrderBy = Literal["recommended", "counter", "time", "file time", "text", "hand"]
StillIds = tuple[Annotated[int, Field(ge=1)], ...]


class Order(Frozen):
    """By what the stills are ordered; ``recommended`` is whatever fits the stills best.

    ``group`` is the group of digits in the names that counts, from 0, if a person picked it; ``hand`` is the order
    made by hand, as ids.
    """

    by: OrderBy = "recommended"
    group: Annotated[int, Field(ge=0, le=40)] | None = None
    hand: Annotated[StillIds, Field(max_length=100_000)] = ()


How = Literal["blend", "motion"]


class Fill(Frozen):
    """Missing stills put in after a still, by id."""

    after: Annotated[int, Field(ge=1)]
    count: Annotated[int, Field(ge=1, le=100)]


class Note(Frozen):
    """A person's note about a still, by id."""

    still: Annotated[int, Field(ge=1)]
    text: Annotated[str, Field(max_length=500)]


def _sorted_ids(ids: tuple[int, ...]) -> tuple[int, ...]:
    return tuple(sorted(set(ids)))


ChosenIds = Annotated[StillIds, Field(max_length=100_000), AfterValidator(_sorted_ids)]


class Check(Frozen):
    """What checking decided about stills, by id; all files stay as they are.

    ``aside`` are left out; ``bridged`` are shown as what lies between the sound stills beside them, in the way ``how``
    says; for ``held`` ones the still before is shown again; ``filled`` puts missing ones in. ``begin`` and ``end`` are
    the first and last still of the stretch that is used. ``kept`` are findings that are not to be mentioned again.
    """

    aside: ChosenIds = ()
    bridged: ChosenIds = ()
    held: ChosenIds = ()
    filled: Annotated[tuple[Fill, ...], Field(max_length=1000)] = ()
    how: How = "blend"
    begin: Annotated[int, Field(ge=1)] | None = None
    end: Annotated[int, Field(ge=1)] | None = None
    kept: Annotated[tuple[Annotated[str, Field(max_length=100)], ...], Field(max_length=10_000)] = ()
    notes: Annotated[tuple[Note, ...], Field(max_length=10_000)] = ()

    def changed(self, **changes: object) -> "Check":
        """Return what is decided once some of it is changed, checked and in order like any other."""
        return Check.model_validate(self.model_dump() | changes)


def _rounded(places: int) -> AfterValidator:
    return AfterValidator(lambda value: round(value, places))


Colour = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$")]


class Surround(Frozen):
    """What fills the rest when a still does not cover: a colour (sRGB), or the same still enlarged and blurred."""

    kind: Literal["colour", "blurred"] = "colour"
    colour: Colour = "#000000"


Coefficient = Annotated[float, Field(ge=-0.5, le=0.5, allow_inf_nan=False), _rounded(4)]
Lean = Annotated[float, Field(ge=-0.4, le=0.4, allow_inf_nan=False), _rounded(4)]


class Lens(Frozen):
    """Straightens what the lens bent and what leaning the camera made converge.

    ``bend`` and ``bend_more`` are the radial coefficients k1 and k2 (Brown 1966), radii in half diagonals;
    ``down`` and ``across`` are by how much lines converge towards the top or bottom, the left or right.
    """

    bend: Coefficient = 0.0
    bend_more: Coefficient = 0.0
    down: Lean = 0.0
    across: Lean = 0.0


class Fit(Frozen):
    """How a still's shape becomes the video's.

    ``across`` and ``down`` say which part is kept (0 left/top … 1); ``zoom`` how much closer than ``how`` asks for;
    ``level`` turns the picture clockwise, in degrees, after ``quarters`` clockwise quarter turns and ``mirror``, which
    swaps left and right. ``linear`` averages light instead of code values, which keeps small bright points bright.
    """

    size: Size = Size(width=1920, height=1080)
    how: Literal["cover", "contain", "stretch"] = "cover"
    across: Share = 0.5
    down: Share = 0.5
    zoom: Annotated[float, Field(ge=0.1, le=20, allow_inf_nan=False), _rounded(4)] = 1.0
    level: Annotated[float, Field(ge=-45, le=45, allow_inf_nan=False), _rounded(2)] = 0.0
    quarters: Annotated[int, Field(ge=0, le=3)] = 0
    mirror: bool = False
    surround: Surround = Surround()
    lens: Lens = Lens()
    sharpen: Literal["none", "screen", "strong"] = "none"
    linear: bool = False


class Thin(Frozen):
    """Which of the stills are used: all, every k-th, so many used and so many left in turn, or ``count`` evenly."""

    way: Literal["all", "every", "leave", "even"] = "all"
    every: Annotated[int, Field(ge=2, le=1000)] = 2
    use: Annotated[int, Field(ge=1, le=1000)] = 1
    leave: Annotated[int, Field(ge=1, le=1000)] = 1
    count: Annotated[int, Field(ge=1, le=100_000)] = 100


class Longer(Frozen):
    """A still that stays longer: by id in a shot's decisions, by its place (from 0) in a recipe."""

    still: Annotated[int, Field(ge=0)]
    frames: Annotated[int, Field(ge=1, le=100_000)]


class Knot(Frozen):
    """A point of the speed curve: how many times as fast, at a share of the way through the shot."""

    at: Share
    speed: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False), _rounded(3)]


def _in_order(knots: tuple[Knot, ...]) -> tuple[Knot, ...]:
    return tuple(sorted({knot.at: knot for knot in knots}.values(), key=lambda knot: knot.at))


class Pace(Frozen):
    """Which still each frame shows, and for how long.

    ``rate`` is how many frames are shown a second; each is written ``repeat`` times, so that a low rate becomes a
    standard one. ``hold`` is how many frames a still stays, ``last`` and ``longer`` are for single ones. ``blend``
    says what is shown between stills, ``shutter`` (degrees) over how much of a frame's time stills are averaged.
    ``curve`` is the speed over the shot, ``by_clock`` spends on each still what the clock spent.
    """

    rate: Rate = parse_rate("25")
    repeat: Annotated[int, Field(ge=1, le=10)] = 1
    hold: Annotated[int, Field(ge=1, le=1000)] = 1
    last: Annotated[int, Field(ge=1, le=100_000)] | None = None
    longer: Annotated[tuple[Longer, ...], Field(max_length=1000)] = ()
    thin: Thin = Thin()
    turn: Literal["on", "back", "there and back"] = "on"
    blend: Literal["none", "neighbours", "shutter", "motion"] = "none"
    shutter: Annotated[int, Field(ge=10, le=360)] = 180
    curve: Annotated[tuple[Knot, ...], Field(max_length=40), AfterValidator(_in_order)] = ()
    by_clock: bool = False

    @property
    def written_rate(self) -> Fraction:
        """Frames per second of the file."""
        return self.rate * self.repeat


class Encode(Frozen):
    """How frames become a file: constant rate factor of H.264, smaller is better and larger on disk."""

    crf: Annotated[int, Field(ge=10, le=35)] = 18
    preset: Literal["ultrafast", "fast", "medium", "slow"] = "medium"


class Decisions(Frozen):
    """All that a person decided for a shot; one revision holds one of these."""

    order: Order = Order()
    check: Check = Check()
    fit: Fit = Fit()
    pace: Pace = Pace()
    encode: Encode = Encode()

    def for_recipe(self) -> "Decisions":
        """Return the decisions that determine a clip once its stills are chosen and in order."""
        pace = self.pace.model_copy(update={"longer": ()})
        return self.model_copy(update={"order": Order(), "check": Check(), "pace": pace})


class Still(Frozen):
    """One source picture: where it lies, what its bytes are, and its upright size in pixels.

    ``bytes`` and ``modified_ns`` (nanoseconds since 1970) tell its file from another under the same name.
    """

    path: str
    fingerprint: str
    width: Annotated[int, Field(ge=1)]
    height: Annotated[int, Field(ge=1)]
    bytes: int | None = None
    modified_ns: int | None = None


class Bridge(Frozen):
    """A picture between two stills, ``share`` of the way from the first; it has the first one's size."""

    before: Still
    after: Still
    share: Annotated[Fraction, Field(gt=0, lt=1)]
    how: How = "blend"

    @property
    def width(self) -> int:
        return self.before.width

    @property
    def height(self) -> int:
        return self.before.height

    @property
    def fingerprint(self) -> str:
        return digest("bridge of light", self.before.fingerprint, self.after.fingerprint, self.share, self.how)


Picture = Still | Bridge


class Recipe(Frozen):
    """The pictures of the clip in order, and the decisions about them; what chose and ordered them is done by then.

    ``times`` says when each picture was taken, in milliseconds after the first; it is empty unless the pace asks.
    """

    stills: tuple[Picture, ...]
    decisions: Decisions = Decisions()
    times: tuple[int, ...] = ()

    @cached_property
    def usual(self) -> tuple[int, int]:
        """The width and height that most of the pictures have."""
        shapes = Counter((still.width, still.height) for still in self.stills)
        return max(shapes, key=lambda shape: shapes[shape])

    def digest(self) -> str:
        """Return 32 hex digits that depend on everything that determines the clip, but not on where files lie."""
        return digest(*(still.fingerprint for still in self.stills), *self.times, self.decisions.model_dump_json())


def stills_in(recipe: Recipe) -> list[Still]:
    """Return every still a recipe needs, once, those on either side of a bridge included."""
    found: dict[str, Still] = {}
    for picture in recipe.stills:
        for still in (picture,) if isinstance(picture, Still) else (picture.before, picture.after):
            found.setdefault(still.path, still)
    return list(found.values())


def digest(*parts: object) -> str:
    """Return 32 hex digits (BLAKE2b, 128 bit) of the parts in order, each set apart from the next."""
    state = hashlib.blake2b(digest_size=16)
    for part in parts:
        text = str(part).encode()
        state.update(f"{len(text)}:".encode() + text)
    return state.hexdigest()
