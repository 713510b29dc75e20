"""What was changed since a clip was made: its recipe held against what would be made now, whatever changed it."""

from collections.abc import Sequence

from yarnkite.core.render.recipe import NO_CORRECTION, Correction, Recipe


def changed_since(made: Recipe, now: Recipe) -> tuple[str, ...]:
    """Return in which steps a clip would be another than the one that was made; how it is encoded does not count.

    Where other stills are shown, or in another order, what single stills get is not compared.
    """
    shown, shows = _shown(made), _shown(now)
    found = ["stills"] if (shown, made.times) != (shows, now.times) else []
    before, after = (_corrections(made), _corrections(now)) if shown == shows else ((), ())
    if made.light.dust != now.light.dust:
        found.append("dust")
    if _shared(made) != _shared(now) or [_light(one) for one in before] != [_light(one) for one in after]:
        found.append("light")
    if made.decisions.fit != now.decisions.fit:
        found.append("fit")
    if made.decisions.move != now.decisions.move or [_laid(one) for one in before] != [_laid(one) for one in after]:
        found.append("move")
    if made.decisions.pace != now.decisions.pace:
        found.append("pace")
    return tuple(found)


def _shown(recipe: Recipe) -> list[str]:
    return [picture.fingerprint for picture in recipe.stills]


def _corrections(recipe: Recipe) -> Sequence[Correction]:
    return recipe.corrections or (NO_CORRECTION,) * len(recipe.stills)


def _shared(recipe: Recipe) -> object:
    return recipe.light.model_copy(update={"dust": ()})


def _light(one: Correction) -> object:
    return one.light, one.light_after


def _laid(one: Correction) -> object:
    return one.laid, one.laid_after
