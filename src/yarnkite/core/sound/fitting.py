"""Bringing music to the length of a video: cut where it is quiet, or made shorter or longer where its beats match."""

from dataclasses import dataclass

import numpy as np

from yarnkite.core.base.arrays import Floats
from yarnkite.core.sound.beats import Beats
from yarnkite.core.sound.decisions import RATE, Splice, Track
from yarnkite.core.sound.mix import CROSSOVER
from yarnkite.core.sound.waveform import Waveform, quietest

ONE_SECOND = RATE
# How far a quiet place may lie from where the video ends, and how far a spliced piece may miss its length.
_QUIET_S = 4.0
_SHORT_S, _LONG_S = 0.6, 4.0
_SHORT_COSTS, _LONG_COSTS = 0.25, 0.06
_AROUND = 3
_MOST_REPEATS = 60
_BAR = 4
_SHORTEST_BEATS = 4
_SOFT_START = RATE // 4


@dataclass(frozen=True)
class FitWay:
    """A way to bring a track to a length: ``track`` is what to decide for it; ``fits`` says how well, 0 … 1."""

    name: str
    sentence: str
    track: Track
    fits: float


def ways_to_fit(track: Track, samples: int, total: int, course: Waveform, beats: Beats) -> list[FitWay]:
    """Return the ways in which a track of so many samples ends with a reel of ``total`` samples, the best first."""
    wanted = total - track.start
    plain = track.model_copy(update={"splices": (), "repeats": False, "length": None})
    if wanted <= 0:
        return []
    natural = samples - track.skip
    ways = []
    if abs(natural - wanted) <= RATE // 50:
        return [FitWay("as it is", "It ends with the picture already.", plain, 1.0)]
    if beats.has_beat and (spliced := _spliced(plain, samples, wanted, beats)):
        ways.append(spliced)
    ways.append(_cut(plain, wanted, course) if natural > wanted else _repeated(plain, natural, wanted))
    return sorted(ways, key=lambda way: -way.fits)


def _cut(track: Track, wanted: int, course: Waveform) -> FitWay:
    """Move the beginning on a little, so that the piece is quiet where the video ends."""
    end = track.skip + wanted
    quiet = quietest(course, end, end + round(_QUIET_S * RATE))
    level = course.level_db
    index = min(len(level) - 1, quiet * len(level) // max(1, len(level) * (RATE // 50)))
    below = float(np.percentile(level, 70) - level[index]) if len(level) else 0.0
    fits = float(np.clip(0.45 + below / 60, 0.3, 0.8))
    fitted = track.model_copy(
        update={
            "skip": track.skip + quiet - end,
            "fade_in": max(track.fade_in, _SOFT_START) if quiet > end else track.fade_in,
            "fade_out": max(track.fade_out, ONE_SECOND),
        }
    )
    later = (quiet - end) / RATE
    moved = f" It begins {later:.1f} s later in the piece for that." if later > 0.05 else ""
    return FitWay(
        "cut at a quiet place", f"Fades out over the last second, where the piece is quiet.{moved}", fitted, fits
    )


def _repeated(track: Track, natural: int, wanted: int) -> FitWay:
    times = -(-wanted // max(1, natural))
    fitted = track.model_copy(update={"repeats": True, "fade_out": max(track.fade_out, ONE_SECOND)})
    return FitWay(
        "begin again at its end",
        f"Is heard {times} times and fades out over the last second; its end and its beginning are to be heard.",
        fitted,
        0.35,
    )


def _spliced(track: Track, samples: int, wanted: int, beats: Beats) -> FitWay | None:
    """Leave at one beat and go on at another that sounds alike, so that beginning and end both are the piece's own."""
    missing = wanted - (samples - track.skip)
    inside = np.flatnonzero((beats.at >= track.skip + RATE) & (beats.at < samples - RATE - CROSSOVER))
    if len(inside) < 2 * _SHORTEST_BEATS:
        return None
    at = beats.at[inside]
    alike = _alike(beats.features)[np.ix_(inside, inside)]
    # By how much going from beat i to beat j makes the piece longer, if it is done once.
    longer = at[:, None] - at[None, :]
    best: tuple[float, int, int, int, float] | None = None
    for times in range(1, _MOST_REPEATS + 1 if missing > 0 else 2):
        off = longer * times - missing
        apart = np.abs(np.subtract.outer(np.arange(len(at)), np.arange(len(at))))
        possible = (off >= -_SHORT_S * RATE) & (off <= _LONG_S * RATE) & (apart >= _SHORTEST_BEATS)
        if not possible.any():
            continue
        misses = np.where(off > 0, _LONG_COSTS * off, -_SHORT_COSTS * off) / RATE
        score = alike + 0.04 * (apart % _BAR == 0) - misses - 0.012 * (times - 1)
        score = np.where(possible, score, -np.inf)
        leave, enter = np.unravel_index(int(np.argmax(score)), score.shape)
        found = (float(score[leave, enter]), int(leave), int(enter), times, float(off[leave, enter]))
        best = max(best, found) if best else found
    if best is None:
        return None
    _, left, entered, times, missed = best
    places = round(at[left]), round(at[entered])
    return _spliced_way(track, *places, times, round(missed), float(alike[left, entered]))


def _spliced_way(track: Track, leave: int, enter: int, times: int, off: int, alike: float) -> FitWay:
    splices = (Splice(leave=leave, enter=enter),) * times
    # What is too long is cut off its beginning; what is too short begins a moment later.
    changed = {"splices": splices, "skip": track.skip + max(0, off), "start": track.start + max(0, -off)}
    if off > 0:
        changed["fade_in"] = max(track.fade_in, _SOFT_START)
    seconds = abs(leave - enter) / RATE
    what = (
        f"leaves out {seconds:.1f} s"
        if enter > leave
        else f"repeats {seconds:.1f} s" + (f" {times} times" if times > 1 else "")
    )
    where = "" if enter > leave else " over again"
    fits = float(np.clip(alike, 0, 1))
    return FitWay(
        "match its beats",
        f"Keeps its beginning and its end and {what}{where} where its beats are alike: {words_for(fits)}.",
        track.model_copy(update=changed),
        fits,
    )


def words_for(fits: float) -> str:
    """Say how well a place fits."""
    if fits >= 0.9:
        return "hardly to be heard"
    return "fits fairly well" if fits >= 0.7 else "will be heard"


def _alike(features: Floats) -> Floats:
    """Return how alike leaving at each beat and going on at each other is, -1 … 1: what is around them alike."""
    alike = features @ features.T
    count = len(alike)
    total, weights = np.zeros_like(alike), np.zeros_like(alike)
    for offset in range(-_AROUND, _AROUND):
        low, high = max(0, -offset), min(count, count - offset)
        total[low:high, low:high] += alike[low + offset : high + offset, low + offset : high + offset]
        weights[low:high, low:high] += 1
    return np.asarray(total / np.maximum(weights, 1), np.float64)
