"""What a stretch of stills has in common, put together by the workers from reduced copies, and kept by what it
shows."""

import io
import os
from collections.abc import Sequence
from pathlib import Path

import numpy as np

from yarnkite.core.base.atomic import write_completed
from yarnkite.core.base.errors import NotFound
from yarnkite.core.base.frozen import Size, digest
from yarnkite.core.base.oldest import forget_oldest
from yarnkite.core.base.still import Still
from yarnkite.core.check.stack_statistics import StackStatistics
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.gather.proxies import Proxies, proxy_reduction
from yarnkite.core.render.picture import fitted
from yarnkite.core.render.slots import alike
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import in_turn
from yarnkite.resolve.slots import not_in_clip
from yarnkite.store import jobs, revisions, shots, snapshots
from yarnkite.store.database import Database

AT_ONCE = 12
WIDTH = 960
MOST_BYTES = 1_000_000_000
# Part of every file's name: raise it when what is put together from the same stills changes.
_EDITION = 2


def stretch(database: Database, shot_id: int, first: int, last: int | None) -> list[Still]:
    """Return the stills of a stretch that are in the clip and have the size most have; raises ``NotFound`` for none."""
    shot = shots.one(database, shot_id)
    _, decisions = revisions.latest(database, shot_id)
    every = snapshots.of_shot(database, shot).stills
    out = not_in_clip(database, shot, decisions.check)
    chosen = [still for number, still in every[first : len(every) if last is None else last + 1] if number not in out]
    if not chosen:
        raise NotFound("no_stills", "There are no stills in this stretch.")
    return alike(chosen)


def name_of(stills: Sequence[Still]) -> str:
    """Return the name under which what these stills have in common is kept."""
    return digest(_EDITION, *(still.fingerprint for still in stills))


def cached(folder: Path, name: str) -> StackStatistics | None:
    """Return what was put together before, or ``None``."""
    path = _path(folder, name)
    try:
        with np.load(path, allow_pickle=False) as arrays:
            stack = StackStatistics.from_arrays(arrays)
        os.utime(path)
    except (OSError, ValueError, KeyError, EOFError):
        return None
    return stack


def run(context: Context) -> None:
    """Put the wanted stretch of a shot together, a count at a time."""
    wanted = jobs.wanted_of(context.database, context.job["id"])
    stills = stretch(context.database, context.job["shot_id"], wanted["first"], wanted["last"])
    folder = context.workspace.together
    stack, done = StackStatistics(), 0
    context.progress(0, len(stills), now=True)
    parts: dict[int, StackStatistics] = {}
    tasks = [(low, stills[low : low + AT_ONCE]) for low in range(0, len(stills), AT_ONCE)]
    if cached(folder, name_of(stills)) is None:
        for (low, part), future in in_turn(
            context.workers,
            seen_together,
            tasks,
            lambda task: (task[1], context.workspace.proxies),
            while_waiting=context.check,
        ):
            parts[low] = future.result()
            done += len(part)
            # Joined in the order of the stills, as soon as that can be, so that few wait in memory.
            while stack.count in parts:
                stack.join(parts.pop(stack.count))
            context.progress(done, len(stills))
        save(folder, name_of(stills), stack)
    context.progress(len(stills), len(stills), now=True)
    jobs.end(context.database, context.job["id"], "finished")


def save(folder: Path, name: str, stack: StackStatistics) -> None:
    """Keep what was put together, and forget what was used longest ago beyond a gigabyte."""
    memory = io.BytesIO()
    np.savez_compressed(memory, allow_pickle=False, **stack.arrays())
    write_completed(_path(folder, name), memory.getbuffer())
    forget_oldest(folder, "*.npz", MOST_BYTES)


def seen_together(stills: Sequence[Still], proxies: Proxies) -> StackStatistics:
    """Put stills of one size together, in a worker, about 960 pixels wide."""
    first = stills[0]
    width = min(WIDTH, first.width // proxy_reduction(first.width, first.height))
    size = Size.as_wide(width // 2 * 2, (first.width, first.height))
    stack = StackStatistics()
    for still in stills:
        stack.add(fitted(still, Fit(size=size), size, read=proxies.read))
    return stack


def _path(folder: Path, name: str) -> Path:
    return folder / f"{name}.npz"
