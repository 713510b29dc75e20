"""Pacing: the ways to a wanted length, times typed as seconds, and how a clip is played."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from yarnkite.core.base.errors import Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import parse_rate
from yarnkite.core.base.timecode import counting, second_starts, timecodes
from yarnkite.core.encode.preview import CODEC, Segment, playing_size, segments
from yarnkite.core.pace.compression import compression, compression_text
from yarnkite.core.pace.decisions import Pace
from yarnkite.core.pace.length import Way, frames_of, length_text, parse_length, ways
from yarnkite.core.pace.schedule import Schedule
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.render.frame_source import ClipFrames
from yarnkite.core.render.pair import InStep, PairFrames, partners
from yarnkite.core.render.recipe import schedule_of
from yarnkite.core.sound.decisions import RATE
from yarnkite.core.sound.mix import heard
from yarnkite.resolve.shot import ResolvedShot, resolved
from yarnkite.services import reel
from yarnkite.services.decisions import Change, latest, resolved_with
from yarnkite.services.running import Services
from yarnkite.services.sound import beats_in
from yarnkite.store import reels, shots, snapshots, sounds
from yarnkite.store.database import Row

_MOST_PLAYED = 300_000
_ENDLESS = 2**62
# Bars of four, in the numbers phrases have.
BEATS = (8, 16, 32, 64, 128)


@dataclass(frozen=True)
class LengthWay:
    """A way to a wanted length: ``pace`` is what to decide for it, ``clock`` what it does to the time of the day."""

    name: str
    sentence: str
    length: str
    seconds: float
    clock: str
    pace: Pace


@dataclass(frozen=True)
class Playback:
    """A clip as it is played.

    ``stills`` has the position in the shot of the still each frame shows, ``timecodes`` its timecode; ``seconds`` the
    first frame of each second; ``counting`` says what the timecode counts.
    """

    frames: int
    rate: Fraction
    size: Size
    codec: str
    counting: str
    stills: list[int]
    timecodes: list[str]
    seconds: list[int]
    segments: list[Segment]


@dataclass(frozen=True)
class KnownLength:
    """Something a clip can be made as long as, in seconds."""

    of: str
    seconds: Fraction


@dataclass(frozen=True)
class PlaybackInStep:
    """Two clips as they are played beside each other in one picture.

    ``edge`` is where the first ends, a share of the width; ``beside`` the other's frame at each of the first's.
    """

    frames: int
    rate: Fraction
    size: Size
    edge: float
    beside: list[int]
    other_frames: int
    segments: list[Segment]


def ways_to(services: Services, shot_id: int, length: str, revision: int, change: Change) -> list[LengthWay]:
    """Return the honest ways to a clip of a length such as ``12 s``, the most faithful first."""
    made = resolved_with(services, shot_id, revision, change)
    pace = made.recipe.decisions.pace
    wanted = parse_length(length, pace.written_rate)
    return [_length_way(way, made) for way in ways(len(made.slots), pace, wanted, made.recipe.times)]


def known_lengths(services: Services, shot_id: int) -> list[KnownLength]:
    """Return the lengths a clip can be given after: those of the project's other clips, of its sounds, of so many of
    their beats, and of what its reels lack to the end of their sound."""
    shot = shots.one(services.database, shot_id)
    found = []
    for row in shots.of_project(services.database, shot["project_id"]):
        if row["id"] == shot_id or not row["stills"]:
            continue
        other = shots.one(services.database, row["id"])
        recipe = resolved(services.database, other, latest(services, row["id"])).recipe
        if frames := len(schedule_of(recipe)):
            found.append(KnownLength(f"the clip of {row['name']}", frames / recipe.decisions.pace.written_rate))
    for row in sounds.of_project(services.database, shot["project_id"]):
        found += _of_sound(services, row)
    return found + _gaps(services, shot)


def _gaps(services: Services, shot: Row) -> list[KnownLength]:
    """Return how long a shot's clip would be to fill each reel's picture up to where its sound ends.

    In a reel that has the shot, that is its part with the gap; in another, the gap alone.
    """
    found = []
    for row in reels.of_project(services.database, shot["project_id"]):
        made = reel.tried(services, row["id"], reels.latest(services.database, row["id"])[0], None)
        rate = made.recipe.reel.rate
        gap = Fraction(_heard_until(made.recipe), RATE) - len(made.frames) / rate
        if gap < 1 / rate:
            continue
        own = [
            span.frames / rate
            for part, span in zip(made.recipe.reel.parts, made.frames.spans, strict=True)
            if [picture.shot for picture in part.pictures] == [shot["id"]]
        ]
        words = f"here, until the sound of “{row['name']}” ends" if len(own) == 1 else f"the gap in “{row['name']}”"
        found.append(KnownLength(words, gap + (own[0] if len(own) == 1 else 0)))
    return found


def _heard_until(recipe: ReelRecipe) -> int:
    """Return the sample at which the last sound of a reel ends that does not begin again by itself."""
    ends = (
        track.start + heard(track, recipe.sounds[track.sound].samples, _ENDLESS)
        for track in recipe.reel.sound.tracks
        if not track.muted and not track.repeats and track.sound in recipe.sounds
    )
    return max(ends, default=0)


def _of_sound(services: Services, row: Row) -> list[KnownLength]:
    found = [KnownLength(f"“{row['name']}”", Fraction(row["samples"], RATE))]
    beats = beats_in(services, row)
    if beats.has_beat:
        spans = ((count, beats.at[count] - beats.at[0]) for count in BEATS if count < len(beats.at))
        found += [
            KnownLength(f"{count} beats of “{row['name']}”", Fraction(round(float(span)), RATE))
            for count, span in spans
        ]
    return found


def typed_frames(text: str, rate: str) -> tuple[int, str]:
    """Read ``3`` or ``0.5 s`` as whole frames at a rate; the sentence is empty where nothing was rounded."""
    return frames_of(text, parse_rate(rate))


def playback(services: Services, shot_id: int, revision: int, change: Change) -> Playback:
    """Return how the clip of a revision, with a change on top, is played; its segments may be asked for from now on."""
    made = resolved_with(services, shot_id, revision, change)
    recipe = made.recipe
    frames = len(schedule_of(recipe))
    _check_playable(frames)
    rate = recipe.decisions.pace.written_rate
    cut = segments(ClipFrames(recipe))
    services.segments.offer(cut)
    return Playback(
        frames=frames,
        rate=rate,
        size=playing_size(recipe.decisions.fit.size),
        codec=CODEC,
        counting=counting(rate),
        stills=_shown(services, shot_id, made),
        timecodes=timecodes(range(frames), rate),
        seconds=second_starts(frames, rate),
        segments=cut,
    )


def playback_in_step(
    services: Services,
    shot_id: int,
    now: tuple[int, Change],
    other: tuple[int, Change],
    in_step: InStep,
    other_shot: int | None = None,
) -> PlaybackInStep:
    """Return how two settings of a shot, or of it and another one, are played in one picture: each a revision with a
    change on top.

    Raises ``Refusal`` where one has no frames, or by the clock no times.
    """
    pair = [(shot_id, now), (shot_id if other_shot is None else other_shot, other)]
    made = [(one, resolved_with(services, one, *setting)) for one, setting in pair]
    first, second = (resolved for _, resolved in made)
    along = [_moments_of_day(services, *one) if in_step == "clock" else _shown(services, *one) for one in made]
    if not all(len(schedule_of(one.recipe)) for one in (first, second)):
        raise Refusal("nothing_to_play", "One of the two has no frames: all its stills are set aside.")
    _check_playable(len(along[0]))
    # No still is in two shots.
    apart = in_step == "still" and other_shot not in (None, shot_id)
    beside = partners(along[0], along[1], "share" if apart else in_step)
    frames = PairFrames(ClipFrames(first.recipe), ClipFrames(second.recipe), beside)
    cut = segments(frames, beside=2)
    services.segments.offer(cut)
    return PlaybackInStep(
        frames=len(frames),
        rate=frames.rate,
        size=playing_size(frames.size, beside=2),
        edge=frames.edge,
        beside=beside,
        other_frames=len(along[1]),
        segments=cut,
    )


def _moments_of_day(services: Services, shot_id: int, made: ResolvedShot) -> list[int]:
    """Return for each frame of a clip when its still was taken, in seconds after midnight by the camera's clock."""
    shot = shots.one(services.database, shot_id)
    clock = snapshots.of_shot(services.database, shot).clock
    taken = [clock.get(slot.still) for slot in made.slots]
    if made.slots and not any(taken):
        raise Refusal(
            "no_times", f"The stills of “{shot['name']}” do not say when they were taken. Play both as far through."
        )
    moments = _filled([None if one is None else (one.hour * 60 + one.minute) * 60 + one.second for one in taken])
    return [moments[slot] for slot in schedule_of(made.recipe).mains()]


