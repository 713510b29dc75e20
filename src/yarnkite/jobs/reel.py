"""The encoding of a reel: its frames as those of a clip, with the sound that is mixed and encoded for them."""

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from yarnkite.core.encode.join import Chapter
from yarnkite.core.encode.render_plan import SoundPlan
from yarnkite.core.encode.sound_stream import AAC, SoundCodec, decoded, encode_sound, sound_codec_of
from yarnkite.core.encode.verify import LOUDNESS_WITHIN_LU
from yarnkite.core.reel.frame_source import ReelFrames
from yarnkite.core.reel.mixing import mastered, mix_of
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.sound.loudness import CEILING_DBTP, Readable, loudness_of, mastering
from yarnkite.jobs.encode import Finishing, captured_of, finish, reel_recipe_of
from yarnkite.jobs.finishing import Making
from yarnkite.jobs.runner import Context
from yarnkite.store import jobs

# An encoder takes away what is hardly heard, and moves peaks a little.
_TRIES, _NEAR_LU, _OVER_DB = 6, 0.1, 0.1


def run(context: Context) -> None:
    """Encode the reel a job was started with; whole chunks of its shots that exist are used as they are."""
    recipe = reel_recipe_of(context)
    wanted = jobs.wanted_of(context.database, context.job["id"])
    recipes = tuple(clip.recipe for part in recipe.clips for clip in part if clip is not None)
    making = making_of(recipe, captured_of(wanted), context.check).within(wanted.get("stretch"))
    finish(context, Finishing(making, recipes, recipe.digest(), wanted))


def making_of(recipe: ReelRecipe, captured: datetime | None, check: Callable[[], None] = lambda: None) -> Making:
    """Return what the file of a reel is made of; ``check`` is called as its sound is encoded, and may end that."""
    frames = ReelFrames(recipe)
    sound, chapters = _sound_of(recipe, frames, check), _chapters_of(recipe, frames)
    return Making(frames, recipe.reel.encode, sound, chapters, captured)


def _sound_of(recipe: ReelRecipe, frames: ReelFrames, check: Callable[[], None]) -> Callable[[Path], SoundPlan] | None:
    """Return what encodes a reel's sound into a file and says what it must turn out to be; ``None`` where it is
    silent."""
    mix, reel = mix_of(recipe, len(frames)), recipe.reel
    if mix.is_silent:
        return None
    return lambda target: encode_wanted(mix, reel.sound.loudness, target, check, sound_codec_of(reel.encode))


def encode_wanted(
    mix: Readable, wanted: float | None, target: Path, check: Callable[[], None], codec: SoundCodec = AAC
) -> SoundPlan:
    """Encode a mix; where what is heard of the file is less loud, or reaches higher, than it should, encode it
    again."""
    wish, most = wanted, CEILING_DBTP
    planned: float | None = None
    for _ in range(_TRIES):
        found = mastering(mix, wish, check, most_dbtp=most)
        played = mastered(mix, found)
        encode_sound(played, target, lambda seconds: check(), codec)
        if planned is None:
            # What is wished is what the file is held against, not what was reached.
            planned = found.reached.lufs if wanted is None or found.reached.lufs is None else wanted
        heard = loudness_of(decoded(target), check)
        missing = planned - heard.lufs if planned is not None and heard.lufs is not None and wish is not None else 0.0
        over = heard.true_peak_dbtp - CEILING_DBTP
        if abs(missing) < _NEAR_LU and over <= 0:
            break
        wish = None if wish is None else wish + missing
        most -= over + _OVER_DB if over > 0 else 0.0
    planned, remark = _planned(wanted, planned, heard.lufs)
    return SoundPlan(mix.total, planned, codec.name, remark, played)


def _planned(wanted: float | None, planned: float | None, heard: float | None) -> tuple[float | None, str]:
    """Return the loudness a file is to have, and why that is not the one that is wished, where it cannot be."""
    if wanted is None or heard is None or abs(heard - wanted) <= LOUDNESS_WITHIN_LU:
        return planned, ""
    return heard, (
        f"The sound has {heard:.1f} LUFS, not the {wanted:.1f} that are wished: any more would take peaks over "
        f"{CEILING_DBTP:.0f} dBTP, or raise next to nothing."
    )


def _chapters_of(recipe: ReelRecipe, frames: ReelFrames) -> tuple[Chapter, ...]:
    """Return a chapter for each part, where they are wished, from where it begins to where the next does."""
    if not recipe.reel.chapters:
        return ()
    shown = [(name, span) for name, span in zip(recipe.names, frames.spans, strict=True) if span.frames]
    if len(shown) < 2:
        return ()
    ends = [*(span.start for _, span in shown[1:]), len(frames)]
    return tuple(Chapter(name, span.start, end) for (name, span), end in zip(shown, ends, strict=True))
