"""Pace: which still each frame of the clip shows."""

from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.recipe import Pace


@dataclass(frozen=True)
class Schedule:
    """For each frame of the clip, counted from 0, the still it shows, counted from 0."""

    stills: int
    pace: Pace

    def __len__(self) -> int:
        return self.stills * self.pace.hold

    def still_at(self, frame: int) -> int:
        """Return the still that a frame shows; raises ``IndexError`` outside the clip."""
        if not 0 <= frame < len(self):
            raise IndexError(f"frame {frame} of a clip with {len(self)} frames")
        return frame // self.pace.hold

    def frame_of(self, still: int) -> int:
        """Return the first frame that shows a still; raises ``IndexError`` for one the shot does not have."""
        if not 0 <= still < self.stills:
            raise IndexError(f"still {still} of a shot with {self.stills} stills")
        return still * self.pace.hold

    @property
    def seconds(self) -> Fraction:
        """The clip's exact length."""
        return len(self) / self.pace.rate
