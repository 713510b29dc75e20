"""The sound of a reel: the mix of its tracks, as long as its picture."""

from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.sound.decisions import samples_of
from yarnkite.core.sound.loudness import Mastered, Mastering, Readable
from yarnkite.core.sound.mix import Mix
from yarnkite.core.sound.stored import StoredSound


def mix_of(recipe: ReelRecipe, frames: int) -> Mix:
    """Return the mix of a reel of so many frames."""
    reel = recipe.reel
    sounds = {number: StoredSound(one.path, one.fingerprint, one.samples) for number, one in recipe.sounds.items()}
    fades = (samples_of(count, reel.rate) for count in (reel.fades.sound_in, reel.fades.sound_out))
    return Mix(reel.sound.tracks, sounds, samples_of(frames, reel.rate), *fades)


def mastered(mix: Readable, found: Mastering) -> Mastered:
    """Return a mix brought to its loudness."""
    return Mastered(mix, found.gain_db, limited=found.limited, ceiling_dbtp=found.ceiling_dbtp)
