"""Measuring how a shot's stills lie against each other, and following the points that are held, as far as not known."""

from contextlib import suppress
from fractions import Fraction

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.base.homography import mapped
from yarnkite.core.base.still import Still
from yarnkite.core.gather.proxies import PROXY_LONG_SIDE, Proxies, proxy_reduction
from yarnkite.core.image.pixels import EightBit, as_eight
from yarnkite.core.move import point as points
from yarnkite.core.move.decisions import HeldPoint
from yarnkite.core.move.horizon import horizon
from yarnkite.core.move.pairs import NOT_FOUND, Followed, PairMotion, motion_between
from yarnkite.jobs.runner import Context
from yarnkite.jobs.workers import in_turn
from yarnkite.store import jobs, revisions, shots, slots
from yarnkite.store import move as moves

AT_ONCE = 48
FOLLOWED_AT_ONCE = 16

Numbered = dict[int, Still]


def run(context: Context) -> None:
    """Measure a shot's movement, and follow the points its newest decisions hold."""
    shot_id = context.job["shot_id"]
    with context.analyses.alone(f"movement of shot {shot_id}", context.check):
        measure(context)
    jobs.end(context.database, context.job["id"], "finished")


def measure(context: Context) -> None:
    """Measure within a job all that steadying a shot needs and that was not measured yet."""
    shot = shots.one(context.database, context.job["shot_id"])
    decisions = revisions.latest(context.database, shot["id"])[1]
    stills = [still for _, still in slots.of_shot_whole(context.database, shot)]
    version = slots.state(context.database, shot["id"])
    known = moves.path(context.database, shot["id"], version, decisions.check)
    held = [one for one in decisions.move.steady.points if known.stills.anchors(one)]
    untracked = [one for one in held if not moves.is_tracked(context.database, known.stills.track_name(one))]
    total = len({pair[1] for pair in known.missing}) + len(untracked) * len(stills)
    done = 0
    if known.missing:
        try:
            done = _measure_pairs(context, stills, known.missing, total)
            _find_horizons(context, stills)
        finally:
            # Also what was measured before a cancel is known from now on.
            moves.note_measured(context.database, shot["id"])
        version = slots.state(context.database, shot["id"])
        known = moves.path(context.database, shot["id"], version, decisions.check)
    for one in untracked:
        sights = _follow(context, stills, known, one, (done, total))
        moves.add_track(context.database, known.stills.track_name(one), sights)
        done += len(stills)
    if untracked:
        moves.note_measured(context.database, shot["id"])
    context.progress(total, total, now=True)


def _measure_pairs(context: Context, stills: list[Still], missing: list[tuple[int, int]], total: int) -> int:
    """Measure pairs, those that end close together in one go, so that each still is read about once."""
    done = 0
    context.progress(done, total, now=True)
    chunks: list[list[tuple[int, int]]] = []
    for pair in sorted(missing, key=lambda pair: (pair[1], pair[0])):
        if not chunks or pair[1] - chunks[-1][0][1] >= AT_ONCE:
            chunks.append([])
        chunks[-1].append(pair)
    finished = in_turn(
        context.workers,
        motions,
        chunks,
        lambda chunk: ([(stills[one], stills[two]) for one, two in chunk], context.workspace.proxies),
        while_waiting=context.check,
    )
    for chunk, future in finished:
        moves.add_motions(context.database, [(stills[one], stills[two]) for one, two in chunk], future.result())
        done += len({pair[1] for pair in chunk})
        context.progress(done, total)
    return done


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
    context: Context, stills: list[Still], known: moves.ShotPath, point: HeldPoint, so_far: tuple[int, int]
) -> Floats:
    """Follow a point from each place it was pointed at to the next one, and from the first one back to the beginning."""
    matrices, count = known.path.matrices, len(stills)
    sights = np.zeros((count, 5))
    found = known.stills.anchors(point)
    starts = [place for place, _ in found]
    runs = [(place, at, range(place + 1, end)) for (place, at), end in zip(found, [*starts[1:], count], strict=True)]
    runs.append((*found[0], range(starts[0] - 1, -1, -1)))
    done, total = so_far
    for place, at, way in runs:
        sights[place] = (at[0], at[1], 1.0, at[0], at[1])
        state: points.Tracked | None = None
        before = place
        for low in range(0, len(way), FOLLOWED_AT_ONCE):
            chunk = list(way[low : low + FOLLOWED_AT_ONCE])
            led = [
                np.linalg.inv(matrices[now]) @ matrices[last]
                for last, now in zip([before, *chunk], chunk, strict=False)
            ]
            start = state if state is not None else (stills[place], at)
            arguments = (start, [stills[now] for now in chunk], led, context.workspace.proxies)
            for _, future in in_turn(
                context.workers, follow, [arguments], lambda task: task, while_waiting=context.check
            ):
                state, rows = future.result()
                sights[chunk] = rows
            before = chunk[-1]
            done += len(chunk)
            context.progress(done, total)
    return _put_together(sights, runs)


