"""The stills of a shot as movement is measured in them: in order, by what is in them, in half diagonals."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.frozen import digest
from yarnkite.core.move.decisions import AnchoredPoint, Place
from yarnkite.core.move.region import half_sides


@dataclass(frozen=True)
class ShotStills:
    """The stills of a shot in order, and their usual width over their height."""

    ids: tuple[int, ...]
    fingerprints: tuple[str, ...]
    aspect: float

    def anchors(self, point: AnchoredPoint) -> list[tuple[int, Floats]]:
        """Return where a point was pointed at: positions and places in half diagonals; stills that are gone say
        nothing."""
        places, half = {number: place for place, number in enumerate(self.ids)}, half_sides(self.aspect)
        known = [one for one in point.places if one.still in places]
        found = [(places[one.still], (np.array([one.x, one.y]) * 2 - 1) * half) for one in known]
        return sorted(found, key=lambda one: one[0])

    def track_name(self, point: AnchoredPoint) -> str:
        """Return a digest of all that determines where a point is seen: the stills in order, and what was pointed
        at."""
        said = (f"{self.fingerprints[place]} {at[0]:.6f} {at[1]:.6f}" for place, at in self.anchors(point))
        return digest("track", *said, "of", *self.fingerprints)

    def seen_at(self, observations: Floats) -> dict[int, Place]:
        """Return where a point was seen, by still; ``observations`` are x, y (half diagonals) and sure, shape (stills,
        3)."""
        half = half_sides(self.aspect)
        known = zip(self.ids, observations.astype(float), strict=True)
        places = {still: (at[:2] / half + 1) / 2 for still, at in known if at[2] > 0}
        inside = {still: one for still, one in places.items() if one.min() >= 0 and one.max() <= 1}
        return {still: Place(x=float(one[0]), y=float(one[1])) for still, one in inside.items()}


def shot_stills(ids: Sequence[int], fingerprints: Sequence[str], sizes: Sequence[tuple[int, int]]) -> ShotStills:
    """Return the stills of a shot by their ids, fingerprints and (width, height), each in order."""
    shapes = [width / height for width, height in sizes if width and height]
    return ShotStills(tuple(ids), tuple(fingerprints), float(np.median(shapes)) if shapes else 1.5)
