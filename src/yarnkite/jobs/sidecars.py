"""Sidecars read while a shot is gathered: those that are new or were changed since."""

from collections import defaultdict
from collections.abc import Collection
from dataclasses import replace
from pathlib import Path

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.gather.sidecars import Sidecar, is_sidecar, newest, read_sidecar, stills_of
from yarnkite.core.gather.sorting import LeftOut
from yarnkite.jobs.runner import Context
from yarnkite.store import sidecars


def read_sidecars(
    context: Context, shot_id: int, folder: Path, left_out: Collection[LeftOut], *, by_source: bool
) -> None:
    """Read the sidecars among the files that are no stills, and note what they say of the stills they belong to.

    Edits of a raw file say nothing of the picture beside it that is the still: ``left_out`` tells of such pairs.
    """
    before = sidecars.of_shot(context.database, shot_id, by_source=by_source)
    ids = {one.name: still for still, one in before.items()}
    candidates = [file.name for file in left_out if file.kind == "sidecar" and is_sidecar(file.name)]
    paired = set(stills_of((file.name for file in left_out if file.kind == "pair"), ids).values())
    of_still: dict[int, list[str]] = defaultdict(list)
    for name, still in stills_of(candidates, ids).items():
        of_still[still].append(name)
    changed: dict[int, Sidecar | None] = {}
    for still, one in before.items():
        context.check()
        now = _read(folder, of_still.get(still, ()), one.sidecar)
        if now is not None and still in paired and one.kind != "RAW":
            now = replace(now, has_edits=False)
        if now != one.sidecar:
            changed[still] = now
    if changed:
        sidecars.set_sidecars(context.database, changed)


def _read(folder: Path, names: Collection[str], before: Sidecar | None) -> Sidecar | None:
    if len(names) == 1 and before is not None and _is_same(folder, before, next(iter(names))):
        return before
    read = []
    for name in names:
        try:
            read.append(read_sidecar(folder, name))
        except UnreadableStill as error:
            read.append(Sidecar(name, 0, 0, trouble=error.sentence))
    return newest(read) if read else None


def _is_same(folder: Path, before: Sidecar, name: str) -> bool:
    try:
        now = (folder / name).lstat()
    except OSError:
        return False
    return (before.name, before.bytes, before.modified_ns) == (name, now.st_size, now.st_mtime_ns)
