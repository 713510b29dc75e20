"""Reels: what is decided about them, what they make, how they are played and encoded."""

import logging
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from yarnkite.core.base.errors import Conflict, NotFound, Refusal
from yarnkite.core.base.timecode import counting, second_starts, timecode, timecodes
from yarnkite.core.brief.reel_sentence import reel_bytes
from yarnkite.core.encode.decisions import Encode
from yarnkite.core.encode.preview import CODEC, Segment, segments
from yarnkite.core.reel.decisions import Part, Picture, Reel
from yarnkite.core.reel.exchange import from_otio, to_edl, to_otio, to_vtt
from yarnkite.core.render.titles import box_of
from yarnkite.core.sound.loudness import Mastering
from yarnkite.resolve.reel import ResolvedReel, resolved_reel, shot_of_project
from yarnkite.services import file_size
from yarnkite.services.decisions import notice_of
from yarnkite.services.encode import Encodable, Wish, begin, check_seen
from yarnkite.services.pictures import FramePicture, frame_jpeg, on_screen
from yarnkite.services.running import Services
from yarnkite.services.steadying import check_measured
from yarnkite.store import clips as stored_clips
from yarnkite.store import jobs, projects, reels, removal, revisions, shots, snapshots, sounds, versions
from yarnkite.store.database import Row

log = logging.getLogger(__name__)

_MOST_PLAYED = 300_000
_TAIL_ROWS = 1_200


@dataclass(frozen=True)
class DecidedReel:
    """A revision of a reel, what it decides and makes; ``of_footage`` has the shots taken from a video, which may have
    sound."""

    revision: int
    decisions: Reel
    made: ResolvedReel
    of_footage: frozenset[int]
    can_undo: bool
    can_redo: bool


@dataclass(frozen=True)
class OpenedReel:
    """A reel with its newest decisions."""

    reel: Row
    project_name: str
    decided: DecidedReel
    notice: str = ""


def every(services: Services, project_id: int) -> list[tuple[Row, str]]:
    """Return a project's reels, each with its brief."""
    projects.one(services.database, project_id)
    return [(reel, _summary(services, reel)) for reel in reels.of_project(services.database, project_id)]


def add(services: Services, project_id: int, name: str, shot_ids: Sequence[int] = ()) -> int:
    """Make a reel of shots of a project, in this order; the first one's size and rate are the reel's. Returns its
    id."""
    first = shot_of_project(services.database, project_id, shot_ids[0]) if shot_ids else None
    for shot_id in shot_ids:
        shot_of_project(services.database, project_id, shot_id)
    decisions = Reel(
        parts=tuple(Part(id=number, pictures=(Picture(shot=shot),)) for number, shot in enumerate(shot_ids, 1))
    )
    if first is not None:
        _, decided = revisions.latest(services.database, first["id"])
        own = {"size": decided.fit.size, "rate": decided.pace.written_rate, "encode": decided.encode}
        decisions = decisions.model_copy(update=own)
    return reels.add(services.database, project_id, name, decisions)


def of_shot(services: Services, shot_id: int) -> int:
    """Make a reel of one shot alone, for a sound or a title; returns its id."""
    shot = shots.one(services.database, shot_id)
    return add(services, shot["project_id"], shot["name"], (shot_id,))


def opened(services: Services, reel_id: int) -> OpenedReel:
    """Return a reel with its newest decisions; raises ``NotFound``."""
    reel = reels.one(services.database, reel_id)
    number, _ = reels.latest(services.database, reel_id)
    project = projects.one(services.database, reel["project_id"])
    notice = notice_of(reels.unreadable_since(services.database, reel_id))
    return OpenedReel(reel, project["name"], decided(services, reel_id, number), notice)


def decided(services: Services, reel_id: int, number: int) -> DecidedReel:
    """Return what a revision decides and makes."""
    reel = reels.one(services.database, reel_id)
    decisions = reels.decided_by(services.database, reel_id, number)
    can_undo, can_redo = reels.steps(services.database, reel_id)
    of_footage = jobs.shots_of_footage(services.database, reel["project_id"])
    return DecidedReel(number, decisions, resolved(services, reel, decisions), of_footage, can_undo, can_redo)


def decide(services: Services, reel_id: int, seen: int, decisions: Reel) -> DecidedReel:
    """Save decisions as a new revision made from the one that was seen; raises ``Conflict`` if there is a newer one."""
    reels.one(services.database, reel_id)
    return decided(services, reel_id, reels.revise(services.database, reel_id, seen, decisions))


def undo(services: Services, reel_id: int, seen: int) -> DecidedReel:
    """Take the newest change back, as a new revision."""
    return decided(services, reel_id, reels.undo(services.database, reel_id, seen))


def redo(services: Services, reel_id: int, seen: int) -> DecidedReel:
    """Make the change again that was undone last, as a new revision."""
    return decided(services, reel_id, reels.redo(services.database, reel_id, seen))


