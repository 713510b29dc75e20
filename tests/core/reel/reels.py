"""Reels of small clips, each still of one flat colour, so that what a frame shows can be told from a pixel."""

from pathlib import Path

import numpy as np
from PIL import Image

from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.reel.decisions import Part, Picture, Reel
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.reel.recipe import ClipStretch, ReelRecipe
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.recipe import Recipe

SMALL = Size(width=160, height=90)


def flat_stills(folder: Path, count: int, red: int) -> tuple[Still, ...]:
    """Write stills whose green says their number, times four, and whose red says their shot."""
    made = []
    for number in range(count):
        path = folder / f"{red:03}-{number:03}.png"
        Image.fromarray(np.full((108, 192, 3), (red, 4 * number, 60), np.uint8)).save(path)
        made.append(Still(path=str(path), fingerprint=f"{red:016x}{number:016x}", width=192, height=108))
    return tuple(made)


def clip(folder: Path, count: int, red: int, first: int = 0, frames: int | None = None, **pace: object) -> ClipStretch:
    decisions = Decisions(fit=Fit(size=SMALL), pace=Pace(**pace))
    recipe = Recipe(stills=flat_stills(folder, count, red), decisions=decisions)
    return ClipStretch(recipe=recipe, first=first, frames=count if frames is None else frames)


def part(number: int, pictures: int = 1, **decided: object) -> Part:
    own = decided.pop("own", {})
    return Part(id=number, pictures=tuple(Picture(shot=number, **own) for _ in range(pictures)), **decided)


def frames_of(reel: Reel, *clips: ClipStretch | tuple[ClipStretch | None, ...] | None) -> ReelFrames:
    rows = tuple(one if isinstance(one, tuple) else (one,) for one in clips)
    return ReelFrames(ReelRecipe(reel=reel, clips=rows))


def reel_of(*parts: Part, **decided: object) -> Reel:
    return Reel(parts=parts, size=SMALL, **decided)
