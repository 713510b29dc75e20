"""A reel as one file: what is decided, the clips of its shots, and its sounds and pictures by what they hold."""

import os
from collections.abc import Callable
from datetime import datetime
from pathlib import Path, PurePosixPath
from typing import Annotated, Literal

from pydantic import Field

from yarnkite.core.base.frozen import Frozen
from yarnkite.core.reel.recipe import ClipStretch, LogoFile, ReelRecipe, SoundFile
from yarnkite.core.render.recipe import stills_in
from yarnkite.core.render.shot_file import inside, with_paths

SOUNDS = "sounds"


class ReelFile(Frozen):
    """A reel in a file; stills are named from the folder all its shots lie below, sounds and pictures from ``sounds``."""

    kind: Literal["yarn-kite reel"] = "yarn-kite reel"
    edition: Literal[1] = 1
    name: Annotated[str, Field(max_length=200)] = ""
    captured: datetime | None = None
    recipe: ReelRecipe

    @classmethod
    def of(cls, name: str, recipe: ReelRecipe, captured: datetime | None = None) -> "ReelFile":
        """Return a reel as a file that names no folder above those its stills lie in."""
        top = common_folder(recipe)

        def relative(path: str) -> str:
            return PurePosixPath(Path(path).relative_to(top)).as_posix()

        def kept(file: SoundFile | LogoFile) -> str:
            return f"{SOUNDS}/{Path(file.path).name}"

        return cls(
            name=name,
            captured=captured,
            recipe=recipe.model_copy(
                update={
                    "clips": tuple(tuple(_with_paths(clip, relative) for clip in part) for part in recipe.clips),
                    "sounds": {key: one.model_copy(update={"path": kept(one)}) for key, one in recipe.sounds.items()},
                    "logos": {key: one.model_copy(update={"path": kept(one)}) for key, one in recipe.logos.items()},
                }
            ),
        )

    def recipe_in(self, folder: Path, sounds: Path) -> ReelRecipe:
        """Return the recipe with its stills in one folder, its sounds and pictures in another.

        Raises ``Refusal`` (``outside_place``) for a path that leads out.
        """
        recipe = self.recipe

        def kept(path: str) -> str:
            return inside(sounds, path.removeprefix(f"{SOUNDS}/"))

        return recipe.model_copy(
            update={
                "clips": tuple(
                    tuple(_with_paths(clip, lambda path: inside(folder, path)) for clip in part)
                    for part in recipe.clips
                ),
                "sounds": {key: one.model_copy(update={"path": kept(one.path)}) for key, one in recipe.sounds.items()},
                "logos": {key: one.model_copy(update={"path": kept(one.path)}) for key, one in recipe.logos.items()},
            }
        )


def common_folder(recipe: ReelRecipe) -> Path:
    """Return the lowest folder that all stills of a reel's shots lie below: the one above the folders of several shots."""
    folders = {
        str(Path(still.path).parent)
        for part in recipe.clips
        for clip in part
        if clip is not None
        for still in stills_in(clip.recipe)
    }
    return Path(os.path.commonpath(folders)) if folders else Path()


def _with_paths(clip: ClipStretch | None, changed: Callable[[str], str]) -> ClipStretch | None:
    if clip is None:
        return None
    return clip.model_copy(update={"recipe": with_paths(clip.recipe, changed)})