def rename(services: Services, reel_id: int, name: str) -> Row:
    reels.one(services.database, reel_id)
    reels.rename(services.database, reel_id, name)
    return reels.one(services.database, reel_id)


def delete(services: Services, reel_id: int) -> None:
    """Put a reel away for 30 days; its shots and sounds stay."""
    removal.delete_reel(services.database, reel_id)


def take_back(services: Services, reel_id: int) -> None:
    """Take a deleted reel back, with all its decisions and files."""
    removal.take_reel_back(services.database, reel_id)


def resolved(services: Services, reel: Row, decisions: Reel) -> ResolvedReel:
    """Return what decisions make of a reel: each shot as it stands now, or a sentence why it is not shown."""

    def expected(made: ResolvedReel) -> int | None:
        seconds = float(len(made.frames) / decisions.rate)
        return file_size.expected_bytes(services, made.recipe, decisions.encode, seconds) if made.frames.spans else None

    return replace(resolved_reel(services.database, services.workspace, reel, decisions), expected=expected)


def _summary(services: Services, reel: Row) -> str:
    try:
        _, decisions = reels.latest(services.database, reel["id"])
        return str(resolved(services, reel, decisions).said)
    except Refusal as refusal:
        return refusal.sentence
    except Exception:
        # Whatever is wrong with one reel, the project opens and shows the others.
        log.exception("reel %s cannot be summed up", reel["id"])
        return "This reel cannot be summed up; the log tells more. What was decided is kept."


@dataclass(frozen=True)
class ReelPlayback:
    """A reel as it is played: for each frame its part and its timecode.

    ``sound`` is where its sound is got, ``mastering`` what that comes to, ``None`` until it is measured.
    """

    segments: list[Segment]
    made: ResolvedReel
    parts: list[int]
    timecodes: list[str]
    seconds: list[int]
    counting: str
    codec: str
    sound: str
    mastering: Mastering | None


def tried(services: Services, reel_id: int, revision: int, change: Reel | None) -> ResolvedReel:
    """Return what a revision makes of a reel, or decisions that are being tried instead."""
    reel = reels.one(services.database, reel_id)
    decisions = change or reels.decided_by(services.database, reel_id, revision)
    return resolved(services, reel, decisions)


def playback(services: Services, reel_id: int, revision: int, change: Reel | None) -> ReelPlayback:
    """Return how a reel is played; its segments, of picture and of sound, may be asked for from now on."""
    made = tried(services, reel_id, revision, change)
    frames = len(made.frames)
    if frames > _MOST_PLAYED:
        raise Refusal(
            "too_long_to_play", f"Reels of up to {_MOST_PLAYED:,} frames are played here; this one has {frames:,}."
        )
    cut = segments(made.frames) if frames else []
    services.segments.offer(cut)
    rate = made.frames.rate
    sound, found = services.sound.offer(reel_id, made.recipe, frames)
    return ReelPlayback(
        segments=cut,
        made=made,
        parts=[made.frames.shown(frame)[0] for frame in range(frames)],
        timecodes=timecodes(range(frames), rate),
        seconds=second_starts(frames, rate),
        counting=counting(rate),
        codec=CODEC,
        sound=sound,
        mastering=found,
    )


def sound_segment(services: Services, key: str, first: int, count: int) -> bytes:
    """Return the sound under some frames of a reel that was planned; raises ``NotFound``."""
    return services.sound.segment(key, first, count)


def frame(
    services: Services, reel_id: int, number: int, revision: int, change: Reel | None, width: int, *, quickly: bool
) -> Callable[[], FramePicture]:
    """Return what makes a frame of a reel; raises ``NotFound``."""
    frames = tried(services, reel_id, revision, change).frames
    if not 0 <= number < len(frames):
        raise NotFound("no_such_frame", f"The reel has {len(frames)} frames; there is no frame {number}.")
    size = on_screen(frames.size, width)
    spec, code = frames.spec(number), timecode(number, frames.rate)
    return lambda: FramePicture(frame_jpeg(spec, size, services.workspace.proxies, quickly=quickly), code)


@dataclass(frozen=True)
class TitleBox:
    """Where a title lies in a frame, in shares of it, and what it says there."""

    title: int
    left: float
    top: float
    width: float
    height: float
    text: str


def title_boxes(services: Services, reel_id: int, number: int, revision: int, change: Reel | None) -> list[TitleBox]:
    """Return where the titles lie that are seen in a frame, the hindmost first."""
    frames = tried(services, reel_id, revision, change).frames
    size = frames.size
    found = []
    for title, overlay in frames.box_titles(number):
        box = box_of(overlay, size)
        shares = box.left / size.width, box.top / size.height, box.width / size.width, box.height / size.height
        lines = getattr(overlay.what, "lines", ())
        found.append(TitleBox(title.id, *shares, "\n".join(lines)))
    return found


