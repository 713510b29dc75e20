"""A shot as one file: what is decided, the stills by name and fingerprint, and what was found out about each of them.

It holds all that determines a clip, so that it can be rendered elsewhere, on a machine without a screen or a database.
"""

from collections.abc import Callable
from datetime import datetime
from pathlib import Path, PurePosixPath
from typing import Annotated, Literal, TypeVar

from pydantic import Field, ValidationError

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Frozen
from yarnkite.core.base.still import Still
from yarnkite.core.render.recipe import Bridge, Recipe

EDITION = 1


class ShotFile(Frozen):
    """A shot in a file; the paths of its stills are relative to the folder they lie in, with forward slashes."""

    kind: Literal["yarn-kite shot"] = "yarn-kite shot"
    edition: Literal[1] = 1
    name: Annotated[str, Field(max_length=200)] = ""
    captured: datetime | None = None
    recipe: Recipe

    @classmethod
    def of(cls, name: str, recipe: Recipe, folder: Path, captured: datetime | None = None) -> "ShotFile":
        """Return a shot whose stills lie in a folder as a file that names none but what is in it."""

        def relative(path: str) -> str:
            return PurePosixPath(Path(path).relative_to(folder)).as_posix()

        return cls(name=name, captured=captured, recipe=with_paths(recipe, relative))

    def recipe_in(self, folder: Path) -> Recipe:
        """Return the recipe with its stills in a folder.

        Raises ``Refusal`` (``outside_location``) for a path that leads out.
        """
        return with_paths(self.recipe, lambda path: inside(folder, path))


def inside(folder: Path, path: str) -> str:
    """Return where a path of a file lies in a folder.

    Raises ``Refusal`` (``outside_location``) for one that leads out.
    """
    parts = PurePosixPath(path)
    if parts.is_absolute() or ".." in parts.parts or "\0" in path:
        raise Refusal("outside_location", f"“{path[:200]}” in this file leads out of the folder of its stills.")
    return str(folder / parts)


Saved = TypeVar("Saved", bound=Frozen)


def read_saved(kind: type[Saved], text: str) -> Saved:
    """Read a shot or a reel that was saved; raises ``Refusal`` (``not_a_shot``) that says what is wrong with it."""
    try:
        return kind.model_validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        if first["loc"] == ("edition",):
            raise Refusal(
                "not_a_shot", "This file was written by a newer edition of Yarn Kite. Render it with that one."
            ) from None
        place = " ".join(str(part) for part in first["loc"]) or "the file"
        raise Refusal("not_a_shot", f"This is not a shot that can be read: {place}: {first['msg']}.") from None


def with_paths(recipe: Recipe, changed: Callable[[str], str]) -> Recipe:
    """Return a recipe with the paths of its stills changed, and what only one machine knows of them left out."""

    def still(one: Still) -> Still:
        # Size and time of a file are those of one machine; its fingerprint goes with it.
        return one.elsewhere(changed(one.path))

    def picture(one: Still | Bridge) -> Still | Bridge:
        if isinstance(one, Still):
            return still(one)
        return one.model_copy(update={"before": still(one.before), "after": still(one.after)})

    return recipe.model_copy(update={"stills": tuple(picture(one) for one in recipe.stills)})
