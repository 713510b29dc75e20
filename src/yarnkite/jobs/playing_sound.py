"""The sound of reels that are being played: mixed a segment at a time, brought to its loudness once that is measured."""

import threading
from collections import OrderedDict
from collections.abc import Callable
from fractions import Fraction

from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.base.frozen import digest
from yarnkite.core.encode.sound_stream import sound_segment
from yarnkite.core.reel.mixing import mastered, mix_of
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.sound.decisions import RATE, samples_of
from yarnkite.core.sound.loudness import Mastered, Mastering, mastering
from yarnkite.core.sound.mix import Mix

_KEPT = 24
# What is longer is measured while it plays already.
_AT_ONCE_S = 45
LONGEST_FRAMES = 2_000


class PlayingSound:
    """Knows the mixes that were offered, measures each once, and gives any stretch of them.

    ``told`` is called with a reel's id when its loudness is known that was not before.
    """

    def __init__(self, told: Callable[[int], None] = lambda reel: None) -> None:
        self._told = told
        self._known: OrderedDict[str, tuple[Mastered, Fraction]] = OrderedDict()
        self._measured: OrderedDict[str, Mastering] = OrderedDict()
        self._last: dict[int, Mastering] = {}
        self._coming: set[str] = set()
        self._lock = threading.Lock()

    def offer(self, reel_id: int, recipe: ReelRecipe, frames: int) -> tuple[str, bool]:
        """Note the sound of a reel; returns the key it is got by, and whether its loudness is not yet known for sure."""
        mix, wanted = mix_of(recipe, frames), recipe.reel.sound.loudness
        files = sorted((number, one.fingerprint) for number, one in recipe.sounds.items())
        name = digest(recipe.reel.sound.model_dump_json(), recipe.reel.fades, files, recipe.reel.rate, frames)
        with self._lock:
            found = self._measured.get(name)
        if found is None and (mix.is_silent or mix.total <= _AT_ONCE_S * RATE):
            found = self._measure(reel_id, name, mix, wanted)
        provisional = found is None
        if found is None:
            found = self._last.get(reel_id, Mastering(0.0, True))
            self._measure_beside(reel_id, name, mix, wanted)
        key = digest(name, found.gain_db, found.limited, found.ceiling_dbtp)
        with self._lock:
            self._known[key] = mastered(mix, found), recipe.reel.rate
            self._known.move_to_end(key)
            while len(self._known) > _KEPT:
                self._known.popitem(last=False)
        return key, provisional

    def segment(self, key: str, first: int, count: int) -> bytes:
        """Return the sound under frames ``first … first + count - 1``; raises ``NotFound`` if it was not offered."""
        with self._lock:
            entry = self._known.get(key)
        if entry is None:
            raise NotFound("no_such_segment", "This sound is not known any more. Start playing again.")
        sound, rate = entry
        if not 1 <= count <= LONGEST_FRAMES or first < 0:
            raise Refusal("no_such_segment", "There is no such stretch of sound.")
        begin, end = samples_of(first, rate), samples_of(first + count, rate)
        return sound_segment(sound.read(begin, end - begin))

    def loudness(self, reel_id: int) -> Mastering | None:
        """Return what was measured last of a reel, if anything was."""
        return self._last.get(reel_id)

    def _measure(self, reel_id: int, name: str, mix: Mix, wanted: float | None) -> Mastering:
        found = mastering(mix, wanted)
        with self._lock:
            self._measured[name] = found
            self._last[reel_id] = found
            while len(self._measured) > _KEPT:
                self._measured.popitem(last=False)
        return found

    def _measure_beside(self, reel_id: int, name: str, mix: Mix, wanted: float | None) -> None:
        with self._lock:
            if name in self._coming:
                return
            self._coming.add(name)

        def measure() -> None:
            try:
                self._measure(reel_id, name, mix, wanted)
                self._told(reel_id)
            finally:
                with self._lock:
                    self._coming.discard(name)

        threading.Thread(target=measure, daemon=True, name=f"loudness-{reel_id}").start()