def tail(services: Services, reel_id: int, revision: int, change: Reel | None) -> list[bytes]:
    """Return rows of pixels, one for each frame or for as many as there is room for, from the stills' own rows."""
    made = tried(services, reel_id, revision, change)
    count = len(made.frames)
    if not count:
        raise NotFound("no_frames", "This reel has no frames yet. Put a shot into it first.")
    rows: dict[tuple[int, int], list[bytes]] = {}
    wanted = min(count, _TAIL_ROWS)
    found = []
    for number in range(wanted):
        part, slot = made.frames.shown(number * count // wanted)
        at = next(place for place, clip in enumerate(made.recipe.clips[part]) if clip is not None)
        key = part, at
        if key not in rows:
            rows[key] = _rows_of(services, made, part, at)
        own = rows[key]
        found.append(own[min(slot, len(own) - 1)])
    return found


def _rows_of(services: Services, made: ResolvedReel, part: int, at: int) -> list[bytes]:
    """Return the tail row of each slot of a picture's clip."""
    shown = made.shots[part][at]
    clip = made.recipe.clips[part][at]
    assert clip is not None
    by_path = snapshots.tail_rows_by_path(services.database, shots.one(services.database, shown.shot))
    pictures = clip.recipe.stills
    return [by_path[getattr(one, "path", None) or one.before.path] for one in pictures]  # type: ignore[union-attr]


def encodable(services: Services, reel_id: int, seen: int | None = None) -> Encodable:
    """Return a reel as its newest revision says; raises ``Conflict`` if that is not the revision the person saw."""
    reel = reels.one(services.database, reel_id)
    number, decisions = reels.latest(services.database, reel_id)
    check_seen(number, seen)
    made = resolved(services, reel, decisions)
    project = projects.one(services.database, reel["project_id"])["name"]
    has_sound = any(not track.muted for track in decisions.sound.tracks)

    def guess(encode: Encode) -> int:
        return reel_bytes(made.recipe, made.frames, made.models, encode)

    return Encodable("reel", reel, project, "", made.recipe, made.frames, decisions.encode, guess, has_sound=has_sound)


def encode(services: Services, reel_id: int, seen: int, wish: Wish = Wish()) -> Row:
    """Begin to encode a reel as its newest revision says; returns the job. Raises ``Conflict`` for a stale one."""
    return begin(services, ready(services, reel_id, seen), wish)


def ready(services: Services, reel_id: int, seen: int | None = None) -> Encodable:
    """Return a reel as ``encodable`` does; raises ``Conflict`` where a shot of it is not known well enough yet."""
    subject = encodable(services, reel_id, seen)
    for part in reels.latest(services.database, reel_id)[1].parts:
        for picture in part.pictures:
            _check_ready(services, subject.row, picture)
    return subject


def _check_ready(services: Services, reel: Row, picture: Picture) -> None:
    """Raise ``Conflict`` where a shot is not known well enough yet to be encoded."""
    try:
        shot = shot_of_project(services.database, reel["project_id"], picture.shot)
    except NotFound:
        return
    if not shot["gathered"]:
        raise Conflict(
            "not_gathered", f"“{shot['name']}” is still being gathered. Encode when all its stills are there."
        )
    found = versions.decided(services.database, shot["id"], picture.version) if picture.version else None
    decisions = found[1] if found else revisions.latest(services.database, shot["id"])[1]
    check_measured(services, shot, decisions)


def clips(services: Services, reel_id: int) -> list[Row]:
    """Return the finished files of a reel, the newest first."""
    reels.one(services.database, reel_id)
    return stored_clips.of_reel(services.database, reel_id)


def as_list(services: Services, reel_id: int, kind: Literal["otio", "edl", "vtt"]) -> tuple[str, str]:
    """Return a reel's name, and the reel as another program reads it."""
    reel = reels.one(services.database, reel_id)
    _, decisions = reels.latest(services.database, reel_id)
    made = resolved(services, reel, decisions)
    if kind == "vtt":
        return reel["name"], to_vtt(made.frames)
    if kind == "edl":
        return reel["name"], to_edl(reel["name"], made.recipe, made.frames)
    names = {row["id"]: row["name"] for row in sounds.of_project(services.database, reel["project_id"])}
    return reel["name"], to_otio(reel["name"], made.recipe, made.frames, names)


def read_list(services: Services, project_id: int, text: str) -> tuple[int, tuple[str, ...]]:
    """Make a reel of an OpenTimelineIO document; returns its id and what was left out, in sentences."""
    projects.one(services.database, project_id)
    own = [(row["id"], row["name"]) for row in shots.of_project(services.database, project_id)]
    found = from_otio(text, own, "Reel")
    there = {row["id"] for row in sounds.of_project(services.database, project_id)}
    tracks = tuple(track for track in found.reel.sound.tracks if track.sound in there)
    lost = len(found.reel.sound.tracks) - len(tracks)
    left_out = (*found.left_out, *((f"{lost} sounds are not in this project. Bring them in again.",) if lost else ()))
    decisions = found.reel.model_copy(update={"sound": found.reel.sound.model_copy(update={"tracks": tracks})})
    return reels.add(services.database, project_id, found.name, decisions), left_out
