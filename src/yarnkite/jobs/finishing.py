"""From frames to a finished file that was proven: rendered, its sound encoded, joined, compared with its plan.

The one way to a file, for jobs and for the command line alike.
"""

import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from datetime import datetime
from pathlib import Path

from yarnkite.core.encode.assemble import assemble
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.frame_range import FrameRange
from yarnkite.core.encode.join import Chapter
from yarnkite.core.encode.labels import Labels
from yarnkite.core.encode.render_plan import Chunk, RenderPlan, SoundPlan, render_plan
from yarnkite.core.encode.sample import Sampled, painted_anew, sample_of
from yarnkite.core.encode.verify import Verdict, verified
from yarnkite.core.render.frame_source import FrameSource
from yarnkite.jobs.rendering import Rendering, rendered
from yarnkite.jobs.workers import in_turn


@dataclass(frozen=True)
class Making:
    """What a file is made of: its frames, what they are encoded as, and what else is in it.

    ``sound`` encodes the sound into a file and says what it must turn out to be; ``captured`` is when the first still
    was taken; ``expected`` is about how many bytes the file takes, where that is known.
    """

    frames: FrameSource
    encode: Encode
    sound: Callable[[Path], SoundPlan] | None = None
    chapters: Sequence[Chapter] = ()
    captured: datetime | None = None
    expected: int = 0

    @property
    def labels(self) -> Labels:
        """What is written into the file about itself."""
        return Labels.of(self.encode, self.captured)

    @property
    def encode_sound(self) -> Callable[[Path], SoundPlan] | None:
        """What encodes the sound; ``None`` where there is none, or a file of the format cannot have it."""
        return self.sound if format_of(self.encode).has_sound else None

    def within(self, stretch: Sequence[int] | None) -> "Making":
        """Return what makes frames ``stretch[0] … stretch[1] - 1`` alone, or all of them; raises ``Refusal``."""
        if not stretch:
            return self
        # A stretch for a trial is looked at, not listened to.
        return replace(self, frames=FrameRange(self.frames, *stretch), sound=None, chapters=())

    def with_sound(self, plan: RenderPlan, target: Path) -> RenderPlan:
        """Return a plan with the sound that is to be, encoded into a file of its own."""
        return replace(plan, sound=self.encode_sound(target)) if self.encode_sound else plan


@dataclass(frozen=True)
class Finished:
    """A finished file: its plan, its chunks, and what comparing gave.

    ``fresh`` says that none of it was rendered before, ``took_s`` how long rendering took.
    """

    plan: RenderPlan
    parts: list[Chunk]
    verdict: Verdict
    fresh: bool
    took_s: float


@dataclass(frozen=True)
class Completion:
    """What is to be made of finished chunks, and where; ``stem`` is what names of frames that are files begin with."""

    plan: RenderPlan
    parts: list[Chunk]
    folder: Path
    target: Path
    sound: Path | None
    chapters: Sequence[Chapter]
    labels: Labels
    stem: str
    sample: tuple[Sampled, ...] = ()


def finished(rendering: Rendering, making: Making, target: Path, *, stem: str, sound_file: Path) -> Finished:
    """Render what is not rendered yet, join it, and compare the file with its plan.

    ``sound_file`` is where the sound lies meanwhile. Raises ``Refusal``, and what workers raise.
    """
    frames, encode = making.frames, making.encode
    plan = render_plan(frames, encode)
    began = time.monotonic()
    done = rendered(rendering, frames, plan, has_sound=making.encode_sound is not None)
    took_s = time.monotonic() - began
    sample = tuple(sample_of(frames, "".join(part.key for part in done.parts)))
    try:
        plan = making.with_sound(plan, sound_file)
        sound = sound_file if plan.sound else None
        what = (plan, done.parts, rendering.folder, target, sound, making.chapters, making.labels, stem, sample)
        verdict = _completed(rendering, Completion(*what))
    finally:
        sound_file.unlink(missing_ok=True)
    return Finished(plan, done.parts, verdict, done.fresh, took_s)


def _completed(rendering: Rendering, completion: Completion) -> Verdict:
    """Have chunks joined and the file compared with its plan by a worker, so that who asked goes on answering."""
    ((_, future),) = in_turn(
        *(rendering.workers, complete, [completion]), lambda one: (one,), while_waiting=rendering.check, here=True
    )
    verdict: Verdict = future.result()
    return verdict


def complete(completion: Completion) -> Verdict:
    """Join finished chunks into a file and compare it with its plan, in a worker."""
    plan, parts, folder = completion.plan, completion.parts, completion.folder
    with ThreadPoolExecutor(1) as beside:
        # Copying packets waits for the disk, painting for the processor.
        anew = beside.submit(painted_anew, completion.sample, plan.encode)
        clip = assemble(
            *(plan, parts, folder, completion.target),
            sound=completion.sound,
            chapters=completion.chapters,
            labels=completion.labels,
            stem=completion.stem,
        )
        return verified(clip, plan, parts, folder, completion.labels, anew.result(), completion.chapters)
