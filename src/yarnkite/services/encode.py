"""Encoding: what can be made and what it will take, starting it, and the clips that came of it."""

import shutil
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from yarnkite.core.base.errors import Conflict, NotFound, Refusal
from yarnkite.core.base.frozen import Size
from yarnkite.core.base.rate import parse_rate
from yarnkite.core.brief.preset import nearly_like
from yarnkite.core.encode.decisions import Encode, FormatName
from yarnkite.core.encode.file_size import offered
from yarnkite.core.encode.formats.catalogue import format_of
from yarnkite.core.encode.frame_range import FrameRange
from yarnkite.core.encode.naming import DEFAULT, file_ending, named, words
from yarnkite.core.encode.purposes import purpose_of
from yarnkite.core.encode.render_plan import render_plan
from yarnkite.core.encode.runs import memory_bytes, share_of
from yarnkite.core.encode.size_model import ORDINARY, estimated_bytes
from yarnkite.core.encode.warnings import Companion, check_possible, disagreements, is_possible
from yarnkite.core.gather.locations import Location
from yarnkite.core.reel.recipe import ReelRecipe
from yarnkite.core.render.decisions import Decisions
from yarnkite.core.render.frame_source import ClipFrames, FrameSource
from yarnkite.core.render.recipe import Recipe, schedule_of
from yarnkite.jobs.workers import free_memory_bytes
from yarnkite.resolve.shot import resolved
from yarnkite.services import file_size
from yarnkite.services.locations import location_named
from yarnkite.services.running import Services
from yarnkite.services.steadying import check_measured
from yarnkite.store import clips as stored
from yarnkite.store import jobs, presets, projects, reels, removal, revisions, shots, stills, versions
from yarnkite.store.database import Row
from yarnkite.store.file_size import MeasuredSizes

_COMPANIONS = 3


@dataclass(frozen=True)
class Into:
    """A folder in a place for the finished file; ``replace`` says that one of the same name may go."""

    location: str
    path: str = ""
    replace: bool = False


@dataclass(frozen=True)
class Wish:
    """What is wanted of an encode beside what is decided: another format, only a stretch, where to and what name."""

    format: FormatName | None = None
    stretch: tuple[int, int] | None = None
    into: Into | None = None
    pattern: str = ""


@dataclass(frozen=True)
class Encodable:
    """A shot or a reel as it would be encoded now."""

    kind: jobs.Kind
    row: Row
    project: str
    version: str
    recipe: Recipe | ReelRecipe
    frames: FrameSource
    encode: Encode
    guess: Callable[[Encode], int]
    captured: datetime | None = None
    has_sound: bool = False

    def as_wished(self, wish: Wish) -> Encode:
        """Return the decisions with another format in place, where one is wanted."""
        if wish.format is None or wish.format == self.encode.format:
            return self.encode
        return self.encode.model_copy(update={"format": wish.format, "container": None})


@dataclass(frozen=True)
class Offer:
    """A clip in one format: what it is expected to take, and why it cannot be, if it cannot."""

    encode: Encode
    expectation: file_size.Expectation
    is_measured: bool
    cannot: str = ""


@dataclass(frozen=True)
class Offers:
    """All formats side by side, what was sampled of how much, and what the machine has."""

    offers: list[Offer]
    sampled: int
    wanted: int
    is_complete: bool
    free_bytes: int
    memory_bytes: int
    warnings: list[str]
    name: str


def encodable(services: Services, shot_id: int, seen: int | None = None) -> Encodable:
    """Return a shot as its newest revision says; raises ``Conflict`` if that is not the revision the person saw."""
    shot = shots.one(services.database, shot_id)
    number, decisions = revisions.latest(services.database, shot_id)
    check_seen(number, seen)
    return encodable_as(services, shot, decisions)


