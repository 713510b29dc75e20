"""The capture job: a camera shoots into a shot, which grows while it does; it goes on after a restart."""

import logging
import re
import time
from collections.abc import Callable, Iterable
from contextlib import suppress
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from queue import Empty
from threading import Event

from yarnkite.camera.cameras import Cameras
from yarnkite.camera.decisions import Capture
from yarnkite.camera.shooting import Happened, Orders, Shooting, TakenStill, is_late
from yarnkite.camera.timing import Beats
from yarnkite.core.base.atomic import sync_file, sync_folders
from yarnkite.core.base.errors import NotFound, Unavailable
from yarnkite.core.base.wording import counted
from yarnkite.jobs.growing import Growing
from yarnkite.jobs.runner import Cancelled, Context, Paused, Stopped
from yarnkite.store import capture as captures
from yarnkite.store import jobs, shots
from yarnkite.store.capture import Course, Gap

_LOOK_EVERY_S = 0.1
_NOTE_EVERY_S = 0.2
_AFTER_TROUBLE_S = 5.0
_SOON_S = 0.3
log = logging.getLogger(__name__)


def running(cameras: Cameras) -> Callable[[Context], None]:
    """Return the work of a capture job, with the cameras of this machine."""

    def run(context: Context) -> None:
        noted = jobs.wanted_of(context.database, context.job["id"])
        _Capturing(context, Capture.model_validate(noted["capture"]), str(noted["stem"]), cameras).run()

    return run


