"""Shooting: a thread of its own that releases the camera when each still is due, and does nothing else."""

import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue

from yarnkite.camera.camera import Camera, CameraAway, CameraRefuses, Settings
from yarnkite.camera.decisions import Why
from yarnkite.camera.following import Following, measured
from yarnkite.camera.timing import LATE_S, Beats
from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.errors import Refusal

log = logging.getLogger(__name__)

_LOOK_EVERY_S = 0.2
# Waiting by the system's timer is exact to this; what is left is waited out awake.
_EXACT_S = 0.002


@dataclass(frozen=True)
class TakenStill:
    """A still that came: its beat, how much later than due the camera was released, and the name of its file.

    The file is complete, but perhaps not on the disk yet: waiting for that would make the next still late.
    """

    beat: int
    late_s: float
    name: str


@dataclass(frozen=True)
class MissedBeats:
    """Beats without a still, and why."""

    first: int
    last: int
    why: Why
    sentence: str


Happened = TakenStill | MissedBeats


@dataclass(frozen=True)
class Orders:
    """What is to be shot: until when, how files are named, and how far an exposure may go with the light."""

    folder: Path
    stem: str
    beats: Beats
    first_beat: int
    last_beat: int
    most_stills: int | None
    longest_s: float | None


class Shooting:
    """Releases a camera beat by beat; what happened lies in ``happened``, in order, for another thread to read."""

    def __init__(
        self,
        open_camera: Callable[[], Camera],
        let_go: Callable[[], None],
        orders: Orders,
        *,
        taken: int = 0,
        paused: bool = False,
    ) -> None:
        self._open, self._lost, self._orders = open_camera, let_go, orders
        self._taken = taken
        self._ended, self._paused = threading.Event(), threading.Event()
        if paused:
            self._paused.set()
        self._camera: Camera | None = None
        self._following: Following | None = None
        self.happened: SimpleQueue[Happened] = SimpleQueue()
        self.is_over = threading.Event()
        self._thread = threading.Thread(target=self._run, name="shooting", daemon=True)

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def pause(self, paused: bool) -> None:
        """Leave beats out from now on, or go on with the next one."""
        if paused:
            self._paused.set()
        else:
            self._paused.clear()

    def stop(self) -> None:
        """End after the still under way, if one is."""
        self._ended.set()
        if self._thread.is_alive():
            self._thread.join(30.0)

    def _run(self) -> None:
        orders, beats = self._orders, self._orders.beats
        beat = orders.first_beat
        try:
            while beat <= orders.last_beat and not self._is_enough():
                if not self._wait_until(beats.due(beat)):
                    return
                self._take(beat)
                following = beats.next_after(beat, time.monotonic())
                if following > beat + 1:
                    last = min(following - 1, orders.last_beat)
                    if last > beat:
                        self._missed(beat + 1, last, "failed", "The camera was not ready in time.")
                beat = following
        except Exception:
            log.exception("shooting broke off")
            self._missed(beat, beat, "failed", "Something went wrong that should not; the log tells more.")
        finally:
            self.is_over.set()

    def _is_enough(self) -> bool:
        return self._orders.most_stills is not None and self._taken >= self._orders.most_stills

    def _wait_until(self, due: float) -> bool:
        """Wait until a moment on the steady clock; tells ``False`` if the end came first."""
        while (left := due - time.monotonic()) > 0:
            if left > _EXACT_S:
                if self._ended.wait(min(left - _EXACT_S, _LOOK_EVERY_S)):
                    return False
            else:
                time.sleep(left / 2)
        return not self._ended.is_set()

    def _take(self, beat: int) -> None:
        if self._paused.is_set():
            self._missed(beat, beat, "paused", "Left out on wish.")
            return
        try:
            camera = self._opened()
            late = time.monotonic() - self._orders.beats.due(beat)
            still = camera.take()
            name = f"{self._orders.stem}_{beat + 1:06}{still.ending}"
            if not still.data:
                raise CameraRefuses("broken_still", "The camera sent an empty still.")
            write_completed(self._orders.folder / name, still.data, exclusive=True)
        except CameraAway as away:
            self._let_go()
            self._missed(beat, beat, "away", away.sentence)
        except Refusal as refusal:
            self._missed(beat, beat, "failed", refusal.sentence)
        else:
            self._taken += 1
            self.happened.put(TakenStill(beat, late, name))
            self._follow(camera, still.data)

    def _opened(self) -> Camera:
        if self._camera is None:
            self._camera = self._open()
        return self._camera

    def _let_go(self) -> None:
        self._lost()
        # A camera that comes back may have forgotten its settings.
        self._camera = None

    def _follow(self, camera: Camera, data: bytes) -> None:
        """Set the next still's exposure after what this one shows; where that fails, the next one is as this one."""
        if self._orders.longest_s is None:
            return
        try:
            if self._following is None:
                state = camera.state()
                if state.settings is None or not state.abilities.exposures_s:
                    return
                self._following = Following(state.abilities, state.settings, self._orders.longest_s)
            before = self._following.settings
            wanted = self._following.after(measured(data))
            if wanted != before:
                self._following.settings = camera.set(Settings(wanted.exposure_s, wanted.sensitivity))
        except Refusal:
            return

    def _missed(self, first: int, last: int, why: Why, sentence: str) -> None:
        self.happened.put(MissedBeats(first, last, why, sentence))


def is_late(still: TakenStill) -> bool:
    """Tell whether a still was released later than is said to be on time."""
    return still.late_s > LATE_S
