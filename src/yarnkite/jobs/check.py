"""Measuring how each still lies against the one before it, as far as that is not known yet."""

from collections.abc import Collection, Sequence
from contextlib import suppress
from itertools import pairwise

from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.still import Still
from yarnkite.core.check.dirt import Spot, spots
from yarnkite.core.check.shift import Edges, Shift, shift_between
from yarnkite.core.fit.decisions import Fit
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.pixels import as_eight
from yarnkite.core.render.picture import fitted
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import in_turn
from yarnkite.resolve.check import looked_for_dirt
from yarnkite.store import check as checks
from yarnkite.store import jobs, shots, snapshots

AT_ONCE = 60
DIRT_WIDTH = 640

Pair = tuple[Still, Still]


def run(context: Context) -> None:
    """Measure the pairs of a shot whose order or stills changed."""
    measure(context)
    jobs.end(context.database, context.job["id"], "finished")


def measure(context: Context) -> None:
    """Do within a job all that the check of a shot needs beyond the measures of each still; once, if several jobs
    do."""
    with context.analyses.alone(f"check of shot {context.job['shot_id']}", context.check):
        measure_pairs(context)
        _find_dirt(context)


def measure_pairs(context: Context, known: Collection[tuple[str, str]] | None = None) -> set[tuple[str, str]]:
    """Measure the pairs of neighbours of a shot that were never neighbours before, within a job.

    ``known`` are those that are measured, by their fingerprints, where that is known already; returns all that are by
    then.
    """
    shot = shots.one(context.database, context.job["shot_id"])
    stills = [still for _, still in snapshots.of_shot(context.database, shot).stills]
    measured = set(checks.pairs(context.database, [still.fingerprint for still in stills]) if known is None else known)
    todo = [
        (before, after) for before, after in pairwise(stills) if (before.fingerprint, after.fingerprint) not in measured
    ]
    return measured.union(measure_those(context, todo))


def measure_those(context: Context, pairs: Sequence[Pair]) -> set[tuple[str, str]]:
    """Measure some pairs of stills within a job; returns them by their fingerprints."""
    chunks = [pairs[low : low + AT_ONCE] for low in range(0, len(pairs), AT_ONCE)]
    for chunk, future in in_turn(
        context.workers,
        shifts,
        chunks,
        lambda chunk: (chunk, context.workspace.proxies),
        while_waiting=context.check,
    ):
        checks.add_pairs(context.database, chunk, future.result())
    return {(before.fingerprint, after.fingerprint) for before, after in pairs}


def _find_dirt(context: Context) -> None:
    shot = shots.one(context.database, context.job["shot_id"])
    sample, stills = looked_for_dirt(snapshots.of_shot(context.database, shot).stills)
    if checks.dirt(context.database, shot["id"])[0] == sample:
        return
    for _, future in in_turn(
        context.workers,
        dirt_in,
        [stills],
        lambda chosen: (chosen, context.workspace.proxies),
        while_waiting=context.check,
    ):
        checks.keep_dirt(context.database, shot["id"], sample, future.result())


def dirt_in(stills: list[Still], proxies: Proxies) -> list[Spot]:
    """Look for dirt in stills of one size, in a worker; those that cannot be read any more are left out."""
    images = []
    for still in stills:
        size = Size.as_wide(DIRT_WIDTH, (still.width, still.height))
        with suppress(UnreadableStill):
            images.append(as_eight(fitted(still, Fit(size=size), size, read=proxies.read)))
    return spots(images)


def shifts(pairs: Sequence[Pair], proxies: Proxies) -> list[Shift]:
    """Measure pairs in a worker; a still that cannot be read any more has not moved, as far as can be told."""
    edges: dict[str, Edges | None] = {}

    def edges_of(still: Still) -> Edges | None:
        if still.fingerprint not in edges:
            try:
                edges[still.fingerprint] = Edges(proxies.thumbnail_of(still))
            except UnreadableStill:
                edges[still.fingerprint] = None
        return edges[still.fingerprint]

    result = []
    for before, after in pairs:
        one, other = edges_of(before), edges_of(after)
        result.append(shift_between(one, other) if one and other else Shift(0, 0, 0, 0))
    return result