def encodable_as(services: Services, shot: Row, decisions: Decisions) -> Encodable:
    """Return a shot as decisions say that need not have been taken."""
    made = resolved(services.database, shot, decisions)
    frames = ClipFrames(made.recipe)

    def guess(encode: Encode) -> int:
        changing = schedule_of(made.recipe).changes
        wanted = decisions.model_copy(update={"encode": encode})
        return estimated_bytes(wanted, len(frames), changing, shots.size_model_of(shot) or ORDINARY)

    version = versions.current(services.database, shot["id"])
    project = projects.one(services.database, shot["project_id"])
    return Encodable(
        *("encode", shot, project["name"], version["name"] if version else ""),
        made.recipe,
        frames,
        decisions.encode,
        guess,
        stills.first_captured(services.database, shot["id"]),
    )


def expected(services: Services, subject: Encodable) -> file_size.Expectation:
    """Return what a clip is expected to take."""
    known = file_size.measured(services, subject.recipe, subject.encode)
    return file_size.expectation(services, known, subject.encode, subject.frames, subject.guess)


def check_seen(number: int, seen: int | None) -> None:
    """Raise ``Conflict`` (``stale_revision``) where decisions are newer than those a person looked at."""
    if seen is not None and number != seen:
        raise Conflict("stale_revision", "The decisions were changed in another window. Look at them, then encode.")


def encode(services: Services, shot_id: int, seen: int, wish: Wish = Wish()) -> Row:
    """Begin to encode a shot as its newest revision says; returns the job.

    Raises ``Conflict`` if that is not the revision the person saw, or while the shot is being gathered, and
    ``Refusal`` for what is known not to work.
    """
    subject = encodable(services, shot_id, seen)
    check_ready(services, subject)
    return begin(services, subject, wish)


def check_ready(services: Services, subject: Encodable) -> None:
    """Raise ``Conflict`` while a shot is gathered, or what its steadying needs is measured."""
    if not subject.row["gathered"]:
        raise Conflict("not_gathered", "This shot is still being gathered. Encode it when all its stills are there.")
    check_measured(services, subject.row, revisions.latest(services.database, subject.row["id"])[1])


def begin(services: Services, subject: Encodable, wish: Wish) -> Row:
    """Begin to encode a shot or a reel; returns the job. Raises ``Refusal``, ``Conflict`` (``file_exists``)."""
    encode = subject.as_wished(wish)
    plan = render_plan(subject.frames, encode)
    check_possible(encode, plan.size, plan.rate)
    frames = FrameRange(subject.frames, *wish.stretch) if wish.stretch else subject.frames
    stem = named(wish.pattern or DEFAULT, _words(subject, encode))
    wanted: dict[str, Any] = {
        "version": subject.version,
        "project": subject.project,
        "pattern": wish.pattern,
        "stretch": wish.stretch,
        "captured": subject.captured.isoformat() if subject.captured else None,
        "into": _destination(services, wish, stem, encode) if wish.into else None,
        **_expected(services, subject, encode, wish),
    }
    if wish.stretch:
        # A trial is to be seen in seconds, and as good as it gets: its size says nothing of the whole.
        encode = encode.model_copy(update={"aim": encode.aim.model_copy(update={"by": "quality"})})
    if isinstance(subject.recipe, ReelRecipe):
        reel = subject.recipe.reel.model_copy(update={"encode": encode})
        recipe = subject.recipe.model_copy(update={"reel": reel})
        job = services.runner.start_for_reel("reel", subject.row["id"], len(frames), recipe, wanted)
    else:
        decisions = subject.recipe.decisions.model_copy(update={"encode": encode})
        own = subject.recipe.model_copy(update={"decisions": decisions})
        job = services.runner.start("encode", subject.row["id"], len(frames), own, wanted)
    return jobs.one(services.database, job)


def _expected(services: Services, subject: Encodable, encode: Encode, wish: Wish) -> dict[str, Any]:
    known = file_size.measured(services, subject.recipe, encode)
    share = (wish.stretch[1] - wish.stretch[0]) / len(subject.frames) if wish.stretch else 1.0
    found = file_size.expectation(services, known, encode, subject.frames, subject.guess, share=share)
    is_known = known is not None and known.has(encode.format)
    raw = found.raw if is_known and not wish.stretch else None
    return {
        "format": encode.format,
        "bytes": found.bytes,
        "seconds": found.seconds,
        "expected": [raw.bytes, raw.core_s_a_frame] if raw else None,
    }