def _filled(moments: Sequence[int | None]) -> list[int]:
    """Give those that are not known the moment of the one before them, or else of the one after."""
    known = next((one for one in moments if one is not None), 0)
    return [known := known if one is None else one for one in moments]


def _check_playable(frames: int) -> None:
    if frames > _MOST_PLAYED:
        raise Refusal(
            "too_long_to_play", f"Clips of up to {_MOST_PLAYED:,} frames are played here; this one has {frames:,}."
        )


def _shown(services: Services, shot_id: int, made: ResolvedShot) -> list[int]:
    """Return for each frame of a clip the position in the shot of the still it shows."""
    positions = _positions(services, shot_id, made)
    return [positions[slot] for slot in schedule_of(made.recipe).mains()]


def segment(services: Services, key: str) -> bytes:
    """Return a segment of a clip, MP4, by the hash of what determines it; raises ``NotFound``."""
    return services.segments.get(key)


def _length_way(way: Way, made: ResolvedShot) -> LengthWay:
    pace = way.pace
    schedule = Schedule(len(made.slots), pace, made.times if pace.by_clock else ())
    factor = compression(made.times, schedule)
    # In a recipe stills that stay longer or were picked are named by slot, in decisions by id.
    picked = tuple(dict.fromkeys(made.slots[slot].still for slot in pace.picked))
    longer = tuple(one.model_copy(update={"still": made.slots[one.still].still}) for one in pace.longer)
    return LengthWay(
        name=way.name,
        sentence=way.sentence,
        length=length_text(way),
        seconds=float(way.seconds),
        clock=compression_text(factor) if factor else "",
        pace=pace.model_copy(update={"longer": longer, "picked": picked}),
    )


def _positions(services: Services, shot_id: int, made: ResolvedShot) -> list[int]:
    """Return for each slot of a clip the position of its still in the shot."""
    positions = snapshots.of_shot(services.database, shots.one(services.database, shot_id)).positions
    return [positions[slot.still] for slot in made.slots]