def _put_together(sights: Floats, runs: list[tuple[int, Floats, range]]) -> Floats:
    """Return x, y and sure of each still, hidden stretches bridged along each way the point was followed."""
    for place, _, way in runs:
        along = [place, *way]
        sights[along, :2] = points.bridged(sights[along])
    return sights[:, :3]


def motions(pairs: list[tuple[Still, Still]], proxies: Proxies) -> list[PairMotion]:
    """Measure pairs in a worker, sorted by their second still; one that cannot be read lies nowhere."""
    seen: dict[str, Followed | None] = {}
    last_use = {still.fingerprint: number for number, pair in enumerate(pairs) for still in pair}

    def seen_of(still: Still) -> Followed | None:
        if still.fingerprint not in seen:
            picture = _reduced(still, proxies)
            seen[still.fingerprint] = None if picture is None else Followed(picture)
        return seen[still.fingerprint]

    result = []
    for number, (one, other) in enumerate(pairs):
        first, second = seen_of(one), seen_of(other)
        result.append(motion_between(first, second) if first and second else NOT_FOUND)
        for still in (one, other):
            if last_use[still.fingerprint] == number:
                seen.pop(still.fingerprint, None)
    return result


def horizons(stills: list[Still], proxies: Proxies) -> list[tuple[float, float]]:
    """Look for the horizon of stills in a worker."""
    pictures = (_reduced(still, proxies) for still in stills)
    return [(0.0, 0.0) if picture is None else horizon(picture) for picture in pictures]


def follow(
    start: "points.Tracked | tuple[Still, Floats]", stills: list[Still], led: list[Floats], proxies: Proxies
) -> tuple[points.Tracked, list[tuple[float, float, float, float, float]]]:
    """Follow a point through some stills in a worker, from a still it was pointed at or from where it was."""
    if isinstance(start, points.Tracked):
        point = start
    else:
        still, at = start
        picture = _reduced(still, proxies)
        blank = np.zeros((64, 64, 3), np.uint8)
        point = points.begun(points.Seen(blank if picture is None else picture), at)
    rows = []
    for still, map_there in zip(stills, led, strict=True):
        expected = mapped(map_there, point.at)
        picture = _reduced(still, proxies)
        seen = points.Seen(np.zeros((64, 64, 3), np.uint8) if picture is None else picture)
        point, sight = points.followed(point, seen, map_there)
        rows.append((sight.x, sight.y, sight.sure, float(expected[0]), float(expected[1])))
    return point, rows


def _reduced(still: Still, proxies: Proxies) -> EightBit | None:
    """Return a still about as large as its reduced copy, or ``None`` if it cannot be read any more."""
    reduction = Fraction(proxy_reduction(still.width, still.height, PROXY_LONG_SIDE))
    with suppress(UnreadableStill):
        return as_eight(proxies.read(still, reduction).array)
    return None
