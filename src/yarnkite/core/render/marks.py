"""Marks of frames: what each is made of, as text to be hashed."""

from collections.abc import Iterable, Iterator

from yarnkite.core.render.recipe import Recipe, schedule_of


def frame_marks(recipe: Recipe, frames: Iterable[int]) -> Iterator[str]:
    """Yield a text for each frame that says which stills, how large and with what weights, it is made of."""
    schedule = schedule_of(recipe)
    for frame in frames:
        what = schedule.shown(frame)
        stills = [(recipe.stills[slot], weight) for slot, weight in what.parts]
        mark = "+".join(f"{weight} {still.fingerprint} {still.width}x{still.height}" for still, weight in stills)
        unusual = any((still.width, still.height) != recipe.usual for still, _ in stills)
        yield mark + (" moving" if what.moving else "") + (f" among {recipe.usual}" if unusual else "")