class _Capturing:
    """A capture under way: its shooting, the growth of its shot, and what is noted of both."""

    def __init__(self, context: Context, wanted: Capture, stem: str, cameras: Cameras) -> None:
        self._context, self._wanted, self._cameras = context, wanted, cameras
        self._job, self._shot = context.job["id"], context.job["shot_id"]
        self._stem = stem
        self._folder = shots.folder_of(shots.one(context.database, self._shot))
        self._unnoted: list[Happened] = []
        self._said_first = ""

    def run(self) -> None:
        course = self._begun()
        growing = Growing(self._context, written_whole=True)
        shooting = self._shooting(course)
        try:
            if not course.stopped:
                shooting.start()
                self._go_on(shooting, growing)
            shooting.stop()
            self._end(shooting, growing, "")
        except Cancelled:
            shooting.stop()
            # What it took is taken in all the same: within a job that is not asked to end.
            self._context = replace(self._context, cancelled=Event())
            self._end(shooting, Growing(self._context, written_whole=True), "Stopped on wish. ")
        finally:
            shooting.stop()

    def _begun(self) -> Course:
        """Return the capture's course, with its first beat fixed to a moment of the day."""
        database = self._context.database
        captures.begin(database, self._job, self._shot)
        soon = datetime.now(UTC) + timedelta(seconds=_SOON_S)
        starts = max(self._wanted.starts_at, soon) if self._wanted.starts_at else soon
        captures.set_began(database, self._job, starts.astimezone(UTC).replace(tzinfo=None))
        return captures.one(database, self._job)

    def _shooting(self, course: Course) -> Shooting:
        assert course.began_at is not None
        since = self._since(course, course.began_at.replace(tzinfo=UTC))
        beats = Beats(time.monotonic() - since, self._wanted.interval_s)
        # A killed program may have taken stills that it did not come to note.
        unnoted = beats_of(self._folder, self._stem, course.next_beat)
        first = max([course.next_beat, *(beat + 1 for beat in unnoted)])
        if not course.stopped:
            first = min(beats.next_after(first - 1, time.monotonic()), self._wanted.most_beats)
        gaps = gaps_between(course.next_beat, first, unnoted)
        captures.note(self._context.database, self._job, first, len(unnoted), 0, gaps)
        orders = Orders(
            folder=self._folder,
            stem=self._stem,
            beats=beats,
            first_beat=first,
            last_beat=self._wanted.most_beats - 1,
            most_stills=self._wanted.count,
            longest_s=self._wanted.interval_s * self._wanted.most_exposure if self._wanted.follow else None,
        )
        key = self._wanted.camera
        return Shooting(
            lambda: self._cameras.open(key),
            lambda: self._cameras.let_go(key),
            orders,
            taken=course.taken + len(unnoted),
            paused=course.paused,
        )

    def _since(self, course: Course, began: datetime) -> float:
        """Return how long ago the first beat was due, in seconds.

        A clock that was put back would have the next still wait until it is as late again: the beats go on from where
        they were, by the clock of the machine that cannot be put.
        """
        since = (datetime.now(UTC) - began).total_seconds()
        if not course.next_beat and self._wanted.starts_at is not None:
            return since
        at_least = (course.next_beat - 1) * self._wanted.interval_s if course.next_beat else -_SOON_S
        if since >= at_least - self._wanted.interval_s:
            return since
        log.warning("the clock went back by %.0f s; capture %s goes on", at_least - since, self._job)
        self._said_first = "The clock of this machine was put back; the stills go on without a gap. "
        return at_least

    def _go_on(self, shooting: Shooting, growing: Growing) -> None:
        looked = noted = 0.0
        while not shooting.is_over.is_set():
            self._context.check()
            now = time.monotonic()
            try:
                if now - noted >= _NOTE_EVERY_S:
                    noted = now
                    shooting.pause(captures.one(self._context.database, self._job).paused)
                    self._note(shooting)
                if now >= looked:
                    looked = time.monotonic() + self._grow(growing)
            except Unavailable:
                # The camera goes on without the database; what it takes is noted once that is back.
                time.sleep(_NOTE_EVERY_S)
            time.sleep(_LOOK_EVERY_S)

    def _grow(self, growing: Growing) -> float:
        """Take in what came; what goes wrong with that must not end the shooting: the stills lie on the disk."""
        try:
            return growing.step()
        except (Cancelled, Paused, Stopped, Unavailable, NotFound):
            raise
        except Exception:
            log.exception("stills of capture %s could not be taken in; it is tried again", self._job)
            return _AFTER_TROUBLE_S

    def _note(self, shooting: Shooting) -> None:
        """Note in the database what happened since the last time; nothing is taken off the queue that is not noted."""
        with suppress(Empty):
            while True:
                self._unnoted.append(shooting.happened.get_nowait())
        if not self._unnoted:
            return
        happened = list(self._unnoted)
        taken = [one for one in happened if isinstance(one, TakenStill)]
        self._sync(one.name for one in taken)
        late = [one for one in taken if is_late(one)]
        gaps = [
            Gap(one.beat, one.beat, "late", f"Taken {one.late_s:.2f} s late.")
            if isinstance(one, TakenStill)
            else Gap(one.first, one.last, one.why, one.sentence)
            for one in happened
            if not isinstance(one, TakenStill) or is_late(one)
        ]
        next_beat = max(one.beat if isinstance(one, TakenStill) else one.last for one in happened) + 1
        captures.note(self._context.database, self._job, next_beat, len(taken), len(late), gaps)
        self._unnoted.clear()
        course = captures.one(self._context.database, self._job)
        self._context.progress(course.taken, self._wanted.count or min(self._wanted.most_beats, 10**6), now=True)
        jobs.note(
            self._context.database, self._job, self._said_first + (gaps[-1].sentence if gaps and not taken else "")
        )
        self._context.publish("capture", {"shot_id": self._shot, "job_id": self._job})

    def _sync(self, names: Iterable[str]) -> None:
        """Have stills on the disk before they are noted as taken."""
        for name in names:
            with suppress(FileNotFoundError):
                sync_file(self._folder / name)
        if self._folder.is_dir():
            sync_folders([self._folder])

    def _end(self, shooting: Shooting, growing: Growing, said: str) -> None:
        self._note(shooting)
        growing.finish()
        course = captures.one(self._context.database, self._job)
        missed = f", {course.missed:,} missing" if course.missed else ""
        late = f", {course.late:,} late" if course.late else ""
        jobs.end(
            self._context.database,
            self._job,
            "finished",
            f"{said}{counted(course.taken, 'still')} taken{late}{missed}.",
        )
        self._context.publish("capture", {"shot_id": self._shot, "job_id": self._job})


def beats_of(folder: Path, stem: str, since: int) -> set[int]:
    """Return the beats, from one on, of which there are stills in a capture's folder."""
    named = re.compile(rf"{re.escape(stem)}_(\d{{6,}})\.\w+")
    found = (named.fullmatch(file.name) for file in folder.iterdir()) if folder.is_dir() else ()
    return {int(match[1]) - 1 for match in found if match and int(match[1]) > since}


def gaps_between(since: int, until: int, taken: set[int]) -> list[Gap]:
    """Return the stretches of beats, from one to before another, that were not taken while the program did not run."""
    gaps = []
    for beat in (*sorted(taken), until):
        if beat > since:
            gaps.append(Gap(since, beat - 1, "stopped", "The program was not running."))
        since = beat + 1
    return gaps


def stem_of(name: str) -> str:
    """Return what the names of captured files begin with, from a shot's name: letters and figures, no more than 24."""
    plain = "".join(one if one.isascii() and one.isalnum() else "-" for one in name.strip())
    return "-".join(part for part in plain.split("-") if part)[:24].strip("-") or "still"
