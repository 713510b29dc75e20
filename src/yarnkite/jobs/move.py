"""Measuring how a shot's stills lie against each other, and following its anchored points, as far as not known."""

from collections.abc import Iterator, Sequence
from contextlib import suppress

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.homography import inverse, mapped
from yarnkite.core.base.still import Still
from yarnkite.core.gather.proxies import Proxies
from yarnkite.core.image.pixels import EightBit
from yarnkite.core.move import point as points
from yarnkite.core.move.decisions import AnchoredPoint
from yarnkite.core.move.horizon import horizon
from yarnkite.core.move.pairs import LONG_SIDE, Followed, PairMotion, motion_between
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import in_turn
from yarnkite.resolve.move import ShotPath, path_of_shot
from yarnkite.store import jobs, revisions, shots, snapshots
from yarnkite.store import move as moves

# x, y and sure, and x and y where the camera led it.
Row = tuple[float, float, float, float, float]

AT_ONCE = 48
FOLLOWED_AT_ONCE = 16
# Where a point is hidden because its still cannot be read.
_BLANK = np.zeros((64, 64), np.uint8)


def run(context: Context) -> None:
    """Measure a shot's movement, and follow the points its newest decisions anchor; also those decided meanwhile."""
    with context.analyses.alone(f"movement of shot {context.job['shot_id']}", context.check):
        while measure(context):
            pass
    jobs.end(context.database, context.job["id"], "finished")


def measure(context: Context) -> bool:
    """Measure within a job what steadying a shot needs and is not known yet; returns whether anything came to be
    known."""
    shot = shots.one(context.database, context.job["shot_id"])
    decisions = revisions.latest(context.database, shot["id"])[1]
    known = path_of_shot(context.database, shot["id"], decisions.check)
    stills = [still for _, still in snapshots.of_shot(context.database, shot).stills]
    if tuple(still.fingerprint for still in stills) != known.stills.fingerprints:
        # The shot was changed between the two readings: look again.
        return True
    steady = decisions.move.steady
    held = [one for one in steady.points if steady.how == "anchor" and known.stills.anchors(one)]
    todo = [one for one in held if not moves.is_tracked(context.database, known.stills.track_name(one))]
    if not known.missing and not todo:
        return False
    total = len({pair[1] for pair in known.missing}) + len(todo) * len(stills)
    context.progress(0, total, now=True)
    if known.missing:
        return _measure_pairs(context, shot["id"], stills, known.missing, total)
    for number, one in enumerate(todo):
        observations = _follow(context, stills, known, one, (number * len(stills), total))
        moves.add_track(context.database, known.stills.track_name(one), observations)
    moves.note_measured(context.database, shot["id"])
    return True


def _measure_pairs(
    context: Context, shot_id: int, stills: list[Still], missing: list[tuple[int, int]], total: int
) -> bool:
    """Measure pairs, those that end close together in one go, so that each still is read about once."""
    chunks: list[list[tuple[int, int]]] = []
    for pair in sorted(missing, key=lambda pair: (pair[1], pair[0])):
        if not chunks or pair[1] - chunks[-1][0][1] >= AT_ONCE:
            chunks.append([])
        chunks[-1].append(pair)
    done, came = 0, False
    finished = in_turn(
        context.workers,
        motions,
        chunks,
        lambda chunk: ([(stills[one], stills[two]) for one, two in chunk], context.workspace.proxies),
        while_waiting=context.check,
    )
    try:
        for chunk, future in finished:
            # What could not be read is not known: it is measured when it can be.
            found = [
                ((stills[one], stills[two]), motion)
                for (one, two), motion in zip(chunk, future.result(), strict=True)
                if motion is not None
            ]
            if found:
                moves.add_motions(context.database, *zip(*found, strict=True))
                came = True
            done += len({pair[1] for pair in chunk})
            context.progress(done, total)
        _find_horizons(context, stills)
    finally:
        # Also what was measured before a cancel is known from now on.
        if came:
            moves.note_measured(context.database, shot_id)
    return came


def _find_horizons(context: Context, stills: list[Still]) -> None:
    todo = moves.without_horizon(context.database, stills)
    for chunk, future in in_turn(
        context.workers,
        horizons,
        [todo] if todo else [],
        lambda chunk: (chunk, context.workspace.proxies),
        while_waiting=context.check,
    ):
        moves.add_horizons(context.database, chunk, future.result())


