"""A shot as the check sees it, and what a finding is."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from itertools import pairwise
from typing import Literal

import numpy as np

from yarnkite.core.base.arrays import Floats

Kind = Literal[
    "misfire",
    "blocked view",
    "soft",
    "lasting softness",
    "knock",
    "shake",
    "by hand",
    "flicker",
    "lamp bands",
    "auto exposure",
    "blinking lamp",
    "exposure step",
    "light step",
    "colour step",
    "missing",
    "pause",
    "extra",
    "nothing happens",
    "other kind",
    "dirt",
    "damaged",
]
Remedy = Literal["set aside", "bridge", "repeat", "fill", "begin here", "end here", "even out", "remove", "dismiss"]
# These concern a shot as a whole, whichever stills are its first and last.
OF_WHOLE_SHOT: tuple[Kind, ...] = ("dirt", "by hand")
# Worst first: what a viewer notices at once, what a viewer may notice, what is good to know.
SEVERITY: dict[Kind, int] = {
    "misfire": 1,
    "blocked view": 1,
    "damaged": 1,
    "soft": 1,
    "lasting softness": 1,
    "knock": 1,
    "missing": 2,
    "auto exposure": 2,
    "blinking lamp": 2,
    "exposure step": 2,
    "light step": 2,
    "colour step": 2,
    "flicker": 2,
    "lamp bands": 2,
    "by hand": 2,
    "shake": 2,
    "other kind": 2,
    "pause": 3,
    "extra": 3,
    "dirt": 3,
    "nothing happens": 3,
}


@dataclass(frozen=True)
class ShotMeasurements:
    """The measures of a shot's stills in order, one entry a still.

    ``blocks`` has the shape (stills, 16, 24), light in stops; ``shifts`` (stills, 3): across and down against the still
    before in shares of the width, and turn in degrees; ``trust`` how sure they are; ``exposure`` the exposure value at
    ISO 100, not a number where unknown; ``dhashes`` 64-bit hashes; ``colours`` (stills, 16, 24, 2): red and
    blue against green in each block, in stops, none where they were not measured.
    """

    ids: Sequence[int]
    names: Sequence[str]
    captured: Sequence[datetime | None]
    blocks: Floats
    red: Floats
    blue: Floats
    sharpness: Floats
    bright: Floats
    dark: Floats
    shifts: Floats
    trust: Floats
    exposure: Floats
    dhashes: Sequence[int]
    shapes: Sequence[tuple[int, int, str]] = ()
    colours: Floats = field(default_factory=lambda: np.zeros(0))
    light: Floats = field(init=False)
    positions: dict[int, int] = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "positions", {still: position for position, still in enumerate(self.ids)})
        light = np.median(self.blocks.reshape(len(self.blocks), -1), axis=1) if len(self.blocks) else np.zeros(0)
        object.__setattr__(self, "light", light)

    def ends_of(self, finding: "Finding") -> tuple[int, int]:
        """Return the positions of the first and the last still of a finding."""
        return self.positions[finding.stills[0]], self.positions[finding.stills[-1]]

    @property
    def intervals(self) -> Floats:
        """Return the seconds since the still before, not a number where unknown, as for the first."""
        steps = [
            (now - before).total_seconds() if now and before else np.nan for before, now in pairwise(self.captured)
        ]
        return np.array([np.nan, *steps])[: len(self.captured)]


@dataclass(frozen=True)
class Finding:
    """Something the check noticed: ``stills`` by id, evidence in numbers, and what can be done, best first.

    ``key`` stays the same as long as the same stills are concerned.
    """

    kind: Kind
    stills: tuple[int, ...]
    sentence: str
    evidence: dict[str, float]
    remedies: tuple[Remedy, ...]

    @property
    def key(self) -> str:
        where = "@{x:.3f},{y:.3f}".format(**self.evidence) if self.kind == "dirt" else ""
        return f"{self.kind}:{self.stills[0]}-{self.stills[-1]}{where}"

    @property
    def severity(self) -> int:
        return SEVERITY[self.kind]


def worst_first(found: Sequence[Finding]) -> list[Finding]:
    """Return findings grouped by kind, the worst kind first."""
    kinds = list(SEVERITY)
    return sorted(found, key=lambda one: (one.severity, kinds.index(one.kind)))


def finding_about(
    measurements: ShotMeasurements,
    kind: Kind,
    low: int,
    high: int,
    said: str,
    evidence: dict[str, float],
    remedies: tuple[Remedy, ...],
) -> Finding:
    if low == high:
        who = f"“{file_name(measurements.names[low])}” {said}."
    else:
        first, last = (file_name(measurements.names[one]) for one in (low, high))
        who = f"{high - low + 1:,} stills from “{first}” to “{last}” {said}."
    every = remedies if "dismiss" in remedies else (*remedies, "dismiss")
    return Finding(kind, tuple(measurements.ids[low : high + 1]), who, evidence, every)


def file_name(name: str) -> str:
    return name.rpartition("/")[2]
