"""What is decided about a shot's light."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field, StringConstraints, model_validator

from yarnkite.core.base.frozen import Frozen, Share, rounded
from yarnkite.core.light.areas import MOST_AREAS, Area, check_strokes
from yarnkite.core.light.grade import RANGES, Grade
from yarnkite.core.light.settings import Adjustable, Keyframe, Number, Range, Setting, check_ranges

__all__ = ["RANGES", "AppliedTable", "Even", "Keyframe", "Light", "Number", "Region", "Setting"]

MOST_OVER_TIME = 4
Digest = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{32}$")]
Thousandths = Annotated[float, Field(ge=-3, le=3, allow_inf_nan=False), rounded(2)]


class Region(Adjustable):
    """A rectangle of the still, in shares of it."""

    left: Share
    top: Share
    right: Share
    bottom: Share

    @model_validator(mode="after")
    def _is_not_empty(self) -> "Region":
        if self.right - self.left < 0.02 or self.bottom - self.top < 0.02:
            raise ValueError("the region by which light is judged is too small. Draw a larger one.")
        return self


LaidCourse = Literal["followed", "even", "as seen"]
Course = Literal[LaidCourse, "drawn"]


class Even(Adjustable):
    """How light is made even.

    ``flicker`` brings each still's light onto a smooth course; ``smooth`` is how many stills the course takes for its
    ups and downs, 0 as measured. ``steps`` takes changes of the camera's exposure out; what they did is followed
    smoothly, laid over the shot evenly, or left out as the eye had it; ``switched`` does so with lamps that are
    switched. ``drawn`` says in stops how bright each still shall be, where the course is drawn. ``colour`` does the
    same for red and blue against green, ``bands`` takes out what varies over the picture's height and width from still
    to still. Judged by ``region`` of the still, if it is given.
    """

    flicker: bool = False
    steps: bool = False
    switched: bool = False
    smooth: Annotated[int, Field(ge=0, le=3000)] = 0
    course: Course = "followed"
    drawn: Setting = Setting()
    colour: bool = False
    bands: bool = False
    region: Region | None = None

    @model_validator(mode="after")
    def _within_ranges(self) -> "Even":
        check_ranges(self.settings, {"drawn": (-20, 5)})
        return self

    @property
    def is_drawn(self) -> bool:
        """Whether each still's light goes where a drawn course says."""
        return self.course == "drawn" and bool(self.drawn.keyframes)

    @property
    def is_wished(self) -> bool:
        """Whether anything is made even."""
        return self.flicker or self.steps or self.switched or self.colour or self.bands or self.is_drawn


class AppliedTable(Adjustable):
    """A table of colours that is applied last, by its digest, and how far: 1 wholly."""

    digest: Digest
    name: Annotated[str, StringConstraints(max_length=120)]
    strength: Setting = Setting(value=1.0)

    @model_validator(mode="after")
    def _within_ranges(self) -> "AppliedTable":
        check_ranges(self.settings, {"strength": (0, 1)})
        return self


class LensChoice(Frozen):
    """A lens that was chosen where the stills do not name theirs, by its name in the database, and how it was set."""

    name: Annotated[str, Field(min_length=1, max_length=160)]
    focal_mm: Annotated[float, Field(ge=1, le=3000, allow_inf_nan=False)]


class Light(Grade):
    """What is decided about light: a grade for the whole picture, for areas of it, and what only the whole can have.

    ``vignette`` brightens the corners, in stops. ``noise`` and ``colour_noise`` are how much of each goes, 1 the most;
    ``over_time`` how many stills before and after are averaged with each, where nothing moves. ``lens_profile`` takes
    out what the lens is known to do, ``lens`` which one it is if it is not the one the stills name; ``fringe_red`` and
    ``fringe_blue`` enlarge these colours, in thousandths at the corners. ``one_balance`` shows raw stills that the
    camera balanced for different lights as if for one: the middle of those they say.
    """

    ranges: ClassVar[dict[str, Range]] = RANGES | {"vignette": (-2, 2), "noise": (0, 1), "colour_noise": (0, 1)}

    even: Even = Even()
    vignette: Setting = Setting()
    noise: Setting = Setting()
    colour_noise: Setting = Setting()
    over_time: Annotated[int, Field(ge=0, le=MOST_OVER_TIME)] = 0
    lens_profile: bool = False
    lens: LensChoice | None = None
    one_balance: bool = False
    fringe_red: Thousandths = 0.0
    fringe_blue: Thousandths = 0.0
    areas: Annotated[tuple[Area, ...], Field(max_length=MOST_AREAS)] = ()
    table: AppliedTable | None = None

    @model_validator(mode="after")
    def _not_painted_too_much(self) -> "Light":
        check_strokes(self.areas)
        return self

    @property
    def of_the_whole(self) -> dict[str, Setting]:
        """The settings that do not belong to an area, to evening or to a table."""
        inner = ("even.", "areas.", "table.")
        return {path: one for path, one in self.settings.items() if not path.startswith(inner)}

    @property
    def changes_nothing(self) -> bool:
        """Whether nothing but evening is done to light."""
        grade = self.monochrome or any(not one.is_neutral for one in self.of_the_whole.values())
        lens = self.over_time or self.lens_profile or self.fringe_red or self.fringe_blue
        areas = any(not area.changes_nothing for area in self.areas)
        return not (grade or self.one_balance or lens or self.table or areas)

    @property
    def is_neutral(self) -> bool:
        """Whether light is left as it is."""
        return not self.even.is_wished and self.changes_nothing