def _follow(
    context: Context, stills: list[Still], known: ShotPath, point: AnchoredPoint, so_far: tuple[int, int]
) -> Floats:
    """Follow a point from each place it was pointed at to the next one, and from the first one back to the
    beginning."""
    count = len(stills)
    observations = np.zeros((count, 5))
    found = known.stills.anchors(point)
    starts = [place for place, _ in found]
    runs = [(place, at, range(place + 1, end)) for (place, at), end in zip(found, [*starts[1:], count], strict=True)]
    runs.append((*found[0], range(starts[0] - 1, -1, -1)))
    done, total = so_far
    for place, at, way in runs:
        observations[place] = (at[0], at[1], 1.0, at[0], at[1])
        for chunk, rows in _followed_along(context, stills, known, (place, at), way):
            observations[chunk] = rows
            done += len(chunk)
            context.progress(done, total)
        along = [place, *way]
        observations[along, :2] = points.bridged(observations[along])
    return observations[:, :3]


def _followed_along(
    context: Context, stills: list[Still], known: ShotPath, start: tuple[int, Floats], way: Sequence[int]
) -> Iterator[tuple[list[int], list[Row]]]:
    """Yield some stills along a way at a time, and where a point that was pointed at in another one is in each."""
    matrices = known.path.matrices
    before, at = start
    state: points.Tracked | tuple[Still, Floats] = (stills[before], at)
    for low in range(0, len(way), FOLLOWED_AT_ONCE):
        chunk = list(way[low : low + FOLLOWED_AT_ONCE])
        led = [inverse(matrices[now]) @ matrices[last] for last, now in zip([before, *chunk], chunk, strict=False)]
        arguments = (state, [stills[now] for now in chunk], led, context.workspace.proxies)
        for _, future in in_turn(context.workers, follow, [arguments], lambda task: task, while_waiting=context.check):
            state, rows = future.result()
            yield chunk, rows
        before = chunk[-1]


def motions(pairs: list[tuple[Still, Still]], proxies: Proxies) -> list[PairMotion | None]:
    """Measure pairs in a worker, sorted by their second still; of those that cannot be read nothing is known."""
    seen: dict[str, Followed | None] = {}
    last_use = {still.fingerprint: number for number, pair in enumerate(pairs) for still in pair}

    def seen_of(still: Still) -> Followed | None:
        if still.fingerprint not in seen:
            picture = _grey(still, proxies, LONG_SIDE)
            seen[still.fingerprint] = None if picture is None else Followed(picture)
        return seen[still.fingerprint]

    result: list[PairMotion | None] = []
    for number, (one, other) in enumerate(pairs):
        first, second = seen_of(one), seen_of(other)
        result.append(motion_between(first, second) if first and second else None)
        for still in (one, other):
            if last_use[still.fingerprint] == number:
                seen.pop(still.fingerprint, None)
    return result


def horizons(stills: list[Still], proxies: Proxies) -> list[tuple[float, float]]:
    """Look for the horizon of stills in a worker."""
    pictures = (_grey(still, proxies, LONG_SIDE) for still in stills)
    return [(0.0, 0.0) if picture is None else horizon(picture) for picture in pictures]


def follow(
    start: "points.Tracked | tuple[Still, Floats]", stills: list[Still], led: list[Floats], proxies: Proxies
) -> tuple[points.Tracked, list[Row]]:
    """Follow a point through some stills in a worker, from a still it was pointed at or from where it was.

    Returns
    -------
    what is known of the point at the end, and for each still x, y and sure, and x and y where the camera led it
    """
    point = start if isinstance(start, points.Tracked) else points.begun(_seen(start[0], proxies), start[1])
    rows: list[Row] = []
    for still, map_there in zip(stills, led, strict=True):
        expected = mapped(map_there, point.at)
        point, sight = points.followed(point, _seen(still, proxies), map_there)
        rows.append((sight.x, sight.y, sight.sure, float(expected[0]), float(expected[1])))
    return point, rows


def _seen(still: Still, proxies: Proxies) -> points.Seen:
    picture = _grey(still, proxies, points.LONG_SIDE)
    return points.Seen(_BLANK if picture is None else picture)


def _grey(still: Still, proxies: Proxies, long_side: int) -> EightBit | None:
    """Return the brightness of a still, or ``None`` if it cannot be read any more."""
    with suppress(UnreadableStill):
        return proxies.grey(still, long_side)
    return None
