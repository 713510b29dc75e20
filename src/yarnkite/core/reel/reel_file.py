"""A reel as one file: what is decided, the clips of its shots, and its sounds and pictures by what they hold."""

import os
from collections.abc import Callable
from datetime import datetime
from pathlib import Path, PurePosixPath
from typing import Annotated, Literal

from pydantic import Field

from yarnkite.core.base.frozen import Frozen
from yarnkite.core.reel.recipe import ClipStretch, ReelRecipe
from yarnkite.core.render.recipe import stills_in
from yarnkite.core.render.shot_file import inside, with_paths

SOUNDS = "sounds"


class ReelFile(Frozen):
    """A reel in a file; stills are named from the folder all its shots lie below, sounds and pictures from
    ``sounds``."""

    kind: Literal["yarn-kite reel"] = "yarn-kite reel"
    edition: Literal[1] = 1
    name: Annotated[str, Field(max_length=200)] = ""
    captured: datetime | None = None
    recipe: ReelRecipe

    @classmethod
    def of(cls, name: str, recipe: ReelRecipe, captured: datetime | None = None) -> "ReelFile":
        """Return a reel as a file that names no folder above those its stills lie in."""
        top = common_folder(recipe)

        def still(path: str) -> str:
            return PurePosixPath(Path(path).relative_to(top)).as_posix()

        mapped = _with_paths(recipe, still, lambda path: f"{SOUNDS}/{Path(path).name}")
        return cls(name=name, captured=captured, recipe=mapped)

    def recipe_in(self, folder: Path, sounds: Path) -> ReelRecipe:
        """Return the recipe with its stills in one folder, its sounds and pictures in another.

        Raises ``Refusal`` (``outside_location``) for a path that leads out.
        """
        return _with_paths(
            self.recipe,
            lambda path: inside(folder, path),
            lambda path: inside(sounds, path.removeprefix(f"{SOUNDS}/")),
        )


def common_folder(recipe: ReelRecipe) -> Path:
    """Return the lowest folder that all stills of a reel's shots lie below: the one above the folders of several
    shots."""
    folders = {
        str(Path(still.path).parent)
        for part in recipe.clips
        for clip in part
        if clip is not None
        for still in stills_in(clip.recipe)
    }
    return Path(os.path.commonpath(folders)) if folders else Path()


def _with_paths(recipe: ReelRecipe, still: Callable[[str], str], beside: Callable[[str], str]) -> ReelRecipe:
    """Return a recipe with the paths of its stills changed, and those of its sounds and pictures."""

    def clip(one: ClipStretch | None) -> ClipStretch | None:
        return one and one.model_copy(update={"recipe": with_paths(one.recipe, still)})

    return recipe.model_copy(
        update={
            "clips": tuple(tuple(clip(one) for one in part) for part in recipe.clips),
            **{
                name: {key: one.model_copy(update={"path": beside(one.path)}) for key, one in files.items()}
                for name, files in (("sounds", recipe.sounds), ("logos", recipe.logos))
            },
        }
    )
