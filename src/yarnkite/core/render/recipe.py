"""The recipe: every decision that determines the clip's pixels, as frozen data."""

from fractions import Fraction
from functools import cached_property
from typing import Annotated

from pydantic import Field

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Fine, Frozen, digest
from yarnkite.core.base.geometry import count_shapes, usual_shape
from yarnkite.core.base.homography import Homography
from yarnkite.core.base.still import Still
from yarnkite.core.check.decisions import How
from yarnkite.core.light.adjustment import NO_SHARED_LIGHT, UNADJUSTED, Adjustment, SharedLight
from yarnkite.core.pace.schedule import TOO_LONG, Schedule, schedule
from yarnkite.core.render.decisions import Decisions


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


class Correction(Frozen):
    """What one still needs, alone, as was decided or an analysis of the whole shot found.

    ``light`` is what its light gets, ``laid`` the map that lays the upright still against the others. What the second
    still of a bridge gets is ``light_after``, if that is another light, and ``laid_after``.
    """

    light: Adjustment = UNADJUSTED
    light_after: Adjustment | None = None
    laid: Homography | None = None
    laid_after: Homography | None = None


NO_CORRECTION = Correction()


class Recipe(Frozen):
    """The pictures of the clip in order, and the decisions about them; what chose and ordered them is done by then.

    ``times`` says when each picture was taken, in milliseconds after the first; it is empty unless the pace asks.
    ``corrections`` has what each picture needs, as whole-shot analyses found; it is empty where none needs anything.
    ``light`` is what of their light all pictures share, ``region`` the part of the turned still (left, top, right,
    bottom, in shares) that all steadied ones cover.
    """

    stills: tuple[Picture, ...]
    decisions: Decisions = Decisions()
    times: tuple[int, ...] = ()
    corrections: tuple[Correction, ...] = ()
    light: SharedLight = NO_SHARED_LIGHT
    region: tuple[Fine, Fine, Fine, Fine] | None = None

    @cached_property
    def usual(self) -> tuple[int, int]:
        """The width and height that most of the pictures have."""
        return usual_shape(count_shapes(self.stills)) or (0, 0)

    def digest(self) -> str:
        """Return 32 hex digits that depend on everything that determines the clip, but not on where files lie."""
        corrections = (correction.model_dump_json() for correction in self.corrections)
        parts = (*self.times, self.decisions.model_dump_json(), self.light.model_dump_json(), *corrections, self.region)
        return digest(*(still.fingerprint for still in self.stills), *parts)


def stills_in(recipe: Recipe) -> list[Still]:
    """Return every still a recipe needs, once, those on either side of a bridge included."""
    found: dict[str, Still] = {}
    for picture in recipe.stills:
        for still in (picture,) if isinstance(picture, Still) else (picture.before, picture.after):
            found.setdefault(still.path, still)
    return list(found.values())


def schedule_of(recipe: Recipe) -> Schedule:
    """Return the schedule of a recipe; raises ``Refusal`` (``clip_too_long``) past 24 hours."""
    found = schedule(len(recipe.stills), recipe.decisions.pace, recipe.times)
    if found.is_too_long:
        raise Refusal("clip_too_long", TOO_LONG)
    return found
