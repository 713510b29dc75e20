"""From rendered chunks to a finished file, as its format wants: packets copied, encoded in one stream, or packed."""

from collections.abc import Sequence
from pathlib import Path

from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.join import Chapter, join
from yarnkite.core.encode.labels import Labels
from yarnkite.core.encode.light_level import write_level
from yarnkite.core.encode.loops import write_loop
from yarnkite.core.encode.numbered import names, pack
from yarnkite.core.encode.proof import Proof, level_of
from yarnkite.core.encode.render_plan import Chunk, RenderPlan


def assemble(
    plan: RenderPlan,
    parts: Sequence[Chunk],
    folder: Path,
    target: Path,
    *,
    sound: Path | None = None,
    chapters: Sequence[Chapter] = (),
    labels: Labels = Labels(),
    stem: str = "frame",
) -> Path:
    """Make a file of the chunks in ``folder``; it appears under its name only when it is complete.

    ``sound`` is a file with the sound of the whole, ``stem`` what the names of frames begin with that are files each.
    Raises ``Refusal`` or ``DiskFull``.
    """
    format = format_of(plan.encode)
    paths = [folder / part.file_name for part in parts]
    if format.way == "joined":
        join(plan.rate, paths, target, sound, chapters, plan.encode, labels)
        if format.range_of(plan.encode) == "pq" and (
            level := level_of(Proof.read(folder / part.proof_name) for part in parts)
        ):
            write_level(target, level)
        return target
    if format.way == "streamed":
        return write_loop(plan.rate, plan.size, paths, target, plan.encode)
    return pack(paths, target, names(stem, plan.frames, format.codec))
