"""A reel's recipe: all that determines its picture and its sound, as frozen data."""

from typing import Annotated

from pydantic import Field

from yarnkite.core.base.frozen import Frozen, Size, digest
from yarnkite.core.reel.decisions import Reel
from yarnkite.core.render.recipe import Recipe


class ClipStretch(Frozen):
    """A shot's clip in a reel: its recipe, and which of its frames are used.

    ``decided_size`` is the size the shot was decided for, if that is another one. ``moments`` says when each of its
    slots was taken, in seconds of the local clock since 1970; it is empty where no live text asks or nothing is known.
    """

    recipe: Recipe
    decided_size: Size | None = None
    first: Annotated[int, Field(ge=0)]
    frames: Annotated[int, Field(ge=0)]
    moments: tuple[float, ...] = ()


class LogoFile(Frozen):
    """A picture that lies over a reel."""

    path: str
    fingerprint: str


class SoundFile(Frozen):
    """A sound that lies under a reel."""

    path: str
    fingerprint: str
    samples: int


class ReelRecipe(Frozen):
    """Decisions about a reel, and the clips, pictures and sounds they are about.

    ``clips`` has one for each picture of each part, ``None`` where its shot is not there; ``names`` is what each part
    is called.
    """

    reel: Reel
    clips: tuple[tuple[ClipStretch | None, ...], ...]
    logos: dict[int, LogoFile] = Field(default_factory=dict)
    sounds: dict[int, SoundFile] = Field(default_factory=dict)
    names: tuple[str, ...] = ()

    def digest(self) -> str:
        """Return 32 hex digits that depend on everything that determines the video, but not on where files lie."""
        clips = (
            (clip.recipe.digest(), clip.first, clip.frames, clip.moments) if clip else None
            for part in self.clips
            for clip in part
        )
        logos = sorted((number, one.fingerprint) for number, one in self.logos.items())
        sounds = sorted((number, one.fingerprint) for number, one in self.sounds.items())
        return digest("reel", self.reel.model_dump_json(), *clips, logos, sounds, self.names)
