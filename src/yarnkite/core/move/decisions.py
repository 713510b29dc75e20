"""What is decided about how the view moves."""

from typing import Annotated, Literal

from pydantic import AfterValidator, BeforeValidator, Field

from yarnkite.core.base.frozen import Fine, Frozen, Share, rounded

MOST_VIEWS = 12
MOST_PLACES = 200
CLOSEST = 20.0
LONGEST = 3000

Edges = Literal["crop", "fill"]
Length = Annotated[int, Field(ge=0, le=LONGEST)]


class ViewAt(Frozen):
    """Where the view is at a time of the clip, ``at``, 0 its first frame and 1 its last.

    ``x`` and ``y`` are its middle in shares of the still as the fit turns it, ``closeness`` how many times closer it is
    than the fit, ``level_deg`` how far it is turned besides, with the clock.
    """

    at: Share
    x: Share = 0.5
    y: Share = 0.5
    closeness: Annotated[float, Field(ge=1, le=CLOSEST, allow_inf_nan=False), rounded(4)] = 1.0
    level_deg: Annotated[float, Field(ge=-15, le=15, allow_inf_nan=False), rounded(2)] = 0.0


class Place(Frozen):
    """A place in a still, in shares of it, upright."""

    x: Fine
    y: Fine


class PlaceAt(Place):
    """Where a person pointed in a still, by id."""

    still: Annotated[int, Field(ge=1)]


def _one_a_still(places: tuple[PlaceAt, ...]) -> tuple[PlaceAt, ...]:
    return tuple({one.still: one for one in places}.values())


class AnchoredPoint(Frozen):
    """A point of the scene, as a person pointed at it in one still or more; from each of these it is followed anew."""

    places: Annotated[tuple[PlaceAt, ...], Field(min_length=1, max_length=MOST_PLACES), AfterValidator(_one_a_still)]


def _how_of_earlier(how: object) -> object:
    """Return how stills are laid, which files of an earlier edition say in another word."""
    return "anchor" if how == "hold" else how


class Steady(Frozen):
    """How stills are laid against each other.

    Standing still, all are laid onto ``reference``, a still by id, or onto the middle of them all; ``turn``, ``size``
    and ``perspective`` say what of it is taken out besides the shift. Gliding, the camera's path is smoothed over so
    many stills, for place, level and size apart; 0 leaves one as it was. Anchored, the first of ``points`` stays where
    it is, or goes on a straight line from ``begins`` to ``ends``; a second one keeps level and size.

    ``share`` is how much of it is done; ``most_lost`` the share of the edge that gliding may cost on each side.
    ``upright`` levels the horizon, where it was found; ``edges`` are cropped, or filled from stills before and after.
    """

    how: Annotated[Literal["off", "still", "glide", "anchor"], BeforeValidator(_how_of_earlier)] = "off"
    reference: Annotated[int, Field(ge=1)] | None = None
    turn: bool = True
    size: bool = True
    perspective: bool = False
    place_over: Length = 60
    level_over: Length = 60
    size_over: Length = 60
    upright: bool = False
    points: Annotated[tuple[AnchoredPoint, ...], Field(max_length=2)] = ()
    begins: Place | None = None
    ends: Place | None = None
    share: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False), rounded(3)] = 1.0
    most_lost: Annotated[float, Field(ge=0.01, le=0.45, allow_inf_nan=False), rounded(3)] | None = None
    edges: Edges = "crop"

    @property
    def is_wished(self) -> bool:
        """Whether stills are laid anew at all."""
        return self.how != "off" and self.share > 0 and (self.how != "anchor" or bool(self.points))


class BandAt(Frozen):
    """What of the frame stays sharp at a time of the clip, ``at``, 0 its first frame and 1 its last.

    ``x`` and ``y`` are a point of the band's middle in shares of the frame, ``angle_deg`` how it is turned, with the
    clock; ``width`` of it and ``softness``, over which it grows soft on each side, are shares of the frame's height.
    """

    at: Share = 0.0
    x: Share = 0.5
    y: Share = 0.55
    angle_deg: Annotated[float, Field(ge=-90, le=90, allow_inf_nan=False), rounded(2)] = 0.0
    width: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False), rounded(4)] = 0.16
    softness: Annotated[float, Field(ge=0.02, le=1.5, allow_inf_nan=False), rounded(4)] = 0.3


def _one_band_a_time(bands: tuple[BandAt, ...]) -> tuple[BandAt, ...]:
    return tuple(sorted({one.at: one for one in bands}.values(), key=lambda one: one.at))


class ModelLook(Frozen):
    """How much a place looks like a model of it, ``strength`` 0 … 1, and what stays sharp, at times of the clip."""

    strength: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False), rounded(3)] = 0.0
    bands: Annotated[
        tuple[BandAt, ...], Field(min_length=1, max_length=MOST_VIEWS), AfterValidator(_one_band_a_time)
    ] = (BandAt(),)


def _one_a_time(views: tuple[ViewAt, ...]) -> tuple[ViewAt, ...]:
    return tuple(sorted({one.at: one for one in views}.values(), key=lambda one: one.at))


class Move(Frozen):
    """How the view moves: through ``views``, between them smoothly; without any it stays where the fit has it.

    ``ends`` are soft if it begins and comes to rest gently, hard if it moves at once and to the last. ``steady`` is how
    stills are laid against each other, ``model`` what of the frame is shown as if it were of something small.
    """

    views: Annotated[tuple[ViewAt, ...], Field(max_length=MOST_VIEWS), AfterValidator(_one_a_time)] = ()
    ends: Literal["soft", "hard"] = "soft"
    steady: Steady = Steady()
    model: ModelLook = ModelLook()

    @property
    def travels(self) -> bool:
        """Whether the view goes anywhere."""
        return bool(self.views)
