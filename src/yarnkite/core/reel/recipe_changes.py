"""What was changed since a reel's file was made: its recipe held against what would be made now."""

from collections.abc import Iterator

from yarnkite.core.base.wording import listed
from yarnkite.core.reel.recipe import ClipStretch, ReelRecipe
from yarnkite.core.render.recipe import Recipe
from yarnkite.core.render.recipe_changes import changed_since


def reel_changed_since(made: ReelRecipe, now: ReelRecipe) -> tuple[str, ...]:
    """Return in what a reel's file would be another than the one that was made, each shot by its name and steps; how
    it is encoded does not count."""
    before, after = made.reel, now.reel
    found = []
    if _running_order(made) != _running_order(now):
        found.append("the running order")
    found += _shots_changed(made, now)
    # Other stills have other times; that is told of them.
    if before.titles != after.titles or _drawn(made) != _drawn(now) or (not found and _moments(made) != _moments(now)):
        found.append("titles")
    if before.sound != after.sound or _heard(made) != _heard(now):
        found.append("sound")
    for name, differs in (
        ("size", before.size != after.size),
        ("rate", (before.rate, before.timing) != (after.rate, after.timing)),
        ("fades", before.fades != after.fades),
        ("chapters", not found and _chapters(made) != _chapters(now)),
    ):
        if differs:
            found.append(name)
    return tuple(found)


def _running_order(recipe: ReelRecipe) -> list[dict[str, object]]:
    return [part.model_dump(exclude={"id"}) for part in recipe.reel.parts]


def _shots_changed(made: ReelRecipe, now: ReelRecipe) -> list[str]:
    """Return each shot that is in both and would look another way by now, with the steps that were changed."""
    before = {key: clip for key, _, clip in _shown(made)}
    steps: dict[str, list[str]] = {}
    for key, name, clip in _shown(now):
        if key in before:
            changed = steps.setdefault(name, [])
            changed += [step for step in _clip_changes(before[key], clip) if step not in changed]
    return [f"“{name}” ({listed(changed)})" for name, changed in steps.items() if changed]


def _shown(recipe: ReelRecipe) -> Iterator[tuple[tuple[int, int | None], str, ClipStretch | None]]:
    """Return each shot's first clip: which one it is, the name of its part, and what is shown."""
    seen = set()
    # Recipes of early editions name no parts.
    names = recipe.names or ("",) * len(recipe.clips)
    for part, name, clips in zip(recipe.reel.parts, names, recipe.clips, strict=True):
        for picture, clip in zip(part.pictures, clips, strict=True):
            key = picture.shot, picture.version
            if key not in seen:
                seen.add(key)
                yield key, name, clip


def _clip_changes(made: ClipStretch | None, now: ClipStretch | None) -> tuple[str, ...]:
    if made is None or now is None:
        return () if made is now else ("stills",)
    size = now.recipe.decisions.fit.size
    if made.recipe.decisions.fit.size == size:
        return changed_since(made.recipe, now.recipe)
    # What a reel's size alone makes of a shot is told once, as the reel's.
    return tuple(step for step in changed_since(_at_size_of(made.recipe, now.recipe), now.recipe) if step != "move")


def _at_size_of(recipe: Recipe, other: Recipe) -> Recipe:
    fit = recipe.decisions.fit.model_copy(update={"size": other.decisions.fit.size})
    return recipe.model_copy(update={"decisions": recipe.decisions.model_copy(update={"fit": fit})})


def _moments(recipe: ReelRecipe) -> list[tuple[float, ...]]:
    """Return the times that live texts tell."""
    return [clip.moments for part in recipe.clips for clip in part if clip]


def _drawn(recipe: ReelRecipe) -> list[tuple[int, str]]:
    return sorted((number, one.fingerprint) for number, one in recipe.logos.items())


def _heard(recipe: ReelRecipe) -> list[tuple[int, str, int]]:
    return sorted((number, one.fingerprint, one.samples) for number, one in recipe.sounds.items())


def _chapters(recipe: ReelRecipe) -> tuple[str, ...] | None:
    return recipe.names if recipe.reel.chapters else None