def _words(subject: Encodable, encode: Encode) -> dict[str, str]:
    frames = subject.frames
    return words(subject.row["name"], frames.size, frames.rate, encode, subject.version, subject.project)


def _destination(services: Services, wish: Wish, stem: str, encode: Encode) -> dict[str, Any]:
    """Return where a file is to be put, as a job keeps it; a file that is there already is asked about first."""
    into = wish.into
    assert into is not None
    location: Location = location_named(services, into.location)
    folder = location.inside(into.path)
    if not folder.is_dir():
        raise NotFound("no_such_folder", f"“{into.path}” is a file, not a folder. Choose a folder for the clip.")
    is_numbered = format_of(encode).way == "numbered"
    target = folder / (stem if is_numbered else f"{stem}.{file_ending(encode)}")
    if target.exists() and (is_numbered or not into.replace):
        raise Conflict(
            "file_exists",
            f"There is a “{target.name}” in that folder already. Choose another name or folder"
            + ("." if is_numbered else ", or say that it may be replaced."),
        )
    _check_writable(folder)
    return {"name": location.name, "location": str(location.folder), "folder": str(folder), "replace": into.replace}


def _check_writable(folder: Path) -> None:
    """Raise ``Refusal`` (``not_writable``) for a folder nothing can be written into."""
    probe = folder / ".yarn-kite-was-here"
    try:
        probe.touch(exist_ok=True)
        probe.unlink(missing_ok=True)
    except OSError as error:
        raise Refusal(
            "not_writable", f"Nothing can be written into {folder}: {error.strerror}. Choose another folder."
        ) from None


def offers(services: Services, subject: Encodable, pattern: str = "") -> Offers:
    """Return what the clip takes in each format, as far as it is known, and what does not go together."""
    known = file_size.measured(services, subject.recipe, subject.encode)
    found = [_offer(services, subject, one, known) for one in offered(subject.encode)]
    own = found[0]
    share = share_of(services.runner.worker_count, free_memory_bytes(), subject.frames.size)
    warned = [own.cannot] if own.cannot else []
    warned += disagreements(
        *(subject.encode, subject.frames.size, subject.frames.rate, len(subject.frames), own.expectation.bytes),
        _companions(services, subject),
        has_sound=subject.has_sound,
    )
    return Offers(
        offers=found,
        sampled=known.counts.get(subject.encode.format, 0) if known else 0,
        wanted=known.wanted if known else 0,
        is_complete=known is not None and all(known.has(name) for name in _near(subject)),
        free_bytes=shutil.disk_usage(services.workspace.folder).free,
        memory_bytes=memory_bytes(share, subject.frames.size),
        warnings=warned,
        name=f"{named(pattern or DEFAULT, _words(subject, subject.encode))}.{file_ending(subject.encode)}",
    )


def _offer(services: Services, subject: Encodable, encode: Encode, known: MeasuredSizes | None) -> Offer:
    cannot = ""
    try:
        check_possible(encode, subject.frames.size, subject.frames.rate)
    except Refusal as refusal:
        cannot = refusal.sentence
    is_measured = known is not None and known.counts.get(encode.format, 0) > 0
    return Offer(
        encode, file_size.expectation(services, known, encode, subject.frames, subject.guess), is_measured, cannot
    )


def _companions(services: Services, subject: Encodable) -> list[Companion]:
    """Return what a clip should go with: other clips of the project, one for each size and rate, and reels that show
    it, as they may be cut together; and presets that it is nearly like."""
    found: dict[tuple[int, int, str], Companion] = {}
    project = subject.row["project_id"]
    for row in stored.of_project(services.database, project):
        own = row["reel_id"] if isinstance(subject.recipe, ReelRecipe) else row["shot_id"]
        if own == subject.row["id"] or not row["width"]:
            continue
        key = row["width"], row["height"], row["rate"]
        size = Size.model_construct(width=row["width"], height=row["height"])
        found.setdefault(key, Companion(f"the clip of “{row['owner']}”", size, parse_rate(row["rate"])))
    own_reels = [] if isinstance(subject.recipe, ReelRecipe) else reels.of_project(services.database, project)
    for row in own_reels:
        _, reel = reels.latest(services.database, row["id"])
        if any(picture.shot == subject.row["id"] for part in reel.parts for picture in part.pictures):
            key = reel.size.width, reel.size.height, str(reel.rate)
            found[key] = Companion(f"the reel “{row['name']}”, which shows it", reel.size, reel.rate)
    every = (one for _, one in presets.every(services.database))
    nearly = nearly_like(every, subject.encode, subject.frames.size, subject.frames.rate)[:_COMPANIONS]
    like = [Companion(f"the preset “{one.name}”", one.size, one.written_rate) for one in nearly]
    return [*list(found.values())[:_COMPANIONS], *like]


