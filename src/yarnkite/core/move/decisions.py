"""What is decided about how the view moves."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from yarnkite.core.base.frozen import Frozen, Share, rounded

MOST_VIEWS = 12
CLOSEST = 20.0


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


def _one_a_time(views: tuple[ViewAt, ...]) -> tuple[ViewAt, ...]:
    return tuple(sorted({one.at: one for one in views}.values(), key=lambda one: one.at))


class Move(Frozen):
    """How the view moves: through ``views``, between them smoothly; without any it stays where the fit has it.

    ``ends`` are soft if it begins and comes to rest gently, hard if it moves at once and to the last.
    """

    views: Annotated[tuple[ViewAt, ...], Field(max_length=MOST_VIEWS), AfterValidator(_one_a_time)] = ()
    ends: Literal["soft", "hard"] = "soft"

    @property
    def is_neutral(self) -> bool:
        """Whether the view stays where the fit has it."""
        return not self.views
