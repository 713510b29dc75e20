"""What a clip is expected to take: measured of its own frames where that was done, corrected by what clips turned
out."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from yarnkite.core.base.frozen import digest
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.file_size import Expected, ordinary_core_s
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.core.render.recipe import Recipe
from yarnkite.services.running import Services
from yarnkite.store import clips, file_size
from yarnkite.store.file_size import MeasuredSizes

_HALVES_EVERY = 6.0
# Reading back, joining and comparing go on beside what a core does for each frame.
_BESIDE = 1.1
_NEUTRAL = Encode()


@dataclass(frozen=True)
class Expectation:
    """What a clip is expected to take: bytes, and seconds on this machine.

    ``raw`` is what was measured, without the correction; ``None`` where nothing was.
    """

    bytes: int
    seconds: float
    raw: Expected | None


def frames_digest(recipe: Recipe | ReelRecipe) -> str:
    """Return what names the frames of a clip, whatever they are encoded as."""
    if isinstance(recipe, ReelRecipe):
        reel = recipe.reel.model_copy(update={"encode": _NEUTRAL})
        return recipe.model_copy(update={"reel": reel}).digest()
    decisions = recipe.decisions.model_copy(update={"encode": _NEUTRAL})
    return recipe.model_copy(update={"decisions": decisions}).digest()


def quality_digest(encode: Encode) -> str:
    """Return what names all that decides how many bytes frames take, but the format."""
    return digest(encode.crf, encode.preset, encode.aim.most_mbits, encode.range, encode.profile)


def measured(services: Services, recipe: Recipe | ReelRecipe, encode: Encode) -> MeasuredSizes | None:
    """Return what was measured of a clip's frames, at this quality or, not complete then, at another."""
    return file_size.found(services.database, frames_digest(recipe), quality_digest(encode))


def expectation(
    services: Services,
    known: MeasuredSizes | None,
    encode: Encode,
    frames: FrameSource,
    guess: Callable[[Encode], int],
    *,
    share: float = 1.0,
) -> Expectation:
    """Return what a clip is expected to take; ``share`` of its frames are encoded.

    ``guess`` says how many bytes, as the brief does, while nothing is measured.
    """
    format = format_of(encode)
    found = _scaled(known, encode) or Expected(guess(encode), ordinary_core_s(format, frames.size))
    size_error, time_error = clips.usual_error(services.database, encode.format)
    total = format.wanted_total(encode, float(len(frames) / frames.rate))
    seconds = found.core_s_a_frame * time_error * len(frames) / services.runner.worker_count * _BESIDE
    is_plain = total is None and known is not None and (known.crf == encode.crf or not format.has_quality)
    raw = known.formats.get(encode.format) if is_plain and known is not None else None
    return Expectation(round((found.bytes * size_error if total is None else total) * share), seconds * share, raw)


def expected_bytes(services: Services, recipe: Recipe | ReelRecipe, encode: Encode, seconds: float) -> int | None:
    """Return the bytes a clip so long was found to take, or is wanted to; ``None`` where nothing was measured."""
    total = format_of(encode).wanted_total(encode, seconds)
    if total is not None:
        return round(total)
    found = _scaled(measured(services, recipe, encode), encode)
    return None if found is None else round(found.bytes * clips.usual_error(services.database, encode.format)[0])


def _scaled(known: MeasuredSizes | None, encode: Encode) -> Expected | None:
    """Return what was measured of a format, brought to the quality that is wanted where it was measured at another."""
    found = known.formats.get(encode.format) if known is not None else None
    if known is None or found is None or not format_of(encode).has_quality:
        return found
    return replace(found, bytes=round(found.bytes * 2 ** ((known.crf - encode.crf) / _HALVES_EVERY)))