def _near(subject: Encodable, *, every: bool = False) -> list[FormatName]:
    """Return the formats a person is likely to choose from, those for what the clip is for; or every one that can
    be."""
    purpose = purpose_of(subject.encode)
    near = {subject.encode.format, *((purpose.encode.format, *purpose.others) if purpose else ())}
    size, rate = subject.frames.size, subject.frames.rate
    possible = (one for one in offered(subject.encode) if is_possible(one, size, rate))
    return [one.format for one in possible if every or one.format in near]


def measure(services: Services, subject: Encodable, *, every: bool = False) -> Row | None:
    """Begin to measure what a clip takes in the formats that come into question, or in every one; returns the job.

    There is none where all of it is known.
    """
    render_plan(subject.frames, subject.encode)
    known = file_size.measured(services, subject.recipe, subject.encode)
    missing = [name for name in _near(subject, every=every) if known is None or not known.has(name)]
    if not missing:
        return None
    frames, quality = file_size.frames_digest(subject.recipe), file_size.quality_digest(subject.encode)
    is_reel = isinstance(subject.recipe, ReelRecipe)
    owner = {"reel_id" if is_reel else "shot_id": subject.row["id"]}
    for job in jobs.measuring_sizes(services.database, **owner):
        wanted = jobs.wanted_of(services.database, job["id"])
        is_same = (wanted.get("frames"), wanted.get("quality")) == (frames, quality)
        if is_same and set(missing) <= set(wanted["formats"]):
            return job
        if is_same:
            missing = [*missing, *(name for name in wanted["formats"] if name not in missing)]
        # What is decided now makes what is being measured of no use.
        services.runner.cancel(job["id"])
    wanted = {
        "frames": frames,
        "quality": quality,
        "encode": subject.encode.model_dump(mode="json"),
        "formats": missing,
    }
    if isinstance(subject.recipe, ReelRecipe):
        job_id = services.runner.start_for_reel("size", subject.row["id"], 0, subject.recipe, wanted)
    else:
        job_id = services.runner.start("size", subject.row["id"], 0, subject.recipe, wanted)
    return jobs.one(services.database, job_id)


def clips(services: Services, shot_id: int) -> list[Row]:
    """Return the clips of a shot, the newest first."""
    shots.one(services.database, shot_id)
    return stored.of_shot(services.database, shot_id)


@dataclass(frozen=True)
class ClipFile:
    """A finished clip on the disk, and the name it is saved under."""

    path: Path
    name: str
    row: Row


def clip_file(services: Services, clip_id: int) -> ClipFile:
    """Return the file of a clip, wherever it was put; raises ``NotFound`` if there is none any more."""
    clip = stored.one(services.database, clip_id)
    path = Path(clip["path"]) if clip["path"] else services.workspace.clip(clip["job_id"])
    if not path.exists():
        where = f" It was put into {path.parent}." if clip["path"] else ""
        raise NotFound("no_such_clip", f"The file of this clip was moved or removed.{where} Encode the shot again.")
    return ClipFile(path, clip["name"], clip)


def delete_clip(services: Services, clip_id: int) -> None:
    """Forget a clip, and delete its file unless it was put into a folder of the person's own.

    The shot and its decisions stay, so that it can be encoded again.
    """
    job_id = removal.delete_clip(services.database, clip_id)
    try:
        services.workspace.clip(job_id).unlink(missing_ok=True)
        services.workspace.shown(clip_id).unlink(missing_ok=True)
    except OSError as error:
        raise Refusal("cannot_delete", f"The file of this clip cannot be deleted: {error.strerror}.") from None
