"""The sound of reels that are being played: mixed a segment at a time, brought to its loudness once that is
measured."""

import logging
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from fractions import Fraction

from yarnkite.core.base.errors import NotFound, Refusal
from yarnkite.core.base.frozen import digest
from yarnkite.core.encode.sound_stream import sound_segment
from yarnkite.core.reel.mixing import mastered, mix_of
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.sound.decisions import samples_of
from yarnkite.core.sound.loudness import Mastered, Mastering, mastering
from yarnkite.core.sound.mix import Mix

log = logging.getLogger(__name__)

_KEPT = 24
# What takes longer to measure is measured while it plays already.
_PATIENCE_S = 0.35
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
        self._coming: dict[str, threading.Event] = {}
        self._lock = threading.Lock()

    def offer(self, reel_id: int, recipe: ReelRecipe, frames: int) -> tuple[str, Mastering | None]:
        """Note the sound of a reel; returns the key it is got by, and what it comes to, ``None`` until that is
        measured."""
        mix, wanted = mix_of(recipe, frames), recipe.reel.sound.loudness
        files = sorted((number, one.fingerprint) for number, one in recipe.sounds.items())
        name = digest(recipe.reel.sound.model_dump_json(), recipe.reel.fades, files, recipe.reel.rate, frames)
        with self._lock:
            found = self._measured.get(name)
        if found is None:
            self._measuring(reel_id, name, mix, wanted).wait(_PATIENCE_S)
            with self._lock:
                found = self._measured.get(name)
        provisional = found is None
        if found is None:
            found = self._last.get(reel_id, Mastering(0.0, True))
        key = digest(name, found.gain_db, found.limited, found.ceiling_dbtp)
        with self._lock:
            self._known[key] = mastered(mix, found), recipe.reel.rate
            self._known.move_to_end(key)
            while len(self._known) > _KEPT:
                self._known.popitem(last=False)
        return key, None if provisional else found

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

    def _measuring(self, reel_id: int, name: str, mix: Mix, wanted: float | None) -> threading.Event:
        """Begin to measure a mix, unless that is under way; returns what tells that it is done."""
        with self._lock:
            if name in self._coming:
                return self._coming[name]
            done = self._coming[name] = threading.Event()
        late = time.monotonic() + _PATIENCE_S

        def measure() -> None:
            try:
                found = mastering(mix, wanted)
                with self._lock:
                    self._measured[name] = self._last[reel_id] = found
                    while len(self._measured) > _KEPT:
                        self._measured.popitem(last=False)
            except Refusal:
                log.warning("the sound of reel %s cannot be measured", reel_id)
            finally:
                with self._lock:
                    self._coming.pop(name, None)
                done.set()
                if time.monotonic() > late:
                    self._told(reel_id)

        threading.Thread(target=measure, daemon=True, name=f"loudness-{reel_id}").start()
        return done
